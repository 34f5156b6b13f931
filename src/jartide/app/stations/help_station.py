"""Help: every topic at the left, the chosen text beside it; opens where it was asked from."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent, QTextBlockFormat, QTextCursor
from PySide6.QtWidgets import QTextBrowser, QWidget

from jartide.app.kit import Kit
from jartide.app.stations.base import Station
from jartide.app.theme import font
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.app.widgets.painted import current_theme
from jartide.help_texts import Section, help_sections, section_of
from jartide.job.open_job import OpenJob
from jartide.wording import chosen_language, tr

_LIST = 336
_TEXT = 760


class HelpStation(Station):
    """Shows the help's sections; the same texts stand in the guide of the documentation."""

    left = Signal()
    guide_wanted = Signal()
    settings_wanted = Signal()

    name = "help"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._sections: list[Section | None] = []
        self._shown: Section | None = None
        self.list = Ledger(tr("help.topics"), self)
        self.list.chosen.connect(self._chosen)
        self.text = QTextBrowser(self)
        self.text.setFont(font(17))
        self.text.setOpenLinks(False)
        self.text.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.text.setAccessibleName(tr("help.text"))
        rows = []
        topic = ""
        for section in help_sections(chosen_language()):
            if section.topic != topic:
                topic = section.topic
                rows.append(LedgerRow(title=topic, head=True))
                self._sections.append(None)
            rows.append(LedgerRow(title=section.title))
            self._sections.append(section)
        self._rows = rows
        self.list.show_rows(rows, 1)

    @property
    def shown(self) -> Section | None:
        """The section that is open."""
        return self._shown

    def open_at(self, key: str) -> None:
        """Show the section that explains a screen or a number; the first one where none does."""
        section = section_of(key, chosen_language())
        index = self._sections.index(section) if section in self._sections else 1
        self.list.show_rows(self._rows, index)
        self._chosen(index)

    def _chosen(self, index: int) -> None:
        section = self._sections[index]
        if section is None:
            return
        self._shown = section
        self._fill()
        self.foot_changed.emit()

    def refresh(self) -> None:
        if self._shown is None:
            self.open_at("jobs")
        self._fill()

    def _fill(self) -> None:
        if self._shown is None:
            return
        theme = current_theme()
        self.text.setStyleSheet(
            f"QTextBrowser {{ background: {theme.bench.name()}; color: {theme.ink.name()}; }}"
        )
        self.text.setMarkdown(f"## {self._shown.title}\n\n{self._shown.text}")
        self._space()
        self.text.verticalScrollBar().setValue(0)

    def _space(self) -> None:
        """Give lines and paragraphs the room that plain Markdown has none of."""
        block = self.text.document().begin()
        while block.isValid():
            shape = QTextBlockFormat(block.blockFormat())
            shape.setBottomMargin(6 if block.textList() is not None else 12)
            shape.setLineHeight(125, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)
            QTextCursor(block).setBlockFormat(shape)
            block = block.next()

    def foot_state(self) -> FootState:
        words = "" if self._shown is None else tr("help.shown", title=self._shown.title)
        return FootState(
            text=words,
            note=tr("help.note"),
            actions=(
                Action(text=tr("settings.open"), run=self.settings_wanted.emit),
                Action(text=tr("first.guide"), run=self.guide_wanted.emit),
                Action(text=tr("help.back"), run=self.left.emit, primary=True),
            ),
        )

    def escape(self) -> bool:
        self.left.emit()
        return True

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.list.setGeometry(20, 12, _LIST - 40, self.height() - 20)
        room = self.width() - _LIST - 48
        self.text.setGeometry(_LIST + 24, 16, min(room, _TEXT), self.height() - 24)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.width(), self.height(), "bench")
        kit.fill(0, 0, _LIST, self.height(), "sheet")
        kit.upright(_LIST, 0, self.height())
