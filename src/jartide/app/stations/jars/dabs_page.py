"""Paints from one photo of their dabs beside the card: press on a dab, name it, and go on."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtGui import QColor, QImage
from PySide6.QtWidgets import QLineEdit, QWidget

from jartide.app.elements.photo_marks import Mark, MarkKind
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.label import quiet
from jartide.app.widgets.painted import Painted, to_image
from jartide.app.widgets.photo_view import Pen, PhotoView
from jartide.colour.spaces import srgb_hex
from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.paint.shelf import PHOTO_NOISE, Swatch, SwatchKind
from jartide.photo.dabs import MOST, DabPhoto, open_dabs, read_dab
from jartide.photo.load import load_photo
from jartide.photo.settings import Rect
from jartide.store.jar_records import Tin
from jartide.wording import tr

_SIDE, _CHIP = 396, 48
# Half of the square that a press reads, in shares of the picture's shorter side.
_READ_SHARE = 0.018


@dataclass(slots=True)
class _Dab:
    """One dab that was pressed on: where, what it read, and the field with its name."""

    box: Rect
    lab: Lab
    name: QLineEdit
    line: QWidget


def _take_off(dab: _Dab) -> None:
    dab.line.hide()
    dab.line.deleteLater()


class DabsPage(Painted):
    """Covers the paints while the dabs of one photo are named."""

    foot_changed = Signal()
    closed = Signal()

    def __init__(self, job: OpenJob, parent: QWidget) -> None:
        super().__init__(parent)
        self._ringed = False
        self._job = job
        self._photo: DabPhoto | None = None
        self._image: QImage | None = None
        self._dabs: list[_Dab] = []
        self._view = PhotoView(self)
        self._view.drawn.connect(self._pressed)
        self._lay_out()

    # ---- the photo

    def open_file(self, path: Path) -> None:
        """Read a photo of dabs in the background, then let them be pressed on."""
        self._forget()

        def work(_: Any) -> DabPhoto:
            return open_dabs(load_photo(str(path)))

        self._view.show_message(tr("photos.opening"))
        self._job.in_background("dabs", work, self._show)

    def _forget(self) -> None:
        for dab in self._dabs:
            _take_off(dab)
        self._none.show()
        self._dabs, self._photo, self._image = [], None, None
        self._view.show_photo(None, 1.0, (1.0, 1.0))
        self._view.show_marks(())

    def _show(self, photo: DabPhoto) -> None:
        self._photo, self._image = photo, to_image(photo.code)
        height, width = photo.valid.shape
        self._view.show_photo(self._image, 1.0, (float(width), float(height)))
        self._take_pen()
        self.foot_changed.emit()
        self.update()

    def _take_pen(self) -> None:
        """Let the next dab be pressed on, with pointer or keys."""
        if self._photo is not None and len(self._dabs) < MOST:
            self._view.choose_pen(Pen.SPOT, _READ_SHARE * min(self._photo.valid.shape))
            self._view.setFocus()
        else:
            self._view.choose_pen(Pen.NONE)

    # ---- dabs

    def _pressed(self, mark: Mark) -> None:
        """Read what was pressed on; its name is asked for at once."""
        (x0, y0), (x1, y1) = mark.points
        box = Rect(x=x0, y=y0, w=x1 - x0, h=y1 - y0)
        if self._photo is None:
            return
        try:
            lab = read_dab(self._photo, box)
        except JarTideError as error:
            self._job.events.failed.emit(str(error))
            return
        field = QLineEdit()
        number = len(self._dabs) + 1
        field.setAccessibleName(tr("dabs.name", number=number))
        field.setPlaceholderText(tr("dabs.name", number=number))
        field.returnPressed.connect(self._take_pen)
        field.textChanged.connect(lambda _: self.foot_changed.emit())
        line = QWidget()
        beside = row(line, gap=12)
        beside.addWidget(_Chip(lab))
        beside.addWidget(field, 1)
        self._list.addWidget(line)
        self._none.hide()
        self._dabs.append(_Dab(box=box, lab=lab, name=field, line=line))
        line.show()
        field.setFocus()
        self._show_marks()
        self.foot_changed.emit()

    def _show_marks(self) -> None:
        marks = [
            Mark(key=f"dab {number}", kind=MarkKind.BOX,
                 points=((d.box.x, d.box.y), (d.box.x + d.box.w, d.box.y + d.box.h)))
            for number, d in enumerate(self._dabs)
        ]  # fmt: skip
        self._view.show_marks(tuple(marks))
        self.update()

    def take_back(self) -> None:
        """Take the last dab off."""
        _take_off(self._dabs.pop())
        self._none.setVisible(not self._dabs)
        self._show_marks()
        self._take_pen()
        self.foot_changed.emit()

    def tins(self) -> list[Tin]:
        """Return a new tin for every dab that has a name."""
        first = len(self._job.records.tins())
        named = [(dab, dab.name.text().strip()) for dab in self._dabs]
        return [
            Tin(name=name, position=first + place,
                swatches=(Swatch(kind=SwatchKind.MASSTONE, lab=dab.lab, noise=PHOTO_NOISE,
                                 source=Source.PHOTO),))
            for place, (dab, name) in enumerate((d, n) for d, n in named if n)
        ]  # fmt: skip

    def keep(self) -> None:
        """Put the named paints on the shelf, as one undo step."""
        tins = self.tins()
        if tins:
            self._job.records.add(tr("undo.dabs", count=len(tins)), *tins)
            self._forget()
            self.closed.emit()

    def leave(self) -> None:
        """Go back without keeping any."""
        self._forget()
        self.closed.emit()

    def foot_state(self) -> FootState:
        """Return what the foot says while dabs are named."""
        count = len(self.tins())
        actions = [Action(text=tr("dabs.leave"), run=self.leave)]
        if self._dabs:
            actions.append(Action(text=tr("dabs.back"), run=self.take_back))
        keep = Action(text=tr("dabs.keep", count=count), run=self.keep, primary=True,
                      enabled=count > 0)  # fmt: skip
        return FootState(text=tr("dabs.state"), note=tr("dabs.note"), actions=(*actions, keep))

    # ---- layout

    def _lay_out(self) -> None:
        taken = column(margins=(24, 16, 24, 16), gap=18)
        taken.addWidget(Heading(tr("dabs.title"), 20, 600, tr("dabs.how")))
        taken.addWidget(self._view, 1)
        side = Ground("sheet", "left")
        side.setFixedWidth(px(_SIDE))
        named = column(side, (20, 16, 24, 8), 12)
        named.addWidget(Heading(tr("dabs.list"), 20, 600))
        self._none = quiet(tr("dabs.none"))
        named.addWidget(self._none)
        self._list = column(gap=10)
        named.addLayout(self._list)
        named.addStretch(1)
        whole = row(self)
        whole.addLayout(taken, 1)
        whole.addWidget(side)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")


class _Chip(Painted):
    """The colour a dab read."""

    def __init__(self, lab: Lab) -> None:
        super().__init__()
        self._shade = QColor(srgb_hex(lab))
        self.setFixedSize(px(_CHIP), px(_CHIP))

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, _CHIP, _CHIP, self._shade)
