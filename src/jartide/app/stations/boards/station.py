"""Boards: a board beside the target at the same scale, what differs most, and the tide."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.photo_files import ask_photos
from jartide.app.stations.base import Station
from jartide.app.stations.boards.bench import VIEWS, Bench
from jartide.app.stations.boards.bench_foot import Presses, bench_foot
from jartide.app.stations.boards.bench_pictures import BenchPictures
from jartide.app.stations.boards.bench_words import (
    advice_words,
    own_mend,
    tide_of,
)
from jartide.app.stations.boards.course_page import CoursePage
from jartide.app.stations.boards.difference_row import row_of
from jartide.app.stations.boards.faults_page import FaultsPage
from jartide.app.stations.boards.fields_page import FieldsPage
from jartide.app.stations.boards.light_page import LightPage
from jartide.app.stations.boards.log_page import LogPage
from jartide.app.stations.boards.mends_page import MendsPage
from jartide.app.stations.boards.page import BoardPage
from jartide.app.stations.boards.practice_page import PracticePage
from jartide.app.stations.boards.room_page import RoomPage
from jartide.app.stations.boards.row_page import RowPage
from jartide.app.stations.boards.stages_page import StagesPage
from jartide.app.stations.boards.wall_page import WallPage
from jartide.app.stations.boards.watch_page import WatchPage
from jartide.app.widgets.distance_rail import distance_words
from jartide.app.widgets.first_words import FirstWords
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import column
from jartide.app.widgets.page_line import PageLine
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.boards.result import Comparison, Difference, State
from jartide.boards.where_layers import where_layers
from jartide.job.eye_pictures import difference_picture
from jartide.job.open_job import OpenJob
from jartide.job.pictures import Data
from jartide.store.records import Board, Photo, Stage
from jartide.wording import say, tr

_PAGES: dict[str, type[BoardPage]] = {
    "mends": MendsPage,
    "row": RowPage,
    "log": LogPage,
    "course": CoursePage,
    "stages": StagesPage,
    "fields": FieldsPage,
    "faults": FaultsPage,
    "light": LightPage,
    "wall": WallPage,
    "watch": WatchPage,
    "practice": PracticePage,
    "room": RoomPage,
}


class BoardsStation(Station):
    """Shows the chosen board against the target."""

    add_wanted = Signal(bool)  # True: of a new board
    photo_wanted = Signal(str)  # id of the photo to open in Photos

    name = "boards"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._board_id: str | None = None
        self._row = 0
        self._pictures = BenchPictures(job)
        self._held = False
        self._progress: dict[str, float] = {}
        self._comparison: Comparison | None = None
        job.events.worked_out.connect(self.refresh)
        self._page: BoardPage | None = None
        self._pages: dict[str, BoardPage] = {}
        self._moving_m: float | None = None
        self._bench = bench = Bench(self)
        self._left, self._right = bench.left, bench.right
        self._rows, self._tide, self._advice = bench.rows, bench.tide, bench.advice
        self._distance, self._view, self._from_afar = bench.distance, bench.view, bench.from_afar
        self._rows.chosen.connect(self._row_chosen)
        self._tide.chosen.connect(self._board_chosen)
        self._distance.moved.connect(self._distance_moved)
        self._distance.settled.connect(self._distance_chosen)
        self._view.chosen.connect(lambda _: self.refresh())
        self._from_afar.clicked.connect(lambda _: self.refresh())
        bench.photos.picked.connect(self._picked)
        words = [("", tr("line.boards")), *((name, tr(f"line.{name}")) for name in _PAGES)]
        self._line = PageLine(words, tr("station.boards"), self)
        self._line.picked.connect(self._line_picked)
        first = [tr(f"boards.first_{number}") for number in (1, 2, 3)]
        self._first = FirstWords(tr("boards.first_title"), first)
        self._whole = column(self)
        self._whole.addWidget(self._line)
        self._whole.addWidget(self._first, 1)
        self._whole.addWidget(self._bench, 1)
        job.events.changed.connect(self.refresh)
        job.events.reading_ready.connect(self._came)
        job.events.reading_progressed.connect(self._progressed)
        job.events.picture_ready.connect(lambda _: self.refresh())

    # ---- which board

    def chosen(self) -> tuple[Board, Photo | None] | None:
        """Return the board on the bench: the one chosen, or the latest."""
        boards = self.job.records.boards()
        found = next((pair for pair in boards if pair[0].id == self._board_id), None)
        return found or (boards[-1] if boards else None)

    def _board_chosen(self, number: int) -> None:
        for board, _ in self.job.records.boards():
            if board.number == number:
                self._board_id = board.id
        self._row = 0
        self.refresh()

    def step_on(self, by: int) -> None:
        numbers = [board.number for board, _ in self.job.records.boards()]
        chosen = self.chosen()
        if chosen is not None:
            self._board_chosen(numbers[(numbers.index(chosen[0].number) + by) % len(numbers)])

    def page_on(self, by: int) -> None:
        self._line.turn(by)

    def show_board(self, board_id: str) -> None:
        """Put a board on the bench."""
        self._board_id = board_id
        self._row = 0
        self.refresh()

    def enter(self) -> None:
        target, chosen = self.job.readings.target(), self.chosen()
        if target is not None:
            self.job.readings.want_target()
            # The one on the bench first, then the rest for the tide.
            photos = [p for _, p in reversed(self.job.records.boards()) if p is not None]
            if chosen is not None and chosen[1] is not None:
                photos.insert(0, chosen[1])
            for photo in dict.fromkeys(photos):
                self.job.readings.want_board(photo)
        self.refresh()

    def _came(self, photo_id: str) -> None:
        self._progress.pop(photo_id, None)
        self.refresh()

    def _progressed(self, photo_id: str, fraction: float) -> None:
        self._progress[photo_id] = fraction
        # The foot tells of it only while there is nothing to say of the board.
        if self.isVisible() and self._comparison is None:
            self.foot_changed.emit()

    # ---- showing

    def refresh(self) -> None:
        if not self.isVisible() or self.job.finish is None:
            return
        target, chosen = self.job.readings.target(), self.chosen()
        photo = None if chosen is None else chosen[1]
        for shown in (target, photo):
            if shown is not None:
                self.job.pictures.want(shown)
        if self._page is not None and chosen is None:
            self._page = None
        for page in self._pages.values():
            page.setVisible(page is self._page)
        self._line.setVisible(chosen is not None and target is not None)
        self._line.show_page("" if self._page is None else self._page.name)
        if self._page is not None:
            assert chosen is not None
            self._page.give(*chosen)
        there = chosen is not None and target is not None and self._page is None
        self._bench.setVisible(there)
        self._first.setVisible(chosen is None or target is None)
        self._comparison = None
        if there:
            assert target is not None
            self._show_pane(self._left, target)
            self._show_pane(self._right, photo)
            self._show_view(target, photo)
            self._bench.fit()
            self._comparison = (
                None if photo is None else self.job.comparisons.of(photo, self._metres())
            )
            self._show_rows(photo)
            if self._moving_m is None:
                # The tide is of the kept distance; it is left alone while that is moved.
                self._tide.show_marks(*tide_of(self.job, self.chosen()))
            self._distance.show_distance(self._metres())
        elif photo is not None:
            self._comparison = self.job.comparisons.of(photo)
        if there:
            self._say_headings()
        if self._moving_m is None:
            self.foot_changed.emit()

    @property
    def comparison(self) -> Comparison | None:
        """What is shown of the board on the bench, from where the eye is."""
        return self._comparison

    def _metres(self) -> float:
        """Where the eye is: where it is being moved to, or as it is kept."""
        if self._moving_m is not None:
            return self._moving_m
        assert self.job.finish is not None
        return self.job.finish.viewing_m

    def _show_view(self, target: Photo, photo: Photo | None) -> None:
        """Lay the target over the board, or grey what does not differ, where that is wanted."""
        view = VIEWS[self._view.index]
        self._right.show_under(None, None)
        self._right.show_over(None)
        self._right.show_outlines([])
        self._right.show_labels([])
        if view == "over":
            under = self._pane_image(target)
            if under is not None:
                self._right.show_under(*under)
        elif view == "where" and photo is not None:
            a, b = self.job.pictures.flat(target), self.job.pictures.flat(photo)
            if a is None or b is None or a.mm_per_px is None or b.mm_per_px is None:
                return
            metres = self._metres()
            code = self.job.kept.worked_out(
                "where", metres, lambda: difference_picture(a, b, metres), a, b
            )
            if code is not None:
                self._right.show_over(to_image(code))
                self._show_spots(photo)

    def _show_spots(self, photo: Photo) -> None:
        """Say on the board of which layer there is too much or too little, and where."""
        target, own = self.job.readings.of_target(), self.job.readings.of_board(photo)
        if target is None or own is None:
            return
        spots = where_layers(target, own)
        rings = []
        for s in spots:
            right, foot = s.left + s.width, s.top + s.height
            rings.append([(s.left, s.top), (right, s.top), (right, foot), (s.left, foot)])
        self._right.show_outlines(rings)
        labels = [((s.left, s.top), say(s.words)) for s in spots]
        self._right.show_labels(labels, tr("where.legend" if spots else "where.legend_alike"))

    def _pane_image(self, photo: Photo) -> tuple[QImage, float | None] | None:
        """A photo's surface as the panes show it: plain, or as seen from there."""
        metres = self._metres() if self._from_afar.isChecked() else None
        return self._pictures.shown(photo, metres, hasty=self._moving_m is not None)

    def _show_pane(self, pane: SurfacePane, photo: Photo | None) -> None:
        shown = None if photo is None else self._pane_image(photo)
        if shown is None:
            refusal = None if photo is None else self.job.pictures.refusal(photo)
            pane.show_surface(None, None, refusal or tr("photos.opening"))
            return
        pane.show_surface(*shown)

    def _show_rows(self, photo: Photo | None) -> None:
        if self._comparison is None:
            words = tr("boards.reading") if photo is not None else tr("boards.no_photo")
            self._rows.show_rows([], 0, words)
            return
        rows = [row_of(d) for d in self._comparison.differences]
        self._row = min(self._row, max(len(rows) - 1, 0))
        self._rows.show_rows(rows, self._row)

    def _say_headings(self) -> None:
        """Say over the panes what each is, and what to do about what differs."""
        chosen = self.chosen()
        assert chosen is not None
        board, _ = chosen
        self._bench.judged.say(tr("boards.judged_at", distance=distance_words(self._metres())))
        title = tr("board.numbered", number=board.number)
        self._bench.left_words.say(title if self._held else tr("reading.target"))
        self._bench.right_words.say(title, board.remark)
        self._bench.rows_words.say(
            tr("boards.col_target"),
            tr("boards.differs"),
            tr("boards.col_board", number=board.number),
        )
        difference = self._difference()
        if difference is None:
            self._advice.say(tr("boards.title"), tr("boards.reading"))
            return
        mend = "" if self._moving_m is not None else own_mend(self.job, chosen, difference)
        title, words = advice_words(self._comparison, difference, self._row, mend)
        stands_out = difference.state in (State.DIFFERS, State.LOOKS_DIFFERENT)
        self._advice.say(title, words, row_of(difference).pair if stands_out else None)

    def _row_chosen(self, quantity: str) -> None:
        if self._comparison is not None:
            paths = [str(d.quantity) for d in self._comparison.differences]
            self._row = paths.index(quantity)
            self._show_rows(None)
            self._say_headings()

    def _difference(self) -> Difference | None:
        if self._comparison is None or not self._comparison.differences:
            return None
        return self._comparison.differences[self._row]

    def _distance_moved(self, metres: float) -> None:
        """The slide is on its way: show what the eye makes of it, keep nothing yet."""
        self._moving_m = metres
        self._row = 0
        self.refresh()

    def _distance_chosen(self, metres: float) -> None:
        finish = self.job.finish
        assert finish is not None
        self._moving_m = None
        self._row = 0
        new = replace(finish, viewing_m=metres)
        if new != finish:
            self.job.records.change(tr("undo.distance"), [finish], [new])
        else:
            self.refresh()

    # ---- pages

    def open_page(self, name: str) -> BoardPage:
        """Open one of the pages over the bench."""
        if name not in self._pages:
            page = _PAGES[name](self.job, self)
            page.foot_changed.connect(self.foot_changed)
            if isinstance(page, RowPage):
                page.view.chosen.connect(self.show_board)
            self._pages[name] = page
            self._whole.addWidget(page, 1)
        self._page = self._pages[name]
        self.refresh()
        self._page.setFocus()
        return self._page

    def open_named(self, page: str) -> None:
        self.open_page(page)

    def close_page(self) -> None:
        """Go back to the board beside its target."""
        self._page = None
        self.refresh()
        self.setFocus()

    @property
    def page(self) -> BoardPage | None:
        """The page that is open, or None."""
        return self._page

    def take_watched(self, path: Path) -> bool:
        """Let the open series have a photo of the watched folder; whether it took it."""
        return isinstance(self._page, WatchPage) and self._page.take_watched(path)

    def _picked(self, name: str) -> None:
        if name == "photo":
            self._photo_opened()
        else:
            ask_photos(self, self._another_photo)

    def _line_picked(self, name: str) -> None:
        if name:
            self.open_page(name)
        else:
            self.close_page()

    def _photo_opened(self) -> None:
        chosen = self.chosen()
        if chosen is not None and chosen[1] is not None:
            self.photo_wanted.emit(chosen[1].id)

    def _stop(self) -> None:
        """Stop all reading; what is read stays, the rest can be asked for again."""
        self.job.readings.stop(self.job.records.photos())
        self._progress.clear()
        self.refresh()

    def escape(self) -> bool:
        if self._page is not None:
            self.close_page()
            return True
        if self._progress:
            self._stop()
            return True
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        # Space, held: the board lies over the target.
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._held = True
            chosen = self.chosen()
            if chosen is not None and chosen[1] is not None:
                self._show_pane(self._left, chosen[1])
                self._say_headings()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat() and self._held:
            self._held = False
            self.refresh()
        else:
            super().keyReleaseEvent(event)

    # ---- header and foot

    def help_key(self) -> str:
        difference = self._difference()
        if self.page is not None or self._row == 0 or difference is None:
            return self.name
        return difference.quantity

    def foot_state(self) -> FootState:
        target = self.job.readings.target()
        if target is None:
            go = Action(
                text=tr("reading.to_photos"),
                run=lambda: self.station_wanted.emit("photos"),
                primary=True,
            )
            return FootState(
                text=tr("reading.no_target"), note=tr("reading.no_target_note"), actions=(go,)
            )
        presses = Presses(
            add=lambda: self.add_wanted.emit(True),
            begin=self._begin,
            close_page=self.close_page,
            open_log=self._open_log,
            open_photo=self._photo_opened,
            stop=self._stop,
        )
        chosen = self.chosen()
        photo = None if chosen is None else chosen[1]
        ids = [target.id] if photo is None else [photo.id, target.id]
        known = [self._progress[one] for one in ids if one in self._progress]
        progress = known[0] if known else 0.0
        return bench_foot(self.job, chosen, self._comparison, self._page, progress, presses)

    def _open_log(self) -> None:
        self.open_page("log")

    def _another_photo(self, data: Data, name: str) -> None:
        """Bring in one more photo of the finished board; they are read together."""
        chosen = self.chosen()
        if chosen is not None:
            self.job.pictures.add_particular(data, name, "board", Stage(), chosen[0])

    def _begin(self) -> None:
        """Begin the next board with its log; the photo comes later."""
        board = self.job.boards.new_board()
        if board is not None:
            self._board_id = board.id
            self.open_page("log")

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")
