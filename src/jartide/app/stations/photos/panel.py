"""The base of the panels that open beside the photo, one for each step."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from jartide.app.measure import px
from jartide.app.stations.photos.opened import Opened
from jartide.app.widgets.control_column import ControlColumn

WIDTH = 268


class Panel(ControlColumn):
    """Controls of one step; subclasses fill it once and show a photo again and again.

    A panel changes nothing itself: it tells the station what the settings should become.
    """

    settings_wanted = Signal(object, str)  # PhotoSettings, and the words of the undo step
    pen_wanted = Signal(str)  # draw this next: box, outline, brush, region, or none
    asked = Signal(str, object)  # anything else: what, and with which value

    def __init__(self, parent: QWidget | None = None) -> None:
        self.opened: Opened | None = None
        super().__init__(parent)
        self.setMaximumWidth(px(WIDTH + 4))

    def show_opened(self, opened: Opened) -> None:
        """Show a photo."""
        self.opened = opened
