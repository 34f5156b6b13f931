"""Buttons that Enter presses as Space does: by themselves they would leave Enter to a dialog."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractButton

from jartide.app.widgets.painted import Drawn

ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


def press_by_enter(button: QAbstractButton, event: QKeyEvent) -> bool:
    """Press a button when a key is Enter alone; False when it is for something else."""
    plain = not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
    if Qt.Key(event.key()) not in ENTER or not plain:
        return False
    if not event.isAutoRepeat():
        button.click()
    return True


class PressedByEnter(QAbstractButton, Drawn):
    """A painted button that Enter presses too."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not press_by_enter(self, event):
            super().keyPressEvent(event)
