"""What every station has in common."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QWidget

from jartide.app.measure import text_scale
from jartide.app.widgets.foot import FootState
from jartide.app.widgets.painted import Painted

if TYPE_CHECKING:
    from jartide.job.open_job import OpenJob


class Station(Painted):
    """A screen between header and foot."""

    foot_changed = Signal()
    help_wanted = Signal(str)  # the screen or number it is wanted for
    station_wanted = Signal(str)  # go to the station of this name

    name = ""

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.job = job
        # The page itself takes the focus when it is entered, and shows no ring for it.
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self._ringed = False

    @property
    def room_high(self) -> int:
        """How high the room is that the station is seen in, units; it may be higher itself."""
        around = self.parentWidget() or self
        return math.ceil(around.height() / text_scale())

    def enter(self) -> None:
        """The painter came to this station."""
        self.refresh()

    def refresh(self) -> None:
        """Show what the document holds now."""

    def foot_state(self) -> FootState:
        """Return what the foot says while this station is shown."""
        raise NotImplementedError

    def open_named(self, page: str) -> None:
        """Open one of the station's pages; those without pages stay as they are."""

    def step_on(self, by: int) -> None:
        """Choose the next of what is shown side by side (photo, layer, jar, step, board)."""

    def page_on(self, by: int) -> None:
        """Open the next of the station's pages; those without pages stay as they are."""

    def print_now(self) -> bool:
        """Print what the station is about; False where the sheet says it all."""
        return False

    def help_key(self) -> str:
        """Return what help is about here: the screen, or the number that is chosen on it."""
        return self.name

    def escape(self) -> bool:
        """Do what Escape does here; False when there is nothing to stop or close."""
        return False
