"""Find the mixes nearest a colour: exactly among all of few paints, by steps beyond.

Up to three paints are looked up in an index of all mixes, cell by cell in the order of the
least CIEDE2000 a cell can hold, until no cell left can hold a better one: the answer is the one
full enumeration gives. A fourth paint, and shelves too large to enumerate, start
from the best smaller mixes.
"""

from __future__ import annotations

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.errors import PaintError
from jartide.paint.colour_cells import least_de00
from jartide.paint.enumeration import HidingColours, Numbering
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import lab_of
from jartide.paint.hiding import parts_row
from jartide.paint.mix_index import STEP, MixIndex, build_index, can_index
from jartide.paint.predict import Trials, predict
from jartide.paint.recipe import Part, Recipe, Wishes, as_lab
from jartide.paint.rows import hiding_layers
from jartide.paint.step_search import STARTS, by_steps, measurable, one_more

# Rounded colours in the index stand off the true ones by no more than this.
_ROUNDED = 0.03
# Mixes looked at together; a few cells' worth.
_AT_ONCE = 6000
# Mixes predicted in full, at most.
_EXACT, _TAUGHT = 2000, 200
# Times the aim is moved by what trial jars teach.
_AIMS = 3


def usable(fitted: FittedShelf, wishes: Wishes) -> list[int]:
    """Return the paints that a search may use.

    Raises
    ------
    PaintError : when no paint is left, or one to be kept is not allowed.
    """
    allowed = set(range(len(fitted.shelf.paints)))
    if wishes.paints is not None:
        allowed &= wishes.paints
    if not allowed:
        raise PaintError("error.mix.no_paint")
    if not wishes.keep <= allowed or len(wishes.keep) > wishes.most_paints:
        raise PaintError("error.mix.keep")
    return sorted(allowed)


def find_mixes(
    fitted: FittedShelf,
    target: Lab,
    wishes: Wishes,
    index: MixIndex | None = None,
    trials: Trials | None = None,
) -> tuple[Recipe, ...]:
    """Return the best mixes, all of different paints, nearest first.

    Parameters
    ----------
    index : of this shelf, for at least as many paints and parts; made on the spot if missing
    trials : what mixed jars really read; the aim is moved by what they teach

    Raises
    ------
    PaintError : when the wishes leave no paint or no parts.
    """
    paints = usable(fitted, wishes)
    least = max(1, len(wishes.keep))
    if wishes.most_parts < least:
        raise PaintError("error.mix.few_parts", least=least)
    colours = HidingColours.of(fitted.parameters)
    depth = min(wishes.most_paints, 3, len(paints))
    if index is None or not _serves(index, paints, depth, wishes.most_parts):
        index = None
        if can_index(len(paints), depth, wishes.most_parts):
            index = build_index(fitted.parameters, paints, depth, wishes.most_parts)
    wanted = wishes.top if wishes.most_paints <= 3 else max(wishes.top, STARTS)
    aim = np.asarray(target, dtype=float)
    best: tuple[Recipe, ...] = ()
    for _ in range(1 if trials is None else _AIMS):
        if index is not None:
            found = _looked_up(index, aim, wishes, depth, wanted, len(fitted.shelf.paints))
        else:
            found = by_steps(colours, aim, paints, wishes, depth)
        if wishes.most_paints > 3 and len(paints) > 3:
            found = one_more(colours, aim, paints, _each_set(found), wishes, STARTS)
        ranked = _ranked(fitted, target, found, wishes, trials)
        best = _nearest_of_each((*best, *ranked))[: wishes.top]
        if trials is not None:
            untaught = recipes_of(fitted, target, parts_rows(fitted, best[:1]))[0]
            aim = np.array(target) - (np.array(best[0].lab) - np.array(untaught.lab))
    return best


def _nearest_of_each(recipes: tuple[Recipe, ...]) -> tuple[Recipe, ...]:
    """Return the nearest recipe of each set of paints, nearest first."""
    kept: dict[frozenset[int], Recipe] = {}
    for recipe in sorted(recipes, key=lambda one: one.de00):
        kept.setdefault(recipe.paints(), recipe)
    return tuple(kept.values())


def parts_rows(fitted: FittedShelf, recipes: tuple[Recipe, ...]) -> np.ndarray:
    """Return the parts of recipes, (R, P)."""
    return np.vstack([parts_row(fitted, recipe.parts) for recipe in recipes])


def _each_set(parts: np.ndarray) -> np.ndarray:
    """Return the first mix of each set of paints."""
    first: dict[bytes, int] = {}
    for row, own in enumerate(parts > 0):
        first.setdefault(own.tobytes(), row)
    return parts[list(first.values())]


def _serves(index: MixIndex, paints: list[int], depth: int, parts: int) -> bool:
    return (
        set(paints) <= set(index.paints)
        and index.most_paints >= depth
        and index.most_parts >= parts
    )


def _looked_up(
    index: MixIndex, target: np.ndarray, wishes: Wishes, depth: int, wanted: int, shelf: int
) -> np.ndarray:
    """Return parts, (N, P), of all mixes as near as the `wanted`-th nearest set of paints."""
    numbered = index.numbering()
    set_ok, way_ok = _allowed(numbered, wishes, depth)
    least = least_de00(target, index.low, index.high)
    order = np.argsort(least, kind="stable")
    sizes = np.diff(index.begin)[order]
    ends = np.cumsum(sizes)
    set_begin = np.concatenate([[0], np.cumsum(numbered.set_counts())])
    values, numbers, sets = np.empty(0), np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64)
    worst = np.inf
    cell, at_once = 0, _AT_ONCE
    while cell < order.size and least[order[cell]] <= worst + _ROUNDED:
        before = ends[cell - 1] if cell else 0
        stop = int(np.searchsorted(ends, before + at_once)) + 1
        # No cell beyond the bound needs a look, however many fit.
        reach = int(np.searchsorted(least[order[cell:]], worst + _ROUNDED))
        stop = min(stop, cell + max(1, reach), order.size)
        rows = _rows_of(index, order[cell:stop])
        cell, at_once = stop, min(at_once * 2, 200_000)
        apart = delta_e_2000(index.lab[rows] * STEP, target)
        near = apart <= worst + _ROUNDED
        number = index.mix[rows[near]].astype(np.int64)
        size, of_set, way = numbered.parted(number)
        ok = set_ok[set_begin[size] + of_set]
        for place, allowed in enumerate(way_ok):
            own = size == place
            ok[own] &= allowed[way[own]]
        values = np.concatenate([values, apart[near][ok]])
        numbers = np.concatenate([numbers, number[ok]])
        sets = np.concatenate([sets, (set_begin[size] + of_set)[ok]])
        worst = _nth_set(values, sets, wanted)
        kept = values <= worst + _ROUNDED
        values, numbers, sets = values[kept], numbers[kept], sets[kept]
    if not values.size:
        raise PaintError("error.mix.nothing")
    # Rounded colours may change places: the exact look sees all that are near.
    first = np.argsort(values, kind="stable")[:_EXACT]
    return numbered.weights(numbers[first], shelf)


def _rows_of(index: MixIndex, cells: np.ndarray) -> np.ndarray:
    begin, end = index.begin[cells], index.begin[cells + 1]
    long = end - begin
    return np.repeat(begin - np.concatenate([[0], np.cumsum(long)[:-1]]), long) + np.arange(
        long.sum()
    )


def _nth_set(values: np.ndarray, sets: np.ndarray, wanted: int) -> float:
    """Return the distance of the nearest mix of the `wanted`-th nearest set of paints."""
    order = np.argsort(values, kind="stable")
    _, first = np.unique(sets[order], return_index=True)
    if first.size < wanted:
        return float("inf")
    return float(values[order][np.sort(first)[wanted - 1]])


def _allowed(
    numbered: Numbering, wishes: Wishes, depth: int
) -> tuple[np.ndarray, list[np.ndarray]]:
    """Return which sets, of all sizes in a row, and which ways of each size are wished for."""
    sets, ways = [], []
    for size, (own, parts) in enumerate(zip(numbered.sets, numbered.ways, strict=True), start=1):
        ok = np.full(own.shape[0], size <= depth)
        if wishes.paints is not None:
            ok &= np.isin(own, list(wishes.paints)).all(axis=1)
        for paint in wishes.keep:
            ok &= (own == paint).any(axis=1)
        sets.append(ok)
        ways.append(measurable(parts, wishes))
    return np.concatenate(sets), ways


def _ranked(
    fitted: FittedShelf,
    target: Lab,
    parts: np.ndarray,
    wishes: Wishes,
    trials: Trials | None,
) -> tuple[Recipe, ...]:
    """Return the nearest mix of each set of paints, with exact colours and bounds."""
    whole = parts.sum(axis=1, keepdims=True)
    if trials is None:
        labs = lab_of(hiding_layers(parts / whole), fitted.parameters)
    else:
        parts, whole = parts[:_TAUGHT], whole[:_TAUGHT]
        labs = predict(fitted, hiding_layers(parts / whole), trials).lab
    exact = delta_e_2000(labs, target)
    chosen: dict[frozenset[int], int] = {}
    # At one distance the fewer parts are the better mix.
    for row in np.lexsort((whole[:, 0], np.round(exact, 3))):
        chosen.setdefault(frozenset(np.flatnonzero(parts[row]).tolist()), int(row))
    rows = list(chosen.values())[: wishes.top]
    return recipes_of(fitted, target, parts[rows], trials)


def recipes_of(
    fitted: FittedShelf, target: Lab, parts: np.ndarray, trials: Trials | None = None
) -> tuple[Recipe, ...]:
    """Return recipes of given parts, (R, P), predicted and held against a wanted colour."""
    predicted = predict(fitted, hiding_layers(parts / parts.sum(axis=1, keepdims=True)), trials)
    apart = delta_e_2000(predicted.lab, target)
    return tuple(
        Recipe(
            parts=tuple(
                Part(paint=int(paint), parts=float(row[paint]))
                for paint in sorted(np.flatnonzero(row), key=lambda paint: -row[paint])
            ),
            lab=as_lab(lab),
            de00=float(de00),
            uncertainty_de00=float(bound),
        )
        for row, lab, de00, bound in zip(
            parts, predicted.lab, apart, predicted.bound_de00, strict=True
        )
    )
