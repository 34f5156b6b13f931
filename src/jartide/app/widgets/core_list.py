"""The core with its leaders and the list of layers beside it; rows can be dragged to reorder."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QEasingCurve, QPointF, QSize, Qt, QVariantAnimation, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainterPath, QPen
from PySide6.QtWidgets import QWidget

from jartide.app.elements.core import Stratum, draw_core, stratum_heights
from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, motion_ms, reachable
from jartide.wording import tr

CORE_W = 80
# Room on the left for the picked stratum to slide into, and its accent.
_CORE_X = 24
_LIST_X = 136
_TEXT_X, _CHIP = _LIST_X + 80, 52
_LEAST_ROW, _MOST_ROW = 62, 280
_LEAST, _LEAST_TALL = 334, 250


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerRow:
    """One layer as the list shows it."""

    name: str
    colour: QColor
    coverage: float
    words: tuple[str, ...]
    doubt: str = ""


class CoreList(Painted):
    """Shows layers base first from below; one can be picked with pointer or arrow keys."""

    picked = Signal(int)  # number of the layer, base first; -1 for none
    moved = Signal(int, int)  # from, to: places in the order, base first

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: list[LayerRow] = []
        self._picked: int | None = None
        self._held: int | None = None
        self._press_y = 0.0
        self._drag_y: float | None = None
        self._ringed = False
        self._out = 1.0
        self._slide = QVariantAnimation(self)
        self._slide.setStartValue(0.0)
        self._slide.setEndValue(1.0)
        self._slide.setEasingCurve(QEasingCurve.Type.OutCubic)
        self._slide.valueChanged.connect(self._slid)
        reachable(self, tr("reading.core"))

    def show_layers(self, rows: list[LayerRow], picked: int | None) -> None:
        """Show layers, base first."""
        if picked is not None and picked != self._picked and motion_ms():
            self._out = 0.0
            self._slide.setDuration(motion_ms())
            self._slide.start()
        changed = rows != self._rows
        self._rows, self._picked = rows, picked
        if changed:
            self.updateGeometry()
        if rows:
            words = "; ".join(f"{row.name}: {', '.join(row.words)}" for row in rows)
            chosen = "" if picked is None else tr("reading.picked", name=rows[picked].name)
            self.setAccessibleName(f"{tr('reading.core')}. {words}. {chosen}")
        self.update()

    def _slid(self, out: float) -> None:
        self._out = out
        self.update()

    def _name_in(self, number: int) -> tuple[int, list[str]]:
        """Size and lines of a layer's name: one too long for the line is set smaller."""
        row, room = self._rows[number], max(self.wide, _LEAST) - _TEXT_X
        weight = 700 if number == self._picked else 600
        size = 17 if text_width(row.name, 17, weight) <= room else 15
        return size, broken(row.name, room, size, weight)

    def _words_tall(self, number: int) -> float:
        row = self._rows[number]
        _, names = self._name_in(number)
        return 46 + 19 * (len(names) - 1) + 22 * (len(row.words) - 1) + (22 if row.doubt else 0)

    def _heights(self) -> list[float]:
        """The rows' heights: what their words need, and their shares of what is left over."""
        needs = [max(self._words_tall(n) + 10, _LEAST_ROW) for n in range(len(self._rows))]
        more = max(self.high - sum(needs), 0) / max(len(needs), 1)
        return [max(need, min(need + more, _MOST_ROW)) for need in needs]

    def minimumSizeHint(self) -> QSize:
        needs = [max(self._words_tall(n) + 10, _LEAST_ROW) for n in range(len(self._rows))]
        return QSize(px(_LEAST), px(max(sum(needs), _LEAST_TALL)))

    def row_top(self, number: int) -> float:
        """Top of a layer's row; the base is lowest, and the list is centred on the core."""
        heights = self._heights()
        return (self.high - sum(heights)) / 2 + sum(heights[number + 1 :])

    def _row_at(self, y: float) -> int | None:
        for number, height in enumerate(self._heights()):
            top = self.row_top(number)
            if top <= y < top + height:
                return number
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.at(event)
        if at.x() <= _CORE_X + CORE_W + 6:
            y = float(self.high)
            for number, height in enumerate(stratum_heights(self._strata(), self.high)):
                if y - height <= at.y() < y:
                    self._pick(number)
                y -= height
            return
        self._held = self._row_at(at.y())
        self._press_y = at.y()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None:
            return
        y = self.at(event).y()
        # A hand that shakes a little while pressing does not drag.
        if self._drag_y is not None or abs(y - self._press_y) > 10:
            self._drag_y = y
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, None
        dragged, self._drag_y = self._drag_y, None
        self.unsetCursor()
        if held is None:
            return
        if dragged is None:
            self._pick(held)
            return
        to = self._place_at(self.at(event).y())
        self.update()
        if to != held:
            self.moved.emit(held, to)

    def _place_at(self, y: float) -> int:
        """The place in the order that a row let go at this height takes."""
        above = [n for n in range(len(self._rows)) if self.row_top(n) <= y]
        return min(above) if above else len(self._rows) - 1

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        if step is None or not self._rows:
            super().keyPressEvent(event)
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and self._picked is not None:
            to = self._picked + step
            if 0 <= to < len(self._rows):
                self.moved.emit(self._picked, to)
            return
        now = self._picked if self._picked is not None else (-1 if step > 0 else len(self._rows))
        place = min(max(now + step, 0), len(self._rows) - 1)
        if place != self._picked:
            self.picked.emit(place)

    def _pick(self, number: int) -> None:
        self.picked.emit(-1 if number == self._picked else number)

    def _strata(self) -> list[Stratum]:
        return [Stratum(colour=row.colour, coverage=row.coverage) for row in self._rows]

    def paint(self, kit: Kit) -> None:
        strata = self._strata()
        if not strata:
            strata = [Stratum(colour=None, coverage=0.3)] * 4
        middles = draw_core(kit, _CORE_X, 0, CORE_W, self.high, strata, self._picked, self._out)
        heights, right = self._heights(), self.wide
        for number, row in enumerate(self._rows):
            top, height = self.row_top(number), heights[number]
            middle = top + height / 2
            self._leader(kit, middles[number], middle)
            on = number == self._picked
            # Large enough to judge, of a vein as of a ground; the core says how much there is.
            kit.fill(_LIST_X + 14, middle - _CHIP / 2, _CHIP, _CHIP, row.colour, 4)
            kit.box(_LIST_X + 14, middle - _CHIP / 2, _CHIP, _CHIP, "edge", 1, 4)
            text, weight = _TEXT_X, 700 if on else 600
            size, names = self._name_in(number)
            extra = 19 * (len(names) - 1)
            y = middle - self._words_tall(number) / 2
            for place, words in enumerate(names):
                kit.text(text, y + 19 * place, words, size, weight, "ink", right - text)
            y += extra
            for words in row.words:
                y += 22
                kit.text(text, y, words, 15, 400, "ink2", right - text)
            if row.doubt:
                advance = kit.text(text, y + 22, row.doubt, 15, 600, "ink2", right - text - 24)
                kit.sign(text + advance + 14, y + 32, "check", 5)
            if number:
                kit.across(_LIST_X + 14, top + height, right - _LIST_X - 14)
            if on:
                kit.across(_LIST_X + 14, top + height - 4, 100, "accent", 4)
            if number == self._held and self._drag_y is not None:
                kit.box(_LIST_X + 4, top + 2, right - _LIST_X - 4, height - 6, "edge", 1.5, 9)
            if on and self.hasFocus():
                kit.box(_LIST_X + 4, top + 2, right - _LIST_X - 4, height - 8, "accent", 2, 9)

        if self._held is not None and self._drag_y is not None:
            # Where it would come to lie.
            to = self._place_at(self._drag_y)
            line = self.row_top(to) + (0 if to > self._held else heights[to])
            kit.across(_LIST_X, line - 2, right - _LIST_X, "accent", 4)

    def _leader(self, kit: Kit, start: float, end: float) -> None:
        x = _CORE_X + CORE_W + 6
        path = QPainterPath(QPointF(x, start))
        path.lineTo(x + 8, start)
        path.cubicTo(QPointF(x + 26, start), QPointF(x + 20, end), QPointF(x + 42, end))
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        kit.painter.setPen(QPen(kit.colour("edge"), 1))
        kit.painter.drawPath(path)
