"""Marks over a surface that show where a measure was taken.

A pale seam lies under every dark mark, so that it is seen on any surface. Centre lines are
drawn from thin and pale where the line is narrow to thick and dark where it is wide.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QLineF, QPointF, Qt
from PySide6.QtGui import QColor, QPen, QPolygonF

from jartide.app.kit import Kit
from jartide.reading.places import Places

# Classes of width the centre lines are drawn in.
_CLASSES = 5


def draw_places(
    kit: Kit, places: Places, to_widget: Callable[[tuple[float, float]], QPointF], width_px: float
) -> None:
    """Draw places given in shares of a surface that is `width_px` wide on the screen."""
    painter = kit.painter
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for shade, thick in (("raised", 3.0), ("accent", 1.5)):
        painter.setPen(QPen(kit.colour(shade), thick))
        for ring in places.rings:
            painter.drawPolygon(QPolygonF([to_widget((x, y)) for x, y in ring.tolist()]))
        painter.drawLines(
            [
                QLineF(to_widget((x0, y0)), to_widget((x1, y1)))
                for x0, y0, x1, y1 in places.strokes.tolist()
            ]
        )
    _draw_centre_lines(kit, places, to_widget)
    for shade, thick in (("raised", 5.0), ("accent", 2.5)):
        painter.setPen(QPen(kit.colour(shade), thick))
        for x, y, radius in places.spots.tolist():
            r = max(radius * width_px, 5.0)
            painter.drawEllipse(to_widget((x, y)), r, r)


def _draw_centre_lines(
    kit: Kit, places: Places, to_widget: Callable[[tuple[float, float]], QPointF]
) -> None:
    if len(places.points) == 0:
        return
    painter = kit.painter
    width = places.widths
    known = np.isfinite(width)
    low, high = (
        np.log(np.percentile(width[known], [5, 95])) if known.any() else np.array([0.0, 1.0])
    )
    place = (np.log(np.where(known, width, 1.0)) - low) / max(high - low, 1e-6)
    number = np.where(known, np.clip(place * _CLASSES, 0, _CLASSES - 1), 0).astype(int)
    on_screen = [to_widget((x, y)) for x, y in places.points.tolist()]
    pale, dark = QColor("#ffd23c"), kit.colour("accent")
    for k in range(_CLASSES):
        points = [on_screen[i] for i in np.flatnonzero(number == k)]
        share = k / (_CLASSES - 1)
        mixed = QColor(
            round(pale.red() + share * (dark.red() - pale.red())),
            round(pale.green() + share * (dark.green() - pale.green())),
            round(pale.blue() + share * (dark.blue() - pale.blue())),
        )
        pen = QPen(mixed, 1.6 + 1.6 * share)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawPoints(points)
