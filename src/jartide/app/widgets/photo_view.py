"""The photo as taken, with marks to drag, nudge or draw, and a loupe at the photo's full detail."""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainterPath,
    QPixmap,
    QPolygonF,
)
from PySide6.QtWidgets import QWidget

from jartide.app.elements.photo_marks import (
    BOX_MIDDLE,
    VEIL,
    Mark,
    MarkKind,
    Point,
    draw_mark,
    draw_ring,
    draw_stroke,
    draw_twice,
    handles_of,
    with_handle_at,
)
from jartide.app.kit import Kit
from jartide.app.measure import px, text_scale
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_GRAB = 24.0
_LEAST = 180
_LOUPE = 60.0
_LOUPE_ZOOM = 4.0
# A drag shorter than this, screen px, is a press.
_LEAST_DRAWN = 6.0
# Handles nearer each other than this would cover what they frame.
_CLOSE = 90.0

# From a middle and a half side, original px, to a picture of that square; None when there is none.
Detail = Callable[[Point, float], QImage | None]


class Pen(StrEnum):
    """What a press on the photo draws."""

    NONE = "none"
    BOX = "box"
    OUTLINE = "outline"
    BRUSH = "brush"
    SPOT = "spot"  # a press takes a small square, a drag a box


class PhotoView(Painted):
    """Shows a photo whole; marks can be moved, shapes can be drawn on it."""

    moved = Signal(str, int, float, float, bool)  # mark, point, x, y in original px; drag ended
    drawn = Signal(object)  # a Mark with an empty key: what the pen drew

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumSize(px(_LEAST), px(_LEAST))
        self._image: QImage | None = None
        self._scaled: QPixmap | None = None
        self._scale = 1.0  # image px per original px
        self._size: Point = (1.0, 1.0)
        self._marks: tuple[Mark, ...] = ()
        self._held: tuple[str, int] | None = None
        self._held_mark: Mark | None = None  # as it was when it was taken hold of
        self._held_by: Point = (0.0, 0.0)  # from its handle to where the pointer took hold
        self._aim: Point | None = None  # what a press takes, with the pen that points at a spot
        self._active = 0
        self._message = ""
        self._detail: Detail | None = None
        self._pen, self._pen_radius = Pen.NONE, 0.0
        self._drawing: list[Point] = []
        self._hover = QPointF(-100, -100)
        reachable(self, tr("photos.view"))
        self.setMouseTracking(True)

    def show_photo(
        self, image: QImage | None, scale: float, size: Point, detail: Detail | None = None
    ) -> None:
        """Show a photo; None while there is none to show."""
        if image is not self._image:
            self._scaled = None
        self._image, self._scale, self._size, self._detail = image, scale, size, detail
        self.update()

    def show_message(self, text: str) -> None:
        """Say in the middle what keeps the photo from being shown."""
        self._message = text
        self.update()

    def show_marks(self, marks: tuple[Mark, ...]) -> None:
        """Show marks; those that are movable get rings."""
        if self._held is None:
            keys = [m.key for m in marks if m.movable]
            if keys != [m.key for m in self._marks if m.movable]:
                self._active = 0
            self._marks = marks
        self._active = min(self._active, max(0, len(self.handles()) - 1))
        self._describe()
        self.update()

    def choose_pen(self, pen: Pen, radius_px: float = 0.0) -> None:
        """Choose what a press draws; `radius_px` is the brush's, original px."""
        self._pen, self._pen_radius = pen, radius_px
        self._drawing = []
        self._aim = (self._size[0] / 2, self._size[1] / 2) if pen is Pen.SPOT else None
        self.setCursor(
            Qt.CursorShape.ArrowCursor if pen is Pen.NONE else Qt.CursorShape.CrossCursor
        )
        self.update()

    def handles(self) -> list[tuple[Mark, int]]:
        """Return every point that can be moved: its mark and its number in it."""
        return [(m, n) for m in self._marks if m.movable for n in range(len(handles_of(m)))]

    def _describe(self) -> None:
        handles = self.handles()
        words = tr("photos.view")
        if handles:
            mark, number = handles[self._active]
            x, y = handles_of(mark)[number]
            words += ". " + tr(
                "photos.mark",
                number=self._active + 1,
                count_of=len(handles),
                x=round(x),
                y=round(y),
            )
        self.setAccessibleName(words)

    # ---- where things are

    def aspect(self) -> float:
        """Return width over height of the photo; 4 to 3 until there is one."""
        return 4 / 3 if self._image is None else self._image.width() / self._image.height()

    def frame(self) -> QRectF:
        """Return where the photo lies in the widget."""
        if self._image is None:
            return QRectF(0, 0, self.wide, self.high)
        ratio = min(self.wide / self._image.width(), self.high / self._image.height())
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
        """Carry a point of the widget into the original, onto its rim where it lies beside."""
        frame = self.frame()
        x = (at.x() - frame.x()) / frame.width() * self._size[0]
        y = (at.y() - frame.y()) / frame.height() * self._size[1]
        return min(max(x, 0.0), self._size[0]), min(max(y, 0.0), self._size[1])

    def _ratio(self) -> float:
        """Widget px per original px."""
        return self.frame().width() / self._size[0]

    # ---- moving and drawing

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._image is None:
            return
        place = None if self._pen is Pen.SPOT else self._handle_at(self.at(event))
        if place is not None:
            self._active = place
            mark, number = self.handles()[place]
            at, on = self.to_original(self.at(event)), handles_of(mark)[number]
            self._held, self._held_mark = (mark.key, number), mark
            self._held_by = (at[0] - on[0], at[1] - on[1])
            self.update()
        elif self._pen is Pen.OUTLINE:
            self._add_corner(self.at(event))
        elif self._pen is not Pen.NONE:
            self._drawing = [self.to_original(self.at(event))]

    def _handle_at(self, at: QPointF) -> int | None:
        """The handle a press takes hold of: the nearest one, or all of a box from inside it."""
        handles = self.handles()
        near = [
            ((self.to_widget(handles_of(mark)[n]) - at).manhattanLength(), place)
            for place, (mark, n) in enumerate(handles)
            if not _is_middle(mark, n)
        ]
        inside = [
            place
            for place, (mark, n) in enumerate(handles)
            if _is_middle(mark, n) and self._box(mark).contains(at)
        ]
        # Deep inside a small box its corners would be all that can be held.
        grab = _GRAB * 1.4
        if inside:
            box = self._box(handles[inside[0]][0])
            grab = min(grab, (box.width() + box.height()) / 4)
        if near and min(near)[0] <= grab:
            return min(near)[1]
        return inside[0] if inside else None

    def _box(self, mark: Mark) -> QRectF:
        return QRectF(self.to_widget(mark.points[0]), self.to_widget(mark.points[1])).normalized()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._hover = self.at(event)
        to = self.to_original(self.at(event))
        if self._held is not None:
            self._move(*self._held, self._let_go_at(to), done=False)
        elif self._drawing and event.buttons() & Qt.MouseButton.LeftButton:
            if self._pen in (Pen.BOX, Pen.SPOT):
                self._drawing = [self._drawing[0], to]
            elif self._pen is Pen.BRUSH:
                self._drawing.append(to)
            self.update()
        elif self._pen is not Pen.NONE:
            self._aim = to if self._pen is Pen.SPOT else None
            self.update()

    def _let_go_at(self, to: Point) -> Point:
        """Where the held handle is while the pointer is at a point."""
        return to[0] - self._held_by[0], to[1] - self._held_by[1]

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            held, self._held = self._held, None
            self._move(*held, self._let_go_at(self.to_original(self.at(event))), done=True)
            self._held_mark = None
        elif self._drawing and self._pen in (Pen.BOX, Pen.BRUSH, Pen.SPOT):
            self._finish_drawing()

    def _add_corner(self, at: QPointF) -> None:
        """One more corner of an outline; a press on the first closes it."""
        closes = len(self._drawing) >= 3 and (
            (self.to_widget(self._drawing[0]) - at).manhattanLength() < _GRAB
        )
        if closes:
            self._finish_drawing()
        else:
            self._drawing.append(self.to_original(at))
            self.update()

    def _finish_drawing(self) -> None:
        points, self._drawing = tuple(self._drawing), []
        if self._pen is Pen.SPOT:
            self._take_spot(points)
            return
        kind = {Pen.BOX: MarkKind.BOX, Pen.OUTLINE: MarkKind.LEFT_OUT, Pen.BRUSH: MarkKind.STROKE}
        few = {Pen.BOX: 2, Pen.OUTLINE: 3, Pen.BRUSH: 1}[self._pen]
        if self._pen is Pen.BOX and len(points) == 2:
            (x0, y0), (x1, y1) = points
            if abs(x1 - x0) < 2 or abs(y1 - y0) < 2:
                points = ()
            else:
                points = ((min(x0, x1), min(y0, y1)), (max(x0, x1), max(y0, y1)))
        self.update()
        if len(points) >= few:
            made = Mark(key="", kind=kind[self._pen], points=points, radius_px=self._pen_radius)
            self.drawn.emit(made)

    def _take_spot(self, points: tuple[Point, ...]) -> None:
        """Take the box that was drawn, or the small square about the one point."""
        first, last = points[0], points[-1]
        wide = self._ratio() * min(abs(last[0] - first[0]), abs(last[1] - first[1]))
        if wide < _LEAST_DRAWN:
            half = self._pen_radius
            at = tuple(
                min(max(value, half), max(side - half, half))
                for value, side in zip(first, self._size, strict=True)
            )
            first, last = (at[0] - half, at[1] - half), (at[0] + half, at[1] + half)
        low = min(first[0], last[0]), min(first[1], last[1])
        high = max(first[0], last[0]), max(first[1], last[1])
        self.drawn.emit(Mark(key="", kind=MarkKind.BOX, points=(low, high)))

    def _aim_by(self, key: Qt.Key, ways: dict[Qt.Key, tuple[int, int]]) -> bool:
        """Move or take what is aimed at by the keyboard; False when the key is for something else.

        A step is a hundredth of the photo's width."""
        if self._pen is not Pen.SPOT or self._aim is None:
            return False
        if key in ways:
            step = self._size[0] / 100
            aim = zip(self._aim, ways[key], self._size, strict=True)
            x, y = (min(max(v + way * step, 0.0), side) for v, way, side in aim)
            self._aim = (x, y)
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._take_spot((self._aim,))
        else:
            return False
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        handles = self.handles()
        step = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        ways = {
            Qt.Key.Key_Left: (-step, 0),
            Qt.Key.Key_Right: (step, 0),
            Qt.Key.Key_Up: (0, -step),
            Qt.Key.Key_Down: (0, step),
        }
        key = Qt.Key(event.key())
        if self._aim_by(key, ways):
            return
        if len(self._drawing) >= 3 and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._finish_drawing()
        elif handles and key in ways:
            mark, number = handles[self._active]
            (x, y), (dx, dy) = handles_of(mark)[number], ways[key]
            self._move(mark.key, number, (x + dx, y + dy), done=True)
        elif handles and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._active = (self._active + 1) % len(handles)
            self._describe()
            self.update()
        else:
            super().keyPressEvent(event)

    def stop_drawing(self) -> bool:
        """Forget a shape half drawn, or pointing at a spot; False when there is none."""
        had = bool(self._drawing) or self._pen is Pen.SPOT
        self._drawing = []
        if self._pen is Pen.SPOT:
            self.choose_pen(Pen.NONE)
        self.update()
        return had

    def _move(self, key: str, number: int, to: Point, *, done: bool) -> None:
        """Move a point at once on the screen, and tell whoever keeps it."""

        # A box dragged over its own corner is still measured from the corner across.
        before = {m.key: m for m in self._marks}
        if self._held_mark is not None:
            before[key] = self._held_mark
        self._marks = tuple(
            with_handle_at(before[key], number, to) if mark.key == key else mark
            for mark in self._marks
        )
        self._describe()
        self.update()
        self.moved.emit(key, number, to[0], to[1], done)

    # ---- drawing on the screen

    def paint(self, kit: Kit) -> None:
        frame = self.frame()
        if self._image is None:
            kit.fill(0, 0, self.wide, self.high, "well")
            kit.text(0, self.high / 2 - 12, self._message, 16, 400, "ink2", self.wide, "centre")
            return
        self._draw_image(kit, frame)
        for mark in self._marks:
            draw_mark(kit, mark, [self.to_widget(p) for p in mark.points], self._ratio())
        self._draw_pen(kit)
        for place, (mark, number) in enumerate(self.handles()):
            active = place == self._active and (self.hasFocus() or self._held is not None)
            if _is_middle(mark, number) and not active:
                continue  # it would lie over what the box frames
            places = [self.to_widget(p) for p in handles_of(mark)]
            small = mark.kind is MarkKind.BOX and (places[2] - places[0]).manhattanLength() < _CLOSE
            draw_ring(kit, places[number], active, small)
        if self._held is not None:
            key, number = self._held
            mark = next(m for m in self._marks if m.key == key)
            whole = _half_side(mark) if _is_middle(mark, number) else 0.0
            self._draw_loupe(kit, handles_of(mark)[number], whole)
        elif self._aim is not None and not self._drawing:
            self._draw_loupe(kit, self._aim, self._pen_radius)

    def _draw_image(self, kit: Kit, frame: QRectF) -> None:
        """Draw the photo from a copy of the screen's own size: smooth scaling is slow."""
        assert self._image is not None
        ratio = self.devicePixelRatioF() * text_scale()
        size = (round(frame.width() * ratio), round(frame.height() * ratio))
        kept = self._scaled
        if kept is None or (kept.width(), kept.height()) != size:
            kept = QPixmap.fromImage(
                self._image.scaled(
                    *size,
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
            )
            kept.setDevicePixelRatio(ratio)
            self._scaled = kept
        kit.painter.drawPixmap(frame.topLeft(), kept)

    def _draw_pen(self, kit: Kit) -> None:
        """What is being drawn, and the brush where the hand is."""
        places = [self.to_widget(p) for p in self._drawing]
        if self._aim is not None and not places:
            half = self._pen_radius * self._ratio()
            at = self.to_widget(self._aim)
            square = QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half)
            draw_twice(kit, lambda: kit.painter.drawRect(square))
        if places and self._pen in (Pen.BOX, Pen.SPOT) and len(places) == 2:
            rect = QRectF(places[0], places[1]).normalized()
            kit.painter.setBrush(VEIL)
            draw_twice(kit, lambda: kit.painter.drawRect(rect))
        elif places and self._pen is Pen.OUTLINE:
            line = QPolygonF([*places, self._hover])
            draw_twice(kit, lambda: kit.painter.drawPolyline(line))
            draw_ring(kit, places[0], False)
        elif self._pen is Pen.BRUSH:
            if places:
                draw_stroke(kit, places, self._pen_radius * self._ratio())
            radius = self._pen_radius * self._ratio()
            kit.painter.setBrush(Qt.BrushStyle.NoBrush)
            draw_twice(kit, lambda: kit.painter.drawEllipse(self._hover, radius, radius))

    def _draw_loupe(self, kit: Kit, point: Point, half_side: float) -> None:
        """Show what is under the held or aimed-at point, larger, away from the hand.

        `half_side` is of the square that is taken about it, original px; 0 for a mere point.
        """
        assert self._image is not None
        at = self.to_widget(point)
        half = _LOUPE / _LOUPE_ZOOM / self._ratio()  # original px
        centre_x = at.x() + (110 if at.x() < self.wide / 2 else -110)
        centre_y = min(max(at.y(), _LOUPE + 4), self.high - _LOUPE - 4)
        image, source = (None if self._detail is None else self._detail(point, half)), None
        if image is None:
            s, image = self._scale, self._image
            source = QRectF(
                (point[0] - half) * s, (point[1] - half) * s, 2 * half * s, 2 * half * s
            )
        x, y = centre_x - _LOUPE, centre_y - _LOUPE
        with kit.saved() as painter:
            path = QPainterPath()
            path.addEllipse(QPointF(centre_x, centre_y), _LOUPE, _LOUPE)
            painter.setClipPath(path)
            kit.fill(x, y, 2 * _LOUPE, 2 * _LOUPE, "well")
            kit.image(x, y, 2 * _LOUPE, 2 * _LOUPE, image, source)
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        middle = QPointF(centre_x, centre_y)
        draw_twice(kit, lambda: kit.painter.drawEllipse(middle, _LOUPE, _LOUPE))
        side = half_side * self._ratio() * _LOUPE_ZOOM
        if 0 < side < _LOUPE:
            taken = QRectF(middle.x() - side, middle.y() - side, 2 * side, 2 * side)
            draw_twice(kit, lambda: kit.painter.drawRect(taken))
            return
        for arm in (QPointF(14, 0), QPointF(0, 14)):
            draw_twice(kit, partial(kit.painter.drawLine, middle - arm, middle + arm))


def _is_middle(mark: Mark, number: int) -> bool:
    return mark.kind is MarkKind.BOX and number == BOX_MIDDLE


def _half_side(mark: Mark) -> float:
    """Half of a box's shorter side, original px."""
    (x0, y0), (x1, y1) = mark.points
    return min(x1 - x0, y1 - y0) / 2
