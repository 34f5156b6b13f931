"""The core with its leaders and the list of layers beside it; rows can be dragged to reorder."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QEasingCurve, QPointF, Qt, QVariantAnimation, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainterPath, QPen
from PySide6.QtWidgets import QWidget

from jartide.app.elements.core import Stratum, draw_core, stratum_heights
from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit, broken, text_width
from jartide.app.widgets.painted import Painted, motion_ms, reachable
from jartide.wording import tr

CORE_W = 80
# Room on the left for the picked stratum to slide into, and its accent.
_CORE_X = 24
_LIST_X = 144
_LEAST_ROW = 62


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
        self._rows, self._picked = rows, picked
        if rows:
            words = "; ".join(f"{row.name}: {', '.join(row.words)}" for row in rows)
            chosen = "" if picked is None else tr("reading.picked", name=rows[picked].name)
            self.setAccessibleName(f"{tr('reading.core')}. {words}. {chosen}")
        self.update()

    def _slid(self, out: float) -> None:
        self._out = out
        self.update()

    def _row_height(self) -> float:
        count = max(len(self._rows), 1)
        return min(max(self.height() / count, _LEAST_ROW), 100)

    def row_top(self, number: int) -> float:
        """Top of a layer's row; the base is lowest, and the list is centred on the core."""
        height = self._row_height()
        start = (self.height() - height * len(self._rows)) / 2
        return start + (len(self._rows) - 1 - number) * height

    def _row_at(self, y: float) -> int | None:
        for number in range(len(self._rows)):
            top = self.row_top(number)
            if top <= y < top + self._row_height():
                return number
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if at.x() <= _CORE_X + CORE_W + 6:
            y = float(self.height())
            for number, height in enumerate(stratum_heights(self._strata(), self.height())):
                if y - height <= at.y() < y:
                    self._pick(number)
                y -= height
            return
        self._held = self._row_at(at.y())
        self._press_y = at.y()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None:
            return
        y = event.position().y()
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
        to = self._place_at(event.position().y())
        self.update()
        if to != held:
            self.moved.emit(held, to)

    def _place_at(self, y: float) -> int:
        """The place in the order that a row let go at this height takes."""
        from_top = (y - self.row_top(len(self._rows) - 1)) / self._row_height()
        return min(max(len(self._rows) - 1 - int(from_top // 1), 0), len(self._rows) - 1)

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
        middles = draw_core(kit, _CORE_X, 0, CORE_W, self.height(), strata, self._picked, self._out)
        height, right = self._row_height(), self.width()
        for number, row in enumerate(self._rows):
            top = self.row_top(number)
            middle = top + height / 2
            self._leader(kit, middles[number], middle)
            on = number == self._picked
            draw_jar(
                kit,
                _LIST_X + 14,
                middle - 23,
                50,
                fill=row.colour,
                level=max(row.coverage, 0.04),
                lid=row.colour,
            )
            text = _LIST_X + 80
            weight = 700 if on else 600
            # A name too long for the line is set smaller, on as many lines as it takes.
            size = 17 if text_width(row.name, 17, weight) <= right - text else 15
            names = broken(row.name, right - text, size, weight)
            extra = 19 * (len(names) - 1)
            y = middle - (46 + extra + 22 * (len(row.words) - 1) + (22 if row.doubt else 0)) / 2
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
            line = self.row_top(to) + (0 if to > self._held else height)
            kit.across(_LIST_X, line - 2, right - _LIST_X, "accent", 4)

    def _leader(self, kit: Kit, start: float, end: float) -> None:
        x = _CORE_X + CORE_W + 6
        path = QPainterPath(QPointF(x, start))
        path.lineTo(x + 8, start)
        path.cubicTo(QPointF(x + 26, start), QPointF(x + 20, end), QPointF(x + 42, end))
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        kit.painter.setPen(QPen(kit.colour("edge"), 1))
        kit.painter.drawPath(path)
