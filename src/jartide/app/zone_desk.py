"""What the painter does with the zones of the target, turned into changes that can be undone."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.reading.zones import Zone


class ZoneDesk(QObject):
    """Changes the zones of the target's photo."""

    refused = Signal(str)  # one sentence: why nothing was changed

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._document = document

    def change(self, zones: tuple[Zone, ...], words: str) -> None:
        """Put other zones in place of those there are; `words` name the undo step."""
        target = self._document.target()
        if target is not None:
            self._document.change(words, [target], [replace(target, zones=zones)])

    def take_edges(self) -> None:
        """Add the band along all edges."""
        from jartide.reading.zones import edge_zone

        self._add(edge_zone())

    def draw(self, box: tuple[float, float, float, float]) -> None:
        """Add a box: left, top, right, bottom as shares of the surface."""
        from jartide.reading.zones import Zone, ZoneKind

        left, top, right, bottom = box
        ring = ((left, top), (right, top), (right, bottom), (left, bottom))
        self._add(Zone(kind=ZoneKind.FIELD, outlines=(ring,)))

    def suggest(self) -> None:
        """Add the zones the layers speak for."""
        from jartide.families import family_named
        from jartide.reading.suggest import suggest_zones

        target = self._document.target()
        analysis = None if target is None else self._document.analysis(target)
        if analysis is None:
            return
        found = suggest_zones(analysis.layers, family_named(analysis.reading.family))
        if found:
            self._add(*found)
        else:
            self.refused.emit(tr("zones.none_found"))

    def _add(self, *zones: Zone) -> None:
        target = self._document.target()
        if target is not None:
            self.change((*target.zones, *zones), tr("undo.zone_added"))
