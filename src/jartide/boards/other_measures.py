"""What is compared beside layers and lines: every measure that both readings could make.

One row of the table is one quantity: where it stands, how its difference is counted, and
from what on it is seen. Ratios are natural logarithms. Values of the just visible difference
are working values, as in docs/measures.md.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from jartide.reading.pattern.records import Pattern, Spread
from jartide.reading.result import Reading
from jartide.reading.trust.measured import Measured


class Scale(StrEnum):
    """How a difference is counted."""

    RATIO = "ratio"
    PLAIN = "plain"
    DEGREES = "degrees"


@dataclass(frozen=True, slots=True)
class Quantity:
    """One measure.

    Attributes
    ----------
    path : under `pattern`; the median of a distribution
    scale, jnd : how it is counted and one just visible difference
    more, less : adjectives of a board with more or less of it
    size : path of what has to be seen at a distance; "" for areas
    """

    path: str
    scale: Scale
    jnd: float
    more: str
    less: str
    size: str = ""


QUANTITIES: tuple[Quantity, ...] = (
    Quantity(
        "lines.junctions_per_dm2", Scale.RATIO, 0.40, "branched", "unbranched", "lines.width_mm"
    ),
    Quantity("lines.width_variation", Scale.PLAIN, 0.12, "uneven", "even", "lines.width_mm"),
    Quantity("lines.spacing_evenness", Scale.PLAIN, 0.25, "even", "uneven", ""),
    Quantity("patches.area_mm2", Scale.RATIO, 0.35, "big", "small", ""),
    Quantity("patches.count_per_dm2", Scale.RATIO, 0.25, "crowded", "sparse", ""),
    Quantity("patches.softness_mm", Scale.RATIO, 0.35, "soft", "hard", ""),
    Quantity("patches.runs_down", Scale.PLAIN, 0.15, "running", "still", ""),
    Quantity("cells.size_mm", Scale.RATIO, 0.14, "big", "small", ""),
    Quantity("cells.groove_width_mm", Scale.RATIO, 0.16, "wide", "narrow", "cells.groove_width_mm"),
    Quantity("weave.warp_per_cm", Scale.RATIO, 0.08, "fine", "coarse", ""),
    Quantity("weave.weft_per_cm", Scale.RATIO, 0.08, "fine", "coarse", ""),
    Quantity("grain.spacing_mm", Scale.RATIO, 0.16, "coarse", "fine", ""),
    Quantity("grain.contrast_L", Scale.PLAIN, 3.0, "strong", "weak", ""),
    Quantity("specks.count_per_dm2", Scale.RATIO, 0.30, "crowded", "sparse", "specks.diameter_mm"),
    Quantity("specks.diameter_mm", Scale.RATIO, 0.20, "big", "small", "specks.diameter_mm"),
)
# A hand is practised for these; boards are not judged by them.
HAND_QUANTITIES: tuple[Quantity, ...] = (
    Quantity("lines.tortuosity", Scale.PLAIN, 0.03, "wild", "straight", ""),
    Quantity("grain.straightness", Scale.PLAIN, 0.08, "straight", "wild", ""),
    Quantity("patches.clustering", Scale.PLAIN, 0.15, "even", "uneven", ""),
    Quantity("repeat.strength", Scale.PLAIN, 0.10, "even", "uneven", ""),
)
BY_PATH = {quantity.path: quantity for quantity in QUANTITIES}


def value_at(pattern: Pattern, path: str) -> Measured | None:
    """Return a measure by its path, such as "cells.size_mm"; None where its block is none."""
    block, name = path.split(".")
    own = getattr(pattern, block)
    if own is None:
        return None
    value = getattr(own, name)
    return value.median if isinstance(value, Spread) else value


def other_rows(
    target: Reading, board: Reading
) -> Iterator[tuple[Quantity, Measured, Measured, float | None]]:
    """Yield each measure that both readings made, and the size of what shows it, mm."""
    for quantity in QUANTITIES:
        a, b = value_at(target.pattern, quantity.path), value_at(board.pattern, quantity.path)
        if a is None or b is None or a.value is None or b.value is None:
            continue
        size = value_at(target.pattern, quantity.size) if quantity.size else None
        yield quantity, a, b, None if size is None else size.value
