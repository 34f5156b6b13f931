"""The column at the right of Reading: the family, the pattern's numbers, what stands beside."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QScrollArea, QWidget

from jartide.app.measure import px
from jartide.app.stations.reading.views import pattern_rows
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.ground import column, row
from jartide.app.widgets.pattern_view import PatternView
from jartide.families import families
from jartide.job.beside import Beside
from jartide.reading.result import Reading
from jartide.wording import tr

_FAMILY = 180
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
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        row(inner, (0, 0, _BAR, 0)).addWidget(self.view)
        self._scroll.setWidget(inner)
        self.family = DropDown()
        self.family.setFixedWidth(px(_FAMILY))
        self.family.setAccessibleName(tr("jobs.field.family"))
        for family in families():
            self.family.addItem(tr(f"family.{family}"), family)
        self.family.activated.connect(lambda: self.family_wanted.emit(self.family.currentData()))
        self.beside = DropDown(self)
        self.beside.setAccessibleName(tr("beside_what.name"))
        self.beside.activated.connect(
            lambda: self.beside_wanted.emit(self.beside.currentData() or "")
        )
        whole = column(self, gap=8)
        whole.addWidget(self._scroll, 1)
        below = row(margins=(0, 0, _BAR, 4))
        below.addWidget(self.beside)
        whole.addLayout(below)

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

    def _number_chosen(self, path: str) -> None:
        if path:
            top = round(self.view.row_top(path))
            self._scroll.ensureVisible(0, px(top + 26), 0, px(60))
        self.number_chosen.emit(path)
