"""A list to choose one word from, with an arrow of our own drawing."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QComboBox, QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.label import tip
from jartide.app.widgets.painted import current_theme
from jartide.app.widgets.pressed_by_enter import ENTER


class DropDown(QComboBox):
    """Qt's own list, but its arrow is drawn in the theme's ink.

    The list that opens is as wide as its longest words; resting on a chosen word
    that is longer than the room, such as a paint's name, shows it whole.
    """

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.currentTextChanged.connect(lambda text: self.setToolTip(tip(text)))

    def showPopup(self) -> None:
        """Open the list, wide enough for its words."""
        self.view().setMinimumWidth(self.view().sizeHintForColumn(0) + 24)
        super().showPopup()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        kit = Kit(painter, current_theme())
        x, y = self.width() - 20, self.height() / 2 - 2
        kit.polygon([QPointF(x - 5, y), QPointF(x + 5, y), QPointF(x, y + 6)], "ink2")
        painter.end()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter opens the list, as it opens everything."""
        if Qt.Key(event.key()) in ENTER:
            self.showPopup()
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Leave the wheel to the page: a choice must not change in passing."""
        event.ignore()
