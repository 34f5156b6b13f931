"""Buttons and the row of words on a line."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainterPath
from PySide6.QtWidgets import QPushButton, QSizePolicy, QWidget

from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Drawn, Painted, reachable
from jartide.app.widgets.pressed_by_enter import press_by_enter

HEIGHT = 44
# A button is drawn this far inside its widget, to leave room for the focus ring.
INSET = 2


class Button(QPushButton, Drawn):
    """A plain button, or the screen's one primary: an ink block on an accent foot."""

    def __init__(self, text: str, parent: QWidget | None = None, *, primary: bool = False) -> None:
        super().__init__(text, parent)
        self.primary = primary
        self.setFixedHeight(px(HEIGHT))
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setMinimumWidth(self.sizeHint().width())

    def sizeHint(self) -> QSize:
        return QSize(px(max(text_width(self.text(), 16, 600) + 44, 96)), px(HEIGHT))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not press_by_enter(self, event):
            super().keyPressEvent(event)

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            x, y = INSET, INSET
            w, h = self.wide - 2 * INSET, self.high - 2 * INSET
            pressed = self.isDown()
            if self.primary and self.isEnabled():
                with kit.saved():
                    path = QPainterPath()
                    path.addRoundedRect(x, y, w, h, 6, 6)
                    kit.painter.setClipPath(path)
                    kit.fill(x, y, w, h, "ink2" if pressed else "ink")
                    kit.fill(x, y + h - 6, w, 6, "accent")
                shade, lift = "sheet", 2
            else:
                kit.fill(x, y, w, h, "well" if pressed or not self.isEnabled() else "raised", 6)
                kit.box(
                    x, y, w, h, "ink" if self.underMouse() and self.isEnabled() else "edge", 1, 6
                )
                shade, lift = ("ink" if self.isEnabled() else "ink3"), 0
            if self.isCheckable() and self.isChecked():
                # What stays pressed stands on a length of accent.
                kit.fill(x + 10, y + h - 5, w - 20, 4, "accent")
            kit.text(x, y + h / 2 - 10.4 - lift, self.text(), 16, 600, shade, w, "centre")
            if self.hasFocus():
                kit.box(0, 0, self.wide, self.high, "accent", 2, 8)


class ChoiceRow(Painted):
    """Words on one thin line; the chosen one carries a thick accent length of it."""

    chosen = Signal(int)  # index the painter picked

    def __init__(
        self, words: Sequence[str], name: str, parent: QWidget | None = None, gap: int = 24
    ) -> None:
        super().__init__(parent)
        self._words, self._gap, self._index = list(words), gap, 0
        self._name = name
        self.setFixedHeight(px(HEIGHT))
        reachable(self, name)
        self.setFixedWidth(px(self._spans()[-1][1] + 2))
        self._describe()

    @property
    def index(self) -> int:
        """Which word is chosen."""
        return self._index

    def show_index(self, index: int) -> None:
        """Show a choice; this is no picking."""
        self._index = index
        self._describe()
        self.update()

    def _describe(self) -> None:
        self.setAccessibleName(f"{self._name}: {self._words[self._index]}")

    def _spans(self) -> list[tuple[float, float]]:
        spans, x = [], 2.0
        for word in self._words:
            width = max(32.0, text_width(word, 16, 600))
            spans.append((x, x + width))
            x += width + self._gap
        return spans

    def paint(self, kit: Kit) -> None:
        spans = self._spans()
        kit.across(2, 37, spans[-1][1] - 2)
        for number, (word, (left, right)) in enumerate(zip(self._words, spans, strict=True)):
            on = number == self._index
            kit.text(left, 8, word, 16, 600 if on else 400, "ink" if on else "ink2")
            if on:
                kit.across(left, 35, right - left, "accent", 4)

    def _pick(self, index: int) -> None:
        if 0 <= index < len(self._words) and index != self._index:
            self.show_index(index)
            self.chosen.emit(index)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for number, (left, right) in enumerate(self._spans()):
            if left - self._gap / 2 <= self.at(event).x() < right + self._gap / 2:
                self._pick(number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self._pick(self._index + step)
