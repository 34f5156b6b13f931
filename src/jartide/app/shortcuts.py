"""The list of all keys, laid over the window with F1."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_KEYS = (
    "stations",
    "jobs",
    "arrows",
    "nudge",
    "shift",
    "next_mark",
    "primary",
    "space",
    "open",
    "paste",
    "undo",
    "redo",
    "escape",
    "bench",
    "full",
    "keys",
    "quit",
)


class ShortcutList(Painted):
    """Shows every key and what it does; a press or Escape closes it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._ringed = False
        words = "; ".join(f"{tr(f'key.{k}')}: {tr(f'key.{k}.does')}" for k in _KEYS)
        reachable(self, f"{tr('keys.title')}. {words}")
        parent.installEventFilter(self)
        self.hide()

    def toggle(self) -> None:
        """Show the list, or hide it."""
        self.setVisible(not self.isVisible())
        if self.isVisible():
            self._fill()
            self.raise_()
            self.setFocus()

    def _fill(self) -> None:
        parent = self.parentWidget()
        assert parent is not None
        self.setGeometry(parent.rect())

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() is QEvent.Type.Resize:
            self._fill()
        return False

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.hide()

    def paint(self, kit: Kit) -> None:
        w, h = 860.0, 80 + 44.0 * ((len(_KEYS) + 1) // 2) + 56
        x, y = (self.width() - w) / 2, (self.height() - h) / 2
        kit.fill(x, y, w, h, "sheet")
        kit.box(x, y, w, h, "edge", 1.5)
        kit.text(x + 32, y + 24, tr("keys.title"), 24, 600)
        half = (len(_KEYS) + 1) // 2
        for number, key in enumerate(_KEYS):
            column, row = divmod(number, half)
            left, top = x + 32 + column * 406, y + 80 + row * 44
            kit.across(left, top - 6, 390)
            kit.text(left, top + 4, tr(f"key.{key}"), 16, 600, "ink", 130)
            kit.text(left + 140, top + 5, tr(f"key.{key}.does"), 15, 400, "ink2", 250)
        kit.text(x + 32, y + h - 42, tr("keys.close"), 15, 400, "ink3")
