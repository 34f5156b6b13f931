"""Old bronze: brown metal, blue-green left in the hollows, ridges rubbed bright."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.relief import LAMP_DEG, shade
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Bronze:
    """What can be chosen of a bronze."""

    metal: tuple[float, float, float] = (33.0, 9.0, 19.0)
    hollow: tuple[float, float, float] = (43.0, -13.0, -2.0)
    ridge: tuple[float, float, float] = (58.0, 8.0, 34.0)
    hollow_share: float = 0.24
    ridge_share: float = 0.14
    relief_mm: float = 16.0
    relief: float = 0.12


def draw_bronze(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Bronze | None = None
) -> Surface:
    """Draw a cast bronze of (width, height) mm, lit from the upper left. It has no lay."""
    look = look or Bronze()
    r_height, r_edge, r_grain = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    height = fractal(shape, mm_per_px, r_height, largest_mm=look.relief_mm, slope=2.8)
    fray = fractal(shape, mm_per_px, r_edge, largest_mm=2.5, smallest_mm=0.5, slope=1.3)
    cast = fractal(shape, mm_per_px, r_grain, largest_mm=2, smallest_mm=0.5, slope=1.2)
    shading = np.exp(0.035 * cast) * shade(height, mm_per_px, look.relief)
    easel = Easel(shape)
    easel.lay("metal", "ground", look.metal, shading=shading)
    deep = -height + 0.22 * fray
    level = level_for_share(deep, look.hollow_share)
    easel.lay("bloom", "patch", look.hollow, smoothstep(deep, level - 0.1, level + 0.1), shading)
    high = height + 0.3 * fray
    level = level_for_share(high, look.ridge_share)
    easel.lay("rubbed", "patch", look.ridge, smoothstep(high, level - 0.14, level + 0.14), shading)
    return easel.surface("bronze", mm_per_px, None, light_deg=LAMP_DEG)
