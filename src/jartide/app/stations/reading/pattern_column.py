"""The column at the right of Reading: the family, the pattern's numbers, what stands beside."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from jartide.app.stations.reading.views import pattern_rows
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.pattern_view import PatternView
from jartide.families import families
from jartide.job.beside import Beside
from jartide.reading.result import Reading
from jartide.wording import tr

_FAMILY_W, _FAMILY_H = 180, 42
_BESIDE_H = 42
# Room at the right edge for the scroll bar.
_BAR = 12


class PatternColumn(QWidget):
    """Shows a reading's pattern, and asks for its places, its family or another beside it."""

    family_wanted = Signal(str)
    number_chosen = Signal(str)  # path of the number whose places are wanted; empty for none
    beside_wanted = Signal(str)  # key of what is to stand beside; empty for nothing

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.view = PatternView()
        self.view.number_chosen.connect(self._number_chosen)
        self._scroll = QScrollArea(self)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setWidget(self.view)
        self._scroll.setAlignment(Qt.AlignmentFlag.AlignLeft)
        self.family = DropDown(self)
        self.family.setAccessibleName(tr("jobs.field.family"))
        for family in families():
            self.family.addItem(tr(f"family.{family}"), family)
        self.family.activated.connect(lambda: self.family_wanted.emit(self.family.currentData()))
        self.beside = DropDown(self)
        self.beside.setAccessibleName(tr("beside_what.name"))
        self.beside.activated.connect(
            lambda: self.beside_wanted.emit(self.beside.currentData() or "")
        )

    def show_reading(
        self, reading: Reading | None, family: str, choices: list[Beside], chosen: Beside | None
    ) -> None:
        """Show a reading's pattern; `choices` are what can stand beside, `chosen` what does."""
        self.view.show_pattern(
            None if reading is None else pattern_rows(reading),
            None if chosen is None else pattern_rows(chosen.reading),
        )
        self.family.setCurrentIndex(self.family.findData(family))
        items: list[tuple[str, object]] = [(tr("beside_what.nothing"), "")]
        items += [(choice.words, choice.key) for choice in choices]
        fill_list(self.beside, items, "" if chosen is None else chosen.key)
        self.beside.setVisible(bool(choices))
        self._lay_out()

    def _number_chosen(self, path: str) -> None:
        if path:
            top = round(self.view.row_top(path))
            self._scroll.ensureVisible(0, top + 26, 0, 60)
        self.number_chosen.emit(path)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._lay_out()

    def _lay_out(self) -> None:
        w, h = self.width(), self.height()
        self.family.setGeometry(w - _BAR - _FAMILY_W, 10, _FAMILY_W, _FAMILY_H)
        room = _BESIDE_H + 16 if self.beside.isVisibleTo(self) else 0
        self.view.setMaximumWidth(w - _BAR)
        self._scroll.setGeometry(0, 66, w, h - 66 - room - 8)
        self.beside.setGeometry(0, h - _BESIDE_H - 12, w - _BAR, _BESIDE_H)
