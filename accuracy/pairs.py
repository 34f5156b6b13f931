"""Boards that differ from their target in one known way, or in none."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context
from typing import Any

import numpy as np

from accuracy.layers import as_jpeg, one_thread, read_jpeg
from accuracy.rows import Row
from jartide.boards.compare import compare
from jartide.boards.result import Comparison
from jartide.reading.result import Reading
from jartide.studio.camera import Camera, Light, expose
from jartide.studio.families import SURFACES, draw_family
from jartide.studio.marble import Marble

SIZE_MM, MM_PER_PX = (240.0, 240.0), 0.25
SEEDS = (31, 32)


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


def _read(family: str, seed: int, shot: int, patch: int = 0, **fields: Any) -> Reading:
    """Draw, photograph in a light of its own, and read."""
    surface = draw_family(family, SIZE_MM, MM_PER_PX, seed, patch=patch, **fields)
    rng = np.random.default_rng([seed, shot])
    light = Light(falloff=float(rng.uniform(0, 0.05)), falloff_deg=float(rng.uniform(0, 360)))
    camera = Camera(blur_px=float(rng.uniform(0.5, 0.9)), noise=float(rng.uniform(1.5, 3.5)))
    code = expose(surface.rgb_linear, light, camera, rng)
    return read_jpeg(as_jpeg(code, 90), family, MM_PER_PX)[0]


def _tell(task: tuple[str, int, int]) -> tuple[str, int, Comparison]:
    """Compare one pair: kind "change" with a known change, "same" spot, "other" spot."""
    kind, number, seed = task
    if kind == "change":
        change = changes()[number]
        target = _read(change.family, seed, 0)
        return kind, number, compare(target, _read(change.family, seed, 1, **change.fields))
    family = list(SURFACES)[number]
    target = _read(family, seed, 0)
    return kind, number, compare(target, _read(family, seed, 1, patch=int(kind == "other")))


def told_pairs(seeds: tuple[int, ...]) -> list[tuple[str, int, Comparison]]:
    """Return all comparisons, two at a time."""
    todo = [("change", n, seed) for n in range(len(changes())) for seed in seeds]
    todo += [(kind, n, seed) for kind in ("same", "other") for n in range(12) for seed in seeds]
    context = get_context("spawn")
    with ProcessPoolExecutor(2, mp_context=context, initializer=one_thread) as pool:
        return list(pool.map(_tell, todo))


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
