"""The room a station is seen in: as large as there is, and scrolled where that is too little."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget


class RoomArea(QScrollArea):
    """Gives a page all the room, and no less than its layout needs.

    A scroll area of Qt's own gives a page whose words can be broken the height it would like,
    not the least, and scrolls where nothing has to.
    """

    def __init__(self, page: QWidget, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._page = page
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setWidget(page)
        page.installEventFilter(self)

    def _least_high(self, wide: int) -> int:
        layout = self._page.layout()
        if layout is not None and layout.hasHeightForWidth():
            return layout.minimumHeightForWidth(wide)
        return self._page.minimumSizeHint().height()

    def fit(self) -> None:
        """Let the page fill the room, or be as large as it has to be."""
        room, least = self.maximumViewportSize(), self._page.minimumSizeHint().width()
        wide = max(room.width(), least)
        if self._least_high(wide) > room.height():
            wide = max(room.width() - self.verticalScrollBar().sizeHint().width(), least)
        self._page.resize(wide, max(room.height(), self._least_high(wide)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self._page and event.type() == QEvent.Type.LayoutRequest:
            self.fit()
        return super().eventFilter(watched, event)
