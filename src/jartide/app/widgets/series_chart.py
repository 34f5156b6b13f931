"""Cover over time, the target it grows to, and when it is expected there."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.painted import Painted
from jartide.wording import tr

_LEFT, _RIGHT, _TOP, _BOTTOM = 56, 20, 16, 40


class SeriesChart(Painted):
    """Draws one series of (minutes, cover)."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._points: list[tuple[float, float]] = []
        self._target = 0.0
        self._expected: tuple[float, float, float] | None = None

    @property
    def points(self) -> list[tuple[float, float]]:
        """What is drawn: minutes and cover of each frame."""
        return self._points

    def show_series(
        self,
        points: list[tuple[float, float]],
        target: float,
        expected: tuple[float, float, float] | None,
        words: str,
    ) -> None:
        """Show a series, the target's cover, and (earliest, middle, latest) minutes or None."""
        self._points, self._target, self._expected = points, target, expected
        self.setAccessibleName(words)
        self.update()

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        kit.fill(0, 0, w, h, "sheet")
        last = max([t for t, _ in self._points] or [1.0])
        longest = max(last, self._expected[2] if self._expected else 0.0, 1.0) * 1.08
        across, up = w - _LEFT - _RIGHT, h - _TOP - _BOTTOM

        def place(minutes: float, cover: float) -> QPointF:
            return QPointF(_LEFT + across * minutes / longest, _TOP + up * (1 - cover))

        for percent in (0, 25, 50, 75, 100):
            y = place(0, percent / 100).y()
            kit.across(_LEFT, y, across, "line" if percent else "edge")
            kit.text(0, y - 9, f"{percent}%", 14, 400, "ink2", _LEFT - 8, "right")
        step = next((s for s in (1, 2, 5, 10, 15, 30, 60, 120, 240, 480) if longest / s <= 9), 960)
        minute = 0
        while minute <= longest:
            x = place(minute, 0).x()
            kit.upright(x, _TOP + up, 6, "edge")
            kit.text(
                x - 40, _TOP + up + 10, tr("unit.min", count=minute), 14, 400, "ink2", 80, "centre"
            )
            minute += step
        if self._target:
            y = place(0, self._target).y()
            kit.across(_LEFT, y - 1, across, "ink", 2)
            kit.text(_LEFT + 8, y - 23, tr("watch.target"), 14, 600, "ink")
        if self._expected is not None:
            early, middle, late = (place(t, self._target) for t in self._expected)
            y = middle.y()
            kit.fill(early.x(), y - 6, max(late.x() - early.x(), 2), 12, "shade")
            kit.upright(middle.x() - 1, y - 12, 24, "ink", 3)
        pen = QPen(kit.colour("ink"), 2.5)
        kit.painter.setPen(pen)
        kit.painter.setBrush(Qt.BrushStyle.NoBrush)
        kit.painter.drawPolyline(QPolygonF([place(t, c) for t, c in self._points]))
        for t, c in self._points:
            at = place(t, c)
            kit.painter.setBrush(kit.colour("raised"))
            kit.painter.setPen(QPen(kit.colour("ink"), 1.75))
            kit.painter.drawEllipse(at, 5, 5)
