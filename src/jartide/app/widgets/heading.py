"""Headings: a title, and what is said quietly beside it."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted

_GAP, _NOTE, _LINE = 14, 15, 21
# A note that may be cut is left out with less room than this: only its first words would be seen.
_LEAST_NOTE = 110


class Heading(Painted):
    """The title always has its room; the note stands beside it, or below where that is short.

    Parameters
    ----------
    size, weight : of the title
    note_right : the note stands at the right
    one_line : a note that is too long is cut instead; for what somebody typed
    """

    def __init__(
        self,
        title: str = "",
        size: int = 18,
        weight: int = 700,
        note: str = "",
        *,
        note_right: bool = False,
        one_line: bool = False,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._title, self._size, self._weight, self._note = title, size, weight, note
        self._note_right, self._one_line = note_right, one_line
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(f"{title} {note}".strip())
        self._fit()

    def say(self, title: str, note: str = "") -> None:
        """Show other words."""
        if (title, note) != (self._title, self._note):
            self._title, self._note = title, note
            self.setAccessibleName(f"{title} {note}".strip())
            self._fit()
            self.updateGeometry()
            self.update()

    def _wide(self) -> float:
        return text_width(self._title, self._size, self._weight)

    def _below(self) -> list[str]:
        """The lines of a note that has no room beside the title."""
        beside = self._wide() + _GAP + text_width(self._note, _NOTE) <= self.wide
        if not self._note or self._one_line or beside:
            return []
        return broken(self._note, self.wide, _NOTE)

    def _fit(self) -> None:
        self.setFixedHeight(px(self._size * 1.3 + _LINE * len(self._below())))

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def sizeHint(self) -> QSize:
        note = _GAP + text_width(self._note, _NOTE) if self._note else 0
        return QSize(px(self._wide() + note + 2), self.height())

    def minimumSizeHint(self) -> QSize:
        return QSize(px(self._wide() + 2), self.height())

    def paint(self, kit: Kit) -> None:
        advance = kit.text(0, 0, self._title, self._size, self._weight, "ink")
        below = self._below()
        for number, line in enumerate(below):
            kit.text(0, self._size * 1.3 + number * _LINE, line, _NOTE, 400, "ink2")
        left = advance + _GAP if self._title else 0
        room = self.wide - left
        if self._note and not below and (room >= _LEAST_NOTE or not self._one_line):
            align = "right" if self._note_right else "left"
            # Both stand on one line.
            kit.text(left, self._size - _NOTE, self._note, _NOTE, 400, "ink2", room, align)
