"""A shelf of prints standing on a line; the chosen one carries a length of accent."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from jartide.app.kit import broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.pressed_by_enter import PressedByEnter

_LINE = 23


@dataclass(frozen=True, slots=True, kw_only=True)
class Print:
    """One print: its picture and up to three lines; a bold last line asks for something."""

    key: str
    image: QImage | None
    title: str
    lines: tuple[str, ...] = ()
    asks: str = ""


class _PrintButton(PressedByEnter):
    def __init__(self, shown: Print, size: tuple[int, int], pitch: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.shown, self._size = shown, size
        self.setCheckable(True)
        self.setFixedSize(px(pitch), px(size[1] + 32))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._name()

    def _name(self) -> None:
        shown = self.shown
        self.setAccessibleName(", ".join(filter(None, (shown.title, *shown.lines, shown.asks))))

    def show_print(self, shown: Print) -> None:
        """Show the same print as it is now."""
        if shown != self.shown:
            self.shown = shown
            self._name()
            self.update()

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            w, h = self._size
            line = h + 20
            kit.across(0, line, self.wide, "edge")
            if self.isChecked():
                kit.across(0, line, self.wide - 24, "accent", 6)
            kit.fill(2, line - h + 1, w, h, "line")  # the print's own thin shade
            if self.shown.image is None:
                kit.fill(0, line - h, w, h, "well")
            else:
                image = self.shown.image
                # Filled and cut to the print's shape, from the middle.
                ratio = max(w / image.width(), h / image.height())
                cut_w, cut_h = w / ratio, h / ratio
                source = QRectF(
                    (image.width() - cut_w) / 2, (image.height() - cut_h) / 2, cut_w, cut_h
                )
                kit.image(0, line - h, w, h, image, source)
            left = w + 14
            room = self.wide - left - 12
            kit.text(left, line - h + 8, self.shown.title, 18, 600, "ink", room)
            y = line - h + 36.0
            # What is too long for its line takes those that are free.
            free = (h - 36 + 3) // _LINE - len(self.shown.lines) - bool(self.shown.asks)
            for words in self.shown.lines:
                rows = min(len(broken(words, room, 15)), 1 + max(free, 0))
                free -= rows - 1
                kit.paragraph(left, y, room, words, 15, 400, "ink2", lines=rows)
                y += _LINE * rows
            if self.shown.asks:
                kit.text(left, y, self.shown.asks, 15, 600, "ink", room)
            if self.hasFocus():
                kit.box(1, 8, self.wide - 18, self.high - 20, "accent", 2, 9)


class AddPlace(PressedByEnter):
    """The dashed place where photos can be dropped."""

    def __init__(self, text: str, note: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._text, self._note = text, note
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(text)
        wide = max(text_width(text, 16, 600), text_width(note, 15)) + 32
        self.setFixedSize(px(max(wide, 176)), px(62))

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            w, h = self.wide, self.high
            kit.box(0, 0, w, h, "ink" if self.underMouse() else "edge", 1.5, 6, [5, 4])
            kit.text(0, h / 2 - 24, self._text, 16, 600, "ink", w, "centre")
            kit.text(0, h / 2 + 1, self._note, 15, 400, "ink2", w, "centre")
            if self.hasFocus():
                kit.box(4, 4, w - 8, h - 8, "accent", 2, 6)


class PrintShelf(QScrollArea):
    """Prints side by side, scrolling sideways when there are many."""

    chosen = Signal(str)  # key of the print picked
    opened = Signal(str)  # key of the print opened with Enter or a second press

    def __init__(self, size: tuple[int, int], pitch: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._size, self._pitch = size, pitch
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(px(size[1] + 36))
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._inner = QWidget()
        self._row = QHBoxLayout(self._inner)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(0)
        self._row.addStretch(1)
        self.setWidget(self._inner)
        self._buttons: list[_PrintButton] = []
        self._shown: list[Print] = []
        self._current: str | None = None

    def show_prints(self, prints: Sequence[Print], current: str | None) -> None:
        """Show the prints and which one is chosen; those that stay are the very same buttons."""
        had_focus = next((b.shown.key for b in self._buttons if b.hasFocus()), None)
        kept = {button.shown.key: button for button in self._buttons}
        wanted = [shown.key for shown in prints]
        for key in kept.keys() - set(wanted):
            gone = kept.pop(key)
            self._row.removeWidget(gone)
            # Something may still be going on in it: a press, for one.
            gone.hide()
            gone.deleteLater()
        stood = [key for key in kept if key in wanted]
        moved = stood != [key for key in wanted if key in kept]
        self._shown, self._buttons = list(prints), []
        for place, shown in enumerate(prints):
            button = kept.get(shown.key)
            if button is None or moved:
                button = button or self._made(shown)
                self._row.insertWidget(place, button)
            button.show_print(shown)
            self._buttons.append(button)
        if current != self._current or kept.keys() != set(wanted):
            self._current = current
            for button in self._buttons:
                button.setChecked(button.shown.key == current)
                if button.shown.key == current:
                    # Once the row is laid out: before, nothing has a place yet.
                    QTimer.singleShot(0, button, lambda b=button: self.ensureWidgetVisible(b))
                if button.shown.key == had_focus:
                    button.setFocus()

    def _made(self, shown: Print) -> _PrintButton:
        button = _PrintButton(shown, self._size, self._pitch, self._inner)
        button.clicked.connect(lambda _=False, key=shown.key: self._clicked(key))
        return button

    def _clicked(self, key: str) -> None:
        again = key == self._current
        self._choose(key)
        if again:
            self.opened.emit(key)

    def show_print(self, shown: Print) -> None:
        """Show one of the prints as it is now."""
        for place, button in enumerate(self._buttons):
            if button.shown.key == shown.key:
                self._shown[place] = shown
                button.show_print(shown)

    def show_current(self, key: str) -> None:
        """Show which print is chosen; it may stand on another shelf."""
        self._current = key
        for button in self._buttons:
            button.setChecked(button.shown.key == key)
            if button.shown.key == key:
                self.ensureWidgetVisible(button)

    def _choose(self, key: str) -> None:
        self.show_current(key)
        self.chosen.emit(key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        keys = [shown.key for shown in self._shown]
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self._current in keys:
            place = keys.index(self._current) + step
            if 0 <= place < len(keys):
                self._choose(keys[place])
                self._buttons[place].setFocus()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._current in keys:
            self.opened.emit(self._current)
        else:
            super().keyPressEvent(event)
