"""Boards that differ from their target in one known way, or in none."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context
from typing import Any

import numpy as np

from accuracy.layers import as_jpeg, one_thread, read_jpeg
from accuracy.rows import Row
from jartide.boards.compare import compare
from jartide.boards.result import Comparison, Verdict
from jartide.colour.difference import delta_e_2000
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import KnownPatch, PhotoSettings
from jartide.reading.read import read_picture
from jartide.reading.result import Reading
from jartide.studio.camera import (
    COOL_LED,
    DAYLIGHT,
    WARM_LAMP,
    Camera,
    Light,
    expose,
    to_jpeg,
)
from jartide.studio.families import SURFACES, draw_family
from jartide.studio.marble import Marble
from jartide.studio.scene import CHIP_L, View, set_scene
from jartide.studio.truth import Surface, SurfaceTruth

SIZE_MM, MM_PER_PX = (240.0, 240.0), 0.25
KINDS = ("one", "two", "far", "same", "tilted", "other", "cheap")


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One change of a family's look: which quantities may be ranked first, and the ratio drawn."""

    family: str
    fields: dict[str, Any]
    first: tuple[str, ...]
    ratio: float | None = None
    ratio_of: str = ""


def _marble(**changes: Any) -> dict[str, Any]:
    look = Marble()
    return {name: getattr(replace(look, **changes), name) for name in changes}


def changes() -> tuple[Change, ...]:
    """Return the known changes, each well beyond the least that can be told."""
    stone = Marble()
    wider = stone.wider(1.4)
    veins = {"veins": wider.veins, "hairs": wider.hairs}
    turned = {
        "veins": replace(stone.veins, direction_deg=stone.veins.direction_deg + 18),
        "hairs": replace(stone.hairs, direction_deg=stone.hairs.direction_deg + 18),
    }
    lines = ("lines.",)
    return (
        Change(family="marble", fields=veins, first=lines, ratio=1.4, ratio_of="lines.width_mm"),
        Change(family="marble", fields=turned, first=("lines.direction_deg", "direction_deg")),
        Change(family="marble", fields=_marble(vein=(64.0, -8.0, 6.0)), first=("layers[", *lines)),
        Change(family="marble", fields=_marble(cloud_share=0.6), first=("layers[",)),
        Change(family="marble", fields=_marble(ground=(20.0, -3.0, 6.0)), first=("layers[",)),
        Change(
            family="crackle",
            fields={"cell_mm": 17.5},
            first=("cells.", "lines.", "patches.", "layers["),
            ratio=17.5 / 13.0,
            ratio_of="cells.size_mm",
        ),
        Change(family="crackle", fields={"cell": (70.0, 3.0, 24.0)}, first=("layers[",)),
        Change(family="verdigris", fields={"bloom_share": 0.55}, first=("layers[", "patches.")),
        Change(family="verdigris", fields={"bloom": (62.0, -24.0, 6.0)}, first=("layers[",)),
        Change(
            family="wood",
            fields={"ring_mm": 10.5},
            first=("grain.", "lines.", "correlation_mm", "layers["),
            ratio=1.4,
            ratio_of="grain.spacing_mm",
        ),
        Change(family="wood", fields={"late": (46.0, 9.5, 25.0)}, first=("layers[", "grain.")),
        Change(
            family="linen",
            fields={"warp_per_cm": 4.4},
            first=("weave.", "lines.", "layers["),
            ratio=4.4 / 3.6,
            ratio_of="weave.warp_per_cm",
        ),
        Change(family="stone", fields={"warm_share": 0.45}, first=("layers[", "patches.")),
        Change(family="stone", fields={"mottle_mm": 40.0}, first=("correlation_mm", "patches.")),
        Change(
            family="leather",
            fields={"cell_mm": 7.7},
            first=("cells.", "lines.", "patches.", "layers["),
            ratio=1.4,
            ratio_of="cells.size_mm",
        ),
        Change(family="concrete", fields={"bloom": (72.0, 2.5, 12.0)}, first=("layers[",)),
        Change(family="concrete", fields={"damp_share": 0.32}, first=("layers[", "patches.")),
    )


# Two changes at once, by their numbers above: of different things, in one family.
TWO = ((0, 4), (1, 2), (1, 3), (2, 3), (0, 3), (5, 6), (7, 8), (9, 10), (12, 13), (15, 16))
CHANGED_SEEDS = (31, 32, 33)
NONE_SEEDS = (31, 32)
# Small pieces, each of its own kind, painted once more by the same parameters.
CHEAP_MM, CHEAP_MM_PER_PX, CHEAP = (160.0, 160.0), 0.4, 400
# Threads, pores and bristles of a millimetre want a closer photo.
FINE_MM, FINE_MM_PER_PX = (120.0, 120.0), 0.25
FINE = ("wood", "linen", "leather", "brushed")


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair:
    """A target and a board that were read, what is changed, and what is true of both.

    `kind`: "one" or "two" changes on the same spot, "far": one on another spot; none: "same"
    spot in other light, "tilted" as well, "other" spot, "cheap".
    """

    kind: str
    number: int
    seed: int
    target: Reading
    board: Reading
    truth: SurfaceTruth
    changed: SurfaceTruth

    @property
    def same_spot(self) -> bool:
        return self.kind in ("one", "two", "same", "tilted")

    def compared(self) -> Comparison:
        """Return what the comparison makes of it."""
        return compare(self.target, self.board, same_spot=self.same_spot)

    def changes(self) -> tuple[Change, ...]:
        """Return what was changed."""
        if self.kind in ("one", "far"):
            return (changes()[self.number],)
        if self.kind == "two":
            first, second = TWO[self.number]
            return changes()[first], changes()[second]
        return ()


def _light(rng: np.random.Generator) -> Light:
    return Light(falloff=float(rng.uniform(0, 0.05)), falloff_deg=float(rng.uniform(0, 360)))


def read_surface(surface: Surface, seed: int, shot: int, tilted: bool = False) -> Reading:
    """Photograph a surface in a light of its own, and read it."""
    rng = np.random.default_rng([seed, shot])
    light = _light(rng)
    camera = Camera(blur_px=float(rng.uniform(0.5, 0.9)), noise=float(rng.uniform(1.5, 3.5)))
    family = surface.truth.family
    if not tilted:
        code = expose(surface.rgb_linear, light, camera, rng)
        return read_jpeg(as_jpeg(code, 90), family, surface.mm_per_px)[0]
    lamp = (DAYLIGHT, WARM_LAMP, COOL_LED)[int(rng.integers(3))]
    tilt, turn, roll = rng.uniform(-14, 14), rng.uniform(-14, 14), rng.uniform(-3, 3)
    view = View(tilt_deg=float(tilt), turn_deg=float(turn), roll_deg=float(roll))
    scene = set_scene(surface, view, seed + shot)
    light = replace(light, tint=lamp.tint, exposure=lamp.exposure)
    code = expose(scene.rgb_linear, light, camera, rng)
    size = tuple(side * surface.mm_per_px for side in surface.rgb_linear.shape[1::-1])
    settings = PhotoSettings(
        corners=scene.corners,
        size_mm=size,
        neutrals=(KnownPatch(rect=scene.chip, lightness=CHIP_L),),
    )
    photo = decode_photo(to_jpeg(code, 92), "leaning.jpg")
    return read_picture(prepare(photo, settings), family)[0]


def read_pair(task: tuple[str, int, int]) -> Pair:
    """Draw, photograph and read one pair."""
    kind, number, seed = task
    fields: dict[str, Any] = {}
    size, scale, varied = SIZE_MM, MM_PER_PX, False
    if kind in ("one", "two", "far"):
        chosen = TWO[number] if kind == "two" else (number,)
        family = changes()[chosen[0]].family
        for change in chosen:
            fields |= changes()[change].fields
    else:
        family = list(SURFACES)[number]
    if kind == "cheap":
        size, scale, varied = CHEAP_MM, CHEAP_MM_PER_PX, True
        if family in FINE:
            size, scale = FINE_MM, FINE_MM_PER_PX
    target = draw_family(family, size, scale, seed, varied=varied)
    patch = int(kind in ("far", "other", "cheap"))
    board = draw_family(family, size, scale, seed, varied=varied, patch=patch, **fields)
    return Pair(
        kind=kind,
        number=number,
        seed=seed,
        target=read_surface(target, seed, 0),
        board=read_surface(board, seed, 1, tilted=kind == "tilted"),
        truth=target.truth,
        changed=board.truth,
    )


def tasks(kinds: Collection[str]) -> list[tuple[str, int, int]]:
    """Return what is to be read, of these kinds."""
    n = len(SURFACES)
    todo = [
        (kind, c, seed)
        for kind in ("one", "far")
        for c in range(len(changes()))
        for seed in CHANGED_SEEDS
    ]
    todo += [("two", c, seed) for c in range(len(TWO)) for seed in CHANGED_SEEDS]
    todo += [
        (kind, f, seed)
        for kind in ("same", "tilted", "other")
        for f in range(n)
        for seed in NONE_SEEDS
    ]
    todo += [("cheap", number % n, 1000 + number) for number in range(CHEAP)]
    return [task for task in todo if task[0] in kinds]


def read_pairs(kinds: Collection[str] = KINDS) -> list[Pair]:
    """Return all pairs, two read at a time."""
    context = get_context("spawn")
    with ProcessPoolExecutor(2, mp_context=context, initializer=one_thread) as pool:
        return list(pool.map(read_pair, tasks(kinds), chunksize=4))


def pair_rows(quick: bool) -> Iterator[Row]:
    """Yield how often a known change is named first, and how often none is called one."""
    if quick:
        return
    pairs = read_pairs()
    yield from rows_of(pairs)


def rows_of(pairs: Sequence[Pair]) -> Iterator[Row]:
    """Yield the rows of pairs that are read."""
    told = [(pair, pair.compared()) for pair in pairs]
    one = [(p, c) for p, c in told if p.kind == "one" and _can_be_told(p, c, 1.0)]
    wrong = [not _is_first(p, c) for p, c in one]
    sure = [not (_is_first(p, c) and c.differences[0].significant) for p, c in one]
    yield Row(
        name=f"same spot, one change: not ranked first, % of {len(one)}",
        error=100 * _mean(wrong),
        goal=5,
    )
    yield Row(
        name="the same, ranked first and called sure: not, %", error=100 * _mean(sure), goal=5
    )
    ratios = [abs(r - 1) * 100 for p, c in one for r, _ in _ratios(p, c)]
    yield Row(
        name=f"its ratio, % off, median of {len(ratios)}", error=float(np.median(ratios)), goal=10
    )
    two = [(p, c) for p, c in told if p.kind == "two"]
    missed = [not _both_in_three(p, c) for p, c in two]
    yield Row(
        name=f"same spot, two changes: not both among the first three, % of {len(two)}",
        error=100 * _mean(missed),
        goal=10,
    )
    far = [(p, c) for p, c in told if p.kind == "far" and _can_be_told(p, c, 2.0)]
    yield Row(
        name=f"another spot, twice the least change: not first, % of {len(far)}",
        error=100 * _mean([not _is_first(p, c) for p, c in far]),
        goal=15,
    )
    inside = [ok for p, c in far for _, ok in _ratios(p, c)]
    yield Row(
        name=f"its ratio outside of its 90 % interval, % of {len(inside)}",
        error=100 * _mean([not ok for ok in inside]),
        goal=10,
    )
    nothing = (
        (("same", "tilted"), "same spot in other light, half of them tilted"),
        (("other",), "another spot"),
        (("cheap",), "another spot, small pieces of many kinds"),
    )
    for kinds, what in nothing:
        alarms = [any(d.significant for d in c.differences) for p, c in told if p.kind in kinds]
        yield Row(
            name=f"{what}, nothing changed: called different, % of {len(alarms)}",
            error=100 * _mean(alarms),
            goal=5,
        )

    off = [c.verdict is Verdict.OFF for p, c in told if p.kind in ("same", "tilted")]
    yield Row(
        name=f"the same board in two lights: off, % of {len(off)}", error=100 * _mean(off), goal=0
    )


def _is_first(pair: Pair, comparison: Comparison) -> bool:
    first = comparison.differences[0].quantity
    return any(first.startswith(change.first) for change in pair.changes())


def _both_in_three(pair: Pair, comparison: Comparison) -> bool:
    """Each change is among the first three, and not both by the same quantity."""
    three = [d.quantity for d in comparison.differences[:3]]
    ways = [{q for q in three if q.startswith(change.first)} for change in pair.changes()]
    return all(ways) and len(set().union(*ways)) >= 2


def _ratios(pair: Pair, comparison: Comparison) -> Iterator[tuple[float, bool]]:
    """Yield the ratio told over the true one, and whether the interval holds the true one."""
    for change in pair.changes():
        for d in comparison.differences:
            if change.ratio is not None and d.quantity == change.ratio_of and d.ratio:
                held = d.interval is not None and d.interval[0] <= change.ratio <= d.interval[1]
                yield d.ratio / change.ratio, held


def _can_be_told(pair: Pair, comparison: Comparison, times: float) -> bool:
    """Whether anything truly changed by so many times the least that can be told."""
    true = true_changes(pair)
    for d in comparison.differences:
        if d.quantity in true and abs(true[d.quantity]) >= times * d.least_jnd:
            return True
    return False


def true_changes(pair: Pair) -> dict[str, float]:
    """Return by how many just visible differences each quantity was truly changed, up close."""
    a, b = pair.truth, pair.changed
    found: dict[str, float] = {}
    by_name = {layer.name: layer for layer in b.layers}
    shown = np.array([layer.shown_lab for layer in pair.target.layers])
    for layer in a.layers:
        other = by_name.get(layer.name)
        if other is None:
            continue
        place = int(delta_e_2000(shown, np.array(layer.lab)).argmin())
        found[f"layers[{place}].lab"] = float(delta_e_2000(layer.lab, other.lab))
        middle = (layer.coverage + other.coverage) / 2
        unit = min(0.04, 0.004 + 0.25 * middle)
        found[f"layers[{place}].coverage"] = (other.coverage - layer.coverage) / unit
    if a.lines is not None and b.lines is not None:
        found["lines.width_mm"] = float(np.log(b.lines.width_mm / a.lines.width_mm)) / 0.14
        found["lines.contrast_L"] = (b.lines.contrast_L - a.lines.contrast_L) / 3
        turned = (b.lines.direction_deg - a.lines.direction_deg + 90) % 180 - 90
        found["lines.direction_deg"] = turned / 6
    if a.cells is not None and b.cells is not None:
        found["cells.size_mm"] = float(np.log(b.cells.size_mm / a.cells.size_mm)) / 0.14
    if a.grain is not None and b.grain is not None:
        found["grain.spacing_mm"] = float(np.log(b.grain.spacing_mm / a.grain.spacing_mm)) / 0.16
    if a.weave is not None and b.weave is not None:
        found["weave.warp_per_cm"] = float(np.log(b.weave.warp_per_cm / a.weave.warp_per_cm)) / 0.08
    return found


def _mean(values: list[bool]) -> float:
    return float(np.mean(values)) if values else 0.0
