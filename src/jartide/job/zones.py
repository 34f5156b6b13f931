"""What the painter does with the zones of the target, turned into changes that can be undone."""

from __future__ import annotations

from dataclasses import replace

from jartide.families import family_named
from jartide.job.events import Event
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.reading.suggest import suggest_zones
from jartide.reading.zones import Zone, ZoneKind, edge_zone
from jartide.wording import tr


class Zones:
    """Changes the zones of the target's photo.

    Attributes
    ----------
    refused : one sentence, why nothing was changed
    """

    def __init__(self, records: Records, readings: Readings) -> None:
        self._records, self._readings = records, readings
        self.refused = Event()

    def change(self, zones: tuple[Zone, ...], words: str) -> None:
        """Put other zones in place of those there are; `words` name the undo step."""
        target = self._readings.target()
        if target is not None:
            self._records.change(words, [target], [replace(target, zones=zones)])

    def take_edges(self) -> None:
        """Add the band along all edges."""
        self._add(edge_zone())

    def draw(self, box: tuple[float, float, float, float]) -> None:
        """Add a box: left, top, right, bottom as shares of the surface."""
        left, top, right, bottom = box
        ring = ((left, top), (right, top), (right, bottom), (left, bottom))
        self._add(Zone(kind=ZoneKind.FIELD, outlines=(ring,)))

    def suggest(self) -> None:
        """Add the zones the layers speak for."""
        target = self._readings.target()
        analysis = None if target is None else self._readings.analysis(target)
        if analysis is None:
            return
        found = suggest_zones(analysis.layers, family_named(analysis.reading.family))
        if found:
            self._add(*found)
        else:
            self.refused.emit(tr("zones.none_found"))

    def _add(self, *zones: Zone) -> None:
        target = self._readings.target()
        if target is not None:
            self.change((*target.zones, *zones), tr("undo.zone_added"))
