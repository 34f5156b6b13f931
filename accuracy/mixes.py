"""Predicted mixes and glazes against painted ones whose spectra are known.

The fit sees noisy Lab readings only; pigments, bench and light transport are drawn elsewhere.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from itertools import combinations

import numpy as np

from accuracy.rows import Row
from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import lab_of_reflectance, smoothest_reflectance
from jartide.colour.words import Lab
from jartide.paint.correct import corrections
from jartide.paint.enumeration import HidingColours, whole_parts
from jartide.paint.fit import fit_shelf
from jartide.paint.fitted import FittedShelf
from jartide.paint.glaze import films
from jartide.paint.mix_index import build_index
from jartide.paint.predict import predict
from jartide.paint.recipe import Part, Wishes, as_lab
from jartide.paint.rows import hiding_layers
from jartide.paint.search import find_mixes
from jartide.paint.veil import find_veil
from jartide.studio.pigments import (
    LADDERS,
    Bench,
    Pigment,
    glazed,
    hiding,
    hiding_shown,
    painted_shelf,
    pigments,
    read,
)

# Bounds and bends were set on seeds 1 to 3.
SEEDS = (11, 12, 13)
GOALS = {
    "white": None,
    "masstone": None,
    "black": ((0.55, 1.4), None),
    "glaze": ((0.40, 1.1), (0.38, 1.1)),
}


def bench_of(seed: int) -> Bench:
    """Return a bench whose surface and water differ from those before."""
    rng = np.random.default_rng(seed + 100)
    return Bench(
        mirrored=rng.uniform(0, 0.5), k2=rng.uniform(0.45, 0.62), water_takes=rng.uniform(0.7, 1)
    )


def mix_rows(quick: bool) -> Iterator[Row]:
    """Yield errors of mixes, glazes, bounds, corrections, veils and searches."""
    seeds = SEEDS
    which = "few mixes" if quick else f"{len(seeds)} shelves"
    for ladder in LADDERS:
        mixed = [mix_errors(seed, ladder, 50 if quick else 200) for seed in seeds]
        films_of = [glaze_errors(seed, ladder, 45 if quick else 130) for seed in seeds]
        for what, parts, goal in (
            ("mixes", mixed, GOALS[ladder] and GOALS[ladder][0]),
            ("glazes", films_of, GOALS[ladder] and GOALS[ladder][1]),
        ):
            error = np.concatenate([own for own, _ in parts])
            bound = np.concatenate([own for _, own in parts])
            if goal:
                yield Row(
                    name=f"{what}, {ladder} known, CIEDE2000, median, {which}",
                    error=float(np.median(error)),
                    goal=goal[0],
                )
                yield Row(
                    name=f"{what}, {ladder} known, CIEDE2000, 90th, {which}",
                    error=float(np.percentile(error, 90)),
                    goal=goal[1],
                )
            if quick:
                continue
            held = 100 * float(np.mean(error <= bound))
            print(f"({what}, {ladder}: bounds hold {held:.1f} %)", file=sys.stderr)
            yield Row(
                name=f"{what}, {ladder} known, bound holds, points from 91 %, {which}",
                error=abs(held - 91),
                goal=6.0,
            )
    fixed = np.concatenate([corrected_errors(seed, 6 if quick else 40) for seed in seeds])
    yield Row(name=f"corrected jar, median, {which}", error=float(np.median(fixed)), goal=0.35)
    yield Row(name=f"corrected jar, 90th, {which}", error=float(np.percentile(fixed, 90)), goal=0.9)
    veils = np.concatenate([veil_errors(seed, 15 if quick else 60) for seed in seeds])
    yield Row(
        name=f"contrast under a veil, L*, 90th, {which}",
        error=float(np.percentile(veils, 90)),
        goal=1.5,
    )
    if quick:
        return
    exact, four = search_gaps()
    yield Row(name="3 of 24 paints: gap to enumeration, worst of 40", error=exact, goal=1e-6)
    yield Row(name="4 of 24 paints: gap to enumeration, 90th of 40", error=four, goal=0.05)


def _random_mix(rng: np.random.Generator, paints: int) -> dict[int, float]:
    chosen = rng.choice(paints, rng.integers(2, 5), replace=False)
    return {int(n): float(rng.integers(1, 6)) for n in chosen}


def _row(paints: int, parts: dict[int, float]) -> np.ndarray:
    row = np.zeros(paints)
    for number, count in parts.items():
        row[number] = count
    return row / row.sum()


def mix_errors(seed: int, ladder: str, count: int) -> tuple[np.ndarray, np.ndarray]:
    """Return CIEDE2000 of predicted from true mixes, and the stated bounds, (count,) each."""
    paints, bench = pigments(seed), bench_of(seed)
    fitted = fit_shelf(painted_shelf(paints, bench, ladder, seed))
    rng = np.random.default_rng([seed, 1])
    mixes = [_random_mix(rng, len(paints)) for _ in range(count)]
    true = np.array([hiding(paints, parts, bench) for parts in mixes])
    rows = np.array([_row(len(paints), parts) for parts in mixes])
    predicted = predict(fitted, hiding_layers(rows))
    return delta_e_2000(predicted.lab, true), predicted.bound_de00


def glaze_errors(seed: int, ladder: str, count: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the same of glazes 1 : 1 to 1 : 12, 0 to 3 parts of water, 1 to 3 coats."""
    paints, bench = pigments(seed), bench_of(seed)
    fitted = fit_shelf(painted_shelf(paints, bench, ladder, seed))
    rng = np.random.default_rng([seed, 2])
    true, rows, grounds = [], [], []
    carrier, water = rng.integers(1, 13, count), rng.integers(0, 4, count)
    coats = rng.integers(1, 4, count)
    for n in range(count):
        paint = int(rng.integers(len(paints)))
        ground = hiding_shown(paints, _random_mix(rng, len(paints)), bench)
        grounds.append(read(lab_of_reflectance(ground), 0.3, rng))
        rows.append(_row(len(paints), {paint: 1.0}))
        true.append(
            glazed(
                paints,
                {paint: 1.0},
                bench,
                ground,
                carrier=float(carrier[n]),
                water=float(water[n]),
                coats=float(coats[n]),
            )
        )
    painted = films(
        np.array(rows),
        smoothest_reflectance(np.array(grounds)),
        carrier=carrier,
        water=water,
        coats=coats,
    )
    predicted = predict(fitted, painted)
    return delta_e_2000(predicted.lab, np.array(true)), predicted.bound_de00


def corrected_errors(seed: int, count: int) -> np.ndarray:
    """Return how far jars are from their targets after one trial reading and what it adds."""
    paints, bench = pigments(seed), bench_of(seed)
    fitted = fit_shelf(painted_shelf(paints, bench, "black", seed))
    index = build_index(fitted.parameters, list(range(len(paints))), 3, 12)
    rng = np.random.default_rng([seed, 3])
    errors = []
    for _ in range(count):
        target = as_lab(hiding(paints, _random_mix(rng, len(paints)), bench))
        recipe = find_mixes(fitted, target, Wishes(top=1), index)[0]
        # Measured out with a spoon: every part errs by 3 %.
        used = {p.paint: p.parts * float(np.exp(rng.normal(0, 0.03))) for p in recipe.parts}
        shown = read(hiding(paints, used, bench), 0.3, rng)
        jar = tuple(Part(paint=n, parts=p) for n, p in used.items())
        best = corrections(fitted, jar, shown, target)[0]
        for part in best.add:
            used[part.paint] = used.get(part.paint, 0.0) + part.parts
        errors.append(float(delta_e_2000(hiding(paints, used, bench), target)))
    return np.array(errors)


def veil_errors(seed: int, count: int) -> np.ndarray:
    """Return how far the contrast under computed veils is from the wanted one, L*."""
    paints, bench = pigments(seed), bench_of(seed)
    fitted = fit_shelf(painted_shelf(paints, bench, "glaze", seed))
    rng = np.random.default_rng([seed, 4])
    errors: list[float] = []
    while len(errors) < count:
        ground, veins = (_random_mix(rng, len(paints)) for _ in range(2))
        shown = [hiding_shown(paints, parts, bench) for parts in (ground, veins)]
        labs: list[Lab] = [read(lab_of_reflectance(one), 0.3, rng) for one in shown]
        now = abs(labs[0][0] - labs[1][0])
        if now < 12:
            continue
        wanted = now * rng.uniform(0.3, 0.8)
        parts = tuple(Part(paint=n, parts=p) for n, p in ground.items())
        veil = find_veil(fitted, parts, labs[1], labs[0], wanted)[0]
        whole = sum(ground.values())
        under = [
            glazed(
                paints,
                ground,
                bench,
                one,
                carrier=veil.carrier * whole,
                water=veil.water * whole,
                coats=veil.coats,
            )[0]
            for one in shown
        ]
        errors.append(abs(abs(under[0] - under[1]) - wanted))
    return np.array(errors)


def search_gaps(count: int = 40, paints: int = 24) -> tuple[float, float]:
    """Return the worst gap of 3-paint searches and the 90th percentile of 4-paint ones.

    Against every mix there is, in CIEDE2000 of the predicted colours.
    """
    made: tuple[Pigment, ...] = pigments(SEEDS[0])[:paints]
    bench = bench_of(SEEDS[0])
    fitted = fit_shelf(painted_shelf(made, bench, "glaze", SEEDS[0]))
    index = build_index(fitted.parameters, list(range(paints)), 3, 12)
    rng = np.random.default_rng(7)
    targets = [as_lab(hiding(made, _random_mix(rng, paints), bench)) for _ in range(count)]
    best = {size: _enumerated(fitted, paints, size, targets) for size in (3, 4)}
    gaps: dict[int, list[float]] = {3: [], 4: []}
    for n, target in enumerate(targets):
        for size in (3, 4):
            found = find_mixes(fitted, target, Wishes(top=1, most_paints=size), index)[0]
            # Enumerated in single precision: what that loses is no gap.
            gaps[size].append(max(found.de00 - best[size][n], 0.0))
    return float(max(gaps[3])), float(np.percentile(gaps[4], 90))


def _enumerated(fitted: FittedShelf, paints: int, most: int, targets: list[Lab]) -> np.ndarray:
    """Return the least CIEDE2000 of all mixes of at most `most` paints in 12 parts."""
    colours = HidingColours.of(fitted.parameters)
    least = np.full(len(targets), np.inf)
    leading: list[list[tuple[float, np.ndarray]]] = [[] for _ in targets]
    for size in range(1, most + 1):
        sets = np.array(list(combinations(range(paints), size)), dtype=np.int16)
        ways = whole_parts(size, 12)
        step = max(1, 40_000 // ways.shape[0])
        for begin in range(0, sets.shape[0], step):
            run = sets[begin : begin + step]
            labs = colours.of_parts(run, ways.astype(np.float32)).reshape(-1, 3)
            for n, target in enumerate(targets):
                near = np.flatnonzero(((labs - np.array(target)) ** 2).sum(axis=1) < 100)
                if not near.size:
                    continue
                apart = delta_e_2000(labs[near].astype(float), target)
                for place in near[apart < least[n] + 0.02]:
                    row = np.zeros(paints)
                    row[run[place // ways.shape[0]]] = ways[place % ways.shape[0]]
                    leading[n].append((float(apart[near == place][0]), row))
                least[n] = min(least[n], float(apart.min()))
    for n, target in enumerate(targets):
        rows = np.array([row for value, row in leading[n] if value < least[n] + 0.02])
        exact = predict(fitted, hiding_layers(rows / rows.sum(axis=1, keepdims=True))).lab
        least[n] = float(delta_e_2000(exact, target).min())
    return least
