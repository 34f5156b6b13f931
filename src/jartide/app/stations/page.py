"""The base of the pages that open over a station: words, what is shown, a column of controls."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from jartide.app.kit import Kit
from jartide.app.photo_files import Take, ask_photos
from jartide.app.widgets.control_column import ControlColumn
from jartide.app.widgets.foot import Action
from jartide.app.widgets.painted import Painted
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.wording import tr

SIDE, HEAD = 300, 92


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

    def try_to(self, run: Callable[[], None]) -> None:
        """Do what may be refused; the reason is said in the foot."""
        try:
            run()
        except JarTideError as error:
            self.job.events.failed.emit(str(error))

    def ask_photos(self, take: Take) -> None:
        """Ask for photo files and hand each one on."""
        ask_photos(self, take)

    def body_rect(self) -> tuple[int, int, int, int]:
        """Return where the body lies: left, top, width, height."""
        return 24, HEAD + 12, self.width() - 24 - SIDE - 48, self.height() - HEAD - 24

    def place(self) -> None:
        """Put the body's widgets where they belong; the first one takes it all."""
        if self._body:
            self._body[0].setGeometry(*self.body_rect())

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._scroll.setGeometry(
            self.width() - SIDE - 24, HEAD + 12, SIDE + 16, self.height() - HEAD - 20
        )
        self.place()

    def paint(self, kit: Kit) -> None:
        w, h = self.width(), self.height()
        kit.fill(0, 0, w, h, "bench")
        kit.fill(0, 0, w, HEAD, "sheet")
        kit.across(0, HEAD, w)
        kit.fill(w - SIDE - 40, HEAD + 1, SIDE + 40, h, "sheet")
        kit.upright(w - SIDE - 40, HEAD, h - HEAD)
        kit.text(24, 14, self.title(), 24, 600, "ink", w - 48)
        kit.text(24, 52, self.note(), 16, 400, "ink2", w - 48)
