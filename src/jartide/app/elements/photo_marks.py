"""Marks on a photo: drawn dark and wide, then light and narrow, so that any stone shows them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPen, QPolygonF

from jartide.app.kit import Kit, text_width

_RING = 12.0
_LIGHT, _DARK = QColor(255, 255, 255), QColor(0, 0, 0)
VEIL = QColor(128, 128, 128, 150)

# The handle by which the whole box is moved.
BOX_MIDDLE = 4

Point = tuple[float, float]


class MarkKind(StrEnum):
    """How a mark is drawn."""

    OUTLINE = "outline"  # closed
    SEGMENT = "segment"  # two ends with a label
    BOX = "box"  # top left and bottom right
    SPOT = "spot"  # one point with a radius
    STROKE = "stroke"  # a brush of a radius
    LEFT_OUT = "left out"  # closed and veiled


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One mark, in pixels of the original. `key` names it to whoever keeps it."""

    key: str
    kind: MarkKind
    points: tuple[Point, ...]
    label: str = ""
    movable: bool = False
    radius_px: float = 0.0


def handles_of(mark: Mark) -> tuple[Point, ...]:
    """Return the points by which a mark is moved: of a box its corners and its middle."""
    if mark.kind is not MarkKind.BOX:
        return mark.points
    (x0, y0), (x1, y1) = mark.points
    return (x0, y0), (x1, y0), (x1, y1), (x0, y1), ((x0 + x1) / 2, (y0 + y1) / 2)


def with_handle_at(mark: Mark, number: int, to: Point) -> Mark:
    """Return a mark with one of its handles moved: a box keeps its size when its middle is."""
    if mark.kind is MarkKind.BOX:
        return replace(mark, points=box_moved((mark.points[0], mark.points[1]), number, to))
    return replace(mark, points=tuple(to if n == number else p for n, p in enumerate(mark.points)))


def box_moved(box: tuple[Point, Point], number: int, to: Point) -> tuple[Point, Point]:
    """Return the two corners of a box after one handle, as in `handles_of`, was moved."""
    (x0, y0), (x1, y1) = box
    if number == BOX_MIDDLE:
        half = (x1 - x0) / 2, (y1 - y0) / 2
        return (to[0] - half[0], to[1] - half[1]), (to[0] + half[0], to[1] + half[1])
    across = (to[0], x1) if number in (0, 3) else (x0, to[0])
    down = (to[1], y1) if number in (0, 1) else (y0, to[1])
    return (min(across), min(down)), (max(across), max(down))


def draw_mark(kit: Kit, mark: Mark, places: list[QPointF], ratio: float) -> None:
    """Draw a mark whose points lie at `places` on the screen; `ratio` is screen px per photo px."""
    painter = kit.painter
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if mark.kind is MarkKind.SEGMENT:
        _draw_segment(kit, places, mark.label)
    elif mark.kind is MarkKind.BOX:
        rect = QRectF(places[0], places[1]).normalized()
        draw_twice(kit, lambda: painter.drawRect(rect))
    elif mark.kind is MarkKind.SPOT:
        radius = max(mark.radius_px * ratio, 5.0)
        draw_twice(kit, lambda: painter.drawEllipse(places[0], radius, radius))
    elif mark.kind is MarkKind.STROKE:
        draw_stroke(kit, places, mark.radius_px * ratio)
    else:
        if mark.kind is MarkKind.LEFT_OUT:
            painter.setBrush(VEIL)
        draw_twice(kit, lambda: painter.drawPolygon(QPolygonF([*places, places[0]])))


def draw_twice(kit: Kit, draw: Callable[[], object], wide: float = 4.0) -> None:
    """Draw dark and `wide`, then light and half as wide; a brush that is set fills once."""
    for shade, width in ((_DARK, wide), (_LIGHT, wide / 2)):
        kit.painter.setPen(QPen(shade, width))
        draw()
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)


def draw_stroke(kit: Kit, places: list[QPointF], radius: float) -> None:
    """Draw a brush stroke of a radius on the screen, as a veil."""
    pen = QPen(VEIL, max(2.0, 2 * radius))
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    kit.painter.setPen(pen)
    path = QPainterPath(places[0])
    for place in places[1:] or [places[0] + QPointF(0.1, 0)]:
        path.lineTo(place)
    kit.painter.setBrush(Qt.BrushStyle.NoBrush)
    kit.painter.drawPath(path)


def draw_ring(kit: Kit, place: QPointF, active: bool, small: bool = False) -> None:
    """Draw a handle, a small one where there is little room; the active one is ringed in accent."""
    radius = _RING / 2 if small else _RING
    kit.painter.setBrush(Qt.BrushStyle.NoBrush)
    draw_twice(kit, lambda: kit.painter.drawEllipse(place, radius, radius), 5.5)
    if active:
        kit.painter.setPen(QPen(kit.colour("accent"), 2.5))
        kit.painter.drawEllipse(place, radius + 5, radius + 5)


def _draw_segment(kit: Kit, places: list[QPointF], words: str) -> None:
    along = places[1] - places[0]
    size = max((along.x() ** 2 + along.y() ** 2) ** 0.5, 1e-6)
    side = QPointF(-along.y() / size * 10, along.x() / size * 10)
    for shade, width in ((_DARK, 5.0), (_LIGHT, 2.5)):
        kit.painter.setPen(QPen(shade, width))
        kit.painter.drawLine(*places)
        for place in places:
            kit.painter.drawLine(place - side, place + side)
    if words:
        middle = (places[0] + places[1]) / 2
        width = text_width(words, 16, 600) + 24
        left, top = middle.x() - width / 2, middle.y() - 44
        kit.fill(left, top, width, 28, "raised", 6)
        kit.text(left, top + 3, words, 16, 600, "ink", width, "centre")
