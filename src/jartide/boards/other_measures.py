"""What is compared beside layers and lines: every measure that both readings could make.

One row of the table is one quantity: where it stands, how its difference is counted, and
from what on it is seen. Ratios are natural logarithms. Values of the just visible difference
are working values, as in docs/measures.md.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum

from jartide.reading.measured import Measured
from jartide.reading.pattern import Pattern
from jartide.reading.result import Reading


class Scale(StrEnum):
    """How a difference is counted."""

    RATIO = "ratio"
    PLAIN = "plain"
    DEGREES = "degrees"


@dataclass(frozen=True, slots=True, kw_only=True)
class Quantity:
    """One measure.

    Attributes
    ----------
    path : under `pattern`; the median of a distribution
    pick : the value, None where the block does not apply
    scale, jnd : how it is counted and one just visible difference
    more, less : adjectives of a board with more or less of it
    size : what has to be seen at a distance, mm; None when areas
    """

    path: str
    pick: Callable[[Pattern], Measured | None]
    scale: Scale
    jnd: float
    more: str
    less: str
    size: Callable[[Pattern], Measured | None] | None = None


def _speck_size(pattern: Pattern) -> Measured | None:
    return None if pattern.specks is None else pattern.specks.diameter_mm.median


def _groove(pattern: Pattern) -> Measured | None:
    return None if pattern.cells is None else pattern.cells.groove_width_mm


QUANTITIES: tuple[Quantity, ...] = (
    Quantity(
        path="lines.junctions_per_dm2",
        pick=lambda p: None if p.lines is None else p.lines.junctions_per_dm2,
        scale=Scale.RATIO,
        jnd=0.40,
        more="branched",
        less="unbranched",
        size=lambda p: None if p.lines is None else p.lines.width_mm.median,
    ),
    Quantity(
        path="lines.width_variation",
        pick=lambda p: None if p.lines is None else p.lines.width_variation,
        scale=Scale.PLAIN,
        jnd=0.12,
        more="uneven",
        less="even",
        size=lambda p: None if p.lines is None else p.lines.width_mm.median,
    ),
    Quantity(
        path="lines.spacing_evenness",
        pick=lambda p: None if p.lines is None else p.lines.spacing_evenness,
        scale=Scale.PLAIN,
        jnd=0.25,
        more="even",
        less="uneven",
    ),
    Quantity(
        path="patches.area_mm2",
        pick=lambda p: None if p.patches is None else p.patches.area_mm2.median,
        scale=Scale.RATIO,
        jnd=0.35,
        more="big",
        less="small",
    ),
    Quantity(
        path="patches.count_per_dm2",
        pick=lambda p: None if p.patches is None else p.patches.count_per_dm2,
        scale=Scale.RATIO,
        jnd=0.25,
        more="crowded",
        less="sparse",
    ),
    Quantity(
        path="patches.softness_mm",
        pick=lambda p: None if p.patches is None else p.patches.softness_mm,
        scale=Scale.RATIO,
        jnd=0.35,
        more="soft",
        less="hard",
    ),
    Quantity(
        path="patches.runs_down",
        pick=lambda p: None if p.patches is None else p.patches.runs_down,
        scale=Scale.PLAIN,
        jnd=0.15,
        more="running",
        less="still",
    ),
    Quantity(
        path="cells.size_mm",
        pick=lambda p: None if p.cells is None else p.cells.size_mm.median,
        scale=Scale.RATIO,
        jnd=0.14,
        more="big",
        less="small",
    ),
    Quantity(
        path="cells.groove_width_mm",
        pick=_groove,
        scale=Scale.RATIO,
        jnd=0.16,
        more="wide",
        less="narrow",
        size=_groove,
    ),
    Quantity(
        path="weave.warp_per_cm",
        pick=lambda p: None if p.weave is None else p.weave.warp_per_cm,
        scale=Scale.RATIO,
        jnd=0.08,
        more="fine",
        less="coarse",
    ),
    Quantity(
        path="weave.weft_per_cm",
        pick=lambda p: None if p.weave is None else p.weave.weft_per_cm,
        scale=Scale.RATIO,
        jnd=0.08,
        more="fine",
        less="coarse",
    ),
    Quantity(
        path="grain.spacing_mm",
        pick=lambda p: None if p.grain is None else p.grain.spacing_mm,
        scale=Scale.RATIO,
        jnd=0.16,
        more="coarse",
        less="fine",
    ),
    Quantity(
        path="grain.contrast_L",
        pick=lambda p: None if p.grain is None else p.grain.contrast_L,
        scale=Scale.PLAIN,
        jnd=3.0,
        more="strong",
        less="weak",
    ),
    Quantity(
        path="specks.count_per_dm2",
        pick=lambda p: None if p.specks is None else p.specks.count_per_dm2,
        scale=Scale.RATIO,
        jnd=0.30,
        more="crowded",
        less="sparse",
        size=_speck_size,
    ),
    Quantity(
        path="specks.diameter_mm",
        pick=_speck_size,
        scale=Scale.RATIO,
        jnd=0.20,
        more="big",
        less="small",
        size=_speck_size,
    ),
)
BY_PATH = {quantity.path: quantity for quantity in QUANTITIES}


def other_rows(
    target: Reading, board: Reading
) -> Iterator[tuple[Quantity, Measured, Measured, float | None]]:
    """Yield each measure that both readings made, and the size of what shows it, mm."""
    for quantity in QUANTITIES:
        a, b = quantity.pick(target.pattern), quantity.pick(board.pattern)
        if a is None or b is None or a.value is None or b.value is None:
            continue
        size = None if quantity.size is None else quantity.size(target.pattern)
        yield quantity, a, b, None if size is None else size.value
