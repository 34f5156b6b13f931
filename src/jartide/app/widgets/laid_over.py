"""Two surfaces laid over each other at one scale, with an edge between them to drag."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPen
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.surface_pane import SurfacePane

_NEAR_PX = 14


class LaidOver(SurfacePane):
    """A pane with another surface left of the edge."""

    edge_moved = Signal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._under: tuple[QImage, float | None] | None = None
        self._edge = 0.5
        self._pulled = False
        self.setMouseTracking(True)

    def show_under(self, image: QImage | None, mm_per_px: float | None) -> None:
        """Show another surface left of the edge; None for none."""
        self._under = None if image is None else (image, mm_per_px)
        self.update()

    @property
    def has_under(self) -> bool:
        """Whether another surface is shown left of the edge."""
        return self._under is not None

    @property
    def edge(self) -> float:
        """Where the edge stands, a share of the frame's width."""
        return self._edge

    def move_edge(self, share: float) -> None:
        """Move the edge."""
        self._edge = min(max(share, 0.0), 1.0)
        self.edge_moved.emit(self._edge)
        self.update()

    def _is_near(self, at: QPointF) -> bool:
        frame = self.frame()
        return (
            self._under is not None
            and frame.contains(at)
            and abs(at.x() - self._edge * frame.width()) < _NEAR_PX
        )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._is_near(self.at(event)):
            self._pulled = True
        else:
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pulled:
            self.move_edge(self.at(event).x() / max(self.frame().width(), 1))
            return
        if self._under is not None:
            near = self._is_near(self.at(event))
            self.setCursor(Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.ArrowCursor)
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._pulled = False
        super().mouseReleaseEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -0.02, Qt.Key.Key_Right: 0.02}.get(Qt.Key(event.key()))
        if step is None or self._under is None:
            super().keyPressEvent(event)
        else:
            self.move_edge(self._edge + step)

    def paint(self, kit: Kit) -> None:
        super().paint(kit)
        if self._under is None or self._image is None:
            return
        image, mm_per_px = self._under
        frame = self.frame()
        ratio = self._ratio()
        if mm_per_px is not None and self._mm_per_px is not None:
            # The other one at the same px per mm, from the same millimetre on.
            ratio *= mm_per_px / self._mm_per_px
        left = self._from.x() * self._image.width() * self._ratio() / ratio
        top = self._from.y() * self._image.height() * self._ratio() / ratio
        cut = self._edge * frame.width()
        with kit.saved() as painter:
            painter.setClipRect(QRectF(0, 0, cut, frame.height()))
            w = min(frame.width(), (image.width() - left) * ratio)
            h = min(frame.height(), (image.height() - top) * ratio)
            kit.fill(0, 0, cut, frame.height(), "well")
            if w > 0 and h > 0:
                kit.image(0, 0, w, h, image, QRectF(left, top, w / ratio, h / ratio))
        kit.upright(cut - 2, 0, frame.height(), "raised", 4)
        kit.upright(cut - 1, 0, frame.height(), "ink", 2)
        kit.painter.setPen(QPen(kit.colour("ink"), 2))
        kit.painter.setBrush(kit.colour("raised"))
        kit.painter.drawEllipse(QPointF(cut, frame.height() / 2), 11, 11)
        kit.arrow(cut - 5, frame.height() / 2, -1, 6)
        kit.arrow(cut + 5, frame.height() / 2, 1, 6)
