"""What stands over the list of differences: the target's side, and the board's."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted


class ColumnHeads(Painted):
    """One word at each side, and what is told between them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._words = ("", "", "")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(px(24))

    def say(self, left: str, middle: str, right: str) -> None:
        """Show the words."""
        self._words = (left, middle, right)
        self.setAccessibleName(", ".join(self._words))
        self.updateGeometry()
        self.update()

    def _sides(self) -> float:
        left, _, right = self._words
        return max(text_width(left, 15), text_width(right, 15)) + 10

    def minimumSizeHint(self) -> QSize:
        return QSize(px(2 * self._sides() + text_width(self._words[1], 17, 700)), self.height())

    def paint(self, kit: Kit) -> None:
        left, middle, right = self._words
        w, side = self.wide, self._sides()
        kit.text(0, 2, left, 15, 400, "ink2")
        kit.text(0, 2, right, 15, 400, "ink2", w, "right")
        kit.text(side, 0, middle, 17, 700, "ink", w - 2 * side, "centre")
