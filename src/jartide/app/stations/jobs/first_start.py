"""What an empty workspace offers beside a new job: the guide, the demo job, a job's file."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QSizePolicy, QWidget

from jartide.app.measure import px
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.ground import Ground, Hairline, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.label import quiet
from jartide.wording import tr

_WAYS = ("guide", "demo", "bring")
_WIDTH = 760


class FirstStart(Ground):
    """Three ways to begin, one line each; the foot offers the fourth, an empty job."""

    picked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("bench", parent=parent)
        self.buttons: dict[str, Button] = {}
        words = QWidget()
        words.setMaximumWidth(px(_WIDTH))
        inside = column(words, gap=14)
        inside.addWidget(Heading(tr("first.title"), 30, 600))
        inside.addWidget(quiet(tr("first.note")))
        inside.addSpacing(px(24))
        ways = QGridLayout()
        ways.setHorizontalSpacing(px(24))
        ways.setVerticalSpacing(px(14))
        for place, way in enumerate(_WAYS):
            button = Button(tr(f"first.{way}"), self)
            button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            button.clicked.connect(lambda _=False, w=way: self.picked.emit(w))
            self.buttons[way] = button
            ways.addWidget(Hairline(), 2 * place, 0, 1, 2)
            ways.addWidget(button, 2 * place + 1, 0)
            ways.addWidget(quiet(tr(f"first.{way}.note")), 2 * place + 1, 1)
        ways.setColumnStretch(1, 1)
        inside.addLayout(ways)
        middle = row(margins=(24, 0, 24, 0))
        middle.addStretch(1)
        middle.addWidget(words, 100)
        middle.addStretch(1)
        whole = column(self)
        whole.addStretch(1)
        whole.addLayout(middle)
        whole.addStretch(1)
