"""What is known of each row: differs, looks different, the same, or neither.

A row differs when chance does not explain it, all rows of the comparison looked at (Holm 1979).
It is the same when that is shown, not merely when nothing was found: its interval lies within what
an eye tolerates (two one-sided tests at 5 %; Schuirmann 1987). What is seen and may be chance looks
different; what is neither seen nor ruled out is left untold.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache

import numpy as np
from scipy.special import gammaincc
from scipy.stats import chi, norm

from jartide.boards.result import State
from jartide.boards.row import Z90, Raw

FALSE_ALARM = 0.05
# A row less likely by chance than this, asked by itself, looks different.
LOOKS_P = 0.25
_VISIBLE_JND = 1.0


def sure_rows(rows: Sequence[Raw]) -> list[bool]:
    """Which rows differ by more than chance, any false one among all having 5 % (Holm 1979).

    Where a common factor is sure, the rows that it explains are asked by themselves once more:
    it can't be without any of them (a gate; Westfall & Krishen 2001).
    """
    tested = [i for i, r in enumerate(rows) if r.can_be_significant and np.isfinite(r.noise_jnd)]
    found = _holm(rows, tested)
    for i in found.copy():
        members = [n for n in tested if rows[n].common == rows[i].quantity]
        found |= _holm(rows, members)
    return [i in found for i in range(len(rows))]


def _holm(rows: Sequence[Raw], tested: Sequence[int]) -> set[int]:
    """Holm's method with weights: what painters ask first is spent more of the 5 % on."""
    chance = {i: chance_of(rows[i]) for i in tested}
    weight = {i: weight_of(rows[i]) for i in tested}
    left = sum(weight.values())
    found: set[int] = set()
    for i in sorted(tested, key=lambda i: chance[i] / weight[i]):
        if chance[i] > FALSE_ALARM * weight[i] / left:
            break
        found.add(i)
        left -= weight[i]
    return found


# How the chance of a false alarm is spent, fixed before anything is seen: common factors and what
# makes a finish (colours, covers, sizes, ways) get most of it, how a hand varies little.
_MOST, _USUAL, _LITTLE = 4.0, 1.5, 0.4
_FIRST = ("lab", "coverage", "direction_deg", "width_mm", "size_mm", "per_cm", "spacing_mm")


def weight_of(row: Raw) -> float:
    """Return how much of the chance of a false alarm is spent on a row, relative to others."""
    path = row.quantity.path
    if path.startswith("common."):
        return _MOST
    return _USUAL if path.endswith((*_FIRST, "contrast_L", "per_dm2", "per_cm2")) else _LITTLE


def chance_of(row: Raw) -> float:
    """The chance of a difference this large when there is none: chi in its dimensions."""
    off = abs(row.difference_jnd) / max(row.noise_jnd, 1e-6)
    # The bare function: of hundreds of calls most of the time is the distribution's wrapping.
    return float(gammaincc(row.dimensions / 2, off**2 / 2))


def state_of(row: Raw, sure: bool, left: float) -> State:
    """Return what is known of a row, of which a share `left` is seen from where the eye is."""
    seen, noise = abs(row.difference_jnd) * left, row.noise_jnd * left
    if sure and seen >= _VISIBLE_JND:
        return State.DIFFERS
    if seen + Z90 * noise <= tolerated(row):
        return State.SAME
    if seen >= _VISIBLE_JND and chance_of(row) <= LOOKS_P:
        return State.LOOKS_DIFFERENT
    return State.SAME if _same_by_factor(row, left) else State.UNTOLD


def _same_by_factor(row: Raw, left: float) -> bool:
    """Whether a common factor, known well, and the row together show that it is the same.

    A row that says next to nothing by itself is not shown by what others say.
    """
    if row.pooled is None or row.noise_jnd * left > tolerated(row):
        return False
    difference, noise = row.pooled
    return (abs(difference) + Z90 * noise) * left <= tolerated(row)


def tolerated(row: Raw) -> float:
    """What an eye tolerates of it, just visible differences."""
    judged = row.quantity.measure.judged
    assert judged is not None
    return judged.tolerated_jnd


def settled_by(row: Raw, state: State, left: float, count: int) -> float | None:
    """Return how many times what both pieces show would settle a row, `count` being tested.

    Chance falls with the root of what is shown. A row that looks different would then surely
    differ; one that is untold would be shown to be the same if nothing differed.
    """
    noise = row.noise_jnd * left
    if noise <= 0 or not np.isfinite(noise):
        return None
    if state is State.LOOKS_DIFFERENT:
        wanted = abs(row.difference_jnd) * left / bar(row.dimensions, count)
    elif state is State.UNTOLD:
        most = tolerated(row)
        wanted = max(most - abs(row.difference_jnd) * left, most / 2) / Z90
    else:
        return None
    return float(max((noise / wanted) ** 2, 1.0))


@cache
def bar(dimensions: int, count: int) -> float:
    """What must be passed to be called sure, `count` rows being tested, in deviations."""
    if dimensions == 1:
        return float(norm.isf(FALSE_ALARM / count / 2))
    return float(chi.isf(FALSE_ALARM / count, dimensions))
