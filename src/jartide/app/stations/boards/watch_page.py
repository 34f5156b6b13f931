"""Watch: a timed series of photos of one surface, against the target, with a forecast."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QHBoxLayout, QWidget

from jartide.app.photo_files import take_file
from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.control_column import fill_list, number
from jartide.app.widgets.ground import column
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.app.widgets.series_chart import SeriesChart
from jartide.boards.log import State
from jartide.boards.series import Forecast, Frame, dried_pairs, forecast, prior_from, target_cover
from jartide.colour.spaces import srgb_hex
from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.job.eye_pictures import watched_frame
from jartide.job.open_job import OpenJob
from jartide.job.pictures import Data
from jartide.job.words.numbers import percent_words
from jartide.store.jar_records import Dried
from jartide.store.records import Photo, Stage
from jartide.wording import say, tr

_STATES = ("wet", "dry", "sealed")
_KEPT_FRAMES = 400


class WatchPage(BoardPage):
    """Shows one series, judges each new frame, keeps the keep-wet timer."""

    name = "watch"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._wet_until: datetime | None = None
        super().__init__(job, parent)
        self._chart = SeriesChart(self)
        self._ledger = Ledger(tr("watch.frames"), self)
        self.lay_out(self._chart, self._ledger)
        self._tick = QTimer(self)
        self._tick.setInterval(1000)
        self._tick.timeout.connect(self._ticked)

    def build_side(self, side: Side) -> None:
        self._said = side.words(size=18, weight=600)
        side.words(tr("watch.series"), 14)
        self._series = side.list(tr("watch.series"), self.show_board)
        self._new = side.button(tr("watch.new"), self._new_pressed)
        side.words(tr("watch.layer"), 14)
        self._layer = side.list(tr("watch.layer"), self.show_board)
        self._minutes = side.fields(tr("watch.minutes"))[0]
        side.words(tr("log.state"), 14)
        self._state = side.list(tr("log.state"))
        fill_list(self._state, [(tr(f"state.{s}"), s) for s in _STATES], "wet")
        self._frame = side.button(tr("watch.add"), lambda: self.ask_photos(self.take_frame))
        side.words(tr("watch.folder_note"))
        self._wet = side.fields(tr("watch.wet_minutes"))[0]
        self._wet.setText("10")
        self._keep = side.button(tr("watch.keep_wet"), self._keep_pressed)
        self._timer_said = side.words(size=16)
        with side.group() as self._drying:
            side.words(tr("watch.jar"), 14)
            self._jar = side.list(tr("watch.jar"))
            side.button(tr("watch.dried"), lambda: self.try_to(self._dried_pressed))

    # ---- what is shown

    def series_names(self) -> list[str]:
        """Return the names of all series of the finish, oldest first."""
        return list(dict.fromkeys(p.stage.series for p in self.job.boards.photos_of("watched")))

    def current(self) -> str:
        """Return the series that is shown."""
        return str(self._series.currentData() or "")

    def show_board(self) -> None:
        names = self.series_names()
        own = self.current()
        extra = [] if own in names or not own else [own]
        fill_list(self._series, [(name, name) for name in (*names, *extra)], own or None)
        if not own and names:
            self._series.setCurrentIndex(len(names) - 1)
        target = self.job.readings.of_target()
        layers = [] if target is None else list(target.layers)
        chosen = self._layer.currentData()
        items: list[tuple[str, object]] = [
            (say(layer.name), n) for n, layer in enumerate(layers) if n > 0
        ]
        fill_list(self._layer, items, chosen if chosen is not None else self._usual())
        self._frame.setEnabled(bool(self.current()) and bool(items))
        frames = self.frames(self.current())
        jars: list[tuple[str, object]] = [(n, jar) for jar, n in self.job.jars.names().items()]
        fill_list(self._jar, jars, self._jar.currentData())
        # Only once the series has told something that a jar can keep.
        self._drying.setVisible(self._jar.count() > 0 and len(dried_pairs(frames)) > 0)
        self._show_series(frames)

    def _usual(self) -> object:
        """The layer that grows, most often the largest one over the ground."""
        target = self.job.readings.of_target()
        if target is None or len(target.layers) < 2:
            return None
        covers = [layer.coverage.value or 0.0 for layer in target.layers]
        return max(range(1, len(covers)), key=covers.__getitem__)

    def _colours(self) -> tuple[tuple[float, float, float], tuple[float, float, float]] | None:
        target, chosen = self.job.readings.of_target(), self._layer.currentData()
        if target is None or chosen is None:
            return None
        return target.layers[0].shown_lab, target.layers[int(chosen)].shown_lab

    def wanted(self) -> float:
        """How much of the target has turned, counted as the frames are."""
        target, colours = self.job.readings.of_target(), self._colours()
        if target is None or colours is None or target.colours is None:
            return 0.0
        try:
            return target_cover(target.colours, *colours)
        except JarTideError as error:
            self._said.setText(str(error))
            return 0.0

    def frames(self, series: str) -> list[Frame]:
        """Return the frames of a series that are judged so far."""
        colours = self._colours()
        found: list[Frame] = []
        if colours is None or not series:
            return found
        for photo in self.job.boards.photos_of("watched", series):
            key, stage = (photo.sha256, photo.settings, photo.stage, colours), photo.stage
            frame = self.job.kept.table("frame", _KEPT_FRAMES).get(key)
            if frame is None:
                # Of a long series the large pictures of the first are let go before the last.
                self.job.pictures.want(photo)
                flat = self.job.pictures.flat(photo)
                if flat is None:
                    continue
                judge = partial(watched_frame, flat, stage.minutes, stage.state, *colours)
                frame = self.job.kept.worked_out("frame", key, judge)
            if frame is not None:
                found.append(frame)
        return found

    def forecast(self, frames: list[Frame]) -> Forecast | None:
        """Return what is to be expected, once it is worked out."""
        if not frames:
            return None
        wanted = self.wanted()
        if not wanted:
            return None
        earlier = [self.frames(name) for name in self.series_names() if name != self.current()]
        key = (tuple(frames), wanted, tuple(len(e) for e in earlier))

        def work() -> Forecast | JarTideError:
            try:
                return forecast(frames, wanted, prior_from(earlier))
            except JarTideError as error:
                return error

        found = self.job.kept.worked_out("forecast", key, work)
        if isinstance(found, JarTideError):
            self._said.setText(str(found))
            return None
        return found

    def _show_series(self, frames: list[Frame]) -> None:
        self._said.setText("")
        told = self.forecast(frames)
        wanted = self.wanted()
        words = self._words(told, frames)
        if words:
            self._said.setText(words)
        expected = None
        if told is not None and told.at_min is not None and told.interval_min is not None:
            expected = (told.interval_min[0], told.at_min, told.interval_min[1])
        points = [(f.minutes, f.cover) for f in frames]
        self._chart.show_series(points, wanted, expected, words or tr("watch.empty"))
        rows = [
            LedgerRow(
                title=tr("unit.min", count=round(frame.minutes)),
                note="" if frame.state is None else tr(f"state.{frame.state.value}"),
                right=percent_words(frame.cover),
                chips=(QColor(srgb_hex(frame.lab)),),
            )
            for frame in reversed(frames)
        ]
        self._ledger.show_rows(rows, -1, tr("watch.empty"))
        self.foot_changed.emit()

    def _words(self, told: Forecast | None, frames: list[Frame]) -> str:
        if told is None:
            return self._said.text()
        if told.ahead == "forecast":
            assert told.at_min is not None and told.interval_min is not None
            words = tr(
                "watch.forecast",
                left=round(told.at_min - frames[-1].minutes),
                low=round(told.interval_min[0] - frames[-1].minutes),
                high=round(told.interval_min[1] - frames[-1].minutes),
            )
        else:
            words = tr(f"watch.{told.ahead.value}")
        if told.rate_per_min > 0:
            words = f"{words} {tr('watch.rate', points=figure(100 * told.rate_per_min, 1))}"
        return f"{tr('watch.alarm')} {words}" if told.alarm else words

    # ---- frames

    def _new_pressed(self) -> None:
        stamp = datetime.now().strftime("%d.%m. %H:%M")
        name = tr("watch.series_named", number=len(self.series_names()) + 1, at=stamp)
        self._series.addItem(name, name)
        self._series.setCurrentIndex(self._series.count() - 1)
        self.show_board()

    def take_frame(self, data: Data, name: str) -> None:
        """Bring in one frame; without minutes it counts from the first one's arrival."""
        series = self.current()
        if not series:
            self._new_pressed()
            series = self.current()
        earlier = self.job.boards.photos_of("watched", series)
        minutes = number(self._minutes.text())
        if minutes is None:
            minutes = self._since(earlier[0]) if earlier else 0.0
        self._minutes.clear()
        stage = Stage(
            series=series,
            minutes=round(minutes, 2),
            state=State(self._state.currentData()),
        )
        # The camera stands still in a series: later frames are squared as the first one is.
        self.job.pictures.add_particular(
            data, name, "watched", stage, like=earlier[-1] if earlier else None
        )

    @staticmethod
    def _since(first: Photo) -> float:
        begun = datetime.fromisoformat(first.added_at)
        return (datetime.now(UTC) - begun).total_seconds() / 60 + first.stage.minutes

    def take_watched(self, path: Path) -> bool:
        """Take a photo of the watched folder while a series is shown; whether it was taken."""
        if not self.isVisible() or not self.current():
            return False
        take_file(path, self.take_frame)
        return True

    def _dried_pressed(self) -> None:
        """Keep what the colour did in drying or sealing, as a record of the chosen jar."""
        jars = self.job.records.mixes()
        mix = next((m for m in jars if m.id == self._jar.currentData()), None)
        if mix is None:
            return
        found = tuple(
            Dried(
                before_state=before.state.value,
                after_state=after.state.value,
                before=before.lab,
                after=after.lab,
            )
            for before, after in dried_pairs(self.frames(self.current()))
            if before.state is not None and after.state is not None
        )
        new = replace(mix, dried=(*mix.dried, *found))
        self.job.records.change(tr("undo.dried"), [mix], [new])

    # ---- keep wet

    def _keep_pressed(self) -> None:
        minutes = number(self._wet.text())
        if minutes is None or not 0 < minutes <= 24 * 60:
            self.job.events.failed.emit(tr("error.watch.wet"))
            return
        self._wet_until = datetime.now(UTC) + timedelta(minutes=minutes)
        self._tick.start()
        self._ticked()

    def _ticked(self) -> None:
        if self._wet_until is None:
            self._tick.stop()
            return
        left = (self._wet_until - datetime.now(UTC)).total_seconds()
        if left > 0:
            clock = f"{int(left // 60)}:{int(left % 60):02d}"
            self._timer_said.setText(tr("watch.wet_left", clock=clock))
        else:
            self._timer_said.setText(tr("watch.wet_now"))
            self._wet_until = None
            if not self.isVisible():
                # The painter is elsewhere: it must not dry unseen.
                self.job.events.failed.emit(tr("watch.wet_now"))

    def fill_body(self, body: QHBoxLayout) -> None:
        below_each_other = column(gap=12)
        below_each_other.addWidget(self._chart, 62)
        below_each_other.addWidget(self._ledger, 38)
        body.addLayout(below_each_other)
