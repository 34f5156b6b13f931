"""Words in the window: always taken as they are, whatever a painter or a file calls something."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget

from jartide.app.measure import px
from jartide.app.theme import QUIET, font


class Label(QLabel):
    """Plain words: a name that looks like mark-up loads nothing and hides nothing."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def quiet(text: str = "", size: int = 16) -> Label:
    """Return words that explain: said quietly, on as many lines as they need."""
    made = Label(text)
    made.setFont(font(px(size)))
    made.setForegroundRole(QUIET)
    made.setWordWrap(True)
    return made


def tip(text: str) -> str:
    """Return words as a tip shows them: Qt takes one for mark-up when it looks like it."""
    return f"<span>{escape(text)}</span>" if set(text) & set("<&") else text
