"""The column beside the pictures: every step with how it stands, or the panel of one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QScrollArea, QWidget

from jartide.app.measure import px
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.flow import Flow
from jartide.app.widgets.ground import column
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.steps_list import Step, StepRow
from jartide.wording import tr

_WIDE = 282
_BAR = 10


class StepsColumn(QWidget):
    """Tells which step is wanted; "" leads back to all of them."""

    picked = Signal(str)

    def __init__(self, names: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(px(_WIDE))
        self.rows = {name: StepRow(self) for name in names}
        self.back = Button(tr("photos.all_steps"), self)
        self.back.clicked.connect(lambda _=False: self.picked.emit(""))
        self._heading = Heading()
        listed = QWidget()
        rows = column(listed, (0, 0, _BAR, 0))
        for name, one in self.rows.items():
            rows.addWidget(one)
            one.clicked.connect(lambda _=False, n=name: self.picked.emit(n))
        rows.addStretch(1)
        self._list = _scrolled(listed)
        self._panels: dict[str, QScrollArea] = {}
        head = Flow(gap=8)
        head.addWidget(self._heading)
        head.addWidget(self.back)
        self._column = column(self, gap=4)
        self._column.addLayout(head)
        self._column.addWidget(self._list, 1)

    def add_panel(self, name: str, panel: QWidget) -> None:
        """Take a step's panel; it is shown when the step is."""
        self._panels[name] = _scrolled(panel)
        self._panels[name].hide()
        self._column.addWidget(self._panels[name], 1)

    def show_steps(self, steps: Mapping[str, Step]) -> None:
        """Show how each step stands; those of which nothing is told are not for this photo."""
        for name, one in self.rows.items():
            one.setVisible(name in steps)
            if name in steps:
                one.show_step(steps[name])

    def open(self, name: str, heading: str) -> None:
        """Show one step's panel under its heading; the list of all for ""."""
        self._heading.say(heading)
        self._list.setVisible(not name)
        self.back.setVisible(bool(name))
        for one, panel in self._panels.items():
            panel.setVisible(one == name)


def _scrolled(inner: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(inner)
    return area
