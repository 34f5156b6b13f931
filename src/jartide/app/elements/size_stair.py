"""The size stair: how much of the pattern is how big, from 1 to 32 mm."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPen

from jartide.app.kit import Kit

_PEBBLES = (4, 6, 9, 13, 19, 27)


def draw_size_stair(
    kit: Kit,
    x: float,
    y: float,
    w: float,
    h: float,
    labels: Sequence[str],
    target: Sequence[float | None],
    board: Sequence[float | None] = (),
) -> None:
    """Draw the stair with its labels below; a size that can't be told has no step."""
    known = [v for v in (*target, *board) if v is not None]
    top = (max(known, default=0) or 1.0) * 1.04
    step = w / len(target)
    painter = kit.painter
    biggest = max((v or 0 for v in target), default=0)
    for number, share in enumerate(target):
        left = x + number * step
        bold = share is not None and share == biggest
        kit.text(
            left,
            y + h + 5,
            labels[number],
            14,
            600 if bold else 400,
            "ink" if bold else "ink2",
            step,
            "centre",
        )
        if share is None:
            kit.text(left, y + h - 24, "–", 14, 400, "ink3", step, "centre")
            continue
        tread = y + h - h * share / top
        kit.fill(left, tread, step, y + h - tread, "shade")
        kit.fill(left, tread, step, 2, "ink3")
        if not board:
            size = _PEBBLES[number % len(_PEBBLES)] * min(1, step / 50)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(kit.colour("shade"))
            painter.drawEllipse(QRectF(left + step / 2 - size / 2, tread - size - 1.5, size, size))
    for number in range(1, len(target)):
        kit.upright(round(x + number * step), y, h, "sheet")
    if board:
        path = QPainterPath()
        started = False
        for number, share in enumerate(board):
            if share is None:
                started = False
                continue
            tread = y + h - h * share / top
            point = QPointF(x + number * step, tread)
            path.lineTo(point) if started else path.moveTo(point)
            path.lineTo(x + (number + 1) * step, tread)
            started = True
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(
            QPen(
                kit.colour("ink"),
                2.5,
                Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.FlatCap,
                Qt.PenJoinStyle.MiterJoin,
            )
        )
        painter.drawPath(path)
    kit.across(x, y + h, w, "edge")
