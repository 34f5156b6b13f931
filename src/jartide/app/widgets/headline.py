"""A headline with what to do below it, as large as the room lets them be."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtGui import QColor, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.elements.deviation import draw_colour_pair
from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted

# Two colours of which one is to become the other: large enough to judge.
_CHIP_W, _CHIP_H, _GAP = 76, 60, 20
_LARGE, _SMALL, _LEAST = 24, 20, 320
_LINE = 1.38


class Headline(Painted):
    """A title and one line below it, or two small ones; a pair of colours before them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._title, self._words = "", ""
        self._pair: tuple[QColor, QColor] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(px(_CHIP_H + 4))

    @property
    def words(self) -> tuple[str, str]:
        """The title, and what stands below it."""
        return self._title, self._words

    def say(self, title: str, words: str, pair: tuple[QColor, QColor] | None = None) -> None:
        """Show a headline."""
        self._title, self._words, self._pair = title, words, pair
        self.setAccessibleName(f"{title}. {words}".strip())
        self._fit()
        self.update()

    def minimumSizeHint(self) -> QSize:
        return QSize(px(_LEAST), self.height())

    def _left(self) -> int:
        return 0 if self._pair is None else 2 * _CHIP_W + _GAP

    def _set_in(self) -> tuple[int, list[str], int, list[str]]:
        """Size and lines of the title, size and lines of the words."""
        room = self.wide - self._left()
        size = _LARGE if text_width(self._title, _LARGE, 600) <= room else _SMALL
        small = 16 if text_width(self._words, 16) <= room else 14
        title = broken(self._title, room, size, 600)
        return size, title, small, broken(self._words, room, small)

    def _fit(self) -> None:
        size, title, small, words = self._set_in()
        tall = len(title) * size * _LINE + len(words) * small * _LINE + 2
        self.setFixedHeight(px(max(tall, _CHIP_H + 4)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def paint(self, kit: Kit) -> None:
        if self._pair is not None:
            draw_colour_pair(kit, 0, 2, 2 * _CHIP_W, _CHIP_H, *self._pair)
        size, title, small, words = self._set_in()
        left, y = self._left(), 0.0
        for lines, tall, weight, shade in ((title, size, 600, "ink"), (words, small, 400, "ink2")):
            for line in lines:
                kit.text(left, y, line, tall, weight, shade)
                y += tall * _LINE
