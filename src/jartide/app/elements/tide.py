"""The tide: how far the boards have come towards the target, which lies on the right."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPen

from jartide.app.kit import Kit, text_width
from jartide.boards.closeness import ZONE_ENDS, ZONES, zone_of
from jartide.wording import tr

HEIGHT = 36


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One board on the tide: its number and how close it is, 0..1, the target being 1."""

    number: int
    closeness: float


def _front(x: float, y: float, h: float, bow: float) -> QPainterPath:
    path = QPainterPath(QPointF(x, y))
    path.cubicTo(
        QPointF(x + bow * 1.35, y + h * 0.28),
        QPointF(x + bow * 1.35, y + h * 0.72),
        QPointF(x, y + h),
    )
    return path


def draw_tide(
    kit: Kit,
    x: float,
    y: float,
    w: float,
    marks: list[Mark],
    *,
    chosen: int,
    expected: float | None,
) -> list[tuple[float, float, float]]:
    """Draw the strip at (x, y), marks above and zone names below it.

    `chosen` is the index of the board on the bench. Returns (x, y, radius) of
    every mark's disc.
    """
    start = 0.0
    here = zone_of(marks[chosen].closeness) if marks else None
    for number, (zone, end) in enumerate(zip(ZONES, ZONE_ENDS, strict=True)):
        left, right = x + w * start, x + w * end
        kit.fill(left, y, right - left, HEIGHT, _between(kit, number / 3))
        if number:
            kit.upright(round(left), y, HEIGHT + 8, "ink2")
        bold = zone == here
        words, weight = tr(zone), 600 if bold else 400
        # The last zone is the narrowest: its name ends with the strip.
        begins = min(left + (10 if number else 0), x + w - text_width(words, 15, weight))
        kit.text(begins, y + HEIGHT + 6, words, 15, weight, "ink" if bold else "ink2")
        start = end
    bow = 10.0
    with kit.saved():
        kit.painter.setClipRect(QRectF(x, y, w, HEIGHT))
        if marks:
            water = _front(x + w * marks[chosen].closeness - bow, y, HEIGHT, bow)
            water.lineTo(x, y + HEIGHT)
            water.lineTo(x, y)
            water.closeSubpath()
            kit.painter.setPen(Qt.PenStyle.NoPen)
            kit.painter.setBrush(kit.colour("water"))
            kit.painter.drawPath(water)
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        for number, mark in enumerate(marks):
            now = number == chosen
            kit.painter.setPen(QPen(kit.colour("ink"), 4 if now else 1.5))
            kit.painter.drawPath(_front(x + w * mark.closeness - bow, y, HEIGHT, bow))
        if expected is not None:
            pen = QPen(kit.colour("ink"), 2, Qt.PenStyle.CustomDashLine)
            pen.setDashPattern([2.2, 2.2])
            kit.painter.setPen(pen)
            kit.painter.drawPath(_front(x + w * expected - bow, y, HEIGHT, bow))
    kit.upright(x + w - 3, y, HEIGHT, "ink", 3)
    discs = _discs(kit, x, y, w, marks, chosen, bow)
    if expected is not None and marks:
        _expected_label(kit, x, y, w, expected, discs)
    return discs


def _between(kit: Kit, share: float) -> QColor:
    """A tone of the land, from its far end to the target."""
    far, near = kit.theme.land_far.red(), kit.theme.land_near.red()  # all greys are true greys
    tone = round(far + (near - far) * share)
    return QColor(tone, tone, tone)


def _discs(kit, x, y, w, marks, chosen, bow) -> list[tuple[float, float, float]]:
    """Draw the numbered discs; crowded ones spread sideways, with a leader to their edge."""
    radius = [14.0 if n == chosen else 11.0 for n in range(len(marks))]
    wanted = [x + w * mark.closeness - bow * 0.3 for mark in marks]
    place = list(wanted)
    order = sorted(range(len(marks)), key=lambda n: wanted[n])
    for _ in range(40):
        for a, b in itertools.pairwise(order):
            need = radius[a] + radius[b] + 4 - (place[b] - place[a])
            if need > 0:
                place[a] -= need / 2
                place[b] += need / 2
        for n in order:
            place[n] = min(max(place[n], x + radius[n]), x + w - radius[n])
    discs = []
    for n, mark in enumerate(marks):
        now, r = n == chosen, radius[n]
        centre = y - r - 5
        if abs(place[n] - wanted[n]) > 3:
            kit.painter.setPen(QPen(kit.colour("ink2"), 1))
            kit.painter.drawLine(QPointF(place[n], centre + r), QPointF(wanted[n], y))
        kit.painter.setPen(QPen(kit.colour("ink"), 1.5))
        kit.painter.setBrush(kit.colour("ink" if now else "sheet"))
        kit.painter.drawEllipse(QPointF(place[n], centre), r, r)
        size = 16 if now else 14
        kit.text(
            place[n] - 20,
            centre - size * 0.65,
            str(mark.number),
            size,
            700 if now else 600,
            "sheet" if now else "ink",
            40,
            "centre",
        )
        discs.append((place[n], centre, r))
    return discs


def _expected_label(kit, x, y, w, expected, discs) -> None:
    """Word the broken edge, where no disc stands in the way."""
    words = tr("tide.expected")
    width = text_width(words, 14)
    left = min(max(x + w * expected - width / 2, x), x + w - width)
    for centre, _, r in sorted(discs):
        if left < centre + r + 8 and left + width > centre - r - 8:
            right = centre + r + 10
            left = right if right + width <= x + w else centre - r - 10 - width
    kit.text(left, y - 25, words, 14, 400, "ink2")
