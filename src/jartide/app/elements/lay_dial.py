"""The lay dial: which way the pattern runs, as a fan of bristles from level to level."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPen

from jartide.app.kit import Kit
from jartide.wording import tr


def draw_lay_dial(
    kit: Kit, x: float, y: float, w: float, target: Sequence[float], board: Sequence[float] = ()
) -> None:
    """Draw the dial, `w` wide and w/2 high, with its words above and below.

    `target` and `board` are shares of equal steps from 0 to 180 degrees; the
    target's are grey wedges, the board's ink pins.
    """
    cx, cy, radius = x + w / 2, y + w / 2, w / 2 - 4
    root = radius * 0.16
    top = max(max(target, default=0), max(board, default=0)) or 1.0
    painter = kit.painter
    painter.setPen(QPen(kit.colour("line"), 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for share in (0.58, 1):
        r = radius * share
        painter.drawArc(QRectF(cx - r, cy - r, 2 * r, 2 * r), 0, 180 * 16)
    for degrees in (0, 45, 90, 135, 180):
        painter.drawLine(_at(cx, cy, radius, degrees), _at(cx, cy, radius + 6, degrees))

    def length(share: float) -> float:
        return root + (radius - root) * (share / top) ** 0.75

    for number, share in enumerate(target):
        if share <= 0:
            continue
        step = 180 / len(target)
        middle, reach = (number + 0.5) * step, length(share)
        kit.polygon(
            [
                _at(cx, cy, root, middle - step * 0.30),
                _at(cx, cy, reach, middle - step * 0.40),
                _at(cx, cy, reach + 2, middle),
                _at(cx, cy, reach, middle + step * 0.40),
                _at(cx, cy, root, middle + step * 0.30),
            ],
            "shade",
        )
    tips = []
    for number, share in enumerate(board):
        if share <= 0:
            continue
        middle, reach = (number + 0.5) * 180 / len(board), length(share)
        inner = max(root + (reach - root) * 0.45, reach - 0.20 * radius)
        painter.setPen(QPen(kit.colour("ink"), 1.6))
        painter.drawLine(_at(cx, cy, inner, middle), _at(cx, cy, reach, middle))
        tips.append(_at(cx, cy, reach, middle))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(kit.colour("ink"))
    for tip in tips:
        painter.drawEllipse(tip, 2.4, 2.4)
    boss = QPainterPath(QPointF(cx - root + 2, cy))
    boss.arcTo(QRectF(cx - root + 2, cy - root + 2, 2 * root - 4, 2 * root - 4), 180, -180)
    painter.setBrush(kit.colour("ink2"))
    painter.drawPath(boss)
    kit.across(x, cy, w, "edge")
    kit.text(x, cy + 4, tr("dial.level"), 14, 400, "ink3")
    kit.text(x, cy + 4, tr("dial.level"), 14, 400, "ink3", w, "right")
    kit.text(x, y - 19, tr("dial.upright"), 14, 400, "ink3", w, "centre")


def _at(cx: float, cy: float, r: float, degrees: float) -> QPointF:
    angle = math.radians(degrees)
    return QPointF(cx + r * math.cos(angle), cy - r * math.sin(angle))
