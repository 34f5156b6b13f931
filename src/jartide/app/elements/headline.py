"""A headline with what to do below it, as large as the room lets them be."""

from __future__ import annotations

from jartide.app.kit import Kit, text_width

_LEFT = 24


def draw_headline(kit: Kit, room: float, title: str, words: str) -> None:
    """Draw a title, and one line below it, or two small ones."""
    size = 24 if text_width(title, 24, 600) <= room else 20
    kit.text(_LEFT, 10, title, size, 600, "ink", room)
    if text_width(words, 16) <= room:
        kit.text(_LEFT, 44, words, 16, 400, "ink2")
    else:
        kit.paragraph(_LEFT, 38, room, words, 14, 400, "ink2", lines=2)
