"""Good mixes by steps: where all mixes are too many, from the best smaller ones one paint on."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.errors import PaintError
from jartide.paint.enumeration import HidingColours, numbering, whole_parts
from jartide.paint.recipe import Wishes

# Sets of paints that a fourth is tried with, and as starts on shelves too large to enumerate.
STARTS, WIDE_STARTS = 90, 120
# Ways to share out parts that are computed for each set, of those that look nearest.
_SHORT_LIST = 36
_STEP = 1e-3


def measurable(parts: np.ndarray, wishes: Wishes) -> np.ndarray:
    """Return which ways, (M,), keep to the most parts and to the least that can be measured."""
    whole = parts.sum(axis=1)
    return (whole <= wishes.most_parts) & (parts.min(axis=1) >= wishes.least_share * whole)


def by_steps(
    colours: HidingColours, target: np.ndarray, paints: list[int], wishes: Wishes, depth: int
) -> np.ndarray:
    """Return good mixes, (N, P) parts, of a shelf too large to enumerate: pairs, then thirds."""
    numbered = numbering(tuple(paints), min(depth, 2), wishes.most_parts)
    shelf = colours.k.shape[0]
    found = np.zeros((0, shelf))
    for sets, ways in zip(numbered.sets, numbered.ways, strict=True):
        fitting = ways[measurable(ways, replace(wishes, keep=frozenset()))]
        found = _best_of_sets(colours, target, sets, fitting, found, WIDE_STARTS)
    for _ in range(depth - 2):
        found = one_more(colours, target, paints, found, wishes, WIDE_STARTS)
    kept = [row for row in found if all(row[paint] > 0 for paint in wishes.keep)]
    while not kept and wishes.keep:
        # What must be in it was in none of the best: start from it.
        found = np.zeros((1, shelf))
        found[0, list(wishes.keep)] = 1
        for _ in range(max(1, depth - len(wishes.keep))):
            found = np.vstack(
                [found, one_more(colours, target, paints, found, wishes, WIDE_STARTS)]
            )
        kept = list(found)
    if not kept:
        raise PaintError("error.mix.nothing")
    return np.array(kept)


def one_more(
    colours: HidingColours,
    target: np.ndarray,
    paints: list[int],
    found: np.ndarray,
    wishes: Wishes,
    starts: int,
) -> np.ndarray:
    """Return the best mixes, (M, P) parts, with one paint more than the nearest found, and those.

    For each set the ways to share out parts are ranked by the slopes of the start, and the
    nearest of them computed.
    """
    metric = colour_metric(target)
    tasks = []
    seen: set[frozenset[int]] = set()
    for row in found[:starts]:
        own = np.flatnonzero(row)
        if own.size >= wishes.most_paints:
            continue
        others = [p for p in paints if row[p] == 0 and frozenset((*own, p)) not in seen]
        seen.update(frozenset((*own, p)) for p in others)
        ways = whole_parts(own.size + 1, wishes.most_parts)
        ways = ways[measurable(ways, wishes)]
        if others and ways.size:
            tasks.append((row, own, np.array(others), ways))

    def extended(task: tuple) -> tuple[np.ndarray, np.ndarray]:
        return _extended(colours, target, metric, *task)

    with ThreadPoolExecutor(2) as pool:
        parted = list(pool.map(extended, tasks))
    if not parted:
        return found
    apart = np.concatenate([own for own, _ in parted])
    rows = np.concatenate([own for _, own in parted])
    first = np.argsort(apart, kind="stable")[: max(starts, wishes.top)]
    return _nearest_first(colours, target, np.vstack([found, rows[first]]))


def _extended(
    colours: HidingColours,
    target: np.ndarray,
    metric: np.ndarray,
    row: np.ndarray,
    own: np.ndarray,
    others: np.ndarray,
    ways: np.ndarray,
) -> tuple[np.ndarray, np.ndarray]:
    """Return the nearest mix of a start's paints with each other one: how near, and parts."""
    start = row / row.sum()
    # Lab is homogeneous in the parts, so its slopes say what any shares near these look like.
    around = colours.of_weights(np.vstack([start[None], start + _STEP * np.eye(row.size)]))
    slope = (around[1:] - around[0]) / _STEP
    shares = (ways / ways.sum(axis=1, keepdims=True)).astype(np.float32)
    near = around[0] + shares[:, :-1] @ slope[own] - target.astype(np.float32)
    guess = near[None] + shares[None, :, -1:] * slope[others][:, None]
    rank = ((guess @ metric) * guess).sum(axis=-1)
    most = min(_SHORT_LIST, ways.shape[0])
    short = np.argpartition(rank, most - 1, axis=1)[:, :most]
    sets = np.hstack([np.tile(own, (others.size, 1)), others[:, None]])
    apart = apart_by(metric, colours.of_shares(sets, shares[short]), target)
    best = apart.argmin(axis=1)
    each = np.arange(others.size)
    parts = np.zeros((others.size, row.size))
    parts[each[:, None], sets] = ways[short[each, best]]
    return apart[each, best], parts


def _best_of_sets(
    colours: HidingColours,
    target: np.ndarray,
    sets: np.ndarray,
    ways: np.ndarray,
    found: np.ndarray,
    most: int,
) -> np.ndarray:
    """Return the nearest mix, in parts, of each of the best sets, joined with those found."""
    if not ways.size:
        return found
    metric = colour_metric(target)

    def nearest(run: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        labs = colours.of_parts(run, ways.astype(np.float32))
        apart = apart_by(metric, labs, target)
        return apart.min(axis=1), apart.argmin(axis=1)

    step = max(1, 12_000 // ways.shape[0])
    with ThreadPoolExecutor(2) as pool:
        runs = [sets[at : at + step] for at in range(0, sets.shape[0], step)]
        parted = list(pool.map(nearest, runs))
    apart, way = (np.concatenate(part) for part in zip(*parted, strict=True))
    first = np.argsort(apart, kind="stable")[:most]
    new = np.zeros((first.size, found.shape[1]))
    for row, place in enumerate(first):
        new[row, sets[place]] = ways[way[place]]
    return _nearest_first(colours, target, np.vstack([found, new]))


def _nearest_first(colours: HidingColours, target: np.ndarray, parts: np.ndarray) -> np.ndarray:
    labs = colours.of_weights(parts / parts.sum(axis=1, keepdims=True))
    return parts[np.argsort(delta_e_2000(labs, target), kind="stable")]


def colour_metric(target: np.ndarray) -> np.ndarray:
    """Return CIEDE2000 squared around a colour as a quadratic form of Lab, (3, 3)."""
    step = 0.5
    axes = np.eye(3) * step
    metric = np.empty((3, 3))
    single = [float(delta_e_2000(target, target + axis)) ** 2 for axis in axes]
    for i in range(3):
        for j in range(3):
            both = float(delta_e_2000(target, target + axes[i] + axes[j])) ** 2
            metric[i, j] = single[i] if i == j else (both - single[i] - single[j]) / 2
    return (metric / step**2).astype(np.float32)


def apart_by(metric: np.ndarray, labs: np.ndarray, target: np.ndarray) -> np.ndarray:
    """Return CIEDE2000 squared of (N, 3) Lab, its weights, (3, 3), frozen at the target, (3,)."""
    away = labs - target.astype(np.float32)
    return ((away @ metric) * away).sum(axis=-1)
