"""The base of the pages that show a photo's surface beside a list."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QHBoxLayout, QWidget

from jartide.app.stations.boards.page import BoardPage
from jartide.app.widgets.ledger import Ledger
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.surface_pane import PaneMode, SurfacePane
from jartide.job.open_job import OpenJob
from jartide.wording import tr


class PanePage(BoardPage):
    """A surface on the left, which can be looked at closely, and a list beside it."""

    mode = PaneMode.LOOK
    share = 0.56  # of the body's width that the surface takes

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._image: tuple[np.ndarray, QImage] | None = None
        self._row = -1
        super().__init__(job, parent)
        self._pane = SurfacePane(self)
        self._pane.look_closer()
        self._pane.choose_mode(self.mode)
        self._ledger = Ledger(tr(f"page.{self.name}"), self)
        self.lay_out(self._pane, self._ledger)

    def show_code(self, code: np.ndarray | None, mm_per_px: float | None, message: str) -> None:
        """Show a picture, (H, W, 3) uint8, or a message in its place."""
        if code is None:
            self._pane.show_surface(None, None, message)
            return
        if self._image is None or self._image[0] is not code:
            self._image = (code, to_image(code))
        self._pane.show_surface(self._image[1], mm_per_px)

    def fill_body(self, body: QHBoxLayout) -> None:
        taken = round(100 * self.share)
        body.addWidget(self._pane, taken)
        body.addWidget(self._ledger, 100 - taken)
