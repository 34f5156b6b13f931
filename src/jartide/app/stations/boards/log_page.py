"""The log: what was done to a board, kept with wet hands, and what changed since the last one."""

from __future__ import annotations

from datetime import UTC, datetime

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.control_column import fill_list, number, put_text
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.log import Climate, EntryKind, Logged, PassDone, State
from jartide.devices.registry import Device, Kind
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.figures import figure, plain_figure
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered, source_words
from jartide.job.pictures import Data
from jartide.job.words.log import pass_words
from jartide.store.records import Entry, Stage
from jartide.wording import say, tr

_STATES = ("wet", "dry", "sealed")


class LogPage(BoardPage):
    """Shows a board's entries and writes new ones."""

    name = "log"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._begun: datetime | None = None
        self._any_pass = False
        self._chosen = ""
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.log"), self)
        self._ledger.chosen.connect(self._row_chosen)
        self.lay_out(self._ledger)
        self._places: list[str] = []

    def build_side(self, side: Side) -> None:
        side.words(tr("log.pass"), 14)
        self._pass = side.list(tr("log.pass"))
        self._pass.setEditable(True)
        self._pass.activated.connect(self._pass_chosen)
        side.words(tr("log.jar"), 14)
        self._jar = side.list(tr("log.jar"))
        self._tool = side.fields(tr("log.tool"))[0]
        self._carrier, self._water, self._coats = side.fields(
            tr("log.carrier"), tr("log.water"), tr("log.coats")
        )
        self._share, self._minutes = side.fields(tr("log.share"), tr("log.minutes"))
        self._who, self._where = side.fields(tr("log.who"), tr("log.where"))
        self._correct = side.button(tr("log.correct"), self._correct_pressed)
        side.words(tr("log.state"), 14)
        self._state = side.list(tr("log.state"))
        fill_list(self._state, [(tr(f"state.{s}"), s) for s in _STATES], "dry")
        self._temperature, self._humidity = side.fields(tr("log.temperature"), tr("log.humidity"))
        self._typed = side.button(tr("log.air_typed"), self._typed_pressed)
        self._remark = side.fields(tr("log.remark"))[0]
        side.button(tr("log.write"), self._remark_pressed)
        self._as_plan = side.button(tr("log.as_plan"), self._plan_pressed)
        for field, text in ((self._coats, "1"), (self._share, "100")):
            field.setText(text)

    def title(self) -> str:
        number_ = 0 if self.board is None else self.board.number
        return tr("page.log.of", number=number_)

    def note(self) -> str:
        if self.board is None:
            return super().note()
        minutes = round(sum(done.minutes for done in self.job.boards.passes(self.board)))
        if not minutes:
            return super().note()
        return f"{tr('log.total', count=minutes)} {super().note()}"

    def show_board(self) -> None:
        if self.board is None:
            return
        workspace = self.job.workspace
        kept = None if workspace is None else workspace.preference("pass_begun")
        # Only the board it was begun on counts its minutes.
        board_id, at = kept or ("", "")
        self._begun = datetime.fromisoformat(at) if board_id == self.board.id else None
        names = self.job.boards.layer_names()
        typed = self._pass.currentText()
        items: list[tuple[str, object]] = [(name, layer) for layer, name in names.items()]
        items += [(tr(f"log.pass.{own}"), "") for own in ("veil", "sand", "seal")]
        fill_list(self._pass, items)
        if typed:
            self._pass.setEditText(typed)
        jars: list[tuple[str, object]] = [(n, jar) for jar, n in self.job.jars.names().items()]
        fill_list(self._jar, [(tr("log.no_jar"), ""), *jars], self._jar.currentData() or "")
        standing = self.job.boards.standing(self.board)
        rows = [self._row(entry) for entry in standing]
        self._places = [entry.id for entry in standing]
        before, changes = self.job.boards.changes(self.board)
        if before is not None:
            rows.append(LedgerRow(title=tr("log.changed", number=before.number), head=True))
            rows += [LedgerRow(title=say(change.words())) for change in changes] or [
                LedgerRow(title=tr("log.nothing_changed"))
            ]
        index = self._places.index(self._chosen) if self._chosen in self._places else -1
        self._ledger.show_rows(rows, index, tr("log.empty"))
        self._correct.setEnabled(index >= 0 and standing[index].logged.done is not None)
        self._any_pass = any(e.logged.done is not None for e in standing)
        self._as_plan.setEnabled(self._any_pass)
        self.foot_changed.emit()

    def _row(self, entry: Entry) -> LedgerRow:
        logged, at = entry.logged, _clock(entry.at)
        if logged.done is not None:
            done = logged.done
            stages = [
                p for p in self.job.boards.stage_photos(self._board()) if p.stage.after == entry.id
            ]
            minutes = tr("unit.min", count=round(done.minutes)) if done.minutes else ""
            photos = tr("log.photos", count=len(stages)) if stages else ""
            note = pass_words(logged, done)
            if entry.corrects:
                note = f"{note} ({tr('log.corrected')})".strip()
            return LedgerRow(
                title=done.name, note=note, right=minutes, right_note=photos or at, sign="ready"
            )
        if logged.climate is not None:
            climate = logged.climate
            air = tr(
                "log.air_words",
                celsius=figure(climate.temperature_c, 1),
                percent=round(climate.humidity_percent),
            )
            said = source_words(climate.source) or climate.source or tr("log.by_hand")
            return LedgerRow(title=air, note=said, right_note=at)
        return LedgerRow(title=logged.text, note=logged.who, right_note=at)

    def _board(self):
        assert self.board is not None
        return self.board

    def _row_chosen(self, index: int) -> None:
        if index >= len(self._places):
            return
        self._chosen = self._places[index]
        entry = next(e for e in self.job.boards.standing(self._board()) if e.id == self._chosen)
        done = entry.logged.done
        self._correct.setEnabled(done is not None)
        if done is None:
            return
        self._pass.setEditText(done.name)
        self._jar.setCurrentIndex(max(self._jar.findData(done.mix), 0))
        for field, text in (
            (self._tool, done.tool),
            (self._carrier, plain_figure(done.carrier_parts) if done.carrier_parts else ""),
            (self._water, plain_figure(done.water_parts) if done.water_parts else ""),
            (self._coats, str(done.coats)),
            (self._share, f"{100 * done.laid_share:.0f}"),
            (self._minutes, plain_figure(done.minutes) if done.minutes else ""),
            (self._who, entry.logged.who),
            (self._where, entry.logged.where),
        ):
            put_text(field, text)

    def _pass_chosen(self, index: int) -> None:
        """A layer's jar comes with it."""
        layer = self._pass.itemData(index)
        jars = self.job.records.mixes()
        for mix in jars:
            if layer and mix.layer == layer:
                self._jar.setCurrentIndex(max(self._jar.findData(mix.id), 0))

    # ---- keys

    def _plan_pressed(self) -> None:
        """The board's own passes are the plan from now on; it can be undone."""
        if self.board is None:
            return
        try:
            self.job.plan.take_log(self.board)
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
        else:
            self.job.events.told.emit(tr("log.is_plan", number=self.board.number))

    def foot_actions(self) -> tuple[Action, ...]:
        start = tr("log.start") if self._begun is None else tr("log.started")
        return (
            *((Action(text=tr("log.air"), run=self._air_pressed),) if self._meter() else ()),
            Action(text=tr("log.photo"), run=self._photo_pressed, enabled=self._any_pass),
            Action(text=start, run=self._start_pressed, enabled=self._begun is None),
            Action(text=tr("log.done"), run=self._done_pressed, primary=True),
        )

    def _start_pressed(self) -> None:
        self._begun = datetime.now(UTC)
        # Kept at once: a pass outlasts a window that is closed.
        begun = [self._board().id, self._begun.isoformat()]
        self.job.records.set_preference("pass_begun", begun)
        self.show_board()

    def _end_pass(self) -> None:
        self._begun = None
        self.job.records.set_preference("pass_begun", None)

    def _done_pressed(self) -> None:
        minutes = number(self._minutes.text()) or 0.0
        if self._begun is not None and not self._minutes.text().strip():
            minutes = round((datetime.now(UTC) - self._begun).total_seconds() / 60, 1)
        logged = self._logged(minutes)
        if logged is None:
            self.job.events.failed.emit(tr("error.log.pass"))
            return
        self._end_pass()
        for field in (self._minutes, self._carrier, self._water, self._tool):
            field.clear()
        self._coats.setText("1")
        self._share.setText("100")
        self.job.boards.add_entry(self._board(), logged)

    def _correct_pressed(self) -> None:
        logged = self._logged(number(self._minutes.text()) or 0.0)
        if logged is not None and self._chosen:
            self.job.boards.add_entry(self._board(), logged, corrects=self._chosen)

    def _logged(self, minutes: float) -> Logged | None:
        name = self._pass.currentText().strip()
        if not name:
            return None
        place = self._pass.findText(name)
        done = PassDone(
            name=name,
            layer=str(self._pass.itemData(place) or "") if place >= 0 else "",
            mix=str(self._jar.currentData() or ""),
            tool=self._tool.text().strip(),
            carrier_parts=max(number(self._carrier.text()) or 0.0, 0.0),
            water_parts=max(number(self._water.text()) or 0.0, 0.0),
            coats=max(round(number(self._coats.text()) or 1), 1),
            laid_share=min(max((number(self._share.text()) or 100.0) / 100, 0.01), 1.0),
            minutes=max(minutes, 0.0),
        )
        return Logged(
            kind=EntryKind.PASS,
            who=self._who.text().strip(),
            where=self._where.text().strip(),
            done=done,
        )

    def _remark_pressed(self) -> None:
        text = self._remark.text().strip()
        if text:
            self._remark.clear()
            logged = Logged(kind=EntryKind.REMARK, who=self._who.text().strip(), text=text)
            self.job.boards.add_entry(self._board(), logged)
        else:
            self._remark.setFocus()

    def _meter(self) -> Device | None:
        return offered(self.job.records, Kind.THERMO_HYGROMETER)

    def _air_pressed(self) -> None:
        device = self._meter()
        if device is None:
            return
        meter = device.make(len(self.job.records.entries(self._board())), datetime.now)
        air = meter.read()
        name = meter.name if device.source is Source.DEVICE else device.source.value
        self._write_air(air.temperature_c, air.humidity_percent, name)

    def _typed_pressed(self) -> None:
        celsius, percent = number(self._temperature.text()), number(self._humidity.text())
        if celsius is None or percent is None or not (-30 <= celsius <= 60 and 0 <= percent <= 100):
            self.job.events.failed.emit(tr("error.log.air"))
            return
        self._temperature.clear()
        self._humidity.clear()
        self._write_air(celsius, percent, "")

    def _write_air(self, celsius: float, percent: float, source: str) -> None:
        climate = Climate(temperature_c=celsius, humidity_percent=percent, source=source)
        self.job.boards.add_entry(self._board(), Logged(kind=EntryKind.CLIMATE, climate=climate))

    def _photo_pressed(self) -> None:
        self.ask_photos(self.take_stage)

    def take_stage(self, data: Data, name: str) -> None:
        """Keep a photo of the board as it is after the chosen pass, or after the last one."""
        passes = [e for e in self.job.boards.standing(self._board()) if e.logged.done is not None]
        after = next((e for e in passes if e.id == self._chosen), passes[-1])
        stage = Stage(after=after.id, state=State(self._state.currentData()))
        self.job.pictures.add_particular(data, name, "board", stage, self._board())


def _clock(at: str) -> str:
    """A time of the log in the painter's own hours."""
    return datetime.fromisoformat(at).astimezone().strftime("%d.%m. %H:%M")
