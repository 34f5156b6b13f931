"""The base of the pages that open over a station: words, what is shown, a column of controls."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px, text_scale
from jartide.app.photo_files import Take, ask_photos
from jartide.app.widgets.control_column import ControlColumn
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ground import Ground, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.label import quiet
from jartide.app.widgets.painted import Painted
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.wording import tr

SIDE = 300
_GAP = 24
# What a page shows at least, units; in a lower window its station scrolls.
_LEAST = QSize(180, 180)


class Side(ControlColumn):
    """The controls of one page, made by the page itself."""

    def __init__(self, make: Callable[[Side], None], parent: QWidget | None = None) -> None:
        self._make = make
        super().__init__(parent)

    def build(self) -> None:
        self._make(self)


class StationPage(Painted):
    """One page over a station; `show` fills it from what the document holds."""

    foot_changed = Signal()
    name = ""

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = False
        self.job = job
        self._scroll = QScrollArea(self)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # The fields in it are reached by themselves, and bring themselves into view.
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._side = Side(self.build_side)
        self._scroll.setWidget(self._side)
        self._page_title = Heading(size=24, weight=600)
        self._page_note = quiet()
        self._body: list[QWidget] = []

    # ---- for subclasses

    def build_side(self, side: Side) -> None:
        """Make the controls; called once."""

    def title(self) -> str:
        """Return the page's heading."""
        return tr(f"page.{self.name}")

    def note(self) -> str:
        """Return the line below it."""
        return tr(f"page.{self.name}.note")

    def show_now(self) -> None:
        """Show what there is now."""

    def foot_actions(self) -> tuple[Action, ...]:
        """Return the page's own buttons of the foot."""
        return ()

    # ---- for the station

    def retitle(self) -> None:
        """Show the page's words as they are now."""
        self._page_title.say(self.title())
        self._page_note.setText(self.note())

    def showEvent(self, event: QShowEvent) -> None:
        self.retitle()

    def try_to(self, run: Callable[[], None]) -> None:
        """Do what may be refused; the reason is said in the foot."""
        try:
            run()
        except JarTideError as error:
            self.job.events.failed.emit(str(error))

    def ask_photos(self, take: Take) -> None:
        """Ask for photo files and hand each one on."""
        ask_photos(self, take)

    def fill_body(self, body: QHBoxLayout) -> None:
        """Put the page's own widgets into the body; called once, when they are made."""
        for widget in self._body:
            body.addWidget(widget, 1)

    def lay_out(self, *body: QWidget) -> None:
        """Lay the page out: its words, what it shows, and its controls at the side."""
        self._body = list(body)
        for widget in body:
            widget.setMinimumSize(widget.minimumSize().expandedTo(_LEAST * text_scale()))
        head = Ground("sheet", "bottom")
        words = column(head, (24, 14, 24, 12), 6)
        words.addWidget(self._page_title)
        words.addWidget(self._page_note)
        side = Ground("sheet", "left")
        controls = column(side, (16, 12, 8, 8))
        controls.addWidget(self._scroll)
        self._scroll.setFixedWidth(px(SIDE + 16))
        whole = column(self)
        whole.addWidget(head)
        below = row()
        whole.addLayout(below, 1)
        room = row(margins=(24, 12, 8, 12), gap=_GAP)
        self.fill_body(room)
        below.addLayout(room, 1)
        below.addWidget(side)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")
