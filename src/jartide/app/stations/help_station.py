"""Help: every topic at the left, the chosen text beside it; opens where it was asked from."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLineEdit, QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.stations.base import Station
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, column, row
from jartide.app.widgets.help_text import HelpText
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.help_texts import Section, help_sections, section_of
from jartide.job.open_job import OpenJob
from jartide.wording import chosen_language, tr

_LIST, _LEAST_LIST = 336, 220
_TEXT, _LEAST_TEXT = 760, 320


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
        self.search = QLineEdit(self)
        self.search.setPlaceholderText(tr("help.search"))
        self.search.setAccessibleName(tr("help.search"))
        self.search.textChanged.connect(lambda _: self._look())
        self.list = Ledger(tr("help.topics"), self)
        self.list.chosen.connect(self._chosen)
        self.text = HelpText(self)
        self.text.setAccessibleName(tr("help.text"))
        self._rows: list[LedgerRow] = []
        self._lay_out()
        self._look()

    @property
    def shown(self) -> Section | None:
        """The section that is open."""
        return self._shown

    def _look(self) -> None:
        """List the sections whose title or text holds every word that is looked for."""
        words = self.search.text().casefold().split()
        self._rows, self._sections = [], []
        topic = ""
        for section in help_sections(chosen_language()):
            said = f"{section.title} {section.text}".casefold()
            if not all(word in said for word in words):
                continue
            if section.topic != topic:
                topic = section.topic
                self._rows.append(LedgerRow(title=topic, head=True))
                self._sections.append(None)
            self._rows.append(LedgerRow(title=section.title))
            self._sections.append(section)
        at = self._sections.index(self._shown) if self._shown in self._sections else 1
        self.list.show_rows(self._rows, at if self._rows else -1, tr("help.nothing"))
        if self._rows and self._shown is not None:
            self._chosen(at)

    def open_at(self, key: str) -> None:
        """Show the section that explains a screen or a number; the first one where none does."""
        self.search.clear()
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
        self.text.show_section(self._shown)

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
        if self.search.text():
            self.search.clear()
        else:
            self.left.emit()
        return True

    def _lay_out(self) -> None:
        topics = Ground("sheet", "right")
        topics.setMinimumWidth(px(_LEAST_LIST))
        topics.setMaximumWidth(px(_LIST))
        listed = column(topics, (20, 12, 20, 8), 8)
        listed.addWidget(self.search)
        listed.addWidget(self.list, 1)
        self.text.setMaximumWidth(px(_TEXT))
        self.text.setMinimumWidth(px(_LEAST_TEXT))
        beside = row(margins=(24, 16, 24, 8))
        beside.addWidget(self.text, 20)
        beside.addStretch(1)
        whole = row(self)
        whole.addWidget(topics, 4)
        whole.addLayout(beside, 8)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")
