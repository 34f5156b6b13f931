"""The pages of the sheet side by side, as large as the room allows; more are scrolled to."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QKeyEvent, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QScrollBar, QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.ground import column
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_GAP = 24


class PagesView(Painted):
    """Draws pages by their height; the arrows and the wheel go from page to page."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pages: list[QImage] = []
        self._bar = QScrollBar(Qt.Orientation.Horizontal, self)
        self._bar.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._bar.valueChanged.connect(self.update)
        below = column(self, (24, 0, 24, 4))
        below.addStretch(1)
        below.addWidget(self._bar)
        reachable(self, tr("sheet.pages_view"))

    @property
    def pages(self) -> list[QImage]:
        """What is shown."""
        return self._pages

    def show_pages(self, pages: Sequence[QImage]) -> None:
        """Show the pages of a sheet."""
        self._pages = list(pages)
        self.setAccessibleName(tr("sheet.pages", count=len(self._pages)))
        self._range()
        self.update()

    def _width(self, page: QImage) -> float:
        return (self.high - 44) * page.width() / page.height()

    def _range(self) -> None:
        whole = sum(self._width(page) + _GAP for page in self._pages) - _GAP + 48
        self._bar.setRange(0, max(round(whole - self.wide), 0))
        self._bar.setPageStep(max(self.wide, 1))
        if self._pages:
            self._bar.setSingleStep(round(self._width(self._pages[0]) + _GAP))
        self._bar.setVisible(self._bar.maximum() > 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._range()

    def wheelEvent(self, event: QWheelEvent) -> None:
        steps = event.angleDelta().y() or event.angleDelta().x()
        self._bar.setValue(self._bar.value() - round(steps / 120 * self._bar.singleStep() / 2))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self._bar.setValue(self._bar.value() + step * self._bar.singleStep())

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")
        x = 24.0 - self._bar.value()
        tall = self.high - 44
        for page in self._pages:
            wide = self._width(page)
            kit.fill(x + 3, 20 + 3, wide, tall, "shade")
            kit.image(x, 20, wide, tall, page)
            x += wide + _GAP
