"""What differs most: one row a quantity, the worst one large, each with its deviation mark."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.deviation import draw_colour_pair, draw_deviation
from jartide.app.kit import Kit, text_width
from jartide.app.widgets.painted import Painted, reachable
from jartide.boards.result import State
from jartide.wording import tr

_FIRST, _ROW = 92, 56
# A name too long to stand beside its words has a line of its own.
_LINE = 22
_SIDE = 86


@dataclass(frozen=True, slots=True, kw_only=True)
class DifferenceRow:
    """One difference in words. Colours come as a pair instead of two values."""

    quantity: str
    name: str
    target: str
    board: str
    words: str
    jnd: float
    amount: str
    state: State
    chance: float
    pair: tuple[QColor, QColor] | None = None


class Differences(Painted):
    """Shows differences, the first at the top; arrow keys and pointer choose one."""

    chosen = Signal(str)  # path of the quantity

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: list[DifferenceRow] = []
        self._chosen = 0
        self._scroll = 0
        self._message = ""
        self._ringed = False
        reachable(self, tr("boards.differs"))

    def show_rows(self, rows: Sequence[DifferenceRow], chosen: int, message: str = "") -> None:
        """Show differences in their order, or a message while there are none."""
        self._rows, self._chosen, self._message = list(rows), chosen, message
        self._scroll = min(self._scroll, max(len(self._rows) - 1, 0))
        if rows:
            words = "; ".join(f"{r.name}: {r.words}, {r.target} {r.board}" for r in rows)
            self.setAccessibleName(f"{tr('boards.differs')}. {words}")
        self.update()

    def _visible(self) -> list[tuple[int, float, float]]:
        """Return (row, top, height) of the rows there is room for."""
        places, y = [], 0.0
        for number in range(self._scroll, len(self._rows)):
            height = (_FIRST if number == 0 else _ROW) + self._line_above(number)
            if y + height > self.high + 4:
                break
            places.append((number, y, float(height)))
            y += height
        return places

    def _line_above(self, number: int) -> int:
        """Return the height of the line a row's name needs for itself; 0 where it needs none."""
        row, middle_w = self._rows[number], self.wide - 2 * _SIDE
        if number == 0:
            name = text_width(row.name, 18, 600)
            if row.pair is not None:
                needed, room = name + text_width(row.words, 18, 600) + 10, self.wide
            else:
                needed, room = name, middle_w
        elif row.pair is not None:
            needed = text_width(row.name, 17, 500) + text_width(row.words, 16) + 10
            room = self.wide
        else:
            needed, room = text_width(row.name, 16, 500) + text_width(row.words, 15) + 8, middle_w
        return _LINE if needed > room else 0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for number, top, height in self._visible():
            if top <= self.at(event).y() < top + height:
                self.chosen.emit(self._rows[number].quantity)

    def wheelEvent(self, event) -> None:
        self._scroll_by(-1 if event.angleDelta().y() > 0 else 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is None or not self._rows:
            super().keyPressEvent(event)
            return
        place = min(max(self._chosen + step, 0), len(self._rows) - 1)
        shown = [number for number, _, _ in self._visible()]
        if place not in shown:
            self._scroll_by(step)
        if place != self._chosen:
            self.chosen.emit(self._rows[place].quantity)

    def _scroll_by(self, rows: int) -> None:
        most = max(0, len(self._rows) - len(self._visible()))
        self._scroll = min(max(self._scroll + rows, 0), most if rows > 0 else len(self._rows))
        self.update()

    def paint(self, kit: Kit) -> None:
        w = self.wide
        if not self._rows:
            kit.paragraph(0, 24, w, self._message, 16, 400, "ink2")
            return
        for number, top, height in self._visible():
            row, line = self._rows[number], self._line_above(number)
            if line:
                kit.text(0, top + 3, row.name, 17, 600 if number == 0 else 500, "ink", self.wide)
                row = replace(row, name="")
            if number == 0:
                self._draw_first(kit, row, top + line)
            else:
                self._draw_row(kit, row, top + line)
            if number == self._chosen:
                kit.across(0, top + height - 4, _SIDE - 14, "accent", 4)
                if self.hasFocus():
                    kit.box(-2, top + 2, w + 4, height - 8, "accent", 2, 9)
            kit.across(0, top + height - 1, w)

    def _draw_first(self, kit: Kit, row: DifferenceRow, top: float) -> None:
        w = self.wide
        middle_w = w - 2 * _SIDE
        if row.pair is not None:
            advance = kit.text(0, top + 4, row.words, 18, 600, "ink", w, "right")
            kit.text(0, top + 4, row.name, 18, 600, "ink", w - advance - 10)
            draw_colour_pair(kit, 0, top + 36, w, 40, *row.pair)
            return
        size = 30 if max(text_width(t, 30, 600) for t in (row.target, row.board)) < _SIDE else 20
        middle = top + 42 - size * 0.65
        _draw_value(kit, 0, middle, row.target, size, "left")
        _draw_value(kit, w - _SIDE, middle, row.board, size, "right")
        kit.text(_SIDE, top + 4, row.name, 18, 600, "ink", middle_w, "centre")
        draw_deviation(kit, _SIDE + 6, top + 42, middle_w - 12, *_mark(row))
        kit.text(_SIDE, top + 56, row.words, 18, 600, "ink", middle_w, "centre")

    def _draw_row(self, kit: Kit, row: DifferenceRow, top: float) -> None:
        w = self.wide
        if row.pair is not None:
            advance = kit.text(0, top + 4, row.words, 16, 400, "ink2", w, "right")
            kit.text(0, top + 3, row.name, 17, 500, "ink", w - advance - 10)
            draw_colour_pair(kit, 0, top + 28, w, 18, *row.pair)
            return
        middle_w = w - 2 * _SIDE
        _draw_value(kit, 0, top + 16, row.target, 17, "left")
        _draw_value(kit, w - _SIDE, top + 16, row.board, 17, "right")
        words = row.words
        advance = kit.text(_SIDE, top + 4, words, 15, 400, "ink2", middle_w, "right")
        kit.text(_SIDE, top + 3, row.name, 16, 500, "ink", middle_w - advance - 8)
        draw_deviation(kit, _SIDE, top + 38, middle_w, *_mark(row))


def _mark(row: DifferenceRow) -> tuple[float, str, State, float]:
    return row.jnd, row.amount, row.state, row.chance


def _draw_value(kit: Kit, x: float, y: float, text: str, size: int, side: str) -> None:
    """Draw a value; where it is too wide, its unit stands small below the number."""
    number, _, unit = text.partition(" ")
    if not unit or text_width(text, size, 600) < _SIDE - 6:
        kit.text(x, y, text, size, 600, "ink", _SIDE, side)
        return
    kit.text(x, y - 8, number, size, 600, "ink", _SIDE, side)
    kit.text(x, y + size - 4, unit, 14, 400, "ink2", _SIDE, side)
