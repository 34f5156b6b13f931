"""A board divided into fields: each is compared with the target by itself."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.boards.compare import compare
from jartide.boards.result import Comparison
from jartide.reading.result import Reading, ZoneReading


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldVerdict:
    """One field against the target; `share` of the board it takes."""

    name: str
    share: float
    comparison: Comparison


def judge_fields(
    target: Reading, board: Reading, viewing_m: float, tolerance: float
) -> tuple[FieldVerdict, ...]:
    """Return the comparison of every field of a board, nearest to the target first."""
    found = [
        FieldVerdict(
            name=zone.name,
            share=zone.share,
            comparison=compare(target, field_reading(board, zone), viewing_m, tolerance),
        )
        for zone in board.zones
    ]
    return tuple(sorted(found, key=lambda field: field.comparison.likely_distance))


def field_reading(board: Reading, zone: ZoneReading) -> Reading:
    """Return a field as a reading of its own: the board's paints in the field's shares."""
    if zone.layers:
        layers = zone.layers
    else:
        layers = tuple(
            replace(layer, coverage=cover, coverage_painted=cover)
            for layer, cover in zip(board.layers, zone.coverages, strict=True)
            if (cover.value or 0.0) > 0
        )
    # The whole board's colours are no measure of one field.
    return replace(board, layers=layers, pattern=zone.pattern, zones=(), colours=None)
