"""Boards that differ from their target in one known way, or in none."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context
from typing import Any

import numpy as np

from accuracy.layers import as_jpeg, one_thread, read_jpeg
from accuracy.rows import Row
from jartide.boards.compare import compare
from jartide.boards.result import Comparison
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
        Change(family="marble", fields=turned, first=("lines.direction_deg",)),
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


def _read(surface: Surface, seed: int, shot: int, tilted: bool = False) -> Reading:
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
    target = draw_family(family, size, scale, seed, varied=varied)
    patch = int(kind in ("far", "other", "cheap"))
    board = draw_family(family, size, scale, seed, varied=varied, patch=patch, **fields)
    return Pair(
        kind=kind,
        number=number,
        seed=seed,
        target=_read(target, seed, 0),
        board=_read(board, seed, 1, tilted=kind == "tilted"),
        truth=target.truth,
        changed=board.truth,
    )


def tasks(kinds: Collection[str]) -> list[tuple[str, int, int]]:
    """Return what is to be read, of these kinds."""
    n = len(SURFACES)
    todo = [(kind, c, seed) for kind in ("one", "far") for c in range(len(changes())) for seed in CHANGED_SEEDS]
    todo += [("two", c, seed) for c in range(len(TWO)) for seed in CHANGED_SEEDS]
    todo += [(kind, f, seed) for kind in ("same", "tilted", "other") for f in range(n) for seed in NONE_SEEDS]
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
    told = told_pairs(SEEDS)
    known = changes()
    wrong, unsure, ratios = [], [], []
    for kind, number, comparison in told:
        if kind != "change":
            continue
        change, first = known[number], comparison.differences[0]
        wrong.append(not first.quantity.startswith(change.first))
        # Ranked first is what a painter reads first; called sure is more.
        unsure.append(wrong[-1] or not first.significant)
        if change.ratio is not None:
            own = [d for d in comparison.differences if d.quantity == change.ratio_of]
            ratios += [abs((d.ratio or 0) / change.ratio - 1) * 100 for d in own]
    yield Row(
        name=f"same spot, one change: not ranked first, % of {len(wrong)}",
        error=100 * _mean(wrong),
        goal=5,
    )
    yield Row(
        name="the same, ranked first and called sure: not, %", error=100 * _mean(unsure), goal=5
    )
    yield Row(
        name=f"its ratio, % off, median of {len(ratios)}", error=float(np.median(ratios)), goal=10
    )
    for kind, what in (("same", "same spot"), ("other", "another spot")):
        alarms = [any(d.significant for d in c.differences) for k, _, c in told if k == kind]
        yield Row(
            name=f"{what}, nothing changed: called different, % of {len(alarms)}",
            error=100 * _mean(alarms),
            goal=5,
        )


def _mean(values: list[bool]) -> float:
    return float(np.mean(values))
