"""A small drawing kit: a painter with the theme's colours and type bound to it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen, QPolygonF

from jartide.app.theme import Theme, font

Shade = QColor | str


def text_width(text: str, size: int, weight: int = 400) -> float:
    """Return how wide a text is, pixels."""
    return QFontMetricsF(font(size, weight)).horizontalAdvance(text)


def elided(text: str, width: float, size: int, weight: int = 400) -> str:
    """Return the text, cut at a word with a dash where it is wider than `width`."""
    if text_width(text, size, weight) <= width:
        return text
    words = text.split()
    while len(words) > 1 and text_width(" ".join(words) + " –", size, weight) > width:
        words.pop()
    return " ".join(words) + " –"


def broken(text: str, width: float, size: int, weight: int = 400) -> list[str]:
    """Return the text broken at words into lines that are no wider than `width`."""
    rows: list[str] = [""]
    for word in text.split():
        longer = f"{rows[-1]} {word}".strip()
        if rows[-1] and text_width(longer, size, weight) > width:
            rows.append(word)
        else:
            rows[-1] = longer
    return rows


class Kit:
    """Draws in the theme's colours. A colour is a `QColor` or a token's name."""

    def __init__(self, painter: QPainter, theme: Theme) -> None:
        self.painter = painter
        self.theme = theme
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
        )

    def colour(self, shade: Shade) -> QColor:
        """Return a colour for a token's name or a colour."""
        return getattr(self.theme, shade) if isinstance(shade, str) else shade

    @contextmanager
    def saved(self) -> Iterator[QPainter]:
        """Restore clip and transform afterwards."""
        self.painter.save()
        try:
            yield self.painter
        finally:
            self.painter.restore()

    def fill(self, x: float, y: float, w: float, h: float, shade: Shade, radius: float = 0) -> None:
        """Fill a rectangle."""
        if radius:
            self.painter.setPen(Qt.PenStyle.NoPen)
            self.painter.setBrush(self.colour(shade))
            self.painter.drawRoundedRect(QRectF(x, y, w, h), radius, radius)
        else:
            self.painter.fillRect(QRectF(x, y, w, h), self.colour(shade))

    def box(
        self,
        x: float,
        y: float,
        w: float,
        h: float,
        shade: Shade = "line",
        width: float = 1,
        radius: float = 0,
        dash: list[float] | None = None,
    ) -> None:
        """Outline a rectangle, inside its edges."""
        pen = QPen(self.colour(shade), width)
        if dash:
            pen.setDashPattern(dash)
        self.painter.setPen(pen)
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        half = width / 2
        rect = QRectF(x + half, y + half, w - width, h - width)
        self.painter.drawRoundedRect(rect, radius, radius)

    def across(self, x: float, y: float, w: float, shade: Shade = "line", width: float = 1) -> None:
        """Draw a level line."""
        self.fill(x, y, w, width, shade)

    def upright(
        self, x: float, y: float, h: float, shade: Shade = "line", width: float = 1
    ) -> None:
        """Draw an upright line."""
        self.fill(x, y, width, h, shade)

    def text(
        self,
        x: float,
        y: float,
        text: str,
        size: int = 16,
        weight: int = 400,
        shade: Shade = "ink",
        width: float | None = None,
        align: str = "left",
    ) -> float:
        """Write one line; `y` is the top of its box, 1.3 times the size. Return its width."""
        face = font(size, weight)
        metrics = QFontMetricsF(face)
        if width is not None:
            text = elided(text, width, size, weight)
        advance = metrics.horizontalAdvance(text)
        left = x
        room = 0.0 if width is None else width
        if align == "right":
            left = x + room - advance
        elif align == "centre":
            left = x + (room - advance) / 2
        self.painter.setFont(face)
        self.painter.setPen(self.colour(shade))
        self.painter.drawText(QPointF(left, y + size * 0.65 + metrics.capHeight() / 2), text)
        return advance

    def paragraph(
        self,
        x: float,
        y: float,
        width: float,
        text: str,
        size: int = 16,
        weight: int = 400,
        shade: Shade = "ink2",
        lines: int | None = None,
    ) -> float:
        """Write a paragraph, broken at words, at most `lines` of them; return where it ends."""
        rows = broken(text, width, size, weight)
        if lines is not None and len(rows) > lines:
            rows = [*rows[: lines - 1], elided(" ".join(rows[lines - 1 :]), width, size, weight)]
        for row in rows:
            self.text(x, y, row, size, weight, shade)
            y += size * 1.38
        return y

    def image(
        self, x: float, y: float, w: float, h: float, image: QImage, source: QRectF | None = None
    ) -> None:
        """Draw an image, or a part of it, into a rectangle."""
        whole = QRectF(0, 0, image.width(), image.height())
        self.painter.drawImage(QRectF(x, y, w, h), image, source or whole)

    def polygon(
        self, points: list[QPointF], shade: Shade, outline: Shade | None = None, width: float = 1.75
    ) -> None:
        """Fill a polygon, with an outline if one is given."""
        self.painter.setBrush(self.colour(shade))
        self.painter.setPen(
            Qt.PenStyle.NoPen
            if outline is None
            else QPen(
                self.colour(outline),
                width,
                Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.RoundCap,
                Qt.PenJoinStyle.RoundJoin,
            )
        )
        self.painter.drawPolygon(QPolygonF(points))

    def arrow(
        self,
        x: float,
        y: float,
        way: int,
        size: float = 9,
        solid: bool = True,
        shade: Shade = "ink",
    ) -> None:
        """Draw an arrow head pointing right (+1) or left (-1)."""
        points = [
            QPointF(x - way * size * 0.45, y - size * 0.62),
            QPointF(x + way * size * 0.65, y),
            QPointF(x - way * size * 0.45, y + size * 0.62),
        ]
        self.polygon(points, shade if solid else "sheet", shade)

    def sign(self, x: float, y: float, kind: str, r: float = 6.5) -> None:
        """Draw a state by its shape: ready disc, todo ring, check diamond, stop square."""
        self.painter.setPen(QPen(self.colour("ink"), 1.75))
        full = kind in ("ready", "stop")
        self.painter.setBrush(self.colour("ink") if full else Qt.BrushStyle.NoBrush)
        if kind == "check":
            corners = ((0, -1), (1, 0), (0, 1), (-1, 0))
            points = [QPointF(x + u * (r + 1), y + v * (r + 1)) for u, v in corners]
            self.painter.drawPolygon(QPolygonF(points))
        elif kind == "stop":
            self.painter.drawRect(QRectF(x - r + 0.5, y - r + 0.5, 2 * r - 1, 2 * r - 1))
        else:
            self.painter.drawEllipse(QPointF(x, y), r, r)

    def focus(self, x: float, y: float, w: float, h: float) -> None:
        """Draw the focus ring round a control."""
        self.box(x - 4, y - 4, w + 8, h + 8, "accent", 2, 9)
