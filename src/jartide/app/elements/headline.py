"""A headline with what to do below it, as large as the room lets them be."""

from __future__ import annotations

from PySide6.QtGui import QColor

from jartide.app.elements.deviation import draw_colour_pair
from jartide.app.kit import Kit, text_width

_LEFT = 24
# Two colours of which one is to become the other: large enough to judge.
_CHIP_W, _CHIP_H = 76, 60


def draw_headline(
    kit: Kit, room: float, title: str, words: str, pair: tuple[QColor, QColor] | None = None
) -> None:
    """Draw a title, and one line below it, or two small ones; a pair of colours before them."""
    left = float(_LEFT)
    if pair is not None:
        draw_colour_pair(kit, left, 10, 2 * _CHIP_W, _CHIP_H, *pair)
        left += 2 * _CHIP_W + 20
        room -= 2 * _CHIP_W + 20
    size = 24 if text_width(title, 24, 600) <= room else 20
    kit.text(left, 10, title, size, 600, "ink", room)
    if text_width(words, 16) <= room:
        kit.text(left, 44, words, 16, 400, "ink2")
    else:
        kit.paragraph(left, 38, room, words, 14, 400, "ink2", lines=2)
