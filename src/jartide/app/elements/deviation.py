"""The deviation mark: bar is what passes as the same, tick the target, arrow the board.

What is sure is drawn through; what only looks different is dotted, its arrow open; what can't be
told is a dotted span of what it may be, without an arrow.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPen

from jartide.app.kit import Kit
from jartide.boards.result import State

# Just visible differences that reach the end of the line.
_FULL_JND = 6.0


def draw_deviation(
    kit: Kit, x: float, y: float, w: float, jnd: float, amount: str, state: State, chance: float
) -> None:
    """Draw the mark round the level line at `y`; more is to the right.

    `chance` is how far to either side of `jnd` it may lie.
    """
    middle = x + w / 2
    kit.across(x, y, w, "line")
    bar = w * 0.09
    kit.fill(middle - bar, y - 4.5, 2 * bar, 10, "shade", 5)
    reach = _place(jnd, w)
    kit.upright(middle - 1, y - 8, 17, "ink", 2)
    if state is State.UNTOLD:
        low, high = (_place(jnd + side * chance, w) for side in (-1, 1))
        _dotted(kit, middle + low, middle + high, y)
        return
    if amount == "same":
        kit.painter.setPen(QPen(kit.colour("ink"), 1.75))
        kit.painter.setBrush(kit.colour("raised"))
        at = max(-bar, min(bar, reach))
        kit.painter.drawEllipse(QPointF(middle + at, y + 0.5), 5.5, 5.5)
        return
    way = 1 if reach >= 0 else -1
    # Never inside the bar: what differs must look as if it did.
    reach = way * max(abs(reach), bar + 8)
    if state is State.LOOKS_DIFFERENT:
        _dotted(kit, middle, middle + reach, y)
        kit.arrow(middle + reach, y + 0.5, way, 11, solid=False)
        return
    kit.fill(min(middle, middle + reach), y - 1, abs(reach), 3, "ink")
    kit.arrow(middle + reach, y + 0.5, way, 11, solid=amount == "much")


def _place(jnd: float, w: float) -> float:
    return max(-1.0, min(1.0, jnd / _FULL_JND)) * (w / 2 - 10)


def _dotted(kit: Kit, start: float, end: float, y: float) -> None:
    pen = QPen(kit.colour("ink2"), 3)
    pen.setStyle(Qt.PenStyle.DotLine)
    kit.painter.setPen(pen)
    kit.painter.drawLine(QPointF(start, y + 0.5), QPointF(end, y + 0.5))


def draw_colour_pair(
    kit: Kit, x: float, y: float, w: float, h: float, target: QColor, board: QColor
) -> None:
    """Draw two colours touching, target left and board right."""
    kit.fill(x, y, w / 2, h, target)
    kit.fill(x + w / 2, y, w / 2, h, board)
