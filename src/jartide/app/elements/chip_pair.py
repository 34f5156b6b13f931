"""A layer's colour and how sure it is: the colour between its likely darker and lighter self."""

from __future__ import annotations

from PySide6.QtGui import QColor

from jartide.app.kit import Kit


def draw_chip_pair(
    kit: Kit, x: float, y: float, w: float, h: float, colours: tuple[QColor, QColor, QColor]
) -> None:
    """Draw three touching chips; the middle one, the colour itself, is twice as wide."""
    low, middle, high = colours
    kit.fill(x, y, w, h, middle)
    kit.fill(x, y, w / 4, h, low)
    kit.fill(x + 3 * w / 4, y, w / 4, h, high)
    kit.box(x, y, w, h, "edge", 1)
