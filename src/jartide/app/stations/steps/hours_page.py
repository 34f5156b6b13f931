"""Who works when, in what air, with what weather; and what was planned against what was done."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QLineEdit, QWidget

from jartide.app.stations.steps.hours_rows import rows_of
from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.widgets.control_column import (
    fill_list,
    number,
    put_text,
    rename_field,
    was_edited,
)
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ledger import Ledger
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.errors import PlanError
from jartide.figures import plain_figure
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered, source_words
from jartide.job.words.steps import block_name
from jartide.plan.drying import Air, Moving
from jartide.plan.progress import Block
from jartide.plan.site import Facing
from jartide.plan.timeline import Hours, Timeline
from jartide.plan.units import warmth_from, warmth_in
from jartide.plan.weather import Daylight, WeatherHour, outside
from jartide.store.weather_csv import read_weather
from jartide.wording import tr

_MOST_PEOPLE = 30


class HoursPage(StepsPage):
    """Shows the frame of the plan and what it has come to."""

    name = "hours"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._tasks: dict[int, Block] = {}
        self._chosen = ""
        self._ledger = Ledger(tr("page.hours"), self)
        self._ledger.chosen.connect(self._row_chosen)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        edited = self._edited
        with side.group() as self._used_part:
            self._used_name = side.words(size=16, weight=600)
            self._used = side.fields(tr("hours.used"), edited=self._used_edited)[0]
        self._begins = side.fields(tr("hours.begins"), edited=edited)[0]
        self._begins.setPlaceholderText("2026-05-14")
        self._from, self._to = side.fields(tr("hours.from"), tr("hours.to"), edited=edited)
        self._pause_from, self._pause_to = side.fields(
            tr("hours.pause_from"), tr("hours.pause_to"), edited=edited
        )
        side.words(tr("hours.days"), 14)
        self._days = [
            side.tick(tr(f"weekday.name.{day}"), lambda _: self._edited(True)) for day in range(7)
        ]
        self._free = side.fields(tr("hours.free"), edited=edited)[0]
        self._people = side.fields(tr("hours.people"), edited=edited)[0]
        self._lane, self._use = side.fields(tr("hours.panels"), tr("hours.use_in"), edited=edited)
        side.words(tr("hours.air"), 18, 600)
        self._celsius, self._percent = side.fields(
            tr("log.temperature"), tr("log.humidity"), edited=edited
        )
        side.words(tr("hours.moving"), 14)
        self._moving = side.list(tr("hours.moving"), lambda: self._edited(True))
        fill_list(self._moving, [(tr(f"moving.{m}"), m) for m in Moving])
        self._read_meter = side.button(tr("hours.read_air"), self._read_air)
        self._air_from = side.words(size=14)
        side.words(tr("hours.weather"), 18, 600)
        self._light_from, self._light_to = side.fields(
            tr("hours.light_from"), tr("hours.light_to"), edited=edited
        )
        (self._latitude,) = side.fields(tr("hours.latitude"), edited=edited)
        side.button(tr("hours.import"), self._import_pressed)
        self._day = side.fields(tr("hours.day"))[0]
        self._day.setPlaceholderText("2026-05-14")
        self._hour_from, self._hour_to = side.fields(tr("hours.hour_from"), tr("hours.hour_to"))
        self._hour_c, self._hour_percent, self._hour_rain = side.fields(
            tr("warmth.unit.metric"), tr("hours.hour_percent"), tr("hours.hour_rain")
        )
        side.button(tr("hours.add_hours"), lambda: self.try_to(self._add_hours))
        self._forget = side.button(tr("hours.forget"), self._forget_pressed)

    # ---- showing

    def show_now(self) -> None:
        work = self.plan.work()
        hours = work.hours
        rename_field(self._celsius, tr(f"hours.warmth.{work.units}"))
        rename_field(self._hour_c, tr(f"warmth.unit.{work.units}"))
        for field, text in (
            (self._begins, work.begins),
            (self._from, _clock(hours.from_min)),
            (self._to, _clock(hours.to_min)),
            (self._pause_from, _clock(hours.pause_from_min)),
            (self._pause_to, _clock(hours.pause_to_min)),
            (self._free, ", ".join(hours.free)),
            (self._people, _people_words(work.workers)),
            (self._lane, str(work.panels_a_lane)),
            (self._use, "" if work.use_in_days is None else plain_figure(work.use_in_days)),
            (self._celsius, plain_figure(warmth_in(work.air.temperature_c, work.units), 4)),
            (self._percent, plain_figure(work.air.humidity_percent)),
            (self._light_from, plain_figure(work.daylight.from_h)),
            (self._light_to, plain_figure(work.daylight.to_h)),
            (self._latitude, plain_figure(work.latitude_deg)),
        ):
            put_text(field, text)
        said = source_words(work.air_source)
        self._air_from.setText(said)
        self._air_from.setVisible(bool(said))
        self._read_meter.setVisible(offered(self.job.records, Kind.THERMO_HYGROMETER) is not None)
        for day, tick in enumerate(self._days):
            tick.setChecked(day in hours.weekdays)
        self._moving.setCurrentIndex(max(self._moving.findData(work.air.moving), 0))
        self._forget.setEnabled(bool(work.weather))
        rows, self._tasks = rows_of(self.plan, self.steps())
        index = next((n for n, b in self._tasks.items() if b.task.id == self._chosen), -1)
        self._ledger.show_rows(rows, index, "")
        block = self._tasks.get(index)
        self._used_part.setVisible(block is not None)
        if block is not None and block.done is not None:
            name = block_name(self.plan.steps_of(block.task))
            self._used_name.setText(name)
            planned = self.plan.takes_ml(block.task)
            self._used.setPlaceholderText(f"{planned:.0f}")
            put_text(
                self._used, "" if block.done.used_ml is None else plain_figure(block.done.used_ml)
            )
        self.foot_changed.emit()

    # ---- changing

    def _row_chosen(self, index: int) -> None:
        block = self._tasks.get(index)
        self._chosen = "" if block is None else block.task.id
        self.show_now()

    def _used_edited(self) -> None:
        if not was_edited(self._used):
            return
        block = next((b for b in self._tasks.values() if b.task.id == self._chosen), None)
        ml = number(self._used.text())
        if block is None:
            return
        if ml is None or not 0 < ml < 1e6:
            self.job.events.failed.emit(tr("error.plan.used"))
            return
        self.plan.used(block.task, ml)

    def foot_actions(self) -> tuple[Action, ...]:
        today = Action(text=tr("hours.from_today"), run=self._from_today)
        return (today,)

    def _from_today(self) -> None:
        self.plan.put(
            tr("undo.work"),
            work=replace(
                self.plan.work(),
                begins="",
            ),
            moved=(),
        )

    def _edited(self, always: bool = False) -> None:
        fields = (
            self._begins, self._from, self._to, self._pause_from, self._pause_to, self._free,
            self._people, self._lane, self._use, self._celsius, self._percent, self._light_from,
            self._light_to, self._latitude,
        )  # fmt: skip
        if was_edited(*fields) or always:
            self.try_to(self._keep)
            self.show_now()

    def _keep(self) -> None:
        work = self.plan.work()
        begins = self._begins.text().strip()
        if begins:
            try:
                date.fromisoformat(begins)
            except ValueError as error:
                raise PlanError("error.plan.free_day", name=begins) from error
        hours = Hours(
            from_min=_minutes(self._from.text()),
            to_min=_minutes(self._to.text()),
            pause_from_min=_minutes(self._pause_from.text()),
            pause_to_min=_minutes(self._pause_to.text()),
            weekdays=tuple(day for day, tick in enumerate(self._days) if tick.isChecked()),
            free=tuple(t.strip() for t in self._free.text().split(",") if t.strip()),
        )
        # Refused before it is kept: a plan without an hour would lose its place.
        Timeline(hours, datetime(2026, 1, 5), 14)
        celsius, percent = self._warmth(self._celsius), number(self._percent.text())
        if celsius is None or percent is None:
            raise PlanError("error.plan.air")
        air = Air(
            temperature_c=celsius, humidity_percent=percent, moving=self._moving.currentData()
        )
        if not (-40 <= celsius <= 60 and 0 <= percent <= 100):
            raise PlanError("error.plan.air")
        light = number(self._light_from.text()), number(self._light_to.text())
        latitude = number(self._latitude.text())
        if latitude is None or not -90 <= latitude <= 90:
            raise PlanError("error.plan.latitude")
        daylight = Daylight(from_h=light[0] or 0.0, to_h=light[1] or 24.0)
        # Shown in Fahrenheit a reading comes back a little rounded.
        same_air = (
            abs(air.temperature_c - work.air.temperature_c) < 0.05
            and air.humidity_percent == work.air.humidity_percent
        )
        fresh = replace(
            work,
            begins=begins,
            hours=hours,
            workers=_people(self._people.text()),
            panels_a_lane=max(round(number(self._lane.text()) or 1), 1),
            use_in_days=number(self._use.text()),
            air=air,
            air_source=work.air_source if same_air else "",
            daylight=daylight,
            latitude_deg=latitude,
        )
        self.plan.put(tr("undo.work"), work=fresh)

    def _warmth(self, field: QLineEdit) -> float | None:
        """Degrees Celsius of what was typed in the painter's unit."""
        typed = number(field.text())
        return None if typed is None else warmth_from(typed, self.plan.work().units)

    def _read_air(self) -> None:
        device = offered(self.job.records, Kind.THERMO_HYGROMETER)
        if device is None:
            return
        meter = device.make(len(self.plan.dones()), self.plan.clock)
        read = meter.read()
        work = self.plan.work()
        air = Air(
            temperature_c=read.temperature_c,
            humidity_percent=read.humidity_percent,
            moving=work.air.moving,
        )
        name = meter.name if device.source is Source.DEVICE else device.source.value
        self.plan.put(tr("undo.work"), work=replace(work, air=air, air_source=name))

    def _import_pressed(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("hours.import"), "", "CSV (*.csv)")
        if name:
            self.import_weather(Path(name))

    def import_weather(self, path: Path) -> None:
        """Take over an hourly weather table."""
        try:
            text = path.read_text(encoding="utf-8-sig")
        except (OSError, UnicodeDecodeError) as error:
            why = getattr(error, "strerror", None) or type(error).__name__
            self.job.events.failed.emit(tr("error.command.list_file", name=path.name, why=why))
            return
        work = self.plan.work()
        self.try_to(
            lambda: self.plan.put(
                tr("undo.weather"), work=replace(work, weather=read_weather(text, path.name))
            )
        )

    def _add_hours(self) -> None:
        """Some hours of a day typed in; hours known before are replaced."""
        text = self._day.text().strip()
        try:
            day = date.fromisoformat(text)
        except ValueError as error:
            raise PlanError("error.plan.free_day", name=text or "-") from error
        first, last = number(self._hour_from.text()), number(self._hour_to.text())
        celsius, percent = self._warmth(self._hour_c), number(self._hour_percent.text())
        if first is None or last is None or not 0 <= first < last <= 24:
            raise PlanError(
                "error.plan.clock", name=f"{self._hour_from.text()} - {self._hour_to.text()}"
            )
        if celsius is None or percent is None:
            raise PlanError("error.plan.air")
        typed = tuple(
            WeatherHour(
                at=f"{day.isoformat()}T{hour:02d}:00",
                temperature_c=celsius,
                humidity_percent=percent,
                rain_mm=number(self._hour_rain.text()) or 0.0,
            )
            for hour in range(int(first), int(last))
        )
        # Refused before it is kept.
        outside(typed, datetime.combine(day, datetime.min.time()), 1, Facing.NORTH)
        work = self.plan.work()
        hours = {hour.at: hour for hour in (*work.weather, *typed)}
        kept = tuple(hours[at] for at in sorted(hours))
        self.plan.put(tr("undo.weather"), work=replace(work, weather=kept))

    def _forget_pressed(self) -> None:
        self.plan.put(tr("undo.weather"), work=replace(self.plan.work(), weather=()))


def _clock(minutes: int) -> str:
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def _minutes(text: str) -> int:
    """Minutes after midnight of "8", "8:30" or "8.30"."""
    parts = text.strip().replace(".", ":").split(":")
    try:
        hours, minutes = int(parts[0]), int(parts[1]) if len(parts) > 1 else 0
    except ValueError:
        hours, minutes = -1, 0
    if not (0 <= hours <= 24 and 0 <= minutes < 60 and 60 * hours + minutes <= 24 * 60):
        raise PlanError("error.plan.clock", name=text.strip() or "-")
    return 60 * hours + minutes


def _people(text: str) -> tuple[str, ...]:
    """Names between commas, or how many there are."""
    count = number(text)
    if count is not None:
        return ("",) * min(max(round(count), 0), _MOST_PEOPLE)
    names = tuple(name.strip() for name in text.split(",") if name.strip())
    return names[:_MOST_PEOPLE]


def _people_words(workers: tuple[str, ...]) -> str:
    return ", ".join(workers) if all(workers) and workers else str(len(workers))
