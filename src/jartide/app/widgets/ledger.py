"""Rows of words under each other on thin lines: a log, a list of scores, of panels, of frames."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, broken, text_width
from jartide.app.widgets.painted import Painted, reachable

ROW = 58
_HEAD = 40
_ONE_LINE = 42
# Of a title that wraps, from one line to the next.
_LINE = 23
_COLUMN = 64


@dataclass(frozen=True, slots=True, kw_only=True)
class LedgerRow:
    """One row.

    Attributes
    ----------
    title, note : its two lines
    right, right_note : what stands at the right end of them
    sign : ready, todo, check or stop; "" for none
    columns : values that stand under each other from row to row, in place of `right`
    chips : colours drawn before the words, touching
    head : a heading over the rows that follow, not a row to choose
    wraps : its title is a sentence, and takes as many lines as it needs
    """

    title: str
    note: str = ""
    right: str = ""
    right_note: str = ""
    sign: str = ""
    columns: tuple[str, ...] = ()
    chips: tuple[QColor, ...] = ()
    head: bool = False
    wraps: bool = False


class Ledger(Painted):
    """Draws rows; one is chosen with the pointer or the arrows."""

    chosen = Signal(int)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._name = name
        self._rows: list[LedgerRow] = []
        self._index = -1
        self._first = 0
        self._empty = ""
        reachable(self, name)

    @property
    def rows(self) -> list[LedgerRow]:
        """What is shown."""
        return self._rows

    def show_rows(self, rows: Sequence[LedgerRow], index: int = -1, empty: str = "") -> None:
        """Show rows, one of them chosen, or a sentence where there are none."""
        self._rows, self._index, self._empty = list(rows), index, empty
        self._first = min(self._first, max(len(self._rows) - 1, 0))
        self._reveal()
        self._describe()
        self.update()

    def _describe(self) -> None:
        words = self._name
        if 0 <= self._index < len(self._rows):
            row = self._rows[self._index]
            parts = (row.title, row.note, row.right, row.right_note, *row.columns)
            words = ", ".join(filter(None, parts))
            words = f"{self._name}: {words}"
        elif self._rows:
            words = f"{self._name}: " + "; ".join(
                " ".join(filter(None, (r.title, r.right))) for r in self._rows[:12]
            )
        self.setAccessibleName(words)

    def _height(self, row: LedgerRow) -> int:
        if row.head:
            return _HEAD
        one_line = not (row.note or row.right_note or row.chips)
        return (_ONE_LINE if one_line else ROW) + self._more_lines(row) * _LINE

    def _more_lines(self, row: LedgerRow) -> int:
        """How many lines a title takes beyond the first."""
        return len(self._title_lines(row)) - 1 if row.wraps else 0

    def _title_lines(self, row: LedgerRow) -> list[str]:
        room = self.wide - (46 if row.sign else 20)
        return broken(row.title, max(room, 100), 17, 600) or [""]

    def _reveal(self) -> None:
        """Scroll so that the chosen row is seen, and no room is left empty below."""
        if 0 <= self._index < self._first:
            self._first = self._index
        while self._index >= self._last_seen() and self._first < self._index:
            self._first += 1
        while self._first > 0 and self._below(self._first - 1) <= self.high:
            self._first -= 1

    def _below(self, first: int) -> int:
        return sum(self._height(row) for row in self._rows[first:])

    def _last_seen(self) -> int:
        y = 0
        for number in range(self._first, len(self._rows)):
            y += self._height(self._rows[number])
            if y > self.high:
                return number
        return len(self._rows)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._reveal()

    def wheelEvent(self, event: QWheelEvent) -> None:
        step = -1 if event.angleDelta().y() > 0 else 1
        if step < 0 and self._first > 0:
            self._first -= 1
        elif step > 0 and self._below(self._first) > self.high:
            self._first += 1
        self.update()

    def _choose(self, index: int) -> None:
        if 0 <= index < len(self._rows) and not self._rows[index].head:
            self._index = index
            self._reveal()
            self._describe()
            self.update()
            self.chosen.emit(index)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        y = 0.0
        for number in range(self._first, len(self._rows)):
            height = self._height(self._rows[number])
            if y <= self.at(event).y() < y + height:
                self._choose(number)
                return
            y += height

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is None or not self._rows:
            super().keyPressEvent(event)
            return
        index = self._index + step
        while 0 <= index < len(self._rows) and self._rows[index].head:
            index += step
        self._choose(index)

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        if not self._rows:
            kit.paragraph(4, 12, min(w - 8, 560), self._empty, 16, 400, "ink2")
            return
        y = 0.0
        for number in range(self._first, len(self._rows)):
            row = self._rows[number]
            height = self._height(row)
            if y + height > h:
                break
            self._paint_row(kit, row, y, w, number == self._index)
            y += height
        # Where more lies below or above, the line says so.
        if self._last_seen() < len(self._rows):
            kit.across(4, h - 2, w - 8, "edge", 2)

    def _paint_row(self, kit: Kit, row: LedgerRow, y: float, w: float, on: bool) -> None:
        for place, words in enumerate(reversed(row.columns)):
            x = w - 4 - (place + 1) * _COLUMN
            top, weight = (y + 12, 700) if row.head else (y + 8, 600)
            kit.text(x, top, words, 17, weight, "ink", _COLUMN, "right")
        w -= _COLUMN * len(row.columns)
        if row.head:
            advance = kit.text(4, y + 12, row.title, 17, 700, "ink", w - 8)
            room = w - advance - 32
            if row.right and room > 80:
                kit.text(advance + 24, y + 13, row.right, 15, 500, "ink2", room, "right")
            return
        left = 4.0
        for chip in row.chips:
            kit.fill(left, y + 10, 34, 36, chip)
            left += 34
        if row.chips:
            kit.box(4, y + 10, left - 4, 36, "line")
            left += 12
        if row.sign:
            kit.sign(left + 8, y + 19, row.sign)
            left += 26
        title, *more = self._title_lines(row) if row.wraps else [row.title]
        for number, words in enumerate(more, 1):
            kit.text(left, y + 8 + number * _LINE, words, 17, 600, "ink")
        for words, beside, top, size, weight, shade in (
            (title, row.right, y + 8, 17, 600, "ink"),
            (row.note, row.right_note, y + 31 + len(more) * _LINE, 14, 400, "ink2"),
        ):
            taken = 0.0
            if beside:
                taken = min(text_width(beside, size, weight) + 4, 0.6 * (w - left))
                kit.text(w - 4 - taken, top, beside, size, weight, shade, taken, "right")
            kit.text(left, top, words, size, weight, shade, w - left - taken - 16)
        foot = y + self._height(row)
        kit.across(4, foot - 1, self.wide - 8)
        if on:
            kit.across(4, foot - 4, 64, "accent", 4)
