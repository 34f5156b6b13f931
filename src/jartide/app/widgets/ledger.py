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
# From one line of a title, or of a note, to the next.
_LINE, _NOTE_LINE = 23, 19
# What stands right takes at most so much of the room; words keep so many units at least.
_MOST_RIGHT, _LEAST = 0.6, 100
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
    """

    title: str
    note: str = ""
    right: str = ""
    right_note: str = ""
    sign: str = ""
    columns: tuple[str, ...] = ()
    chips: tuple[QColor, ...] = ()
    head: bool = False


@dataclass(frozen=True, slots=True)
class _Lines:
    """How the words of one row are set, and how much of each line what stands right takes."""

    title: list[str]
    note: list[str]
    right: float
    right_note: float

    @property
    def more(self) -> int:
        """What they take beyond one line each, units."""
        return _LINE * (len(self.title) - 1) + _NOTE_LINE * max(len(self.note) - 1, 0)


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
        self._kept: dict[tuple[str | int, ...], _Lines] = {}
        reachable(self, name)

    @property
    def rows(self) -> list[LedgerRow]:
        """What is shown."""
        return self._rows

    def show_rows(self, rows: Sequence[LedgerRow], index: int = -1, empty: str = "") -> None:
        """Show rows, one of them chosen, or a sentence where there are none."""
        self._rows, self._index, self._empty = list(rows), index, empty
        self._first = min(self._first, max(len(self._rows) - 1, 0))
        self._kept.clear()
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
            return _HEAD + self._set_in(row).more
        one_line = not (row.note or row.right_note or row.chips)
        return (_ONE_LINE if one_line else ROW) + self._set_in(row).more

    def _left(self, row: LedgerRow) -> float:
        """Where a row's words begin: behind its chips and its sign."""
        chips = 34 * len(row.chips) + 12 if row.chips else 0
        return 4.0 + chips + (26 if row.sign else 0)

    def _set_in(self, row: LedgerRow) -> _Lines:
        """Break a row's words into as many lines as they need; a row that was set stays so."""
        key = (row.title, row.note, row.right, row.right_note,
               len(row.chips), row.sign, len(row.columns), row.head)  # fmt: skip
        kept = self._kept.get(key)
        if kept is None:
            room = self.wide - _COLUMN * len(row.columns) - self._left(row)
            if row.head:
                kept = _Lines(broken(row.title, max(room - 8, _LEAST), 17, 700), [], 0.0, 0.0)
                self._kept[key] = kept
                return kept
            right, right_note = (
                min(text_width(words, size, weight) + 4, _MOST_RIGHT * room) if words else 0.0
                for words, size, weight in ((row.right, 17, 600), (row.right_note, 14, 400))
            )
            kept = _Lines(
                broken(row.title, max(room - right - 16, _LEAST), 17, 600),
                broken(row.note, max(room - right_note - 16, _LEAST), 14) if row.note else [],
                right,
                right_note,
            )
            self._kept[key] = kept
        return kept

    def _reveal(self) -> None:
        """Scroll so that the chosen row is seen, and no room is left empty below."""
        if 0 <= self._index < self._first:
            self._first = self._index
        while self._index >= self._last_seen() and self._first < self._index:
            self._first += 1
        while self._first > 0 and self._all_seen_from(self._first - 1):
            self._first -= 1

    def _all_seen_from(self, first: int) -> bool:
        """Whether the rows from one on have room; of thousands only those with room are set."""
        y = 0
        for row in self._rows[first:]:
            y += self._height(row)
            if y > self.high:
                return False
        return True

    def _last_seen(self) -> int:
        y = 0
        for number in range(self._first, len(self._rows)):
            y += self._height(self._rows[number])
            if y > self.high:
                return number
        return len(self._rows)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._kept.clear()
        self._reveal()

    def wheelEvent(self, event: QWheelEvent) -> None:
        step = -1 if event.angleDelta().y() > 0 else 1
        if step < 0 and self._first > 0:
            self._first -= 1
        elif step > 0 and not self._all_seen_from(self._first):
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
            for number, line in enumerate(self._set_in(row).title):
                advance = kit.text(4, y + 12 + number * _LINE, line, 17, 700, "ink")
            room = w - advance - 32
            if row.right and room > 80:
                kit.text(advance + 24, y + 13, row.right, 15, 500, "ink2", room, "right")
            return
        lines, left = self._set_in(row), 4.0
        for chip in row.chips:
            kit.fill(left, y + 10, 34, 36, chip)
            left += 34
        if row.chips:
            kit.box(4, y + 10, left - 4, 36, "line")
            left += 12
        if row.sign:
            kit.sign(left + 8, y + 19, row.sign)
            left += 26
        below = y + 31 + (len(lines.title) - 1) * _LINE
        for set_in, beside, taken, top, size, weight, shade, pitch in (
            (lines.title, row.right, lines.right, y + 8, 17, 600, "ink", _LINE),
            (lines.note, row.right_note, lines.right_note, below, 14, 400, "ink2", _NOTE_LINE),
        ):
            if beside:
                kit.text(w - 4 - taken, top, beside, size, weight, shade, taken, "right")
            for number, line in enumerate(set_in):
                kit.text(left, top + number * pitch, line, size, weight, shade)
        foot = y + self._height(row)
        kit.across(4, foot - 1, self.wide - 8)
        if on:
            kit.across(4, foot - 4, 64, "accent", 4)
