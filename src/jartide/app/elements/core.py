"""The core: the layers as strata, ground at the bottom, as if drilled out of the finish."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPen, QPolygonF

from jartide.app.kit import Kit

LEAST_PX = 26
SLIDE_PX = 14


@dataclass(frozen=True, slots=True, kw_only=True)
class Stratum:
    """One layer of the core; an unknown one (colour None) is still to be found."""

    colour: QColor | None
    coverage: float


def stratum_heights(strata: list[Stratum], height: float) -> list[float]:
    """Return the heights, px: a least one each, and the rest by coverage."""
    total = sum(s.coverage for s in strata) or 1.0
    least = min(LEAST_PX, height / max(len(strata), 1))
    free = height - least * len(strata)
    return [least + free * s.coverage / total for s in strata]


def _waver(x: float, seed: int) -> float:
    wave = math.sin(x * 0.11 + seed * 1.7) + 0.6 * math.sin(x * 0.23 + seed * 3.1)
    return 3 * (wave + 0.3 * math.sin(x * 0.47 + seed)) / 1.4


def draw_core(
    kit: Kit,
    x: float,
    y: float,
    w: float,
    h: float,
    strata: list[Stratum],
    picked: int | None,
    out: float = 1.0,
) -> list[float]:
    """Draw the core, base first in `strata`; return the middle of each stratum.

    `out` is how far the picked one has slid out of it, 0 to 1.
    """
    middles, bottom = [], y + h
    heights = stratum_heights(strata, h)
    for number, (stratum, height) in enumerate(zip(strata, heights, strict=True)):
        top = bottom - height
        slide = -SLIDE_PX * out if number == picked else 0.0

        def edge(at: float, seed: int, shift: float = slide) -> list[QPointF]:
            ends = seed in (0, len(strata))
            return [
                QPointF(x + shift + u, at + (0 if ends else _waver(u, seed)))
                for u in range(0, int(w) + 1, 2)
            ]

        path = QPainterPath()
        path.addPolygon(QPolygonF(edge(top, number + 1) + edge(bottom, number)[::-1]))
        path.closeSubpath()
        painter = kit.painter
        if stratum.colour is None:
            painter.setPen(QPen(kit.colour("edge"), 1))
            painter.setBrush(kit.colour("well"))
            painter.drawPath(path)
        else:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(stratum.colour)
            painter.drawPath(path)
            with kit.saved():
                painter.setClipPath(path)
                _grit(kit, x + slide, top, w, height, number)
            if number:
                painter.setPen(QPen(kit.colour("seam"), 1.25))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPolyline(QPolygonF(edge(bottom, number)))
        if number == picked:
            kit.fill(x + slide - 8, top + 2, 4, height - 4, "accent", 2)
        middles.append((top + bottom) / 2)
        bottom = top
    return middles


def _grit(kit: Kit, x: float, y: float, w: float, h: float, seed: int) -> None:
    """A few fixed specks, so that a stratum reads as matter and not as a bar."""
    for n in range(int(w * h / 90)):
        across = (n * 7919 + seed * 104729) % 10007 / 10007 * w
        down = (n * 6007 + seed * 1299709) % 9973 / 9973 * h
        shade = QColor(255, 255, 255, 34) if n % 2 else QColor(0, 0, 0, 46)
        kit.fill(x + across, y + down, 1 + (n % 3 == 0), 1, shade)
