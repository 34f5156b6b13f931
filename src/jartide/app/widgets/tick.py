"""A tick box large enough for a working hand."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QSize, Qt
from PySide6.QtGui import QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from jartide.app.kit import text_width
from jartide.app.measure import px
from jartide.app.widgets.pressed_by_enter import PressedByEnter

_BOX = 22.0


class Tick(PressedByEnter):
    """A box that is ticked or not, with its words."""

    def __init__(self, text: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setText(text)
        self.setCheckable(True)
        self.setAccessibleName(text)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(px(44))

    def sizeHint(self) -> QSize:
        return QSize(px(_BOX + 12 + text_width(self.text(), 16) + 4), px(44))

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            y = (self.high - _BOX) / 2
            kit.fill(1, y, _BOX, _BOX, "raised", 4)
            kit.box(1, y, _BOX, _BOX, "ink" if self.underMouse() else "edge", 1.5, 4)
            if self.isChecked():
                pen = QPen(kit.colour("ink"), 3)
                pen.setCapStyle(Qt.PenCapStyle.RoundCap)
                kit.painter.setPen(pen)
                kit.painter.drawPolyline(
                    QPolygonF([QPointF(6, y + 11), QPointF(10, y + 16), QPointF(18, y + 6)])
                )
            kit.text(_BOX + 12, self.high / 2 - 11, self.text(), 16, 400, "ink")
            if self.hasFocus():
                kit.box(0, y - 4, self.wide, _BOX + 8, "accent", 2, 6)
