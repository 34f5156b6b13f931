"""The jar: level tells how full, the tide line what is needed, the lid the colour wanted."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPen

from jartide.app.kit import Kit, Shade


def jar_path(x: float, y: float, w: float, h: float) -> QPainterPath:
    """Return the outline: mouth, short neck, round shoulders, upright sides, soft foot."""
    centre, neck, top = x + w / 2, y + 0.10 * h, y + 0.185 * h
    half_mouth, shoulder, bottom, foot, inset = 0.29 * w, 0.27 * h, y + h, 0.15 * w, 0.012 * w
    path = QPainterPath(QPointF(centre - half_mouth, neck))
    path.lineTo(centre - half_mouth, top)
    path.cubicTo(
        QPointF(x + 0.09 * w, top + 0.015 * h),
        QPointF(x, top + 0.10 * h),
        QPointF(x, top + shoulder),
    )
    path.lineTo(x + inset, bottom - foot)
    path.quadTo(QPointF(x + inset, bottom), QPointF(x + inset + foot, bottom))
    path.lineTo(x + w - inset - foot, bottom)
    path.quadTo(QPointF(x + w - inset, bottom), QPointF(x + w - inset, bottom - foot))
    path.lineTo(x + w, top + shoulder)
    path.cubicTo(
        QPointF(x + w, top + 0.10 * h),
        QPointF(x + 0.91 * w, top + 0.015 * h),
        QPointF(centre + half_mouth, top),
    )
    path.lineTo(centre + half_mouth, neck)
    return path


def draw_jar(
    kit: Kit,
    x: float,
    y: float,
    w: float,
    *,
    fill: Shade | None = None,
    level: float = 1.0,
    lid: Shade | None = None,
    tide: float | None = None,
    height: float | None = None,
    empty: Shade = "raised",
    line: Shade = "ink2",
) -> None:
    """Draw a jar `w` wide and .86 w high. `level` and `tide` are 0..1 of the inside."""
    h = height or 0.86 * w
    outline, painter = jar_path(x, y, w, h), kit.painter
    inside = 0.815 * h
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(kit.colour(empty))
    painter.drawPath(outline)
    if fill is not None and level > 0:
        with kit.saved():
            painter.setClipPath(outline)
            surface, sag = y + h - inside * level, min(3, 0.05 * w)
            curve = QPainterPath(QPointF(x - 2, surface - sag * 0.4))
            curve.quadTo(QPointF(x + w / 2, surface + sag), QPointF(x + w + 2, surface - sag * 0.4))
            body = QPainterPath(curve)
            body.lineTo(x + w + 2, y + h + 2)
            body.lineTo(x - 2, y + h + 2)
            body.closeSubpath()
            painter.setBrush(kit.colour(fill))
            painter.drawPath(body)
            if level < 0.98:  # a line on the surface, so that white paint reads
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(kit.colour(line), 1))
                painter.drawPath(curve)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(kit.colour(line), 1.5))
    painter.drawPath(outline)
    lid_h, lid_w = max(2.5, 0.12 * h), 0.72 * w
    painter.setBrush(kit.colour(lid if lid is not None else empty))
    painter.drawRoundedRect(
        QRectF(x + w / 2 - lid_w / 2, y, lid_w, lid_h), lid_h * 0.35, lid_h * 0.35
    )
    if tide is not None:
        at, over = round(y + h - inside * tide), max(4.0, 0.10 * w)
        halo = QColor(255, 255, 255, 170) if kit.theme.name == "day" else QColor(0, 0, 0, 130)
        kit.fill(x + 1.5, at - 2, w - 3, 4, halo)
        kit.fill(x - over, at - 1, w + 2 * over, 2, "ink")
