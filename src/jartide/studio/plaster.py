"""Old plaster wall: a lime tone, clouds, lost flakes, fine cracks, trowel relief."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.cells import scatter_cells
from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.pattern_truth import cells_truth
from jartide.studio.relief import LAMP_DEG, shade
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Plaster:
    """What can be chosen of a plaster."""

    ground: tuple[float, float, float] = (79.0, 4.0, 16.0)
    cloud: tuple[float, float, float] = (70.0, 8.0, 24.0)
    flake: tuple[float, float, float] = (58.0, 2.0, 4.0)
    crack: tuple[float, float, float] = (36.0, 4.0, 9.0)
    cloud_share: float = 0.30
    flake_share: float = 0.08
    crack_mm: float = 0.9
    cell_mm: float = 62.0
    relief: float = 0.05


def draw_plaster(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Plaster | None = None
) -> Surface:
    """Draw a plaster of (width, height) mm, lit from the upper left. It has no lay."""
    look = look or Plaster()
    r_cloud, r_flake, r_crack, r_grain = (np.random.default_rng([seed, p]) for p in range(4))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    trowel = fractal(shape, mm_per_px, r_grain, largest_mm=9, smallest_mm=1.0, slope=2.6)
    sand = fractal(shape, mm_per_px, r_grain, largest_mm=1.2, smallest_mm=0.4, slope=1.0)
    shading = np.exp(0.018 * sand) * shade(trowel, mm_per_px, look.relief)
    easel = Easel(shape)
    easel.lay("lime", "ground", look.ground, shading=shading)
    cloud = fractal(shape, mm_per_px, r_cloud, largest_mm=40, slope=2.6)
    cloud = cloud + 0.25 * fractal(shape, mm_per_px, r_cloud, largest_mm=4, slope=1.7)
    level = level_for_share(cloud, look.cloud_share)
    easel.lay("cloud", "cloud", look.cloud, smoothstep(cloud, level - 0.3, level + 0.3), shading)
    flake = fractal(shape, mm_per_px, r_flake, largest_mm=16, smallest_mm=1.5, slope=2.6)
    level = level_for_share(flake, look.flake_share)
    easel.lay(
        "lost flakes", "patch", look.flake, smoothstep(flake, level - 0.04, level + 0.04), shading
    )
    cell, border = scatter_cells(shape, mm_per_px, look.cell_mm, r_crack)
    varied = look.crack_mm * np.exp(0.3 * fractal(shape, mm_per_px, r_crack, largest_mm=20))
    cracks = smoothstep(varied / 2 - border, -0.15, 0.15)
    easel.lay("cracks", "crack", look.crack, cracks, shading)
    cells = cells_truth(cell, border, varied, mm_per_px)
    return easel.surface("plaster", mm_per_px, None, light_deg=LAMP_DEG, cells=cells)
