"""A button that opens a short list of places to go."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QSize, Signal
from PySide6.QtWidgets import QMenu, QWidget

from jartide.app.measure import px
from jartide.app.theme import font
from jartide.app.widgets.buttons import Button


class MenuButton(Button):
    """Tells which of its entries was picked."""

    picked = Signal(str)

    def __init__(
        self, text: str, entries: Sequence[tuple[str, str]], parent: QWidget | None = None
    ) -> None:
        super().__init__(text, parent)
        menu = QMenu(self)
        menu.setFont(font(px(16)))
        for name, words in entries:
            menu.addAction(words).triggered.connect(lambda _=False, n=name: self.picked.emit(n))
        self._list = menu
        self.clicked.connect(self._open)
        self.setMinimumWidth(self.sizeHint().width())

    @property
    def entries(self) -> list[str]:
        """The words of its entries."""
        return [action.text() for action in self._list.actions()]

    def _open(self) -> None:
        self._list.popup(self.mapToGlobal(self.rect().bottomLeft()))

    def sizeHint(self) -> QSize:
        size = super().sizeHint()
        return QSize(size.width() + px(26), size.height())

    def paintEvent(self, event: QEvent) -> None:
        super().paintEvent(event)
        with self.drawing() as kit:
            x, y = self.wide - 20, self.high / 2 - 2
            kit.polygon([QPointF(x - 5, y), QPointF(x + 5, y), QPointF(x, y + 6)], "ink2")
