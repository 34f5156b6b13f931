"""Dry-brushed paint: a dark coat, a mid tone brushed one way, a light one across or along it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Brushed:
    """What can be chosen of a dry-brushed paint."""

    ground: tuple[float, float, float] = (30.0, -3.0, -7.0)
    mid: tuple[float, float, float] = (52.0, -4.0, -8.0)
    light: tuple[float, float, float] = (73.0, -2.0, 2.0)
    mid_share: float = 0.32
    light_share: float = 0.15
    mid_deg: float = 80.0
    light_deg: float = 10.0
    bristle_mm: float = 2.4


def draw_brushed(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Brushed | None = None
) -> Surface:
    """Draw a dry-brushed paint of (width, height) mm; crossed, it has no single lay."""
    look = look or Brushed()
    r_mid, r_light, r_grain = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    grain = fractal(shape, mm_per_px, r_grain, largest_mm=2, smallest_mm=0.4, slope=1.2)
    shading = np.exp(0.025 * grain)
    easel = Easel(shape)
    easel.lay("dark coat", "ground", look.ground, shading=shading)
    mid = _strokes(shape, mm_per_px, r_mid, look.mid_deg, look.bristle_mm, look.mid_share)
    easel.lay("mid", "brush", look.mid, mid, shading)
    light = _strokes(shape, mm_per_px, r_light, look.light_deg, look.bristle_mm, look.light_share)
    easel.lay("light", "brush", look.light, light, shading)
    ways = (look.mid_deg % 180, look.light_deg % 180)
    return easel.surface("brushed", mm_per_px, None, brush_deg=ways)


def _strokes(
    shape: tuple[int, int],
    mm_per_px: float,
    rng: np.random.Generator,
    along_deg: float,
    bristle_mm: float,
    share: float,
) -> np.ndarray:
    """Cover of bristle tracks that skip: long one way, gathered where the brush pressed."""
    tracks = fractal(
        shape,
        mm_per_px,
        rng,
        largest_mm=bristle_mm * 2,
        smallest_mm=bristle_mm / 2.5,
        slope=1.8,
        direction_deg=along_deg,
        stretch=24,
    )
    press = fractal(
        shape, mm_per_px, rng, largest_mm=40, slope=2.4, direction_deg=along_deg, stretch=4
    )
    tooth = fractal(shape, mm_per_px, rng, largest_mm=1.4, smallest_mm=0.5, slope=1.2)
    field = tracks + 0.5 * press + 0.16 * tooth
    level = level_for_share(field, share)
    return smoothstep(field, level - 0.1, level + 0.1)
