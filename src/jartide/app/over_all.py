"""What covers the whole screen for a while, seen from afar; the window closes it again."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtWidgets import QWidget

from jartide.app.widgets.painted import Painted


class OverAll(Painted):
    """Lies over a window that is full screen meanwhile, and follows its size."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._ringed = False
        self._was_full = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        window.installEventFilter(self)
        self.hide()

    def show_now(self) -> None:
        """Show what there is now."""

    def open(self) -> None:
        """Cover the window, which fills the screen."""
        window = self.window()
        self._was_full = window.isFullScreen()
        window.showFullScreen()
        self.setGeometry(window.rect())
        self.show_now()
        self.show()
        self.raise_()
        self.setFocus()

    def close_again(self) -> None:
        """Leave the screen as it was."""
        self.hide()
        if not self._was_full:
            self.window().showNormal()

    def toggle(self) -> None:
        """Open, or close when it is open."""
        self.close_again() if self.isVisible() else self.open()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and self.isVisible():
            self.setGeometry(self.window().rect())
        return False
