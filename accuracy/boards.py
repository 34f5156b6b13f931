"""Comparisons whose answer is known."""

from __future__ import annotations

from collections.abc import Iterator

from accuracy.rows import Row
from accuracy.surfaces import MM_PER_PX, SEEDS, SIZE_MM, SURFACES, read_flat
from jartide.boards.compare import compare
from jartide.boards.result import Comparison, Verdict
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
from jartide.studio.camera import COOL_LED, WARM_LAMP, Light, photograph
from jartide.studio.marble import Marble, draw_marble
from jartide.studio.truth import Surface


def _read_in(surface: Surface, light: Light, seed: int):
    photo = decode_photo(photograph(surface.rgb_linear, seed, light), "simulated.jpg")
    picture = prepare(photo, PhotoSettings(mm_per_px=surface.mm_per_px))
    return read_picture(picture, surface.truth.family)[0]


def pattern_alarms(comparison: Comparison) -> int:
    """Return how many differences of the pattern are called significant."""
    return sum(d.significant and not d.quantity.endswith(".lab") for d in comparison.differences)


def board_rows(quick: bool) -> Iterator[Row]:
    """Yield failures: of boards that are the target itself, and of veins drawn wider."""
    seeds = SEEDS[:1] if quick else SEEDS
    lights = (WARM_LAMP,) if quick else (WARM_LAMP, COOL_LED)
    off, alarms, told = 0, 0, 0
    for family in ("marble", "concrete") if quick else SURFACES:
        for seed in seeds:
            surface = SURFACES[family](SIZE_MM, MM_PER_PX, seed)
            target = read_flat(surface, seed)
            for light in lights:
                comparison = compare(target, _read_in(surface, light, seed + 1))
                off += comparison.verdict is Verdict.OFF
                alarms += pattern_alarms(comparison)
    not_first = 0
    ratios = []
    for seed in seeds:
        target = read_flat(draw_marble(SIZE_MM, MM_PER_PX, seed), seed)
        wider = read_flat(draw_marble(SIZE_MM, MM_PER_PX, seed, Marble().wider(1.6)), seed + 1)
        comparison = compare(target, wider)
        first = comparison.differences[0]
        not_first += first.quantity != "lines.width_mm"
        told += first.quantity == "lines.width_mm" and first.significant
        width = next(d for d in comparison.differences if d.quantity == "lines.width_mm")
        ratios.append(abs((width.ratio or 0) / 1.6 - 1) * 100)
    which = "one seed" if quick else "all seeds"
    yield Row(name=f"same surface, another light: verdict off, {which}", error=off, goal=0)
    yield Row(name=f"same surface, another light: pattern alarms, {which}", error=alarms, goal=0)
    yield Row(name=f"veins 1.6 times wider: not first, {which}", error=not_first, goal=0)
    yield Row(
        name=f"veins 1.6 times wider: not significant, {which}",
        error=len(seeds) - told,
        goal=0,
    )
    yield Row(name=f"veins 1.6 times wider: ratio, % off, {which}", error=max(ratios), goal=20)
