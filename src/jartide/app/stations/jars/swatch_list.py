"""A tin's swatches: as painted, read beside predicted, and those that disagree."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from itertools import accumulate

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_ROW, _SOURCE = 46, 20


@dataclass(frozen=True, slots=True, kw_only=True)
class SwatchRow:
    """One swatch: what was painted, the two colours, and the doubt about it if any.

    `source` says where its colour came from, where that is worth saying.
    """

    number: int
    words: str
    read: QColor
    predicted: QColor | None
    note: str
    doubted: bool
    left_out: bool
    source: str = ""


class SwatchList(Painted):
    """Draws swatches; a press leaves one out or takes it in again."""

    doubted = Signal(int, bool)  # its number, whether it is to be left out

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rows: list[SwatchRow] = []
        self._tops: list[int] = [0]
        self._at = 0
        reachable(self, tr("swatch.list"))

    def show_swatches(self, rows: list[SwatchRow]) -> None:
        """Show swatches in their order."""
        self._rows = rows
        self._at = min(self._at, max(len(rows) - 1, 0))
        heights = [_ROW + (_SOURCE if row.source else 0) for row in rows]
        self._tops = list(accumulate(heights, initial=0))
        self.setFixedHeight(px(max(self._tops[-1], 4)))
        self._describe()
        self.update()

    def _describe(self) -> None:
        if self._rows:
            row = self._rows[self._at]
            self.setAccessibleName(
                f"{tr('swatch.list')}: {', '.join(filter(None, (row.words, row.note, row.source)))}"
            )

    def _toggle(self, place: int) -> None:
        # The masstone is what makes the tin a colour: it can be replaced, not left out.
        if 0 < place < len(self._rows):
            row = self._rows[place]
            self.doubted.emit(row.number, not row.left_out)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._toggle(bisect_right(self._tops, self.at(event).y()) - 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._rows:
            step = 1 if key == Qt.Key.Key_Down else -1
            self._at = min(max(self._at + step, 0), len(self._rows) - 1)
            self._describe()
            self.update()
        elif key in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            self._toggle(self._at)
        else:
            super().keyPressEvent(event)

    def paint(self, kit: Kit) -> None:
        w = self.wide
        for place, row in enumerate(self._rows):
            y = self._tops[place]
            kit.fill(0, y + 6, 34, 32, row.read)
            if row.predicted is not None:
                kit.fill(34, y + 6, 22, 32, row.predicted)
            kit.box(0, y + 6, 56 if row.predicted is not None else 34, 32, "line")
            shade = "ink3" if row.left_out else "ink"
            kit.text(66, y + 4, row.words, 15, 500, shade, w - 66)
            left = 66.0
            if row.doubted:
                kit.sign(73, y + 34, "check", 5)
                left = 84
            kit.text(left, y + 24, row.note, 14, 400, "ink2", w - left)
            if row.source:
                kit.text(66, y + 24 + _SOURCE, row.source, 14, 400, "ink2", w - 66)
            if self.hasFocus() and place == self._at:
                height = self._tops[place + 1] - y - 4
                kit.box(60, y + 2, w - 61, height, "accent", 2, 6)
