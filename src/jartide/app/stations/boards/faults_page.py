"""Faults of the work: named by the painter, left out of the reading, each with its mend."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import Side
from jartide.app.stations.boards.pane_page import PanePage
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.ledger import LedgerRow
from jartide.app.widgets.surface_pane import PaneMode
from jartide.boards.faults import FaultKind, fault_mend, fault_name
from jartide.job.open_job import OpenJob
from jartide.photo.settings import Polygon
from jartide.store.records import Fault
from jartide.wording import say, tr


class FaultsPage(PanePage):
    """Draws boxes round faults on the board's photo and lists their mends."""

    name = "faults"

    mode = PaneMode.BOX
    share = 0.6

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._pane.boxed.connect(self._boxed)
        self._ledger.chosen.connect(self._chosen)

    def build_side(self, side: Side) -> None:
        side.words(tr("faults.how"))
        self._kind = side.list(tr("faults.kind"))
        fill_list(self._kind, [(say(fault_name(kind)), kind.value) for kind in FaultKind])
        self._remove = side.button(tr("faults.remove"), self._remove_pressed)

    def show_board(self) -> None:
        photo = self.photo
        flat = None if photo is None else self.job.pictures.flat(photo)
        if photo is None or flat is None:
            self.show_code(None, None, tr("photos.opening"))
            self._ledger.show_rows([], -1, tr("faults.none"))
            return
        self.show_code(flat.code, flat.mm_per_px, "")
        rings = []
        for fault in photo.faults:
            points = getattr(fault.shape, "points", ())
            ring = [flat.flat_px(point) for point in points]
            height, width = flat.code.shape[:2]
            rings.append([(p[0] / width, p[1] / height) for p in ring if p is not None])
        self._pane.show_outlines(rings, self._row)
        rows = []
        for fault in photo.faults:
            kind = FaultKind(fault.kind)
            rows.append(LedgerRow(title=say(fault_name(kind)), note=say(fault_mend(kind))))
        self._ledger.show_rows(rows, self._row, tr("faults.none"))
        self._remove.setEnabled(0 <= self._row < len(rows))

    def _boxed(self, box: tuple[float, float, float, float]) -> None:
        photo = self.photo
        flat = None if photo is None else self.job.pictures.flat(photo)
        if photo is None or flat is None:
            return
        left, top, right, bottom = box
        corners = ((left, top), (right, top), (right, bottom), (left, bottom))
        points = tuple(flat.photo_px(corner) for corner in corners)
        shape = Polygon(points=points)
        fault = Fault(kind=str(self._kind.currentData()), shape=shape)
        # What is named is left out of the reading as well: one change, one undo.
        settings = replace(photo.settings, leave_out=(*photo.settings.leave_out, shape))
        new = replace(photo, faults=(*photo.faults, fault), settings=settings)
        self.job.records.change(tr("undo.fault"), [photo], [new])
        self.job.pictures.want(new)

    def _chosen(self, index: int) -> None:
        self._row = index
        self.show_board()

    def _remove_pressed(self) -> None:
        photo = self.photo
        if photo is None or not 0 <= self._row < len(photo.faults):
            return
        gone = photo.faults[self._row]
        self._row = -1
        kept = tuple(f for f in photo.faults if f is not gone)
        leave_out = tuple(s for s in photo.settings.leave_out if s != gone.shape)
        settings = replace(photo.settings, leave_out=leave_out)
        new = replace(photo, faults=kept, settings=settings)
        self.job.records.change(tr("undo.fault_less"), [photo], [new])
