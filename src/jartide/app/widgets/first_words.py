"""What a station says while there is nothing to show on it: a title, and how to begin."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, broken
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted

_MARGIN, _TITLE, _LINE, _MOST = 24, 48, 34, 760
_NEXT_LINE = 22


class FirstWords(Painted):
    """Centred words; a line with no room is broken."""

    def __init__(self, title: str, lines: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = False
        self._title, self._lines = title, list(lines)
        self.setAccessibleName(" ".join(filter(None, (title, *lines))))

    def _rows(self) -> list[list[str]]:
        room = min(self.wide - 2 * _MARGIN, _MOST)
        return [broken(line, room, 16) for line in self._lines]

    def _tall(self) -> float:
        head = _TITLE if self._title else 0
        return head + sum(_LINE + (len(rows) - 1) * _NEXT_LINE for rows in self._rows())

    def minimumSizeHint(self) -> QSize:
        return QSize(px(400), px(self._tall() + 2 * _MARGIN))

    def paint(self, kit: Kit) -> None:
        w = self.wide
        y = max(_MARGIN, (self.high - self._tall()) * 0.42)
        if self._title:
            kit.text(0, y, self._title, 24, 600, "ink", w, "centre")
            y += _TITLE
        for rows in self._rows():
            for number, line in enumerate(rows):
                kit.text(0, y + number * _NEXT_LINE, line, 16, 400, "ink2", w, "centre")
            y += _LINE + (len(rows) - 1) * _NEXT_LINE
