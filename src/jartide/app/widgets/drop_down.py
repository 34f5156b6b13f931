"""A list to choose one word from, with an arrow of our own drawing."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QComboBox, QWidget

from jartide.app.measure import px
from jartide.app.widgets.label import tip
from jartide.app.widgets.painted import Drawn
from jartide.app.widgets.pressed_by_enter import ENTER

_LEAST = 84


class DropDown(QComboBox, Drawn):
    """Qt's own list, but its arrow is drawn in the theme's ink.

    The list that opens is as wide as its longest words; resting on a chosen word
    that is longer than the room, such as a paint's name, shows it whole.
    """

    most = 150  # how wide its words may make it, units

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.currentTextChanged.connect(lambda text: self.setToolTip(tip(text)))

    def sizeHint(self) -> QSize:
        """Be as wide as its words, within reason: a paint's name does not widen the page."""
        wanted = super().sizeHint()
        return QSize(min(wanted.width(), px(self.most)), wanted.height())

    def minimumSizeHint(self) -> QSize:
        return QSize(px(_LEAST), super().minimumSizeHint().height())

    def showPopup(self) -> None:
        """Open the list, wide enough for its words."""
        self.view().setMinimumWidth(self.view().sizeHintForColumn(0) + px(24))
        super().showPopup()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        with self.drawing() as kit:
            x, y = self.wide - 20, self.high / 2 - 2
            kit.polygon([QPointF(x - 5, y), QPointF(x + 5, y), QPointF(x, y + 6)], "ink2")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter opens the list, as it opens everything."""
        if Qt.Key(event.key()) in ENTER:
            self.showPopup()
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Leave the wheel to the page: a choice must not change in passing."""
        event.ignore()
