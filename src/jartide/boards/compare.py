"""Compare two readings taken at the same real scale.

Every quantity gets its difference, the chance in it (both photos' measurement
and sampling intervals), and its size in just visible differences (JND) at the
viewing distance. docs/measures.md holds the formulas.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.stats import norm

from jartide.boards.advice import advice_for, advised
from jartide.boards.causes import causes_first
from jartide.boards.common import covers_of, with_common
from jartide.boards.crossed import missing_way
from jartide.boards.layer_rows import layer_rows
from jartide.boards.match import LayerMatch, match_layers
from jartide.boards.pattern_rows import pattern_rows
from jartide.boards.result import TOLERANCE, Amount, Comparison, Difference, State, Verdict
from jartide.boards.row import Raw, on_another_spot
from jartide.boards.same_spot import at_another_spot, at_one_spot
from jartide.boards.state import bar, settled_by, state_of, sure_rows
from jartide.boards.strokes import Made
from jartide.boards.visibility import visible_share
from jartide.boards.words import difference_words, unsure_words
from jartide.errors import ReadingError
from jartide.measures.measure import Unit
from jartide.reading.result import Reading
from jartide.wording import Message

VIEWING_M = (0.3, 0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0)
# Pooling exponent over differences (probability summation; Quick 1974).
_POOL = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Paired:
    """All that does not depend on where the eye is: a target and a board row by row."""

    target: Reading
    board: Reading
    rows: tuple[Raw, ...]
    sure: tuple[bool, ...]
    light_change_L: float | None
    made: Made | None = None


def compare(
    target: Reading,
    board: Reading,
    viewing_m: float = 2.0,
    tolerance: float = TOLERANCE,
    *,
    same_spot: bool = False,
    made: str | None = None,
) -> Comparison:
    """Return the comparison of a board with its target.

    `same_spot` says that both photos show the very same piece, so that only how well they
    were measured counts as chance; `made` is "painted" or "reaction" where that is known: mends
    depend on it.

    Raises
    ------
    ReadingError : when the readings are of different algorithms, or the distance is impossible.
    """
    paired = pair_up(target, board, same_spot=same_spot, made=made)
    return judged(paired, viewing_m, tolerance)


def pair_up(
    target: Reading, board: Reading, *, same_spot: bool = False, made: str | None = None
) -> Paired:
    """Set a board beside its target, quantity by quantity; `judged` does the rest.

    Raises
    ------
    ReadingError : when the readings are of different algorithms.
    """
    if target.algorithm != board.algorithm:
        raise ReadingError("error.compare.algorithm")
    is_same_photo = target == board
    same_spot = same_spot or is_same_photo
    match = match_layers(target, board)
    known = at_another_spot(target), at_another_spot(board)
    rows = tuple(on_another_spot(row) for row in _rows(*known, match))
    if same_spot:
        measured = {r.quantity: r for r in _rows(at_one_spot(target), at_one_spot(board), match)}
        rows = tuple(_surer(row, measured.get(row.quantity)) for row in rows)
    # A change of scale leaves the covers as they are: where they are not, sizes, numbers and
    # edges follow from them.
    if not (_is_unmatched(target, board, match) or any(map(_is_covered_otherwise, rows))):
        rows = with_common(rows, covers_of(target, board))
    light_known = is_same_photo or (target.exposure_known and board.exposure_known)
    return Paired(
        target=target,
        board=board,
        rows=rows,
        sure=tuple(sure_rows(rows)),
        light_change_L=None if light_known else match.light_change_L,
        made=None if made is None else Made(made),
    )


_LEAST_UNMATCHED = 0.01


def _is_unmatched(target: Reading, board: Reading, match: LayerMatch) -> bool:
    alone = [target.layers[i] for i in match.missing] + [board.layers[j] for j in match.extra]
    return any((layer.coverage.value or 0.0) >= _LEAST_UNMATCHED for layer in alone)


# A cover that is this many deviations off is no chance, nor what a change of scale leaves.
_OTHERWISE = 3.5


def _is_covered_otherwise(row: Raw) -> bool:
    if row.quantity.path != "coverage" or not np.isfinite(row.noise_jnd):
        return False
    return abs(row.difference_jnd) > max(_OTHERWISE * row.noise_jnd, 1.0)


def _rows(target: Reading, board: Reading, match: LayerMatch) -> tuple[Raw, ...]:
    return (*layer_rows(target, board, match), *pattern_rows(target, board, match))


def _surer(row: Raw, other: Raw | None) -> Raw:
    """The row with the less chance: of one spot no more than between two."""
    return row if other is None or other.noise_jnd >= row.noise_jnd else other


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
    sure = {d.quantity for d in differences if d.state is State.DIFFERS}
    distance = _pooled([r for r in rows if r.quantity in sure], viewing_m)
    first = differences[0].quantity if sure else None
    left = [r for r in rows if first is None or first not in (r.quantity, r.common)]
    return Comparison(
        viewing_m=viewing_m,
        verdict=_verdict(differences, distance, tolerance),
        distance=distance,
        likely_distance=_pooled(rows, viewing_m),
        likely_by_m=by_m,
        same_from_m=_same_from(rows, by_m),
        expected_distance=_pooled([r for r in left if r.quantity in sure], viewing_m),
        expected_by_m=tuple((m, _pooled(left, m)) for m in VIEWING_M),
        tolerance=tolerance,
        light_change_L=paired.light_change_L,
        differences=differences,
    )


def _verdict(differences: Sequence[Difference], distance: float, tolerance: float) -> Verdict:
    states = {d.state for d in differences}
    if State.DIFFERS in states and distance >= tolerance:
        return Verdict.OFF
    if states & {State.LOOKS_DIFFERENT, State.UNTOLD}:
        return Verdict.OPEN
    return Verdict.CLOSE if State.DIFFERS in states else Verdict.MATCH


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
    told_by_rows = {r.common for r in raw}
    for r in raw:
        if r.can_be_significant and r.quantity not in told_by_rows:
            sure = max(r.difference_jnd**2 - r.noise_jnd**2, 0.0) ** 0.5
            parts.append(sure * visible_share(r.size_mm, viewing_m, r.strength_L))
    return float(np.sum(np.array(parts) ** _POOL) ** (1 / _POOL)) if parts else 0.0


def _ranked(paired: Paired, viewing_m: float) -> tuple[Difference, ...]:
    target, raw = paired.target, paired.rows
    light_known = paired.light_change_L is None
    lacking = missing_way(target, paired.board)
    found = []
    for r, sure in zip(raw, paired.sure, strict=True):
        left = visible_share(r.size_mm, viewing_m, r.strength_L)
        seen = r.difference_jnd * left
        state = state_of(r, sure, left)
        if state is State.SAME and not light_known and r.quantity.measure.unit is Unit.COLOUR:
            # What all colours have in common was taken for light: it may have been paint.
            state = State.UNTOLD
        amount = _amount(seen, state)
        short, words = difference_words(r.quantity, r, amount)
        if lacking is not None and r.quantity in _WAYS and amount is not Amount.SAME:
            words = Message("difference.way_missing", name=r.name, degrees=round(lacking) % 180)
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
            state=state,
            settled_by=settled_by(r, state, left, len(raw)),
            rank=0,
            amount=amount,
            short=short,
            words=words,
            advice=None,
        )
        if state in (State.LOOKS_DIFFERENT, State.UNTOLD):
            short, words = unsure_words(difference, target, paired.board)
            difference = replace(difference, short=short, words=words)
        found.append(difference)
    # What is sure comes first, then what looks different; then by what is left without chance.
    order = list(State)
    found.sort(key=lambda d: (order.index(_rank_state(d.state)), -_sure_size(d)))
    found = causes_first(_top_layers_first(found), target)
    about = advised(target, paired.board, found, paired.made)
    return tuple(
        replace(d, rank=place + 1, advice=advice_for(d, about) if d.significant else None)
        for place, d in enumerate(found)
    )


_NINE_IN_TEN = float(norm.isf(0.1))
# Rows of a direction that a way of strokes that is missing turns.
_WAYS = ("direction_deg", "directionality", "direction_spread_deg")


def _rank_state(state: State) -> State:
    """What is the same and what is untold stand together: by how large they are."""
    return State.SAME if state is State.UNTOLD else state


def _least(raw: Raw, count: int) -> float:
    """The least difference found nine times in ten, all of `count` being looked at, JND."""
    return max((bar(raw.dimensions, count) + _NINE_IN_TEN) * raw.noise_jnd, 1.0)


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


def _sure_size(difference: Difference) -> float:
    return max(abs(difference.jnd) - 0.5 * difference.noise_jnd, 0.0) + 1e-3 * abs(difference.jnd)


def _amount(jnd: float, state: State) -> Amount:
    """How much, in words; nothing of what is not seen."""
    if state not in (State.DIFFERS, State.LOOKS_DIFFERENT):
        return Amount.SAME
    size = abs(jnd)
    return Amount.HAIR if size < 1.5 else Amount.LITTLE if size < 3 else Amount.MUCH
