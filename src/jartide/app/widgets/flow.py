"""A layout for words and buttons beside each other: what has no room goes on in the next row."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QSizePolicy, QWidget

from jartide.app.measure import px


class Flow(QLayout):
    """Rows from left to right; what may be wider takes what its row leaves over.

    Parameters
    ----------
    gap : between two things, units
    right : rows stand at the right
    """

    def __init__(self, parent: QWidget | None = None, *, gap: int = 8, right: bool = False) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._right = right
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(px(gap))

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem:  # Qt asks beyond the end and wants None there
        return self._items[index] if 0 <= index < len(self._items) else None  # type: ignore[return-value]

    def takeAt(self, index: int) -> QLayoutItem:
        return self._items.pop(index) if 0 <= index < len(self._items) else None  # type: ignore[return-value]

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation.Horizontal

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        rows = self._rows(width)
        return sum(_tall(row) for row in rows) + self.spacing() * max(len(rows) - 1, 0)

    def sizeHint(self) -> QSize:
        shown = self._shown()
        wide = sum(item.sizeHint().width() for item in shown)
        return QSize(wide + self.spacing() * max(len(shown) - 1, 0), _tall(shown))

    def minimumSize(self) -> QSize:
        shown = self._shown()
        return QSize(max((item.minimumSize().width() for item in shown), default=0), _tall(shown))

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        y = rect.y()
        for row in self._rows(rect.width()):
            tall, gaps = _tall(row), self.spacing() * (len(row) - 1)
            widths = [min(item.sizeHint().width(), rect.width()) for item in row]
            left_over = rect.width() - sum(widths) - gaps
            growing = [n for n, item in enumerate(row) if _may_grow(item)]
            x = rect.x()
            for place, number in enumerate(growing):
                widths[number] += left_over // len(growing) + (place < left_over % len(growing))
            if self._right and not growing:
                x += max(left_over, 0)
            for item, wide in zip(row, widths, strict=True):
                high = min(item.sizeHint().height(), tall)
                item.setGeometry(QRect(x, y + (tall - high) // 2, wide, high))
                x += wide + self.spacing()
            y += tall + self.spacing()

    def _shown(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]

    def _rows(self, width: int) -> list[list[QLayoutItem]]:
        rows: list[list[QLayoutItem]] = []
        taken = 0
        for item in self._shown():
            wide = item.sizeHint().width()
            if rows and taken + self.spacing() + wide <= width:
                rows[-1].append(item)
                taken += self.spacing() + wide
            else:
                rows.append([item])
                taken = wide
        return rows


def _tall(row: list[QLayoutItem]) -> int:
    return max((item.sizeHint().height() for item in row), default=0)


def _may_grow(item: QLayoutItem) -> bool:
    widget = item.widget()
    grows = QSizePolicy.PolicyFlag.GrowFlag.value | QSizePolicy.PolicyFlag.ExpandFlag.value
    return widget is not None and widget.sizePolicy().horizontalPolicy().value & grows == grows
