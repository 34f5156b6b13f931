"""A flat picture of a surface with the steel rule at its foot, at a given scale.

The wheel, or + and -, looks closer at the spot under the pointer; 0 shows all again.
A spot can be picked, or a box drawn, where a station asks for it.
"""

from __future__ import annotations

from enum import Enum

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPen, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.place_marks import draw_places
from jartide.app.elements.scale_strip import HEIGHT as STRIP
from jartide.app.elements.scale_strip import draw_scale_strip
from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.reading.places import Places
from jartide.wording import tr

_MOST_ZOOM = 8.0
_LEAST = 150


class PaneMode(Enum):
    """What a press on the surface does."""

    LOOK = "look"
    PICK = "pick"
    BOX = "box"


class SurfacePane(Painted):
    """Shows a surface from its top left, whole or at `px_per_mm`, with the rule below."""

    picked = Signal(float, float)  # x, y as shares of the surface's width and height
    boxed = Signal(object)  # left, top, right, bottom, as such shares
    looked = Signal()  # closer, further or elsewhere: another pane may follow

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumSize(px(_LEAST), px(_LEAST + STRIP))
        self._image: QImage | None = None
        self._over: QImage | None = None
        self._mm_per_px: float | None = None
        self._px_per_mm: float | None = None
        self._message = ""
        self._zoom = 1.0
        self._from = QPointF(0.0, 0.0)  # what is at the top left, as shares of the surface
        self._mode = PaneMode.LOOK
        self._press: QPointF | None = None
        self._now = QPointF()
        self._outlines: list[list[tuple[float, float]]] = []
        self._marked = -1
        self._places: Places | None = None
        self._labels: list[tuple[tuple[float, float], str]] = []
        self._legend = ""

    def show_surface(
        self, image: QImage | None, mm_per_px: float | None, message: str = ""
    ) -> None:
        """Show a picture with its scale, or a message in its place."""
        self._image, self._mm_per_px, self._message = image, mm_per_px, message
        self.update()

    def show_over(self, image: QImage | None) -> None:
        """Show another picture in its place, pixel for pixel: one layer alone, say."""
        self._over = image
        self.update()

    def show_outlines(self, rings: list[list[tuple[float, float]]], marked: int = -1) -> None:
        """Draw outlines, in shares of the surface, over it; the marked one stronger."""
        self._outlines = rings
        self._marked = marked
        self.update()

    def show_labels(self, labels: list[tuple[tuple[float, float], str]], legend: str = "") -> None:
        """Write words at spots, in shares of the surface, and a line below what is shown."""
        self._labels, self._legend = labels, legend
        self.update()

    @property
    def labels(self) -> list[str]:
        """The words written at spots, and last the line below them where there is one."""
        return [*(text for _, text in self._labels), *([self._legend] if self._legend else [])]

    def show_places(self, places: Places | None) -> None:
        """Draw where a measure was taken over the surface; None takes it off."""
        self._places = places
        self.update()

    def choose_mode(self, mode: PaneMode) -> None:
        """Choose what a press on the surface does."""
        self._mode, self._press = mode, None
        if mode is PaneMode.LOOK:
            self.unsetCursor()
        else:
            self.setCursor(Qt.CursorShape.CrossCursor)
        self.update()

    def look_closer(self) -> None:
        """Let the wheel and the keys zoom here."""
        reachable(self, tr("pane.name"))

    def set_scale(self, px_per_mm: float | None) -> None:
        """Show at so many screen px per mm; None for as large as it goes."""
        self._px_per_mm = px_per_mm
        self.update()

    def aspect(self) -> float:
        """Return width over height of the surface; 1 until there is one."""
        return 1.0 if self._image is None else self._image.width() / self._image.height()

    def whole_scale(self) -> float | None:
        """Return the px per mm at which all of the surface fits, or None without a scale."""
        if self._image is None or self._mm_per_px is None:
            return None
        return self._fit() / self._mm_per_px

    def scale_by_height(self) -> float | None:
        """Return the px per mm at which the surface's height fits, or None without a scale."""
        if self._image is None or self._mm_per_px is None:
            return None
        return (self.high - STRIP) / self._image.height() / self._mm_per_px

    def _fit(self) -> float:
        assert self._image is not None
        room = self.high - STRIP
        return min(self.wide / self._image.width(), room / self._image.height())

    def _ratio(self) -> float:
        """Screen px per picture px."""
        if self._px_per_mm is not None and self._mm_per_px is not None:
            return self._px_per_mm * self._mm_per_px * self._zoom
        return self._fit() * self._zoom

    def frame(self) -> QRectF:
        """Return where the surface is drawn, widget px."""
        if self._image is None:
            return QRectF()
        ratio = self._fit() if self._px_per_mm is None else self._ratio()
        return QRectF(
            0,
            0,
            min(self._image.width() * ratio, self.wide),
            min(self._image.height() * ratio, self.high - STRIP),
        )

    def to_share(self, at: QPointF) -> tuple[float, float]:
        """Carry a point of the widget to shares of the surface."""
        assert self._image is not None
        ratio = self._ratio()
        x = self._from.x() + at.x() / ratio / self._image.width()
        y = self._from.y() + at.y() / ratio / self._image.height()
        return min(max(x, 0.0), 1.0), min(max(y, 0.0), 1.0)

    def to_widget(self, share: tuple[float, float]) -> QPointF:
        """Carry shares of the surface to a point of the widget."""
        assert self._image is not None
        ratio = self._ratio()
        return QPointF(
            (share[0] - self._from.x()) * self._image.width() * ratio,
            (share[1] - self._from.y()) * self._image.height() * ratio,
        )

    def zoom_to(self, zoom: float, at: QPointF) -> None:
        """Look closer or further, with the spot under `at` staying where it is."""
        if self._image is None:
            return
        x, y = self.to_share(at)
        self._zoom = min(max(zoom, 1.0), _MOST_ZOOM)
        ratio = self._ratio()
        left = x - at.x() / ratio / self._image.width()
        top = y - at.y() / ratio / self._image.height()
        self._look_from(left, top)
        self.looked.emit()

    def _look_from(self, left: float, top: float) -> None:
        """Put a spot at the top left, as far as the surface reaches."""
        assert self._image is not None
        frame, ratio = self.frame(), self._ratio()
        across = max(1 - frame.width() / ratio / self._image.width(), 0.0)
        down = max(1 - frame.height() / ratio / self._image.height(), 0.0)
        self._from = QPointF(min(max(left, 0.0), across), min(max(top, 0.0), down))
        self.update()

    def look_like(self, other: SurfacePane) -> None:
        """Look as closely as another pane, from the same millimetre on."""
        if self._image is None or other._image is None:
            return
        self._zoom = other._zoom
        mine, its = self._mm_per_px or 1.0, other._mm_per_px or 1.0
        scale = its / mine
        self._look_from(
            other._from.x() * other._image.width() * scale / self._image.width(),
            other._from.y() * other._image.height() * scale / self._image.height(),
        )

    @property
    def outlines(self) -> list[list[tuple[float, float]]]:
        """The outlines that are drawn over the surface, in shares of it."""
        return self._outlines

    @property
    def image(self) -> QImage | None:
        """The surface that is shown; None until there is one."""
        return self._image

    @property
    def over(self) -> QImage | None:
        """Another picture that is shown in place of the surface's own; None for none."""
        return self._over

    @property
    def places(self) -> Places | None:
        """Where a measure was taken, as it is drawn; None for none."""
        return self._places

    @property
    def begins_at(self) -> QPointF:
        """What is at the top left, as shares of the surface."""
        return self._from

    @property
    def zoom(self) -> float:
        """How many times closer than the whole surface is shown."""
        return self._zoom

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.focusPolicy() == Qt.FocusPolicy.NoFocus:
            event.ignore()
            return
        step = 1.25 ** (event.angleDelta().y() / 120)
        self.zoom_to(self._zoom * step, self.at(event))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        middle = self.frame().center()
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_to(self._zoom * 1.25, middle)
        elif key == Qt.Key.Key_Minus:
            self.zoom_to(self._zoom / 1.25, middle)
        elif key == Qt.Key.Key_0:
            self.zoom_to(1.0, middle)
        elif self._mode is PaneMode.PICK and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.picked.emit(*self.to_share(middle))
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.at(event)
        if self._image is None or not self.frame().contains(at):
            return
        if self._mode is PaneMode.PICK:
            self.picked.emit(*self.to_share(at))
            return
        self._press = self._now = at

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._press is None or self._image is None:
            return
        at = self.at(event)
        if self._mode is PaneMode.LOOK and self._zoom > 1:
            ratio = self._ratio()
            left = self._from.x() - (at.x() - self._now.x()) / ratio / self._image.width()
            top = self._from.y() - (at.y() - self._now.y()) / ratio / self._image.height()
            self._look_from(left, top)
            self.looked.emit()
        self._now = at
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        press, self._press = self._press, None
        if press is None or self._mode is not PaneMode.BOX:
            return
        (x0, y0), (x1, y1) = self.to_share(press), self.to_share(self.at(event))
        if abs(x1 - x0) > 0.02 and abs(y1 - y0) > 0.02:
            self.boxed.emit((min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)))
        self.update()

    def paint(self, kit: Kit) -> None:
        image = self._over or self._image
        if image is None or self._image is None:
            kit.fill(0, 0, self.wide, self.high, "well")
            words = self._message
            kit.paragraph(24, self.high / 2 - 24, self.wide - 48, words, 16, 400, "ink2")
            return
        ratio, frame = self._ratio(), self.frame()
        w, h = frame.width(), frame.height()
        source = QRectF(
            self._from.x() * image.width(),
            self._from.y() * image.height(),
            w / ratio * image.width() / self._image.width(),
            h / ratio * image.height() / self._image.height(),
        )
        kit.image(0, 0, w, h, image, source)
        with kit.saved() as painter:
            painter.setClipRect(frame)
            for number, ring in enumerate(self._outlines):
                points = [self.to_widget(point) for point in ring]
                strong = self._marked in (-1, number)
                # A light seam under a dark line is seen on any surface.
                for shade, width in (("raised", 4), ("ink", 2 if strong else 1)):
                    self._outline(kit, points, shade, width)
            if self._places is not None:
                draw_places(kit, self._places, self.to_widget, image.width() * ratio)
            for share, text in self._labels:
                self._plate(kit, self.to_widget(share), text, frame)
            if self._legend:
                lines = broken(self._legend, w - 20, 14)
                top = h - 12 - 19 * len(lines)
                kit.fill(0, top, w, h - top, "sheet")
                kit.paragraph(10, top + 5, w - 20, self._legend, 14, 400, "ink")
            if self._press is not None and self._mode is PaneMode.BOX:
                box = QRectF(self._press, self._now).normalized()
                kit.box(box.x(), box.y(), box.width(), box.height(), "raised", 3)
                kit.box(box.x(), box.y(), box.width(), box.height(), "ink", 1.5)
        draw_scale_strip(
            kit, 0, h, w, ratio / self._mm_per_px if self._mm_per_px is not None else None
        )

    def _plate(self, kit: Kit, at: QPointF, text: str, frame: QRectF) -> None:
        """Words on a plate of their own, kept within the frame."""
        room = min(frame.width() - 8, 220.0)
        lines = broken(text, room - 12, 14, 600)
        wide = max(text_width(line, 14, 600) for line in lines) + 12
        high = 19 * len(lines) + 6
        x = min(max(at.x(), 2.0), frame.width() - wide - 2)
        y = min(max(at.y(), 2.0), frame.height() - high - 2)
        kit.fill(x, y, wide, high, "sheet", 3)
        for number, line in enumerate(lines):
            kit.text(x + 6, y + 2 + 19 * number, line, 14, 600, "ink")

    def _outline(self, kit: Kit, points: list[QPointF], shade: str, width: float) -> None:
        kit.painter.setPen(QPen(kit.colour(shade), width))
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        kit.painter.drawPolygon(QPolygonF(points))
