"""Limewashed stone: mottle in near tones over a warm base, and a few dark specks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Stone:
    """What can be chosen of a stone."""

    ground: tuple[float, float, float] = (72.0, 3.0, 15.0)
    warm: tuple[float, float, float] = (64.0, 7.0, 23.0)
    wash: tuple[float, float, float] = (84.0, 1.0, 8.0)
    speck: tuple[float, float, float] = (38.0, 5.0, 12.0)
    warm_share: float = 0.26
    wash_share: float = 0.24
    speck_share: float = 0.022
    mottle_mm: float = 24.0


def draw_stone(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Stone | None = None
) -> Surface:
    """Draw a stone of (width, height) mm. It has no lay."""
    look = look or Stone()
    r_warm, r_wash, r_speck, r_grain = (np.random.default_rng([seed, part]) for part in range(4))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    sand = fractal(shape, mm_per_px, r_grain, largest_mm=1.5, smallest_mm=0.4, slope=1.0)
    broad = fractal(shape, mm_per_px, r_grain, largest_mm=60, slope=2.4)
    shading = np.exp(0.025 * sand + 0.02 * broad)
    easel = Easel(shape)
    easel.lay("ground", "ground", look.ground, shading=shading)
    fray = fractal(shape, mm_per_px, r_warm, largest_mm=4, smallest_mm=0.6, slope=1.6)
    warm = fractal(shape, mm_per_px, r_warm, largest_mm=look.mottle_mm, slope=2.4) + 0.3 * fray
    level = level_for_share(warm, look.warm_share)
    easel.lay(
        "warm mottle", "cloud", look.warm, smoothstep(warm, level - 0.2, level + 0.2), shading
    )
    wash = fractal(shape, mm_per_px, r_wash, largest_mm=look.mottle_mm * 0.8, slope=2.2)
    wash = wash - 0.35 * fray
    level = level_for_share(wash, look.wash_share)
    easel.lay("wash", "cloud", look.wash, smoothstep(wash, level - 0.16, level + 0.16), shading)
    specks = fractal(shape, mm_per_px, r_speck, largest_mm=2.2, smallest_mm=1.2, slope=3.0)
    level = level_for_share(specks, look.speck_share)
    easel.lay("specks", "speck", look.speck, smoothstep(specks, level - 0.1, level + 0.1), shading)
    return easel.surface("stone", mm_per_px, None)
