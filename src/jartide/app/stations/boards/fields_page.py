"""Fields: one board with and without a pass, thick and thin, tool by tool, each judged alone."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import Side
from jartide.app.stations.boards.pane_page import PanePage
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.ledger import LedgerRow
from jartide.app.widgets.surface_pane import PaneMode
from jartide.boards.fields import judge_fields
from jartide.boards.headline import headline
from jartide.figures import figure
from jartide.job.open_job import OpenJob
from jartide.job.words.numbers import percent_words
from jartide.reading.zones import Zone, ZoneKind
from jartide.wording import say, tr

_HALVES = (
    ((0.0, 0.0, 0.5, 1.0), (0.5, 0.0, 1.0, 1.0)),
    ((0.0, 0.0, 1.0, 0.5), (0.0, 0.5, 1.0, 1.0)),
)


class FieldsPage(PanePage):
    """Draws fields on the board's photo and lists how each stands to the target."""

    name = "fields"

    mode = PaneMode.BOX

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._pane.boxed.connect(lambda box: self._add([box]))
        self._ledger.chosen.connect(self._chosen)

    def build_side(self, side: Side) -> None:
        side.words(tr("fields.how"))
        self._name = side.fields(tr("fields.name"))[0]
        side.button(tr("fields.upright"), lambda: self._add(list(_HALVES[0])))
        side.button(tr("fields.level"), lambda: self._add(list(_HALVES[1])))
        self._without = side.list(tr("fields.without"), self._without_chosen)
        self._remove = side.button(tr("fields.remove"), self._remove_pressed)

    def zones(self) -> tuple[Zone, ...]:
        """Return the fields of the board."""
        return () if self.photo is None else self.photo.zones

    def show_board(self) -> None:
        photo = self.photo
        flat = None if photo is None else self.job.pictures.flat(photo)
        if photo is None or flat is None:
            self.show_code(None, None, tr("photos.opening"))
            self._ledger.show_rows([], -1, tr("fields.none"))
            return
        self.show_code(flat.code, flat.mm_per_px, "")
        rings = [list(ring) for zone in photo.zones for ring in zone.outlines]
        self._pane.show_outlines(rings, self._row)
        self._ledger.show_rows(self._rows(), self._row, tr("fields.none"))
        self._remove.setEnabled(bool(photo.zones))
        self._show_without()

    def _show_without(self) -> None:
        """What the chosen field can have been left without: the passes of the finish."""
        zones = self.zones()
        zone = zones[self._row] if 0 <= self._row < len(zones) else None
        self._without.setEnabled(zone is not None)
        names = dict.fromkeys(
            done.name for b, _ in self.job.records.boards() for done in self.job.boards.passes(b)
        )
        items: list[tuple[str, object]] = [(tr("stages.with_all"), "")]
        items += [(tr("stages.left_out", name=name), name) for name in names]
        fill_list(self._without, items, "" if zone is None else zone.without)

    def _without_chosen(self) -> None:
        photo, name = self.photo, str(self._without.currentData() or "")
        if photo is None or not 0 <= self._row < len(photo.zones):
            return
        zones = list(photo.zones)
        if zones[self._row].without == name:
            return
        zones[self._row] = replace(zones[self._row], without=name)
        changed = replace(photo, zones=tuple(zones))
        self.job.records.change(tr("undo.without"), [photo], [changed])

    def _rows(self) -> list[LedgerRow]:
        photo, finish = self.photo, self.job.finish
        if photo is None or finish is None or not photo.zones:
            return []
        self.job.readings.want(photo)
        target, own = self.job.readings.of_target(), self.job.readings.of(photo)
        if target is None or own is None or not own.zones:
            return [LedgerRow(title=zone.name, right=tr("wall.reading")) for zone in photo.zones]
        fields = self.job.kept.worked_out(
            "fields",
            (photo.id, finish.viewing_m, finish.tolerance),
            lambda: judge_fields(target, own, finish.viewing_m, finish.tolerance),
            target,
            own,
        )
        rows = []
        for place, field in enumerate(fields or ()):
            note = say(headline(field.comparison))
            behind = field.comparison.likely_distance - fields[0].comparison.likely_distance
            steps = (
                tr("fields.best") if place == 0 else tr("stages.further", value=figure(behind, 1))
            )
            rows.append(
                LedgerRow(
                    title=field.name,
                    note=note,
                    right=steps,
                    right_note=tr("fields.share", share=percent_words(field.share)),
                    sign="ready" if place == 0 else "todo",
                )
            )
        return rows

    def _add(self, boxes: list[tuple[float, float, float, float]]) -> None:
        photo = self.photo
        if photo is None:
            return
        named = self._name.text().strip()
        new = []
        for place, (left, top, right, bottom) in enumerate(boxes):
            number = len(photo.zones) + place + 1
            name = named if named and len(boxes) == 1 else tr("fields.named", number=number)
            ring = ((left, top), (right, top), (right, bottom), (left, bottom))
            new.append(Zone(kind=ZoneKind.FIELD, name=name, outlines=(ring,)))
        self._name.clear()
        changed = replace(photo, zones=(*photo.zones, *new))
        self.job.records.change(tr("undo.fields"), [photo], [changed])

    def _chosen(self, index: int) -> None:
        rows = self._ledger.rows
        names = [zone.name for zone in self.zones()]
        self._row = names.index(rows[index].title) if rows[index].title in names else -1
        self.show_board()

    def _remove_pressed(self) -> None:
        photo = self.photo
        if photo is None:
            return
        kept = (
            () if self._row < 0 else tuple(z for n, z in enumerate(photo.zones) if n != self._row)
        )
        self._row = -1
        self.job.records.change(tr("undo.fields_less"), [photo], [replace(photo, zones=kept)])
