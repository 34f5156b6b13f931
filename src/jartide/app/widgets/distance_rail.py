"""A rail from close up to far across the room, with a slide on it for where the eye is."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPen
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.figures import plain_figure
from jartide.job.words.numbers import plain_words
from jartide.wording import tr

NEAREST_M, FARTHEST_M = 0.3, 8.0
_MARKS = (0.3, 0.7, 2.0, 5.0, 8.0)
_EDGE = 14
_STEP = 1.1


class DistanceRail(Painted):
    """Chooses a viewing distance, metres, by even steps of ratio."""

    moved = Signal(float)  # while it is dragged
    settled = Signal(float)  # when it is let go, or moved by key

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._metres = 2.0
        self._dragged = False
        self.setFixedSize(px(300), px(44))
        reachable(self, tr("boards.judged"))
        self._describe()

    @property
    def metres(self) -> float:
        """Where the eye is."""
        return self._metres

    def show_distance(self, metres: float) -> None:
        """Show a distance; this is no moving."""
        if not self._dragged:
            self._metres = min(max(metres, NEAREST_M), FARTHEST_M)
            self._describe()
            self.update()

    def _describe(self) -> None:
        self.setAccessibleName(f"{tr('boards.judged')}: {distance_words(self._metres)}")

    def _x(self, metres: float) -> float:
        share = math.log(metres / NEAREST_M) / math.log(FARTHEST_M / NEAREST_M)
        return _EDGE + share * (self.wide - 2 * _EDGE)

    def _at(self, x: float) -> float:
        share = min(max((x - _EDGE) / (self.wide - 2 * _EDGE), 0.0), 1.0)
        metres = NEAREST_M * (FARTHEST_M / NEAREST_M) ** share
        # It falls into the marks when it is near one.
        for mark in _MARKS:
            if abs(self._x(mark) - x) < 5:
                return mark
        return round(metres, 2 if metres < 1 else 1)

    def _move(self, metres: float) -> None:
        metres = min(max(metres, NEAREST_M), FARTHEST_M)
        if metres != self._metres:
            self._metres = metres
            self._describe()
            self.update()
            self.moved.emit(metres)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._dragged = True
        self._move(self._at(self.at(event).x()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragged:
            self._move(self._at(self.at(event).x()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragged:
            self._dragged = False
            self.settled.emit(self._metres)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: 1 / _STEP, Qt.Key.Key_Right: _STEP}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        self._move(round(self._metres * step, 2))
        self.settled.emit(self._metres)

    def paint(self, kit: Kit) -> None:
        kit.across(_EDGE, 15, self.wide - 2 * _EDGE, "edge", 2)
        for metres in _MARKS:
            x = self._x(metres)
            kit.upright(x - 0.75, 9, 13, "edge", 1.5)
            kit.text(x - 30, 24, plain_words(metres), 14, 400, "ink2", 60, "centre")
        x = self._x(self._metres)
        kit.painter.setPen(QPen(kit.colour("ink"), 2))
        kit.painter.setBrush(kit.colour("raised"))
        kit.painter.drawEllipse(QPointF(x, 16), 9, 9)
        kit.across(x - 7, 2, 14, "accent", 3)


def distance_words(metres: float) -> str:
    """Return a viewing distance as a painter says it."""
    for mark, key in ((0.3, "distance.close"), (0.7, "distance.arm")):
        if abs(metres - mark) < 0.01:
            return tr(key)
    return tr("unit.m", value=plain_figure(round(metres, 2 if metres < 1 else 1)))
