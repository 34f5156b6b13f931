"""When to stop: what is left lies under what two boards by one hand differ by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jartide.boards.compare import compare
from jartide.boards.result import Comparison, State
from jartide.reading.result import Reading

# Two boards of one recipe differ by about this much before the painter's own are known:
# one and a half just visible differences at the viewing distance. A working value.
USUAL_HAND = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class StopAdvice:
    """Whether to stop.

    Attributes
    ----------
    stop : nothing that is left, sure or seen, is more than the hand's own spread
    hand : what two boards by this hand differ by, just visible differences
    measured : whether `hand` was measured on boards of one recipe
    left : the board's distance to the target
    """

    stop: bool
    hand: float
    measured: bool
    left: float


def hand_spread(
    readings: Sequence[Reading], recipes: Sequence[object], viewing_m: float
) -> float | None:
    """Return the middle distance between boards next to each other with the same recipe.

    None when no two of them were made by one recipe.
    """
    found = [
        compare(a, b, viewing_m).likely_distance
        for (a, one), (b, other) in pairwise(zip(readings, recipes, strict=True))
        if one and one == other
    ]
    return float(np.median(found)) if found else None


def when_to_stop(comparison: Comparison, hand: float | None) -> StopAdvice:
    """Return whether more boards would still bring the finish nearer."""
    limit = USUAL_HAND if hand is None else hand
    told = (State.DIFFERS, State.LOOKS_DIFFERENT)
    seen = [d for d in comparison.differences if d.state in told]
    likely = comparison.likely_distance
    return StopAdvice(
        stop=likely <= limit and all(abs(d.jnd) <= max(limit, 1.0) for d in seen),
        hand=limit,
        measured=hand is not None,
        left=likely,
    )
