"""Rust: dark iron, brown bloom, orange in its midst, runs of it downward, grain all over."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Rust:
    """What can be chosen of a rust. Shares are laid, from the lowest coat up."""

    iron: tuple[float, float, float] = (25.0, 4.0, 5.0)
    brown: tuple[float, float, float] = (36.0, 17.0, 19.0)
    orange: tuple[float, float, float] = (50.0, 28.0, 40.0)
    bright: tuple[float, float, float] = (63.0, 24.0, 54.0)
    brown_share: float = 0.62
    orange_share: float = 0.28
    bright_share: float = 0.06
    patch_mm: float = 28.0
    runs: float = 2.2


def draw_rust(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Rust | None = None
) -> Surface:
    """Draw a rust of (width, height) mm; its lay is straight down, as water runs."""
    look = look or Rust()
    r_bloom, r_orange, r_bright, r_grain = (np.random.default_rng([seed, p]) for p in range(4))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    run = {"direction_deg": 90.0, "stretch": look.runs}
    pits = fractal(shape, mm_per_px, r_grain, largest_mm=1.6, smallest_mm=0.4, slope=1.1)
    shading = np.exp(0.06 * pits)
    easel = Easel(shape)
    easel.lay("iron", "ground", look.iron, shading=shading)
    fray = fractal(shape, mm_per_px, r_bloom, largest_mm=3, smallest_mm=0.6, slope=1.4)
    bloom = fractal(shape, mm_per_px, r_bloom, largest_mm=look.patch_mm, slope=2.2, **run)
    bloom = bloom + 0.25 * fray
    level = level_for_share(bloom, look.brown_share)
    easel.lay("brown", "patch", look.brown, smoothstep(bloom, level - 0.1, level + 0.1), shading)
    # Orange gathers where the brown is thickest, and runs further down.
    orange = fractal(
        shape,
        mm_per_px,
        r_orange,
        largest_mm=look.patch_mm * 0.6,
        slope=2.0,
        direction_deg=90.0,
        stretch=2 * look.runs,
    )
    orange = orange + 0.5 * bloom + 0.2 * fray
    level = level_for_share(orange, look.orange_share)
    easel.lay(
        "orange", "patch", look.orange, smoothstep(orange, level - 0.12, level + 0.12), shading
    )
    touch = fractal(shape, mm_per_px, r_bright, largest_mm=6, smallest_mm=1, slope=1.8, **run)
    touch = touch + 0.6 * orange
    level = level_for_share(touch, look.bright_share)
    easel.lay(
        "bright", "patch", look.bright, smoothstep(touch, level - 0.12, level + 0.12), shading
    )
    return easel.surface("rust", mm_per_px, 90.0)
