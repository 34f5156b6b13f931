"""Compare two readings taken at the same real scale.

Every quantity gets its difference, the chance in it (both photos' measurement
and sampling intervals), and its size in just visible differences (JND) at the
viewing distance. docs/measures.md holds the formulas.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from scipy.stats import chi, norm

from jartide.boards.advice import advice_for
from jartide.boards.layer_rows import layer_rows
from jartide.boards.match import match_layers
from jartide.boards.pattern_rows import pattern_rows
from jartide.boards.result import Amount, Comparison, Difference, Verdict
from jartide.boards.row import Raw
from jartide.boards.same_spot import at_one_spot
from jartide.boards.visibility import visible_share
from jartide.boards.words import difference_words
from jartide.errors import ReadingError
from jartide.reading.result import Reading
from jartide.wording import Message

VIEWING_M = (0.3, 0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0)
# Distances below this many just visible differences pass as close, at the viewing distance.
TOLERANCE = 4.0
FALSE_ALARM = 0.05
# Pooling exponent over differences (probability summation; Quick 1974).
_POOL = 3.0


# From here on a difference that is not sure is said to be open, and not to be none.
_OPEN_JND = 2.0


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
    if target.algorithm != board.algorithm:
        raise ReadingError("error.compare.algorithm")
    if not 0.1 <= viewing_m <= 100:
        raise ReadingError("error.compare.viewing")
    if same_spot:
        target, board = at_one_spot(target), at_one_spot(board)
    match = match_layers(target, board)
    raw = [*layer_rows(target, board, match), *pattern_rows(target, board, match)]
    alarms = _significant(raw)
    by_m = tuple((m, _pooled(raw, m)) for m in VIEWING_M)
    differences = _ranked(raw, alarms, viewing_m, target, board)
    distance = _pooled(raw, viewing_m)
    seen = [d for d in differences if d.significant]
    if not seen:
        verdict = Verdict.MATCH
    else:
        verdict = Verdict.CLOSE if distance < tolerance else Verdict.OFF
    first = seen[0].quantity if seen else None
    left = [r for r in raw if r.quantity != first]
    light = None
    if not (target.exposure_known and board.exposure_known):
        light = match.light_change_L
    return Comparison(
        viewing_m=viewing_m,
        verdict=verdict,
        distance=distance,
        distance_by_m=by_m,
        same_from_m=_same_from(by_m),
        expected_distance=_pooled(left, viewing_m),
        expected_by_m=tuple((m, _pooled(left, m)) for m in VIEWING_M),
        tolerance=tolerance,
        light_change_L=light,
        differences=differences,
    )


def _same_from(by_m: tuple[tuple[float, float], ...]) -> float | None:
    """The nearest distance from which on nothing visible is left."""
    found = None
    for metres, distance in reversed(by_m):
        if distance >= 1:
            break
        found = metres
    return found


def _pooled(raw: list[Raw], viewing_m: float) -> float:
    """All differences together, in JND: what chance explains is taken off, then pooled."""
    parts = []
    for r in raw:
        if r.can_be_significant:
            sure = max(r.difference_jnd**2 - r.noise_jnd**2, 0.0) ** 0.5
            parts.append(sure * visible_share(r.size_mm, viewing_m, r.strength_L))
    return float(np.sum(np.array(parts) ** _POOL) ** (1 / _POOL)) if parts else 0.0


def _significant(raw: list[Raw]) -> list[bool]:
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


def _ranked(
    raw: list[Raw], alarms: list[bool], viewing_m: float, target: Reading, board: Reading
) -> tuple[Difference, ...]:
    found = []
    for r, alarm in zip(raw, alarms, strict=True):
        left = visible_share(r.size_mm, viewing_m, r.strength_L)
        seen = r.difference_jnd * left
        significant = alarm and abs(seen) >= 1
        amount = _amount(seen, significant)
        short, words = difference_words(r.quantity, r, amount, target, board)
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
    return tuple(replace(d, rank=place + 1) for place, d in enumerate(found))


def _least(raw: Raw, count: int) -> float:
    """The least difference found nine times in ten, all of `count` being looked at, JND."""
    if raw.dimensions == 1:
        bar = float(norm.isf(FALSE_ALARM / count / 2))
    else:
        bar = float(chi.isf(FALSE_ALARM / count, raw.dimensions))
    return max((bar + float(norm.isf(0.1))) * raw.noise_jnd, 1.0)


def _sure_size(difference: Difference) -> float:
    return max(abs(difference.jnd) - 0.5 * difference.noise_jnd, 0.0) + 1e-3 * abs(difference.jnd)


def _amount(jnd: float, significant: bool) -> Amount:
    if not significant:
        return Amount.SAME
    size = abs(jnd)
    return Amount.HAIR if size < 1.5 else Amount.LITTLE if size < 3 else Amount.MUCH
