"""A quiet line of words that opens something; the open one stands on a length of accent."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtWidgets import QWidget

from jartide.app.kit import text_width
from jartide.app.measure import px
from jartide.app.widgets.pressed_by_enter import PressedByEnter


class ToolLink(PressedByEnter):
    """Words on a thin line."""

    def __init__(self, text: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setText(text)
        self.setCheckable(True)
        self.setAccessibleName(text)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(px(40))

    def sizeHint(self) -> QSize:
        return QSize(px(text_width(self.text(), 16, 600) + 30), px(40))

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            w, h = self.wide, self.high
            bold = self.isChecked() or self.underMouse()
            kit.text(0, h / 2 - 12, self.text(), 16, 600 if bold else 400, "ink", w - 24)
            kit.arrow(w - 10, h / 2, 1, 7, shade="ink2")
            kit.across(0, h - 1, w)
            if self.isChecked():
                kit.across(0, h - 4, w / 2, "accent", 4)
            if self.hasFocus():
                kit.box(0, 1, w, h - 2, "accent", 2, 6)
