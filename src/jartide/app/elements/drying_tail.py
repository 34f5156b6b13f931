"""A block of work and the tail in which it dries, down to the post where it takes the next."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath

from jartide.app.kit import Kit, Shade


def tail_path(x: float, y: float, w: float, h: float) -> QPainterPath:
    """Return a tail that falls from full height to nothing, hollow as evaporation slows."""
    path = QPainterPath(QPointF(x, y))
    path.quadTo(QPointF(x + 0.35 * w, y + 0.78 * h), QPointF(x + w, y + h))
    path.lineTo(x, y + h)
    path.closeSubpath()
    return path


def draw_tail(
    kit: Kit, x: float, y: float, w: float, h: float, passed: float = 0.0, due: bool = False
) -> None:
    """Draw a tail; the part of it that has passed is dark, and a due post is thick."""
    if w > 1:
        path = tail_path(x, y, w, h)
        kit.painter.fillPath(path, kit.colour("water"))
        if passed > 0:
            with kit.saved():
                done = QRectF(x, y, w * min(passed, 1.0), h)
                kit.painter.setClipRect(done, Qt.ClipOperation.IntersectClip)
                kit.painter.fillPath(path, kit.colour("ink3"))
    post = 5 if due else 2
    kit.fill(x + w - post / 2, y + h - (20 if due else 11), post, (20 if due else 11), "ink")


def draw_block(
    kit: Kit, x: float, y: float, w: float, h: float, shade: Shade, begun: bool, chosen: bool
) -> None:
    """Draw the brush in hand; what is begun has a strong outline, the chosen one a blue foot."""
    kit.fill(x, y, w, h, shade)
    kit.box(x, y, w, h, "ink" if begun else "edge", 2 if begun else 1)
    if chosen:
        kit.fill(x, y + h, max(w, 12), 4, "accent")
