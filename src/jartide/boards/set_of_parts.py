"""Parts of one set (panels, drawers, legs, boards) against each other, before anything is signed.

There is no target among them: the part that lies nearest to all others stands for the set, and
each is told by how it differs from that one, and by how much heavier its pattern is: by how much
less of its ground shows.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jartide.boards.compare import compare
from jartide.boards.result import Comparison, State
from jartide.errors import ReadingError
from jartide.measures.key import Key
from jartide.reading.result import Reading

_GROUND = Key("coverage", 0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Weight:
    """How much heavier a part's pattern is than the set's: points of the face, 0..1, signed.

    `state` : whether that is sure, only seen, shown to be nothing, or not to be told
    """

    points: float
    state: State


@dataclass(frozen=True, slots=True, kw_only=True)
class SetOfParts:
    """Parts against each other.

    Attributes
    ----------
    nearest : number of the part that lies nearest to all others
    comparisons : of each part with that one, in the parts' order; None of itself
    weights : of each part, in their order; None where the ground is not told
    apart : (N, N) distances between parts, just visible differences, rows as tuples
    """

    nearest: int
    comparisons: tuple[Comparison | None, ...]
    weights: tuple[Weight | None, ...]
    apart: tuple[tuple[float, ...], ...]

    @property
    def heaviest(self) -> int | None:
        """The part that is surely, or as far as is seen, the heaviest; None where none is."""
        told = (State.DIFFERS, State.LOOKS_DIFFERENT)
        seen = [
            (w.points, n) for n, w in enumerate(self.weights) if w is not None and w.state in told
        ]
        heavy = [one for one in seen if one[0] > 0]
        return max(heavy)[1] if heavy else None


def compare_parts(parts: Sequence[Reading], viewing_m: float, tolerance: float) -> SetOfParts:
    """Compare the parts of a set with each other.

    Raises
    ------
    ReadingError : of fewer than two, or of readings of different algorithms.
    """
    if len(parts) < 2:
        raise ReadingError("error.parts.few")
    count = len(parts)
    apart = np.zeros((count, count))
    for i in range(count):
        for j in range(i + 1, count):
            pair = compare(parts[i], parts[j], viewing_m, tolerance)
            apart[i, j] = apart[j, i] = pair.likely_distance
    nearest = int(apart.sum(axis=1).argmin())
    comparisons = tuple(
        None if n == nearest else compare(parts[nearest], part, viewing_m, tolerance)
        for n, part in enumerate(parts)
    )
    return SetOfParts(
        nearest=nearest,
        comparisons=comparisons,
        weights=tuple(_weight(c) for c in comparisons),
        apart=tuple(tuple(float(v) for v in row) for row in apart),
    )


def _weight(comparison: Comparison | None) -> Weight | None:
    if comparison is None:
        return Weight(points=0.0, state=State.SAME)
    for d in comparison.differences:
        if d.quantity == _GROUND and isinstance(d.delta, float):
            return Weight(points=-d.delta, state=d.state)
    return None
