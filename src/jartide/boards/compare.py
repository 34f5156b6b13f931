"""Compare two readings taken at the same real scale.

Every quantity gets its difference, the chance in it (both photos' measurement
and sampling intervals), and its size in just visible differences (JND) at the
viewing distance. docs/measures.md holds the formulas.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from scipy.stats import chi, norm

from jartide.boards.advice import advice_for
from jartide.boards.layer_rows import layer_rows
from jartide.boards.match import match_layers
from jartide.boards.pattern_rows import pattern_rows
from jartide.boards.result import TOLERANCE, Amount, Comparison, Difference, Verdict
from jartide.boards.row import Raw, on_another_spot
from jartide.boards.same_spot import at_one_spot
from jartide.boards.visibility import visible_share
from jartide.boards.words import difference_words
from jartide.errors import ReadingError
from jartide.reading.result import Reading
from jartide.wording import Message

VIEWING_M = (0.3, 0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0)
FALSE_ALARM = 0.05
# Pooling exponent over differences (probability summation; Quick 1974).
_POOL = 3.0


# From here on a difference that is not sure is said to be open, and not to be none.
_OPEN_JND = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Paired:
    """All that does not depend on where the eye is: a target and a board row by row."""

    target: Reading
    board: Reading
    rows: tuple[Raw, ...]
    alarms: tuple[bool, ...]
    light_change_L: float | None


def compare(
    target: Reading,
    board: Reading,
    viewing_m: float = 2.0,
    tolerance: float = TOLERANCE,
    *,
    same_spot: bool = False,
) -> Comparison:
    """Return the comparison of a board with its target.

    `same_spot` says that both photos show the very same piece, so that only how well they
    were measured counts as chance.

    Raises
    ------
    ReadingError : when the readings are of different algorithms, or the distance is impossible.
    """
    return judged(pair_up(target, board, same_spot=same_spot), viewing_m, tolerance)


def pair_up(target: Reading, board: Reading, *, same_spot: bool = False) -> Paired:
    """Set a board beside its target, quantity by quantity; `judged` does the rest.

    Raises
    ------
    ReadingError : when the readings are of different algorithms.
    """
    if target.algorithm != board.algorithm:
        raise ReadingError("error.compare.algorithm")
    if same_spot:
        target, board = at_one_spot(target), at_one_spot(board)
    match = match_layers(target, board)
    rows = (*layer_rows(target, board, match), *pattern_rows(target, board, match))
    if not same_spot:
        rows = tuple(on_another_spot(row) for row in rows)
    known = target.exposure_known and board.exposure_known
    return Paired(
        target=target,
        board=board,
        rows=rows,
        alarms=tuple(_significant(rows)),
        light_change_L=None if known else match.light_change_L,
    )


def judged(paired: Paired, viewing_m: float, tolerance: float = TOLERANCE) -> Comparison:
    """Return what an eye at a distance makes of a pair.

    Raises
    ------
    ReadingError : when the distance is impossible.
    """
    if not 0.1 <= viewing_m <= 100:
        raise ReadingError("error.compare.viewing")
    rows = paired.rows
    by_m = tuple((m, _pooled(rows, m)) for m in VIEWING_M)
    differences = _ranked(paired, viewing_m)
    distance = _pooled(rows, viewing_m)
    seen = [d for d in differences if d.significant]
    if not seen:
        verdict = Verdict.MATCH
    else:
        verdict = Verdict.CLOSE if distance < tolerance else Verdict.OFF
    first = seen[0].quantity if seen else None
    left = [r for r in rows if r.quantity != first]
    return Comparison(
        viewing_m=viewing_m,
        verdict=verdict,
        distance=distance,
        distance_by_m=by_m,
        same_from_m=_same_from(rows, by_m),
        expected_distance=_pooled(left, viewing_m),
        expected_by_m=tuple((m, _pooled(left, m)) for m in VIEWING_M),
        tolerance=tolerance,
        light_change_L=paired.light_change_L,
        differences=differences,
    )


def _same_from(rows: Sequence[Raw], by_m: tuple[tuple[float, float], ...]) -> float | None:
    """The nearest distance from which on nothing visible is left, to 5 cm."""
    far = len(by_m)
    while far > 0 and by_m[far - 1][1] < 1:
        far -= 1
    if far == len(by_m):
        return None
    if far == 0:
        return by_m[0][0]
    near_m, far_m = by_m[far - 1][0], by_m[far][0]
    while far_m - near_m > 0.05:
        middle = (near_m + far_m) / 2
        if _pooled(rows, middle) < 1:
            far_m = middle
        else:
            near_m = middle
    return round(far_m, 2)


def _pooled(raw: Sequence[Raw], viewing_m: float) -> float:
    """All differences together, in JND: what chance explains is taken off, then pooled."""
    parts = []
    for r in raw:
        if r.can_be_significant:
            sure = max(r.difference_jnd**2 - r.noise_jnd**2, 0.0) ** 0.5
            parts.append(sure * visible_share(r.size_mm, viewing_m, r.strength_L))
    return float(np.sum(np.array(parts) ** _POOL) ** (1 / _POOL)) if parts else 0.0


def _significant(raw: Sequence[Raw]) -> list[bool]:
    """Hold the chance of one false alarm in the whole comparison at 5 % (Holm 1979)."""
    tested = [i for i, r in enumerate(raw) if r.can_be_significant and np.isfinite(r.noise_jnd)]
    chance = {i: _chance(raw[i]) for i in tested}
    alarms = [False] * len(raw)
    for place, i in enumerate(sorted(tested, key=chance.__getitem__)):
        if chance[i] > FALSE_ALARM / (len(tested) - place):
            break
        alarms[i] = True
    return alarms


def _chance(raw: Raw) -> float:
    """The chance of a difference this large when there is none: chi in its dimensions."""
    return float(chi.sf(abs(raw.difference_jnd) / max(raw.noise_jnd, 1e-6), raw.dimensions))


def _ranked(paired: Paired, viewing_m: float) -> tuple[Difference, ...]:
    target, raw = paired.target, paired.rows
    found = []
    for r, alarm in zip(raw, paired.alarms, strict=True):
        left = visible_share(r.size_mm, viewing_m, r.strength_L)
        seen = r.difference_jnd * left
        significant = alarm and abs(seen) >= 1
        amount = _amount(seen, significant)
        short, words = difference_words(r.quantity, r, amount)
        if not significant and abs(seen) >= _OPEN_JND:
            # It would be seen, but these photos leave open whether it is there.
            short, words = Message("amount.unsure"), Message("difference.unsure", name=r.name)
        difference = Difference(
            quantity=r.quantity,
            name=r.name,
            target=r.target,
            board=r.board,
            ratio=r.ratio,
            delta=r.delta,
            interval=r.interval,
            jnd=seen,
            noise_jnd=r.noise_jnd * left,
            least_jnd=_least(r, len(raw)),
            significant=significant,
            rank=0,
            amount=amount,
            short=short,
            words=words,
            advice=None,
        )
        if significant:
            difference = replace(difference, advice=advice_for(difference, target))
        found.append(difference)
    # What is significant comes first; then by what is left when chance is taken off.
    found.sort(key=lambda d: (not d.significant, -_sure_size(d)))
    found = _top_layers_first(found)
    return tuple(replace(d, rank=place + 1) for place, d in enumerate(found))


def _least(raw: Raw, count: int) -> float:
    """The least difference found nine times in ten, all of `count` being looked at, JND."""
    return max(_bar(raw.dimensions, count) * raw.noise_jnd, 1.0)


# Of two covers one grows by what the other loses, when they are this alike.
_ALIKE = 0.6


def _top_layers_first(found: list[Difference]) -> list[Difference]:
    """Of a layer that lost what another gained, name the one laid later first: it decides both."""
    found = list(found)
    for place, first in enumerate(found):
        lower = _layer_covered(first)
        if not first.significant or lower is None:
            continue
        for later in range(place + 1, len(found)):
            second = found[later]
            upper = _layer_covered(second)
            if not second.significant or upper is None or upper <= lower:
                continue
            a, b = first.delta or 0.0, second.delta or 0.0
            if a * b < 0 and abs(b) >= _ALIKE * abs(a):
                found.insert(place, found.pop(later))
                break
    return found


def _layer_covered(difference: Difference) -> int | None:
    """The target's layer whose cover this is; None for anything else."""
    key = difference.quantity
    return key.layer if key.path == "coverage" and not key.is_extra else None


@lru_cache(maxsize=256)
def _bar(dimensions: int, count: int) -> float:
    """What must be passed to be called sure, and be passed nine times in ten, in deviations."""
    if dimensions == 1:
        bar = norm.isf(FALSE_ALARM / count / 2)
    else:
        bar = chi.isf(FALSE_ALARM / count, dimensions)
    return float(bar + norm.isf(0.1))


def _sure_size(difference: Difference) -> float:
    return max(abs(difference.jnd) - 0.5 * difference.noise_jnd, 0.0) + 1e-3 * abs(difference.jnd)


def _amount(jnd: float, significant: bool) -> Amount:
    if not significant:
        return Amount.SAME
    size = abs(jnd)
    return Amount.HAIR if size < 1.5 else Amount.LITTLE if size < 3 else Amount.MUCH
