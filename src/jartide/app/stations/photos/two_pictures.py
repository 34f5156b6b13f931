"""The photo as taken, and what is made of it, beside each other."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.flow import Flow
from jartide.app.widgets.ground import column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.photo_view import PhotoView
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.job.flat import Flat
from jartide.photo.layout import SquaredBy
from jartide.wording import tr

# Of the room for both, what the photo as taken has at most, per cent.
_TAKEN_MOST = 66


class TwoPictures(QWidget):
    """Both pictures under their headings; what the photo is for stands below the one as taken."""

    def __init__(self, uses: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.view = PhotoView(self)
        self.pane = SurfacePane(self)
        self.pane.setAccessibleName(tr("photos.squared"))
        self.before = ChoiceRow([tr("photos.after"), tr("photos.before")], tr("photos.shown"), self)
        self.use = ChoiceRow([tr(f"use.{u}") for u in uses], tr("photos.use"), self, gap=16)
        self._taken, self._made = Heading(), Heading(note_right=True)
        self._use_words = Heading(tr("photos.use"), 16, 400)
        self._use_words.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        taken = column(gap=10)
        taken.addWidget(self._taken)
        taken.addWidget(self.view, 1)
        use = Flow(gap=14)
        use.addWidget(self._use_words)
        use.addWidget(self.use)
        taken.addLayout(use)
        made = column(gap=10)
        made.addWidget(self._made)
        made.addWidget(self.pane, 1)
        made.addWidget(self.before)
        self._both = row(self, gap=24)
        self._both.addLayout(taken)
        self._both.addLayout(made)

    def share_room(self) -> None:
        """Give each the width its shape asks for."""
        shape = self.view.aspect()
        share = min(round(100 * shape / (shape + self.pane.aspect())), _TAKEN_MOST)
        self._both.setStretch(0, share)
        self._both.setStretch(1, 100 - share)

    def ask_use(self, asked: bool) -> None:
        """Show what the photo is for, or nothing: a board's photo is its board's."""
        self.use.setVisible(asked)
        self._use_words.setVisible(asked)

    def say(self, hint: str, flat: Flat | None) -> None:
        """Say over each picture what it is; `hint` is what can be done with the photo."""
        size = ""
        if flat is not None and flat.mm_per_px is not None:
            height, width = flat.code.shape[:2]
            size = f"{width * flat.mm_per_px:.0f} × {height * flat.mm_per_px:.0f} mm"
        self._taken.say(tr("photos.as_taken"), hint)
        squared = flat is None or flat.prepared.layout.squared_by is not SquaredBy.NOTHING
        self._made.say(tr("photos.squared" if squared else "photos.unsquared"), size)
