"""What an empty workspace offers beside a new job: the guide, the demo job, a job's file."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.painted import Painted
from jartide.wording import tr

_WAYS = ("guide", "demo", "bring")
_WIDTH = 760
_ROW = 88


class FirstStart(Painted):
    """Three ways to begin, one line each; the foot offers the fourth, an empty job."""

    picked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = False
        self.buttons: dict[str, Button] = {}
        for way in _WAYS:
            button = Button(tr(f"first.{way}"), self)
            button.clicked.connect(lambda _=False, w=way: self.picked.emit(w))
            self.buttons[way] = button

    def _top(self) -> float:
        return max(24.0, (self.height() - 120 - _ROW * len(_WAYS)) / 2)

    def resizeEvent(self, event: QResizeEvent) -> None:
        widest = max(button.sizeHint().width() for button in self.buttons.values())
        left = (self.width() - _WIDTH) / 2
        for row, button in enumerate(self.buttons.values()):
            button.setFixedWidth(widest)
            button.move(round(left), round(self._top() + 120 + row * _ROW))

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.width(), self.height(), "bench")
        left, y = (self.width() - _WIDTH) / 2, self._top()
        kit.text(left, y, tr("first.title"), 30, 600)
        kit.text(left, y + 48, tr("first.note"), 16, 400, "ink2", _WIDTH)
        beside = left + next(iter(self.buttons.values())).width() + 24
        for row, way in enumerate(_WAYS):
            top = y + 120 + row * _ROW
            kit.across(left, top - 14, _WIDTH)
            room = left + _WIDTH - beside
            kit.paragraph(beside, top, room, tr(f"first.{way}.note"), 16, 400, "ink2", lines=2)
