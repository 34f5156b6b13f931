"""Notices on the desktop, by way of Qt; where the desktop shows none, the window says it alone."""

from __future__ import annotations

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication, QSystemTrayIcon

_SHOWN_MS = 20_000


class Notices(QObject):
    """Tells one thing at a time; the icon is there only while something is told."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._icon: QSystemTrayIcon | None = None
        self.told: list[str] = []

    def tell(self, title: str, words: str) -> None:
        """Show a notice."""
        self.told.append(words)
        if not QSystemTrayIcon.isSystemTrayAvailable() or not QSystemTrayIcon.supportsMessages():
            return
        if self._icon is None:
            self._icon = QSystemTrayIcon(QApplication.windowIcon(), self)
            self._icon.messageClicked.connect(self._icon.hide)
        self._icon.show()
        self._icon.showMessage(title, words, QSystemTrayIcon.MessageIcon.Information, _SHOWN_MS)
