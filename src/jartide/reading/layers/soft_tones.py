"""Find the tones of a surface that has no flat places: from blends as well as from plateaus.

Rust goes from slate through brown to orange without an edge. Each colour of the calmed picture
is taken for a blend of two tones, and being a blend costs something: with no cost the tones go
to the outermost colours (archetypal analysis; Cutler & Breiman 1994), at full cost to the
middles of the commonest (k-means; Lloyd 1982). In between they lie where colours gather, and
toward the ends of what is only ever seen blended. One more tone is added where it explains
most, so that neighbours in number are nested.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# What a blend costs, share of the squared distance to the nearer tone.
BLEND_COST = 0.4
# The same once their number is known: dearer, neighbours in number were further apart; cheaper,
# tones that are hardly seen whole come nearer to what they would be unblended.
PURE_COST = 0.15
# A tone must take this share (of the natural log) off what is left and off what nobody minds,
# even units, together. Set on twenty photographs of real materials and forty drawn ones, each in
# six states: there the number changes in one state in a hundred; at 0.10 or 0.14 in three to seven,
# and some photographs then get a tone more or less.
_EARNS = 0.12
_NOT_MINDED = 1.3
# How much of what is left is counted as if each place showed one tone whole.
_WHOLE = 0.1
MOST_TONES = 7
# Colours farther than this, even units, from every blend are of a tone that is missed, once there
# is so much of them; of a second one, once there is so much.
_MISSED, _MISSED_SHARES = 3.0, (0.046, 0.07)
_OWN_COST = 0.05
# Colours this near to one straight way, even units, and this near to evenly spread along it
# (Kolmogorov's distance) are a slope.
_STRAIGHT, _EVEN_STEPS = 0.5, 0.15
# Differences, CIEDE2000, beyond which a colour pulls with ever less weight than its square.
_REACH = 2.0
# Width of a cell of colours, even units, and how many cells there may be.
_STEPS = (0.4, 2.0)
_MOST_CELLS = 400
_ROUNDS = 12
_TRIAL_ROUNDS = 4
_EXCHANGED = 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ColourHeap:
    """Colours and how much of the picture shows each: `even`, (N, 3), and `share`, (N,)."""

    even: np.ndarray
    share: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Blends:
    """Each colour of a heap as a blend of two tones; (N,) each.

    Attributes
    ----------
    main, other : int, the tone there is more of, and the one it is blended with
    part : of the other, 0..0.5
    cost : squared, with what the blend costs
    """

    main: np.ndarray
    other: np.ndarray
    part: np.ndarray
    cost: np.ndarray

    def rebuilt(self, tones: np.ndarray) -> np.ndarray:
        """Return the colours put together again, (N, 3)."""
        part = self.part[:, None]
        return tones[self.main] * (1 - part) + tones[self.other] * part


def heap_of(
    even: np.ndarray, most: int = _MOST_CELLS, weight: np.ndarray | None = None
) -> ColourHeap:
    """Gather colours, (M, 3), in cells, about `most` of them; each is its mean colour.

    `weight`, (M,), is how much each counts.

    Cells are as wide as the colours' spread asks for, so that few colours are told apart finely.
    """
    weight = np.ones(len(even)) if weight is None else weight
    step = float(np.clip(np.sqrt(even.var(axis=0).sum()) / 7, *_STEPS))
    heap = _gathered(even, weight, step)
    while len(heap.share) > most:
        step *= 1.15
        heap = _gathered(even, weight, step)
    return heap


def _gathered(even: np.ndarray, weight: np.ndarray, step: float) -> ColourHeap:
    cell = np.floor(even / step).astype(np.int64)
    cell -= cell.min(axis=0)
    span = cell.max(axis=0) + 1
    code = (cell[:, 0] * span[1] + cell[:, 1]) * span[2] + cell[:, 2]
    _, place = np.unique(code, return_inverse=True)
    count = np.bincount(place, weight)
    means = [np.bincount(place, weight * even[:, axis]) / count for axis in range(3)]
    return ColourHeap(even=np.stack(means, axis=1), share=count / count.sum())


def blend(even: np.ndarray, tones: np.ndarray, cost: float = BLEND_COST) -> Blends:
    """Return each colour, (N, 3), as the cheapest blend of two of the tones, (K, 3)."""
    rows = np.arange(len(even))
    square = np.square(even).sum(axis=1)[:, None] + np.square(tones).sum(axis=1)[None]
    dot = even @ tones.T
    away = np.maximum(square - 2 * dot, 0)
    main = away.argmin(axis=1)
    own = away[rows, main]
    count = len(tones)
    if count == 1:
        return Blends(main=main, other=main.copy(), part=np.zeros(len(even)), cost=own)
    first, second = (part.ravel() for part in np.divmod(np.arange(count * count), count))
    pairs = first != second
    first, second = first[pairs], second[pairs]
    gram = tones @ tones.T
    length = np.maximum(gram[first, first] + gram[second, second] - 2 * gram[first, second], 1e-9)
    # (x - first) . (second - first), all colours by all pairs
    along = dot[:, second] - dot[:, first] - (gram[first, second] - gram[first, first])
    part = np.clip(along / (length * (1 + cost)), 0, 0.5)
    total = away[:, first] - 2 * part * along + (1 + cost) * part * part * length
    best = total.argmin(axis=1)
    return Blends(
        main=first[best],
        other=second[best],
        part=part[rows, best],
        cost=np.maximum(total[rows, best], 0),
    )


def _pull(cost: np.ndarray) -> np.ndarray:
    """How much a colour counts by what is left of it: half as steeply beyond reach."""
    return 1 / np.sqrt(1 + cost / _REACH**2)


def _left(heap: ColourHeap, tones: np.ndarray, cost: float) -> float:
    """What is left unexplained, one number: robust, smooth in the tones."""
    found = blend(heap.even, tones, cost).cost
    return float(heap.share @ (np.sqrt(1 + found / _REACH**2) - 1))


def settled(
    heap: ColourHeap,
    tones: np.ndarray,
    cost: float = BLEND_COST,
    rounds: int = _ROUNDS,
    fixed: np.ndarray | None = None,
) -> np.ndarray:
    """Move the tones, (K, 3), to where they explain most; `fixed` ones, (K,) bool, stay.

    Blends and tones are found in turn, the tones by weighted least squares.
    """
    count = len(tones)
    free = np.arange(count) if fixed is None else np.flatnonzero(~fixed)
    for _ in range(rounds):
        found = blend(heap.even, tones, cost)
        weight = heap.share * _pull(found.cost)
        less, more = found.part, 1 - found.part
        normal = np.zeros((count, count))
        right = np.zeros((count, 3))
        np.add.at(normal, (found.main, found.main), weight * (more**2 + cost * less**2))
        np.add.at(normal, (found.other, found.other), weight * (1 + cost) * less**2)
        across = weight * (more * less - cost * less**2)
        np.add.at(normal, (found.main, found.other), across)
        np.add.at(normal, (found.other, found.main), across)
        for axis in range(3):
            colours = heap.even[:, axis]
            right[:, axis] += np.bincount(found.main, weight * more * colours, count)
            right[:, axis] += np.bincount(found.other, weight * less * colours, count)
        # A tone nothing speaks for stays where it was.
        normal += 1e-6 * np.eye(count)
        right += 1e-6 * tones
        new = tones.copy()
        if free.size == count:
            new = np.linalg.solve(normal, right)
        elif free.size:
            held = np.setdiff1d(np.arange(count), free)
            rest = right[free] - normal[np.ix_(free, held)] @ tones[held]
            new[free] = np.linalg.solve(normal[np.ix_(free, free)], rest)
        moved = np.abs(new - tones).max()
        tones = new
        if moved < 0.02:
            break
    return tones


def with_one_more(heap: ColourHeap, tones: np.ndarray, cost: float = BLEND_COST) -> np.ndarray:
    """Return tones, (K + 1, 3), with the one more that explains most: one parted in two, or new."""
    found = blend(heap.even, tones, cost)
    trials = []
    for k in range(len(tones)):
        own = found.main == k
        weight = heap.share[own]
        if weight.sum() < 0.01:
            continue
        away = heap.even[own] - np.average(heap.even[own], axis=0, weights=weight)
        spread, axes = np.linalg.eigh((away * weight[:, None]).T @ away / weight.sum())
        way = axes[:, -1] * np.sqrt(spread[-1])
        trials.append(np.vstack([np.delete(tones, k, axis=0), tones[k] - way, tones[k] + way]))
    trials.append(np.vstack([tones, _where_most(heap, heap.share * found.cost)]))
    trials = [settled(heap, trial, cost, _TRIAL_ROUNDS) for trial in trials]
    best = sorted(trials, key=lambda trial: _left(heap, trial, cost))[:2]
    best = [settled(heap, trial, cost) for trial in best]
    return min(best, key=lambda trial: _left(heap, trial, cost))


def _exchanged(heap: ColourHeap, tones: np.ndarray, cost: float) -> np.ndarray:
    """Take the tone away that is missed least and find one more elsewhere, if that explains more.

    Growing one by one may end where no single step helps; this leaves most such places, so that
    pictures that hardly differ end alike.
    """
    left = _left(heap, tones, cost)
    without = [np.delete(tones, k, axis=0) for k in range(len(tones))]
    missed = [_left(heap, trial, cost) for trial in without]
    for k in np.argsort(missed, kind="stable")[:_EXCHANGED]:
        trial = settled(heap, without[k], cost, _TRIAL_ROUNDS)
        trial = with_one_more(heap, trial, cost)
        new = _left(heap, trial, cost)
        if new < left * 0.995:
            tones, left = trial, new
    return tones


def enough_tones(
    heap: ColourHeap, seen: ColourHeap, most: int = MOST_TONES, cost: float = BLEND_COST
) -> np.ndarray:
    """Return the fewest tones, (K, 3) even coordinates, that explain the picture.

    `heap` are its colours calmed, `seen` those that are seen from where it is judged.

    A tone has to earn its place: it must take a fixed share off what is left, counted on top of
    what nobody minds, as in a minimum description length (Rissanen 1978). Near a tie noise can
    still tip it.
    """
    tones = np.average(heap.even, axis=0, weights=heap.share)[None]
    if _is_slope(heap):
        return settled(heap, with_one_more(heap, tones, cost), PURE_COST)
    best, lowest = tones, _length(heap, tones, cost)
    while len(tones) < most and np.log(_NOT_MINDED) + _EARNS * len(tones) < lowest:
        tones = with_one_more(heap, tones, cost)
        if len(tones) > 2:
            tones = _exchanged(heap, tones, cost)
        length = _length(heap, tones, cost)
        if length < lowest:
            best, lowest = tones, length
    return _with_missed(seen, settled(heap, best, PURE_COST), most, cost)


def _with_missed(heap: ColourHeap, tones: np.ndarray, most: int, cost: float) -> np.ndarray:
    """Add tones that are little of the picture but like nothing else in it: a stain, a highlight.

    The others stay where they are, so that one more or less of these leaves the palette alone.
    """
    for share in _MISSED_SHARES:
        away = np.linalg.norm(heap.even - blend(heap.even, tones, _OWN_COST).rebuilt(tones), axis=1)
        if len(tones) >= most or heap.share[away > _MISSED].sum() < share:
            break
        left = heap.share * np.where(away > _MISSED - 1, away**2, 0)
        start = _where_most(heap, left)
        held = np.arange(len(tones) + 1) < len(tones)
        tones = settled(heap, np.vstack([tones, start]), cost, fixed=held)
    return tones


def _where_most(heap: ColourHeap, left: np.ndarray) -> np.ndarray:
    """Return the colour, (3,), around which most is left, (N,).

    Counted within a few just visible steps, so that no single cell decides.
    """
    most = np.argsort(-left, kind="stable")[:60]
    near = np.square(heap.even[most][:, None] - heap.even[None]).sum(axis=2) < 16
    place = heap.even[most[(near @ left).argmax()]]
    for _ in range(5):  # to the middle of them, whichever cell it began at
        weight = left * np.exp(-np.square(heap.even - place).sum(axis=1) / 16)
        place = weight @ heap.even / max(weight.sum(), 1e-12)
    return place


def _is_slope(heap: ColourHeap) -> bool:
    """Whether all colours lie evenly on one straight way: a slope between two tones, no steps."""
    away = heap.even - np.average(heap.even, axis=0, weights=heap.share)
    spread, axes = np.linalg.eigh((away * heap.share[:, None]).T @ away)
    if spread[:2].sum() > _STRAIGHT**2:
        return False
    along = away @ axes[:, -1]
    order = np.argsort(along)
    heaped = np.cumsum(heap.share[order]) - heap.share[order] / 2
    even = (along[order] - along.min()) / max(float(np.ptp(along)), 1e-9)
    return bool(np.abs(heaped - even).max() < _EVEN_STEPS)


def _length(heap: ColourHeap, tones: np.ndarray, cost: float) -> float:
    """What it takes to describe the picture by tones: the log of what is left, and the tones."""
    left = _WHOLE * what_is_left(heap, tones, 1.0) + (1 - _WHOLE) * what_is_left(heap, tones, cost)
    return float(np.log(left + _NOT_MINDED) + _EARNS * (len(tones) - 1))


def what_is_left(heap: ColourHeap, tones: np.ndarray, cost: float) -> float:
    """Return the mean distance, even units, of the colours from blends of (K, 3) tones.

    At `cost` 1 or more they are not blended: what is left where each place shows one tone whole.
    """
    found = blend(heap.even, tones, cost)
    rebuilt = tones[found.main] if cost >= 1 else found.rebuilt(tones)
    return float(heap.share @ np.linalg.norm(heap.even - rebuilt, axis=1))
