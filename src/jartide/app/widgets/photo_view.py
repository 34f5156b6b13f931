"""The photo as taken, with its corner rings, scale marks and grey patch to drag or nudge."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainterPath, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, text_width
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_RING = 12.0
_GRAB = 24.0
_LOUPE = 60.0
_LOUPE_ZOOM = 4.0
_LIGHT, _DARK = QColor(255, 255, 255), QColor(0, 0, 0)

Point = tuple[float, float]


class Tool(StrEnum):
    """Which marks the painter is setting."""

    CORNERS = "corners"
    LENGTH = "length"
    GREY = "grey"


@dataclass(frozen=True, slots=True, kw_only=True)
class Marks:
    """All marks on a photo, in pixels of the original. An unset kind is empty.

    `grey` holds the top left and bottom right of the grey patch.
    """

    corners: tuple[Point, ...] = ()
    length: tuple[Point, ...] = ()
    length_label: str = ""
    grey: tuple[Point, ...] = ()

    def of(self, tool: Tool) -> tuple[Point, ...]:
        """Return the points that a tool moves."""
        return {Tool.CORNERS: self.corners, Tool.LENGTH: self.length, Tool.GREY: self.grey}[tool]


class PhotoView(Painted):
    """Shows a photo whole and lets the painter move the marks of one tool."""

    moved = Signal(int, float, float, bool)  # mark, x, y in original px; whether the drag ended

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._image: QImage | None = None
        self._scale = 1.0  # image px per original px
        self._size: Point = (1.0, 1.0)
        self._marks, self._tool = Marks(), Tool.CORNERS
        self._held: int | None = None
        self._active = 0
        self._message = ""
        reachable(self, tr("photos.view"))
        self.setMouseTracking(True)

    def show_photo(self, image: QImage | None, scale: float, size: Point) -> None:
        """Show a photo; None while there is none to show."""
        self._image, self._scale, self._size = image, scale, size
        self.update()

    def show_message(self, text: str) -> None:
        """Say in the middle what keeps the photo from being shown."""
        self._message = text
        self.update()

    def show_marks(self, marks: Marks, tool: Tool) -> None:
        """Show marks; those of `tool` can be moved."""
        if self._held is None:
            self._marks = marks
        if tool is not self._tool:
            self._tool, self._active = tool, 0
        self._describe()
        self.update()

    def _describe(self) -> None:
        points = self._marks.of(self._tool)
        words = tr("photos.view")
        if points:
            x, y = points[min(self._active, len(points) - 1)]
            words += ". " + tr(
                "photos.mark", number=self._active + 1, count_of=len(points), x=round(x), y=round(y)
            )
        self.setAccessibleName(words)

    # ---- where things are

    def aspect(self) -> float:
        """Return width over height of the photo; 4 to 3 until there is one."""
        return 4 / 3 if self._image is None else self._image.width() / self._image.height()

    def frame(self) -> QRectF:
        """Return where the photo lies in the widget."""
        if self._image is None:
            return QRectF(0, 0, self.width(), self.height())
        ratio = min(self.width() / self._image.width(), self.height() / self._image.height())
        w, h = self._image.width() * ratio, self._image.height() * ratio
        return QRectF(0, 0, w, h)

    def to_widget(self, point: Point) -> QPointF:
        """Carry a point of the original into the widget."""
        frame = self.frame()
        return QPointF(
            frame.x() + point[0] / self._size[0] * frame.width(),
            frame.y() + point[1] / self._size[1] * frame.height(),
        )

    def to_original(self, at: QPointF) -> Point:
        """Carry a point of the widget into the original."""
        frame = self.frame()
        return (
            (at.x() - frame.x()) / frame.width() * self._size[0],
            (at.y() - frame.y()) / frame.height() * self._size[1],
        )

    # ---- moving marks

    def mousePressEvent(self, event: QMouseEvent) -> None:
        near = [
            ((self.to_widget(p) - event.position()).manhattanLength(), n)
            for n, p in enumerate(self._marks.of(self._tool))
        ]
        if near and min(near)[0] <= _GRAB * 1.4:
            self._held = self._active = min(near)[1]
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._move(self._held, self.to_original(event.position()), done=False)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            held, self._held = self._held, None
            self._move(held, self.to_original(event.position()), done=True)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        points = self._marks.of(self._tool)
        step = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        ways = {
            Qt.Key.Key_Left: (-step, 0),
            Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, -step),
            Qt.Key.Key_Down: (0, step),
        }
        key = Qt.Key(event.key())
        if points and key in ways:
            x, y = points[self._active]
            dx, dy = ways[key]
            self._move(self._active, (x + dx, y + dy), done=True)
        elif points and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._active = (self._active + 1) % len(points)
            self._describe()
            self.update()
        else:
            super().keyPressEvent(event)

    def _move(self, number: int, to: Point, *, done: bool) -> None:
        """Move a mark at once on the screen, and tell whoever keeps it."""
        points = list(self._marks.of(self._tool))
        points[number] = to
        name = {Tool.CORNERS: "corners", Tool.LENGTH: "length", Tool.GREY: "grey"}[self._tool]
        values = {
            field: getattr(self._marks, field)
            for field in ("corners", "length", "length_label", "grey")
        }
        values[name] = tuple(points)
        self._marks = Marks(**values)
        self._describe()
        self.update()
        self.moved.emit(number, to[0], to[1], done)

    # ---- drawing

    def paint(self, kit: Kit) -> None:
        frame = self.frame()
        if self._image is None:
            kit.fill(0, 0, self.width(), self.height(), "well")
            kit.text(
                0, self.height() / 2 - 12, self._message, 16, 400, "ink2", self.width(), "centre"
            )
            return
        kit.image(frame.x(), frame.y(), frame.width(), frame.height(), self._image)
        self._draw_grey(kit)
        self._draw_corners(kit)
        self._draw_length(kit)
        if self._held is not None:
            self._draw_loupe(kit, self.to_widget(self._marks.of(self._tool)[self._held]))

    def _draw_corners(self, kit: Kit) -> None:
        places = [self.to_widget(p) for p in self._marks.corners]
        if not places:
            return
        outline = QPolygonF([*places, places[0]])
        for shade, width in ((_DARK, 4.0), (_LIGHT, 2.0)):
            kit.painter.setPen(QPen(shade, width))
            kit.painter.drawPolyline(outline)
        if self._tool is Tool.CORNERS:
            for number, place in enumerate(places):
                self._ring(kit, place, number == self._active)

    def _ring(self, kit: Kit, place: QPointF, active: bool) -> None:
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        for shade, width in ((_DARK, 5.5), (_LIGHT, 2.5)):
            kit.painter.setPen(QPen(shade, width))
            kit.painter.drawEllipse(place, _RING, _RING)
        if active and (self.hasFocus() or self._held is not None):
            kit.painter.setPen(QPen(kit.colour("accent"), 2.5))
            kit.painter.drawEllipse(place, _RING + 5, _RING + 5)

    def _draw_length(self, kit: Kit) -> None:
        places = [self.to_widget(p) for p in self._marks.length]
        if len(places) != 2:
            return
        along = places[1] - places[0]
        size = max((along.x() ** 2 + along.y() ** 2) ** 0.5, 1e-6)
        side = QPointF(-along.y() / size * 10, along.x() / size * 10)
        for shade, width in ((_DARK, 5.0), (_LIGHT, 2.5)):
            kit.painter.setPen(QPen(shade, width))
            kit.painter.drawLine(*places)
            for place in places:
                kit.painter.drawLine(place - side, place + side)
        if self._tool is Tool.LENGTH:
            for number, place in enumerate(places):
                self._ring(kit, place, number == self._active)
        words = self._marks.length_label
        middle = (places[0] + places[1]) / 2
        width = text_width(words, 16, 600) + 24
        kit.fill(middle.x() - width / 2, middle.y() - 44, width, 28, "raised", 6)
        kit.text(middle.x() - width / 2, middle.y() - 41, words, 16, 600, "ink", width, "centre")

    def _draw_grey(self, kit: Kit) -> None:
        places = [self.to_widget(p) for p in self._marks.grey]
        if len(places) != 2:
            return
        rect = QRectF(*places).normalized()
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        for shade, width in ((_DARK, 4.0), (_LIGHT, 2.0)):
            kit.painter.setPen(QPen(shade, width))
            kit.painter.drawRect(rect)
        if self._tool is Tool.GREY:
            for number, place in enumerate(places):
                self._ring(kit, place, number == self._active)

    def _draw_loupe(self, kit: Kit, at: QPointF) -> None:
        """Show what is under the held mark, larger, away from the hand."""
        assert self._image is not None
        frame = self.frame()
        ratio = self._image.width() / frame.width()
        half = _LOUPE / _LOUPE_ZOOM * ratio
        centre_x = at.x() + (110 if at.x() < self.width() / 2 else -110)
        centre_y = min(max(at.y(), _LOUPE + 4), self.height() - _LOUPE - 4)
        source = QRectF(
            (at.x() - frame.x()) * ratio - half,
            (at.y() - frame.y()) * ratio - half,
            2 * half,
            2 * half,
        )
        with kit.saved() as painter:
            path = QPainterPath()
            path.addEllipse(QPointF(centre_x, centre_y), _LOUPE, _LOUPE)
            painter.setClipPath(path)
            kit.fill(centre_x - _LOUPE, centre_y - _LOUPE, 2 * _LOUPE, 2 * _LOUPE, "well")
            kit.image(
                centre_x - _LOUPE, centre_y - _LOUPE, 2 * _LOUPE, 2 * _LOUPE, self._image, source
            )
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        for shade, width in ((_DARK, 4.0), (_LIGHT, 2.0)):
            kit.painter.setPen(QPen(shade, width))
            kit.painter.drawEllipse(QPointF(centre_x, centre_y), _LOUPE, _LOUPE)
            kit.painter.drawLine(QPointF(centre_x - 14, centre_y), QPointF(centre_x + 14, centre_y))
            kit.painter.drawLine(QPointF(centre_x, centre_y - 14), QPointF(centre_x, centre_y + 14))
