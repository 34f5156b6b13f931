"""The base of the pages that open from Boards: each shows the board it is given."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from jartide.app.stations.page import Side, StationPage
from jartide.job.open_job import OpenJob
from jartide.store.records import Board, Photo

__all__ = ["BoardPage", "Side"]


class BoardPage(StationPage):
    """One page; it shows the board it is given and changes records of the open job."""

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self.board: Board | None = None
        self.photo: Photo | None = None
        super().__init__(job, parent)

    def show_board(self) -> None:
        """Show the board that was given."""

    def give(self, board: Board | None, photo: Photo | None) -> None:
        """Show a board."""
        self.board, self.photo = board, photo
        self.show_board()
        self.retitle()
        self.update()
