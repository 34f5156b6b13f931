"""What one difference says of another: a cause is mended, what follows from it is not.

Lines too wide cover too much; a pattern of the wrong size, or one that is made anew, has other
numbers, lengths and covers with it. Mended one by one they would undo each other.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from jartide.boards.result import Difference
from jartide.families import family_named
from jartide.reading.result import LINE_ROLES, Reading

# Made in one go by a comb, a coat, a fold or a stamp: of the wrong size it is made anew.
MADE_ANEW = (
    "common.scale", "cells.size_mm", "weave.warp_per_cm", "weave.weft_per_cm", "grain.spacing_mm",
)  # fmt: skip
# A layer's colour that moved by so much more than all colours did has something of its own, just
# visible differences.
_OF_ITS_OWN_JND = 2.0


def cause_of(
    difference: Difference, target: Reading, differences: Sequence[Difference]
) -> Difference | None:
    """Return the sure difference that a sure one follows from; None where it stands alone."""
    sure = {str(d.quantity): d for d in differences if d.significant}
    measure = difference.quantity.measure
    if measure.path in MADE_ANEW:
        # Of two sizes that ask for a fresh board the first to be seen is said.
        first = next(d for d in differences if d.significant and d.quantity.path in MADE_ANEW)
        return None if first.quantity.measure.block == measure.block else first
    if measure.block == "common":
        return None
    for path in MADE_ANEW:
        if path in sure and _is_of_structure(difference, target):
            return sure[path]
    if measure.path == "lab":
        common = sure.get("common.lab")
        within = common is not None and abs(difference.jnd) <= abs(common.jnd) + _OF_ITS_OWN_JND
        return common if within else None
    if measure.path == "lines.contrast_L":
        return _line_colour(sure.values(), target)
    if measure.path == "coverage" and _is_line(difference, target):
        for path in ("lines.width_mm", "lines.length_mm_per_cm2"):
            if path in sure and _same_way(difference, sure[path]):
                return sure[path]
    if measure.path in ("lines.spacing_mm", "lines.junctions_per_dm2"):
        return sure.get("lines.length_mm_per_cm2")
    if measure.path.endswith(".count_per_dm2"):
        return _cover(sure.values(), target, _ROLES[measure.block], difference.delta)
    if difference.quantity == "layers[0].coverage":
        # The ground shows where nothing lies over it.
        return _cover(sure.values(), target, None, -(difference.delta or 0.0))
    if measure.path in ("directionality", "direction_spread_deg", "direction_deg"):
        runs = sure.get("patches.runs_down")
        return runs or (sure.get("direction_deg") if measure.path != "direction_deg" else None)
    if measure.path == "edges_mm_per_cm2":
        return next((d for d in sure.values() if d.quantity.path in _BRING_EDGES), None)
    return None


# What brings more edges, or fewer: it is mended, and they follow.
_BRING_EDGES = (
    "coverage", "patches.size_by_area_mm", "clouds.size_by_area_mm", "lines.width_mm",
    "lines.length_mm_per_cm2", "patches.count_per_dm2", "clouds.count_per_dm2",
    "specks.count_per_dm2", "correlation_mm",
)  # fmt: skip
# What the areas are called that a block counts.
_ROLES = {"patches": "patch", "clouds": "cloud", "specks": "speck", "cells": "cell"}


def _cover(
    sure: Iterable[Difference], target: Reading, role: str | None, delta: float | None
) -> Difference | None:
    """The cover of a layer over the ground that went the same way, most first; of a role."""
    for d in sure:
        number = d.quantity.layer
        if d.quantity.path != "coverage" or d.quantity.is_extra or not number:
            continue
        if role is not None and target.layers[number].role != role:
            continue
        if (d.delta or 0.0) * (delta or 0.0) > 0:
            return d
    return None


def causes_first(found: Sequence[Difference], target: Reading) -> list[Difference]:
    """Return differences with every cause before what follows from it, otherwise in order."""
    ordered = list(found)
    for difference in found:
        cause = cause_of(difference, target, found) if difference.significant else None
        if cause is None:
            continue
        here, there = ordered.index(difference), ordered.index(cause)
        if there > here:
            ordered.insert(here, ordered.pop(there))
    return ordered


def _is_of_structure(difference: Difference, target: Reading) -> bool:
    """Whether a difference goes when the pattern is made anew: all but colours and sheen."""
    measure = difference.quantity.measure
    if measure.length_power or measure.path in ("coverage", "lines.length_mm_per_cm2"):
        return True
    woven = family_named(target.family).lines_role in ("thread", "grain", "groove")
    return woven and measure.block in ("lines", "cells", "weave", "grain")


def _is_line(difference: Difference, target: Reading) -> bool:
    number = difference.quantity.layer
    if number is None or difference.quantity.is_extra:
        return False
    return target.layers[number].role in LINE_ROLES


def _line_colour(sure: Iterable[Difference], target: Reading) -> Difference | None:
    return next((d for d in sure if d.quantity.path == "lab" and _is_line(d, target)), None)


def _same_way(one: Difference, other: Difference) -> bool:
    return (one.delta or 0.0) * (other.delta or 0.0) > 0
