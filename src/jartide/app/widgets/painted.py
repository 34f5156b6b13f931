"""The base of every painted widget, and the bench (day or night) they are painted for."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from typing import cast

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QImage, QPainter, QSinglePointEvent
from PySide6.QtWidgets import QApplication, QWidget

from jartide.app.kit import Kit
from jartide.app.measure import text_scale
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


class Drawn:
    """Mixed into a drawn widget: its size, the pointer and what is drawn are in the same units."""

    @property
    def wide(self) -> int:
        """The widget's width, units; the last one may be cut."""
        return math.ceil(cast(QWidget, self).width() / text_scale())

    @property
    def high(self) -> int:
        """The widget's height, units; the last one may be cut."""
        return math.ceil(cast(QWidget, self).height() / text_scale())

    def at(self, event: QSinglePointEvent) -> QPointF:
        """Return where the pointer is, units from the top left."""
        return event.position() / text_scale()

    @contextmanager
    def drawing(self) -> Iterator[Kit]:
        """Draw the widget in its units, with the colours of the bench."""
        painter = QPainter(cast(QWidget, self))
        painter.scale(text_scale(), text_scale())
        try:
            yield Kit(painter, current_theme())
        finally:
            painter.end()


class Painted(QWidget, Drawn):
    """A widget drawn with a `Kit`; subclasses override `paint`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = True

    def paint(self, kit: Kit) -> None:
        """Draw the widget."""

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            self.paint(kit)
            if self.hasFocus() and self._ringed:
                kit.box(1, 1, self.wide - 2, self.high - 2, "accent", 2, 6)


def to_image(code) -> QImage:
    """Return a QImage that owns its pixels, from (H, W, 3) uint8."""
    height, width = code.shape[:2]
    image = QImage(code.data, width, height, 3 * width, QImage.Format.Format_RGB888)
    return image.copy()


def reachable(widget: QWidget, name: str) -> None:
    """Let the keyboard reach a painted widget, and say what it is."""
    widget.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
    widget.setAccessibleName(name)
