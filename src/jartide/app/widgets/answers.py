"""Questions with their answers under each other: the answer large, its reason below it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, broken
from jartide.app.widgets.painted import Painted, reachable
from jartide.job.judging import Judged

_LEFT, _LINE = 30, 21
_QUESTION, _ANSWER, _WHY = 15, 20, 15
# From this width on questions stand in two columns.
_TWO_COLUMNS = 680


class Answers(Painted):
    """Draws questions; one is chosen with the pointer or the arrows, Enter goes on with it."""

    chosen = Signal(int)
    pressed = Signal(int)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._name = name
        self._asked: list[Judged] = []
        self._index = 0
        self._shift = 0.0
        self._places: list[tuple[float, float, float]] = []
        reachable(self, name)

    @property
    def asked(self) -> list[Judged]:
        """What is shown."""
        return self._asked

    def show_asked(self, asked: Sequence[Judged], index: int) -> None:
        """Show questions, one of them chosen."""
        self._asked = list(asked)
        self._index = min(max(index, 0), max(len(self._asked) - 1, 0))
        self._describe()
        self.update()

    def _describe(self) -> None:
        words = self._name
        if self._asked:
            one = self._asked[self._index]
            words = f"{self._name}: {one.question} {one.answer}. {one.why}"
        self.setAccessibleName(words)

    def _choose(self, index: int) -> None:
        if 0 <= index < len(self._asked):
            self._index = index
            self._reveal()
            self._describe()
            self.update()
            self.chosen.emit(index)

    def _reveal(self) -> None:
        """Scroll so that the chosen question is seen."""
        self._lay()
        if self._index < len(self._places):
            _, top, height = self._places[self._index]
            self._shift = min(max(self._shift, top + height - self.high + 8), max(top - 8, 0))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is not None and self._asked:
            self._choose(self._index + step)
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return) and self._asked:
            self.pressed.emit(self._index)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        x, y = self.at(event).x(), self.at(event).y() + self._shift
        width = self._width()
        for index, (left, top, height) in enumerate(self._places):
            if left <= x < left + width and top <= y < top + height:
                self._choose(index)
                return

    def wheelEvent(self, event: QWheelEvent) -> None:
        low = max((top + height for _, top, height in self._places), default=0.0)
        most = max(low - self.high + 8, 0.0)
        self._shift = min(max(self._shift - event.angleDelta().y() / 3, 0.0), most)
        self.update()

    # ---- where they stand

    def _columns(self) -> int:
        return 2 if self.wide >= _TWO_COLUMNS else 1

    def _width(self) -> float:
        columns = self._columns()
        return (self.wide - 36 * (columns - 1)) / columns

    def _lay(self) -> None:
        """Put each question below the shorter column."""
        ends = [4.0] * self._columns()
        self._places = []
        for one in self._asked:
            column = ends.index(min(ends))
            height = self._height(one)
            self._places.append((column * (self._width() + 36), ends[column], height))
            ends[column] += height

    def _height(self, one: Judged) -> float:
        room = self._width() - _LEFT - 8
        questions = len(broken(one.question, room, _QUESTION, 600)) or 1
        answers = len(broken(one.answer, room, _ANSWER, 700)) or 1
        whys = len(broken(one.why, room, _WHY)) if one.why else 0
        return 12 + questions * _LINE + answers * 28 + whys * _LINE + 18

    def paint(self, kit: Kit) -> None:
        self._lay()
        width = self._width()
        with kit.saved():
            kit.painter.setClipRect(0, 0, self.wide, self.high)
            for index, (one, (left, top, height)) in enumerate(
                zip(self._asked, self._places, strict=True)
            ):
                y = top - self._shift
                if y + height < 0 or y > self.high:
                    continue
                self._paint_one(kit, one, left, y, width)
                kit.across(left, y + height - 8, width - 8)
                if index == self._index:
                    kit.fill(left, y + height - 11, 64, 4, "accent")
        low = max((top + height for _, top, height in self._places), default=0.0)
        if low - self._shift > self.high:
            kit.across(4, self.high - 2, self.wide - 8, "edge", 2)

    def _paint_one(self, kit: Kit, one: Judged, left: float, y: float, width: float) -> None:
        room = width - _LEFT - 8
        at = kit.paragraph(left + _LEFT, y + 8, room, one.question, _QUESTION, 600, "ink2") + 4
        kit.sign(left + 10, at + 14, one.sign)
        at = kit.paragraph(left + _LEFT, at, room, one.answer, _ANSWER, 700, "ink")
        if one.why:
            kit.paragraph(left + _LEFT, at + 2, room, one.why, _WHY, 400, "ink")
