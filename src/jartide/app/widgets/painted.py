"""The base of every painted widget, and the bench (day or night) they are painted for."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QApplication, QWidget

from jartide.app.kit import Kit
from jartide.app.theme import DAY, NIGHT, Theme

_PROPERTY = "jartide_bench"
_STILL = "jartide_still"
_MOTION_MS = 160


def current_theme() -> Theme:
    """Return the bench chosen for this application."""
    application = QApplication.instance()
    night = application is not None and application.property(_PROPERTY) == "night"
    return NIGHT if night else DAY


def choose_theme(name: str) -> None:
    """Choose the bench; widgets are repainted by their window."""
    application = QApplication.instance()
    assert application is not None
    application.setProperty(_PROPERTY, name)


def motion_ms() -> int:
    """Return how long a movement lasts; 0 where nothing is to move."""
    application = QApplication.instance()
    return 0 if application is None or application.property(_STILL) else _MOTION_MS


def keep_still(still: bool) -> None:
    """Let things move to their places, or be there at once."""
    application = QApplication.instance()
    assert application is not None
    application.setProperty(_STILL, still)


class Painted(QWidget):
    """A widget drawn with a `Kit`; subclasses override `paint`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = True

    def paint(self, kit: Kit) -> None:
        """Draw the widget."""

    def paintEvent(self, event: QEvent) -> None:
        painter = QPainter(self)
        kit = Kit(painter, current_theme())
        self.paint(kit)
        if self.hasFocus() and self._ringed:
            kit.box(1, 1, self.width() - 2, self.height() - 2, "accent", 2, 6)
        painter.end()


def to_image(code) -> QImage:
    """Return a QImage that owns its pixels, from (H, W, 3) uint8."""
    height, width = code.shape[:2]
    image = QImage(code.data, width, height, 3 * width, QImage.Format.Format_RGB888)
    return image.copy()


def reachable(widget: QWidget, name: str) -> None:
    """Let the keyboard reach a painted widget, and say what it is."""
    widget.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    widget.setAccessibleName(name)
