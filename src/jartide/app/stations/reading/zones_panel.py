"""Zones of the piece: suggest them, draw them, name them, and see what differs in each."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Signal

from jartide.app.measure import px
from jartide.app.widgets.control_column import ControlColumn, fill_list
from jartide.families import families
from jartide.figures import figure
from jartide.reading.result import Reading, ZoneReading
from jartide.reading.zones import Zone, ZoneKind
from jartide.wording import say, tr


class ZonesPanel(ControlColumn):
    """Lists the zones of the shown photo and asks for changes."""

    zones_wanted = Signal(object, str)  # the new tuple of zones, and the words of the undo step
    asked = Signal(str)  # suggest, draw, edges

    def build(self) -> None:
        self._zones: tuple[Zone, ...] = ()
        self.setMaximumWidth(px(304))
        self.words(tr("zones.note"))
        self.button(tr("zones.suggest"), lambda: self.asked.emit("suggest"))
        self._draw = self.button(tr("zones.draw"), lambda: self.asked.emit("draw"))
        self.button(tr("zones.edges"), lambda: self.asked.emit("edges"))
        with self.group() as self._one:
            self._which = self.list(tr("zones.which"), self._show_zone)
            self._kind = self.list(tr("zones.kind"), self._kind_chosen)
            fill_list(self._kind, [(tr(f"zone.{kind}"), kind) for kind in ZoneKind])
            self._family = self.list(tr("zones.family"), self._family_chosen)
            names = [(tr(f"family.{name}"), name) for name in families()]
            fill_list(self._family, [(tr("zones.same_family"), None), *names])
            self._found = self.words()
            self.button(tr("zones.remove"), self._remove)
        self._reading: Reading | None = None

    def show_zones(self, zones: tuple[Zone, ...], reading: Reading | None) -> None:
        """Show the zones and what was read in them."""
        index = max(self._which.currentIndex(), 0)
        if len(zones) > len(self._zones):
            index = len(zones) - 1
        self._zones, self._reading = zones, reading
        items: list[tuple[str, object]] = [
            (tr("zones.numbered", number=n + 1, kind=tr(f"zone.{zone.kind}")), n)
            for n, zone in enumerate(zones)
        ]
        fill_list(self._which, items, min(index, max(len(zones) - 1, 0)))
        self._one.setVisible(bool(zones))
        self._show_zone()

    @property
    def index(self) -> int:
        """Which zone is chosen."""
        return max(self._which.currentIndex(), 0)

    def _show_zone(self) -> None:
        if not self._zones:
            return
        zone = self._zones[self.index]
        self._kind.setCurrentIndex(max(self._kind.findData(zone.kind), 0))
        self._family.setCurrentIndex(max(self._family.findData(zone.family), 0))
        read = () if self._reading is None else self._reading.zones
        if self._reading is None or len(read) != len(self._zones):
            self._found.setText(tr("zones.reading"))
            return
        self._found.setText(zone_words(read[self.index], self._reading))

    def _kind_chosen(self) -> None:
        self._change(kind=self._kind.currentData())

    def _family_chosen(self) -> None:
        self._change(family=self._family.currentData())

    def _change(self, **changes: object) -> None:
        zones = list(self._zones)
        zones[self.index] = replace(zones[self.index], **changes)  # type: ignore[arg-type]
        self.zones_wanted.emit(tuple(zones), tr("undo.zone"))

    def _remove(self) -> None:
        zones = list(self._zones)
        del zones[self.index]
        self.zones_wanted.emit(tuple(zones), tr("undo.zone_removed"))


def zone_words(zone: ZoneReading, reading: Reading) -> str:
    """Return what differs in a zone from the whole piece, layer by layer."""
    lines = [tr("zones.share", share=figure(100 * zone.share))]
    if zone.layers:
        lines += [
            tr("zones.layer", name=say(layer.name), share=_percent(layer.coverage.value))
            for layer in reversed(zone.layers)
        ]
        return "\n".join(lines)
    for layer, cover in reversed(list(zip(reading.layers, zone.coverages, strict=True))):
        here, whole = _percent(cover.value), _percent(layer.coverage.value)
        lines.append(tr("zones.layer_beside", name=say(layer.name), share=here, whole=whole))
    return "\n".join(lines)


def _percent(share: float | None) -> str:
    return f"{100 * (share or 0):.0f}"
