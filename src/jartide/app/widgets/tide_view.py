"""The tide as a widget: boards can be chosen with pointer and arrow keys."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.tide import Mark, draw_tide
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.boards.closeness import zone_of
from jartide.wording import tr

HEIGHT = 100


class TideView(Painted):
    """Shows how close each board came."""

    chosen = Signal(int)  # number of the board

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._marks: list[Mark] = []
        self._chosen = 0
        self._expected: float | None = None
        self._discs: list[tuple[float, float, float]] = []
        self.setFixedHeight(px(HEIGHT))
        reachable(self, tr("tide.name"))

    def show_marks(self, marks: list[Mark], chosen: int, expected: float | None) -> None:
        """Show boards in their order; `chosen` is the index of the one on the bench."""
        self._marks, self._chosen, self._expected = marks, chosen, expected
        if marks:
            mark = marks[chosen]
            words = [tr("tide.board", number=mark.number, zone=tr(zone_of(mark.closeness)))]
            if chosen > 0:
                closer = mark.closeness >= marks[chosen - 1].closeness
                words.append(
                    tr(
                        "tide.closer" if closer else "tide.further",
                        number=marks[chosen - 1].number,
                    )
                )
            self.setAccessibleName(f"{tr('tide.name')}: {', '.join(words)}")
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.at(event)
        for mark, (x, y, r) in zip(self._marks, self._discs, strict=False):
            if (at.x() - x) ** 2 + (at.y() - y) ** 2 <= (r + 10) ** 2:
                self.chosen.emit(mark.number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None or not self._marks:
            super().keyPressEvent(event)
            return
        place = min(max(self._chosen + step, 0), len(self._marks) - 1)
        if place != self._chosen:
            self.chosen.emit(self._marks[place].number)

    def paint(self, kit: Kit) -> None:
        self._discs = draw_tide(
            kit,
            2,
            36,
            self.wide - 4,
            self._marks,
            chosen=self._chosen,
            expected=self._expected,
        )
