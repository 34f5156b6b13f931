"""Boards painted afresh: does the comparison see what changed, and nothing where nothing did?

    python -m accuracy.fresh [--keep-in DIR] [--unchanged N] [--seeds N]

Every target and every board is another piece of its finish, drawn by one of two generators,
photographed at an angle in a light of its own, a grey known. `--keep-in` keeps the readings, so
that the comparison can be measured again by itself.
"""

from __future__ import annotations

import argparse
import hashlib
import pickle
import sys
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, fields, replace
from itertools import combinations
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from scipy.stats import ttest_ind

from accuracy.layers import one_thread
from accuracy.pairs import read_surface
from accuracy.rows import Row
from accuracy.second.canvas import MM_PER_PX as SECOND_MM_PER_PX
from accuracy.second.canvas import Canvas, lab_of, linear_of
from accuracy.second.families import Change, Recoloured, draw_stack
from accuracy.second.shapes import dabs
from jartide.boards.compare import compare
from jartide.boards.result import Comparison, State, Verdict
from jartide.colour.difference import delta_e_2000
from jartide.reading.read import ALGORITHM
from jartide.reading.result import Reading
from jartide.studio.families import SURFACES, draw_family, vary
from jartide.studio.strokes import Hand
from jartide.studio.truth import Surface, SurfaceTruth

SIZE_MM = 240.0
FIRST_MM_PER_PX = 0.25
# Large changes; half of each is the logarithm's half, or half of the points, degrees or colour.
LARGE = {"colour": 6.0, "share": 0.12, "scale": 1.5, "turned": 20.0, "contrast": 0.6}
LARGE |= {"width": 1.5, "number": 1.7, "softness": 2.5, "layer": 0.06}
_RATIOS = {"scale", "contrast", "width", "number", "softness"}
_SIZES = ("width_mm", "size_mm", "spacing_mm", "per_cm", "diameter_mm", "correlation_mm")
_AMOUNTS = ("coverage", "count_per_dm2", "length_mm_per_cm2", "junctions", "spacing_mm", "size_mm")
# What may be named where something was changed: ends of the quantities' paths.
NAMES: dict[str, tuple[str, ...]] = {
    "colour": (".lab", "contrast_L"),
    "contrast": (".lab", "contrast_L"),
    "share": _AMOUNTS,
    "scale": (*_SIZES, *_AMOUNTS, "common.scale", "edges_mm_per_cm2"),
    "turned": ("direction_deg", "directions"),
    "width": ("width_mm", "coverage", "contrast_L"),
    "number": _AMOUNTS,
    "softness": ("softness_mm",),
    "added": ("].coverage",),
    "missing": ("].coverage",),
}
_TILES = 4
# Pieces of one finish, and the pairs of them.
_PIECES = 5
_PAIRS = tuple(combinations(range(_PIECES), 2))


@dataclass(frozen=True, slots=True, kw_only=True)
class Fresh:
    """A target and a fresh board; `kind` is what was changed, "" for nothing.

    `telling` : whether a test that knows what was drawn would be sure of it.
    """

    family: str
    second: bool
    seed: int
    kind: str
    half: bool
    target: Reading
    board: Reading
    telling: bool

    def compared(self) -> Comparison:
        return compare(self.target, self.board)


def amount_of(kind: str, half: bool) -> float:
    """How much is changed."""
    large = LARGE[kind]
    return large if not half else large**0.5 if kind in _RATIOS else large / 2


def draw(family: str, seed: int, second: bool, patch: int, kind: str, half: bool) -> Surface | None:
    """Draw one piece; None where the family has nothing of this kind to change."""
    amount = amount_of(kind, half) if kind else 1.0
    times = amount if kind == "scale" else 1.0
    size = SIZE_MM / times
    if second:
        change = _IN_STACK.get(kind, lambda amount, seed: Change())(amount, seed)
        stack = draw_stack(family, seed, size, patch, change)
        if kind in _IN_STACK and np.array_equal(
            stack.rgb_linear, draw_stack(family, seed, size, patch).rgb_linear
        ):
            return None
        found = Surface(
            rgb_linear=stack.rgb_linear,
            mm_per_px=SECOND_MM_PER_PX * times,
            truth=SurfaceTruth(family=family, layers=(), direction_deg=None),
            labels=stack.labels,
        )
        return with_layer(found, amount, seed, patch) if kind == "layer" else found
    changes: dict[str, Any] = {}
    if kind in _CHANGES:
        look = vary(SURFACES[family][1](), np.random.default_rng([seed, 77]))
        changes = _CHANGES[kind](look, amount, seed)
        if not changes:
            return None
    surface = draw_family(
        family, (size, size), FIRST_MM_PER_PX, seed, varied=True, patch=patch, **changes
    )
    if kind == "layer":
        return with_layer(surface, amount, seed, patch)
    return replace(surface, mm_per_px=FIRST_MM_PER_PX * times)


def with_layer(surface: Surface, share: float, seed: int, patch: int) -> Surface:
    """Return the surface with dabs of one more paint over that share of it.

    The paint lies CIEDE2000 12 and more from every tone that is there.
    """
    labels = surface.labels
    assert labels is not None
    size_mm = [surface.mm_per_px * n for n in labels.shape[::-1]]
    canvas = Canvas(*size_mm, 7_000 + 100 * seed + patch)
    cover = cv2.resize(dabs(canvas, 9.0, share, 0.6), labels.shape[::-1])
    tones = [
        np.median(lab_of(surface.rgb_linear[labels == n]), axis=0)
        for n in np.unique(labels)
        if (labels == n).mean() > 0.002
    ]
    # The same paint on every piece of a finish.
    rng = np.random.default_rng([seed, 6])
    tries = np.mean(tones, axis=0) + rng.normal(0, (18, 9, 11), (400, 3))
    apart = np.min([delta_e_2000(tries, tone) for tone in tones], axis=0)
    fits = (apart > 12) & (tries[:, 0] > 15) & (tries[:, 0] < 90)
    paint = tries[np.flatnonzero(fits)[0]]
    grain = cv2.GaussianBlur(canvas.rng.standard_normal(labels.shape), (0, 0), 1.1)
    laid = linear_of(paint) * (1 + 0.03 * grain / grain.std())[..., None]
    rgb = surface.rgb_linear + cover[..., None] * (laid - surface.rgb_linear)
    number = min(int(labels.max()) + 1, 5)
    return replace(
        surface,
        rgb_linear=np.clip(rgb, 0, 1).astype(np.float32),
        labels=np.where(cover >= 0.5, number, labels).astype(np.uint8),
    )


# ---- what can be changed of a look


def _labs(look: Any) -> list[str]:
    values = {f.name: getattr(look, f.name) for f in fields(look)}
    return [n for n, v in values.items() if isinstance(v, tuple) and len(v) == 3]


def moved(lab: Sequence[float], de00: float, seed: int) -> tuple[float, float, float]:
    """Return a colour that lies CIEDE2000 `de00` away, some way or other."""
    way = np.random.default_rng([seed, 5]).normal(size=3) * (1, 0.7, 0.7)
    way /= np.linalg.norm(way)
    if not 12 < lab[0] + 2 * de00 * way[0] < 92:
        way = -way
    low, high = 0.0, 6 * de00
    for _ in range(40):
        middle = (low + high) / 2
        near = delta_e_2000(np.array(lab), np.array(lab) + middle * way) < de00
        low, high = (middle, high) if near else (low, middle)
    L, a, b = (float(v) for v in np.array(lab) + low * way)
    return (L, a, b)


def _colour(look: Any, amount: float, seed: int) -> dict[str, Any]:
    names = _labs(look)
    name = names[seed % len(names)]
    return {name: moved(getattr(look, name), amount, seed)}


def _one_moved(amount: float, seed: int) -> Recoloured:
    def change(labs: list[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
        place = seed % len(labs)
        return [moved(lab, amount, seed) if n == place else lab for n, lab in enumerate(labs)]

    return change


def _contrast(look: Any, amount: float, seed: int) -> dict[str, Any]:
    names = _labs(look)
    middle = np.mean([getattr(look, name) for name in names], axis=0)
    found = {}
    for name in names:
        L, a, b = (float(v) for v in middle + amount * (np.array(getattr(look, name)) - middle))
        found[name] = (L, a, b)
    return found


def _share(look: Any, amount: float, seed: int) -> dict[str, Any]:
    names = [f.name for f in fields(look) if f.name.endswith("_share")]
    if not names:
        return {}
    name = names[seed % len(names)]
    value = getattr(look, name)
    return {name: value + amount if value < 0.5 else value - amount}


def _towards_their_mean(amount: float) -> Recoloured:
    def change(labs: list[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
        middle = np.mean(labs, axis=0)
        return [tuple((middle + amount * (np.array(lab) - middle)).tolist()) for lab in labs]

    return change


def _of_hands(look: Any, change: Callable[[Hand], Hand]) -> dict[str, Any]:
    values = {f.name: getattr(look, f.name) for f in fields(look)}
    return {name: change(v) for name, v in values.items() if isinstance(v, Hand)}


def _turned(look: Any, amount: float, seed: int) -> dict[str, Any]:
    found = _of_hands(look, lambda h: replace(h, direction_deg=h.direction_deg + amount))
    for f in fields(look):
        if f.name.endswith("_deg"):
            found[f.name] = getattr(look, f.name) + amount
    return found


def _width(look: Any, amount: float, seed: int) -> dict[str, Any]:
    found = _of_hands(look, lambda h: replace(h, width_mm=h.width_mm * amount))
    for name in ("crack_mm", "groove_mm"):
        if hasattr(look, name):
            found[name] = getattr(look, name) * amount
    return found


def _number(look: Any, amount: float, seed: int) -> dict[str, Any]:
    return _of_hands(look, lambda h: replace(h, per_dm2=h.per_dm2 * amount))


def _softness(look: Any, amount: float, seed: int) -> dict[str, Any]:
    return _of_hands(look, lambda h: replace(h, softness_mm=h.softness_mm * amount))


_CHANGES: dict[str, Callable[[Any, float, int], dict[str, Any]]] = {
    "colour": _colour,
    "contrast": _contrast,
    "share": _share,
    "turned": _turned,
    "width": _width,
    "number": _number,
    "softness": _softness,
}
# The same of the second generator's stacks.
_IN_STACK: dict[str, Callable[[float, int], Change]] = {
    "colour": lambda amount, seed: Change(recoloured=_one_moved(amount, seed)),
    "contrast": lambda amount, seed: Change(recoloured=_towards_their_mean(amount)),
    "share": lambda amount, seed: Change(more_share=amount),
    "turned": lambda amount, seed: Change(turned_deg=amount),
    "width": lambda amount, seed: Change(wider=amount),
    "number": lambda amount, seed: Change(),
    "softness": lambda amount, seed: Change(softer=amount),
}


# ---- would one who knows what was drawn be sure?


def _tiles(surface: Surface) -> np.ndarray:
    """Of each of 16 tiles: the layers' shares, and the logarithm of edge length per share."""
    labels = surface.labels
    assert labels is not None
    found = []
    for rows in np.array_split(labels, _TILES):
        for tile in np.array_split(rows, _TILES, axis=1):
            shares = [float((tile == n).mean()) for n in range(6)]
            edges = (tile[1:] != tile[:-1]).mean() + (tile[:, 1:] != tile[:, :-1]).mean()
            upright = np.log((tile[:, 1:] != tile[:, :-1]).mean() + 1e-3)
            level = np.log((tile[1:] != tile[:-1]).mean() + 1e-3)
            per_mm = np.log(edges / surface.mm_per_px + 1e-4)
            found.append([*shares, per_mm, upright - level])
    return np.array(found)


def _telling(a: np.ndarray, b: np.ndarray, kind: str) -> bool:
    """Whether tiles of what was drawn differ surely; colours and edges are always told."""
    if kind in ("colour", "contrast", "softness", ""):
        return True
    with np.errstate(all="ignore"):
        p = np.nan_to_num(ttest_ind(a, b, equal_var=False).pvalue, nan=1.0)
    return bool(p.min() < 0.05 / len(p))


# ---- readings


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """One piece to read."""

    family: str
    second: bool
    seed: int
    patch: int
    kind: str = ""
    half: bool = False
    kept_in: str = ""


def read_piece(task: Task) -> tuple[Reading, np.ndarray] | None:
    """Draw, photograph and read one piece; or take what was kept of it."""
    key = hashlib.sha256(repr((ALGORITHM, replace(task, kept_in=""))).encode()).hexdigest()[:20]
    path = Path(task.kept_in) / f"{key}.pickle" if task.kept_in else None
    if path is not None and path.exists():
        return pickle.loads(path.read_bytes())
    surface = draw(task.family, task.seed, task.second, task.patch, task.kind, task.half)
    found = None
    if surface is not None:
        shot = task.patch + (2 if task.kind else 0)
        found = (read_surface(surface, task.seed, shot, tilted=True), _tiles(surface))
    if path is not None:
        path.write_bytes(pickle.dumps(found))
    return found


def read_fresh(seeds: int, unchanged: int, kept_in: str = "") -> list[Fresh]:
    """Return pairs with one change, large and half, and `unchanged` without any."""
    sorts = [(family, second) for family in SURFACES for second in (False, True)]
    tasks: list[tuple[Task, Task]] = []
    for seed in range(41, 41 + seeds):
        for family, second in sorts:
            target = Task(family=family, second=second, seed=seed, patch=0, kept_in=kept_in)
            for kind in LARGE:
                for half in (False, True):
                    tasks.append((target, replace(target, patch=1, kind=kind, half=half)))
    # Of five pieces of one finish ten pairs are made: each of them is another draw of the chance.
    for number in range(unchanged):
        family, second = sorts[number % len(sorts)]
        place = number // len(sorts)
        one, other = _PAIRS[place % len(_PAIRS)]
        seed = 41 + place // len(_PAIRS)
        target = Task(family=family, second=second, seed=seed, patch=one, kept_in=kept_in)
        tasks.append((target, replace(target, patch=other)))
    alone = list(dict.fromkeys(task for pair in tasks for task in pair))
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        read = dict(zip(alone, pool.map(read_piece, alone, chunksize=4), strict=True))
    pairs = []
    for one, other in tasks:
        a, b = read[one], read[other]
        if a is not None and b is not None:
            pairs.append(_pair(one, other, a, b))
            if other.kind == "layer":
                # The other way round the board lacks what the target has.
                pairs[-1] = replace(pairs[-1], kind="added")
                pairs.append(replace(_pair(one, other, b, a), kind="missing"))
    return pairs


def _pair(
    one: Task, other: Task, a: tuple[Reading, np.ndarray], b: tuple[Reading, np.ndarray]
) -> Fresh:
    return Fresh(
        family=one.family,
        second=one.second,
        seed=one.seed,
        kind=other.kind,
        half=other.half,
        target=a[0],
        board=b[0],
        telling=_telling(a[1], b[1], other.kind),
    )


# ---- figures


def _named(pair: Fresh, comparison: Comparison, among: int, states: tuple[State, ...]) -> bool:
    first = comparison.differences[:among]
    return any(d.state in states and d.quantity.endswith(NAMES[pair.kind]) for d in first)


def elements(reading: Reading) -> float:
    """How many independent elements a piece shows: of the kind that there is least of."""
    assert reading.size_mm is not None
    dm2 = reading.size_mm[0] * reading.size_mm[1] / 1e4
    pattern = reading.pattern
    counts = [
        block.count_per_dm2.value
        for block in (pattern.patches, pattern.clouds, pattern.cells)
        if block is not None and block.count_per_dm2.value is not None
    ]
    return dm2 * min(counts, default=0.0)


def rows_of(pairs: Sequence[Fresh], *, told: bool = False) -> Iterator[Row]:
    """Yield what the comparison makes of pairs; `told` prints each that is missed."""
    compared = [(pair, pair.compared()) for pair in pairs]
    for half, among, states, goal in (
        (False, 2, (State.DIFFERS,), 10.0),
        (True, 3, (State.DIFFERS, State.LOOKS_DIFFERENT), 20.0),
    ):
        own = [(p, c) for p, c in compared if p.kind and p.half == half and p.telling]
        good = [_named(p, c, among, states) for p, c in own]
        if told:
            for kind in NAMES:
                of_kind = [ok for (p, _), ok in zip(own, good, strict=True) if p.kind == kind]
                print(f"  {kind} {'half' if half else 'large'}: {sum(of_kind)} of {len(of_kind)}")
        words = "half: not among three" if half else "large: not sure and among two"
        missed = 100 * (1 - float(np.mean(good))) if good else 100.0
        yield Row(name=f"fresh, {words}, % of {len(good)}", error=missed, goal=goal)
    none = [(p, c) for p, c in compared if not p.kind]
    if not none:
        return
    sure = [any(d.state is State.DIFFERS for d in c.differences) for _, c in none]
    looks = [sum(d.state is State.LOOKS_DIFFERENT for d in c.differences) for _, c in none]
    yield Row(
        name=f"fresh, unchanged: a sure call, % of {len(none)}",
        error=100 * float(np.mean(sure)),
        goal=5,
    )
    yield Row(
        name="fresh, unchanged: looks different, a pair", error=float(np.mean(looks)), goal=1.0
    )
    many = [c for p, c in none if elements(p.target) >= 100]
    match = float(np.mean([c.verdict is Verdict.MATCH for c in many])) if many else 0.0
    open_ = float(np.mean([c.verdict is Verdict.OPEN for c in many])) if many else 1.0
    yield Row(
        name=f"fresh, unchanged, 100 elements: no match, % of {len(many)}",
        error=100 * (1 - match),
        goal=30,
    )
    yield Row(name="fresh, unchanged, 100 elements: open, %", error=100 * open_, goal=20)


def fresh_rows(quick: bool) -> Iterator[Row]:
    """Yield the rows of a full run."""
    if not quick:
        yield from rows_of(read_fresh(1, 400))


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="python -m accuracy.fresh", description=__doc__)
    parser.add_argument("--keep-in", default="")
    parser.add_argument("--unchanged", type=int, default=400)
    parser.add_argument("--seeds", type=int, default=1)
    given = parser.parse_args(arguments)
    if given.keep_in:
        Path(given.keep_in).mkdir(parents=True, exist_ok=True)
    rows = list(rows_of(read_fresh(given.seeds, given.unchanged, given.keep_in), told=True))
    for row in rows:
        note = "MISSED" if row.error > row.goal else ""
        print(f"{row.name:60} {row.error:9.3f} {row.goal:9.3f} {note}")
    return int(any(row.error > row.goal for row in rows))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
