"""One jar for each layer, standing on a line; the chosen one carries a length of accent."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.content import put_content
from jartide.app.widgets.ground import Ground
from jartide.app.widgets.pressed_by_enter import PressedByEnter

JAR_W, PITCH = 142, 205
# Where the jars stand, how high they are, and what is kept free for the bar below them.
_LINE, _JAR_H, _BAR = 132, 122, 8
HEIGHT = 232
# A low window draws them lower by so much.
LOWER = 34


def shelf_height(times: float, lower: int) -> float:
    """Return how high a shelf of jars is that are drawn so many times as large, units."""
    return (HEIGHT + _BAR - lower) * times


@dataclass(frozen=True, slots=True, kw_only=True)
class JarFace:
    """A jar as it is drawn: lid the colour wanted, inside the mix, `level` 0..1 of what is needed.

    `level` 1 fills it to the tide line.
    """

    key: str
    name: str
    parts: str
    state: str
    lid: QColor | None
    fill: QColor | None
    level: float
    doubtful: bool = False


# Where the tide line stands in the jar.
_TIDE = 0.8


class _JarButton(PressedByEnter):
    def __init__(self, face: JarFace, parent: QWidget) -> None:
        super().__init__(parent)
        self.face = face
        self.setCheckable(True)
        self._larger, self._lower = 1.0, 0
        self.setFixedSize(px(PITCH), px(HEIGHT))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._name()

    def _name(self) -> None:
        face = self.face
        self.setAccessibleName(", ".join(filter(None, (face.name, face.parts, face.state))))

    def draw_larger(self, times: float, lower: int) -> None:
        """Draw the jar and its words so many times as large, the jar by so many units lower."""
        self._larger, self._lower = times, lower
        self.setFixedSize(px(PITCH * times), px((HEIGHT - lower) * times))

    def show_face(self, face: JarFace, *, on: bool) -> None:
        """Show the same jar as it is now, and whether it is the chosen one."""
        self.setChecked(on)
        if face != self.face:
            self.face = face
            self._name()
            self.update()

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            kit.painter.scale(self._larger, self._larger)
            kit.painter.translate(0, -self._lower)
            face = self.face
            height = _JAR_H - self._lower
            kit.across(0, _LINE, PITCH, "edge")
            draw_jar(
                kit,
                15,
                _LINE - height + 1,
                JAR_W,
                fill=face.fill,
                level=min(_TIDE * face.level, 1.0),
                lid=face.lid,
                tide=_TIDE,
                height=height,
            )
            if self.isChecked():
                kit.across(0, _LINE - 2, PITCH - 24, "accent", 6)
            room = PITCH - 16
            size = 18 if text_width(face.name, 18, 600) <= room else 15
            names = broken(face.name, room, size, 600)[:2]
            for place, words in enumerate(names):
                # Two lines of a long name take the room of one large one.
                top = _LINE + 10 if len(names) == 1 else _LINE + 3 + 17 * place
                kit.text(0, top, words, size, 600, "ink", room)
            kit.text(0, _LINE + 38, face.parts, 18, 400, "ink", room)
            left = 0.0
            if face.doubtful:
                kit.sign(8, _LINE + 76, "check", 5.5)
                left = 20
            kit.text(left, _LINE + 66, face.state, 15, 400, "ink2", room - left)
            if self.hasFocus():
                top = 2 + self._lower
                kit.box(0, top, PITCH - 14, HEIGHT - 4 - top, "accent", 2, 9)


class JarGround(Ground):
    """The bench with the line that all jars stand on."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("bench", "bottom", parent=parent)
        self._larger = 1.0

    def draw_larger(self, times: float) -> None:
        """Draw the line where jars so many times as large stand."""
        self._larger = times
        self.update()

    def paint(self, kit: Kit) -> None:
        super().paint(kit)
        below = (HEIGHT + _BAR - _LINE) * self._larger
        kit.across(24, self.high - round(below), self.wide - 24, "edge")


class JarShelf(QScrollArea):
    """Jars side by side; more than fit are reached by scrolling sideways or by arrow keys."""

    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(px(HEIGHT + _BAR))
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._lower = 0
        self._buttons: list[_JarButton] = []
        self._faces: list[JarFace] = []
        self._current = ""
        self._larger = 1.0

    def draw_larger(self, times: float, lower: int = 0) -> None:
        """Draw all jars so many times as large, and by so many units lower."""
        if (times, lower) != (self._larger, self._lower):
            self._larger, self._lower = times, lower
            self.setFixedHeight(px(shelf_height(times, lower)))
            for button in self._buttons:
                button.draw_larger(times, lower)

    def show_jars(self, faces: Sequence[JarFace], current: str) -> None:
        """Show jars and which one is chosen."""
        if list(faces) == self._faces and current == self._current:
            return
        focused = next((b.face.key for b in self._buttons if b.hasFocus()), None)
        same = [f.key for f in faces] == [f.key for f in self._faces]
        self._faces, self._current = list(faces), current
        if same and faces:
            # The very same buttons: one of them may be under the pointer just now.
            for button, face in zip(self._buttons, faces, strict=True):
                button.show_face(face, on=face.key == current)
                if face.key == current:
                    QTimer.singleShot(0, button, lambda b=button: self.ensureWidgetVisible(b))
            return
        inner = QWidget()
        row = QHBoxLayout(inner)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self._buttons = []
        for face in faces:
            button = _JarButton(face, inner)
            button.setChecked(face.key == current)
            button.draw_larger(self._larger, self._lower)
            button.clicked.connect(lambda _=False, key=face.key: self.chosen.emit(key))
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
            self._buttons.append(button)
        row.addStretch(1)
        put_content(self, inner)
        for button in self._buttons:
            if button.face.key == focused:
                button.setFocus()
            if button.face.key == current:
                QTimer.singleShot(0, button, lambda b=button: self.ensureWidgetVisible(b))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        keys = [face.key for face in self._faces]
        if step is None or self._current not in keys:
            super().keyPressEvent(event)
            return
        place = keys.index(self._current) + step
        if 0 <= place < len(keys):
            self._buttons[place].setFocus()
            self.chosen.emit(keys[place])
