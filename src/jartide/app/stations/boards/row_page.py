"""The row of boards: on its page of the station, and over the whole screen."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from jartide.app.over_all import OverAll
from jartide.app.stations.boards.bench_pictures import BenchPictures
from jartide.app.stations.boards.bench_words import tide_of
from jartide.app.stations.boards.page import BoardPage
from jartide.app.stations.boards.row_view import InRow, RowView
from jartide.app.widgets.ground import column
from jartide.job.open_job import OpenJob
from jartide.store.records import Board, Photo
from jartide.wording import tr


def fill_row(
    view: RowView,
    job: OpenJob,
    pictures: BenchPictures,
    chosen: tuple[Board, Photo | None] | None,
) -> None:
    """Show the open finish's target and boards in a row."""
    target = job.readings.target()
    row = [] if target is None else [_in_row(job, pictures, "", tr("reading.target"), target)]
    for board, photo in job.records.boards():
        title = tr("board.numbered", number=board.number)
        row.append(_in_row(job, pictures, board.id, title, photo))
    view.show_row(row, "" if chosen is None else chosen[0].id, tide_of(job, chosen))


def _in_row(
    job: OpenJob, pictures: BenchPictures, board_id: str, title: str, photo: Photo | None
) -> InRow:
    if photo is not None:
        job.pictures.want(photo)
    shown = None if photo is None else pictures.shown(photo, None)
    image, scale = (None, None) if shown is None else shown
    return InRow(board_id=board_id, title=title, image=image, mm_per_px=scale)


class RowPage(BoardPage):
    """The row as a page of its own: it takes all the room there is."""

    name = "row"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._scroll.hide()
        self.view = RowView(self)
        column(self).addWidget(self.view)
        self._pictures = BenchPictures(job)
        self.setAccessibleName(tr("row.name"))

    def show_board(self) -> None:
        chosen = None if self.board is None else (self.board, self.photo)
        fill_row(self.view, self.job, self._pictures, chosen)


class RowOverAll(OverAll):
    """The row over the whole screen; a press there chooses a board too."""

    def __init__(self, job: OpenJob, window: QWidget) -> None:
        super().__init__(window)
        self._job = job
        self.view = RowView(self)
        self.view.chosen.connect(self._choose)
        column(self).addWidget(self.view)
        self._pictures = BenchPictures(job)
        self._board_id = ""
        job.events.picture_ready.connect(lambda _: self._came())
        job.events.worked_out.connect(self._came)

    def _came(self) -> None:
        """A picture or comparison that was asked for is there."""
        if self.isVisible():
            self.show_now()

    def _choose(self, board_id: str) -> None:
        self._board_id = board_id
        self.show_now()

    def show_now(self) -> None:
        boards = self._job.records.boards()
        chosen = next((pair for pair in boards if pair[0].id == self._board_id), None)
        fill_row(self.view, self._job, self._pictures, chosen or (boards[-1] if boards else None))
        self.view.setFocus()
