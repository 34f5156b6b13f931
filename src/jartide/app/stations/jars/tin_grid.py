"""The painter's tins on shelves; one is chosen."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_W, _H, _JAR = 156, 138, 62


@dataclass(frozen=True, slots=True, kw_only=True)
class TinFace:
    """One tin as it is drawn; `level` 0..1 of what is left, None where that is not known.

    `sign` stands beside its words.
    """

    key: str
    name: str
    note: str
    colour: QColor | None
    level: float | None
    sign: str = ""


class TinGrid(Painted):
    """Draws tins in rows; arrow keys and pointer choose."""

    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._faces: list[TinFace] = []
        self._current = ""
        self._ringed = False
        reachable(self, tr("paints.title"))

    def show_tins(self, faces: list[TinFace], current: str) -> None:
        """Show tins and which one is chosen."""
        self._faces, self._current = faces, current
        face = next((f for f in faces if f.key == current), None)
        if face is not None:
            self.setAccessibleName(f"{tr('paints.title')}: {face.name}, {face.note}")
        self.setMinimumHeight(px(_H * ((len(faces) + self._columns() - 1) // self._columns()) + 8))
        self.update()

    def _columns(self) -> int:
        return max(1, self.wide // _W)

    def top_of_current(self) -> int:
        """Return where the chosen tin stands."""
        keys = [face.key for face in self._faces]
        return keys.index(self._current) // self._columns() * _H if self._current in keys else 0

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.at(event)
        place = int(at.y() // _H) * self._columns() + int(at.x() // _W)
        if at.x() < self._columns() * _W and 0 <= place < len(self._faces):
            self.chosen.emit(self._faces[place].key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_Up: -self._columns(),
            Qt.Key.Key_Down: self._columns(),
        }.get(Qt.Key(event.key()))
        keys = [face.key for face in self._faces]
        if step is None or self._current not in keys:
            super().keyPressEvent(event)
            return
        place = keys.index(self._current) + step
        if 0 <= place < len(keys):
            self.chosen.emit(keys[place])

    def paint(self, kit: Kit) -> None:
        columns = self._columns()
        for number, face in enumerate(self._faces):
            x, y = number % columns * _W, number // columns * _H
            line = y + 66
            kit.across(x, line, _W - 8, "edge")
            fill = None if face.level is None else face.colour
            draw_jar(
                kit, x + 6, line - 0.86 * _JAR + 1, _JAR, fill=fill, level=face.level or 0.0,
                lid=face.colour,
            )  # fmt: skip
            if face.level is None and face.colour is not None:
                # How full it is is not known: its colour stands on it as on a label.
                kit.fill(x + 6 + 0.2 * _JAR, line - 0.46 * _JAR, 0.6 * _JAR, 0.32 * _JAR,
                         face.colour)  # fmt: skip
            if face.key == self._current:
                kit.across(x, line - 1, _W - 24, "accent", 5)
            # A long name takes a second line.
            below = kit.paragraph(x, line + 8, _W - 8, face.name, 15, 600, "ink", 2)
            left = 0.0
            if face.sign:
                kit.sign(x + 7, below + 12, face.sign, 4.5)
                left = 17
            kit.text(x + left, below + 2, face.note, 14, 400, "ink2", _W - 12 - left)
            if face.key == self._current and self.hasFocus():
                kit.box(x, y + 2, _W - 8, line - y + 3, "accent", 2, 9)
