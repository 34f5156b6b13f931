"""The text of one section of the help, with pictures of the screen it is about."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage, QTextBlockFormat, QTextCursor, QTextDocument
from PySide6.QtWidgets import QTextBrowser, QWidget

from jartide.app.measure import px
from jartide.app.theme import font
from jartide.app.widgets.painted import current_theme
from jartide.help_texts import Section

_SCHEME = "screen:"
# What the text keeps free at its edges.
_EDGES = 24


class HelpText(QTextBrowser):
    """Shows a section as it is written; nothing in it leads anywhere."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFont(font(px(17)))
        self.setOpenLinks(False)
        self.setFrameShape(QTextBrowser.Shape.NoFrame)

    def show_section(self, section: Section) -> None:
        """Show a section from its beginning."""
        theme = current_theme()
        self.setStyleSheet(
            f"QTextBrowser {{ background: {theme.bench.name()}; color: {theme.ink.name()}; }}"
        )
        self.setMarkdown(f"## {section.title}\n\n{section.text}")
        end = QTextCursor(self.document())
        end.movePosition(QTextCursor.MoveOperation.End)
        for name in section.pictures:
            end.insertBlock()
            end.insertImage(f"{_SCHEME}{name}")
        self._space()
        self.verticalScrollBar().setValue(0)

    def loadResource(self, kind: int, name: QUrl | str) -> Any:
        """Return a shipped picture of a screen, no wider than the text."""
        text = name.toString() if isinstance(name, QUrl) else name
        if kind != QTextDocument.ResourceType.ImageResource.value or not text.startswith(_SCHEME):
            return None
        file = files("jartide").joinpath(f"data/help/pictures/{text.removeprefix(_SCHEME)}.jpg")
        picture = QImage.fromData(file.read_bytes()) if file.is_file() else QImage()
        wide = min(picture.width(), max(self.width() - px(_EDGES), 1))
        return picture.scaledToWidth(wide, Qt.TransformationMode.SmoothTransformation)

    def _space(self) -> None:
        """Give lines and paragraphs the room that plain Markdown has none of."""
        block = self.document().begin()
        while block.isValid():
            shape = QTextBlockFormat(block.blockFormat())
            shape.setBottomMargin(px(6 if block.textList() is not None else 12))
            shape.setLineHeight(125, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)
            QTextCursor(block).setBlockFormat(shape)
            block = block.next()
