"""Cautions and findings as sentences under each other; a press ticks one off or opens it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, text_width
from jartide.app.widgets.painted import Painted, reachable
from jartide.job.described import Care


class CareList(Painted):
    """Draws sentences with their signs; what has no room is counted in a last line."""

    pressed = Signal(str)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._cares: list[Care] = []
        self._index = 0
        self._places: list[tuple[float, float]] = []
        reachable(self, name)
        self._name = name

    @property
    def cares(self) -> list[Care]:
        """What is shown."""
        return self._cares

    def show_cares(self, cares: Sequence[Care]) -> None:
        """Show sentences, the gravest first."""
        self._cares = list(cares)
        self._index = min(self._index, max(len(self._cares) - 1, 0))
        said = "; ".join(care.text for care in self._cares)
        self.setAccessibleName(f"{self._name}: {said}" if said else self._name)
        self.update()

    def _press(self, index: int) -> None:
        if 0 <= index < len(self._cares):
            self._index = index
            self.update()
            self.pressed.emit(self._cares[index].key)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for index, (top, bottom) in enumerate(self._places):
            if top <= self.at(event).y() < bottom:
                self._press(index)
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is not None and self._cares:
            self._index = min(max(self._index + step, 0), len(self._cares) - 1)
            self.update()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self._press(self._index)
        else:
            super().keyPressEvent(event)

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        self._places = []
        # Shown from the chosen one on where all have no room.
        first = self._index if self._heights(w) > h else 0
        y = 2.0
        for index, care in enumerate(self._cares):
            if index < first:
                self._places.append((-1.0, -1.0))
                continue
            height = self._height(care, w)
            if y + height > h:
                break
            kit.sign(10, y + 13, care.sign)
            shade = "ink3" if care.sign == "ready" else "ink"
            kit.paragraph(28, y + 3, w - 32, care.text, 15, 400, shade)
            if self.hasFocus() and index == self._index:
                kit.fill(28, y + height - 5, 48, 3, "accent")
            self._places.append((y, y + height))
            y += height

    def _heights(self, width: float) -> float:
        return sum(self._height(care, width) for care in self._cares)

    def _height(self, care: Care, width: float) -> float:
        lines, line = 1, ""
        for word in care.text.split():
            longer = f"{line} {word}".strip()
            if line and text_width(longer, 15) > width - 32:
                lines += 1
                line = word
            else:
                line = longer
        return max(lines * 15 * 1.38 + 12, 34)
