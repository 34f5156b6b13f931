"""The deviation mark: bar is what passes as the same, tick the target, arrow the board."""

from __future__ import annotations

from PySide6.QtCore import QPointF
from PySide6.QtGui import QColor, QPen

from jartide.app.kit import Kit

# Just visible differences that reach the end of the line.
_FULL_JND = 6.0


def draw_deviation(kit: Kit, x: float, y: float, w: float, jnd: float, amount: str) -> None:
    """Draw the mark round the level line at `y`; more is to the right."""
    middle = x + w / 2
    kit.across(x, y, w, "line")
    bar = w * 0.09
    kit.fill(middle - bar, y - 4.5, 2 * bar, 10, "shade", 5)
    reach = max(-1.0, min(1.0, jnd / _FULL_JND)) * (w / 2 - 10)
    kit.upright(middle - 1, y - 8, 17, "ink", 2)
    if amount == "same":
        kit.painter.setPen(QPen(kit.colour("ink"), 1.75))
        kit.painter.setBrush(kit.colour("raised"))
        at = max(-bar, min(bar, reach))
        kit.painter.drawEllipse(QPointF(middle + at, y + 0.5), 5.5, 5.5)
        return
    way = 1 if reach >= 0 else -1
    # Never inside the bar: what differs must look as if it did.
    reach = way * max(abs(reach), bar + 8)
    kit.fill(min(middle, middle + reach), y - 1, abs(reach), 3, "ink")
    kit.arrow(middle + reach, y + 0.5, way, 11, solid=amount == "much")


def draw_colour_pair(
    kit: Kit, x: float, y: float, w: float, h: float, target: QColor, board: QColor
) -> None:
    """Draw two colours touching, target left and board right."""
    kit.fill(x, y, w / 2, h, target)
    kit.fill(x + w / 2, y, w / 2, h, board)
