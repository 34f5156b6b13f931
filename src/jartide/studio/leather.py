"""Leather: small cells, grooves toned dark, ridges worn light."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.cells import scatter_cells
from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.pattern_truth import cells_truth
from jartide.studio.relief import LAMP_DEG, shade
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Leather:
    """What can be chosen of a leather."""

    ground: tuple[float, float, float] = (41.0, 17.0, 22.0)
    groove: tuple[float, float, float] = (22.0, 10.0, 10.0)
    worn: tuple[float, float, float] = (55.0, 18.0, 31.0)
    worn_share: float = 0.16
    cell_mm: float = 5.5
    groove_mm: float = 1.1
    relief: float = 0.06


def draw_leather(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Leather | None = None
) -> Surface:
    """Draw a leather of (width, height) mm, lit from the upper left. It has no lay."""
    look = look or Leather()
    r_cell, r_worn, r_grain = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    cell, border = scatter_cells(shape, mm_per_px, look.cell_mm, r_cell, evenness=0.28)
    pores = fractal(shape, mm_per_px, r_grain, largest_mm=1.2, smallest_mm=0.4, slope=1.0)
    shading = np.exp(0.03 * pores) * shade(np.minimum(border, 1.2), mm_per_px, look.relief)
    easel = Easel(shape)
    easel.lay("hide", "ground", look.ground, shading=shading)
    width = look.groove_mm * np.exp(0.2 * fractal(shape, mm_per_px, r_cell, largest_mm=15))
    groove = smoothstep(width / 2 - border, -0.2, 0.2)
    easel.lay("groove tone", "groove", look.groove, groove, shading)
    wear = fractal(shape, mm_per_px, r_worn, largest_mm=45, slope=2.6) + 0.45 * border
    level = level_for_share(wear, look.worn_share)
    easel.lay("worn", "patch", look.worn, smoothstep(wear, level - 0.2, level + 0.2), shading)
    cells = cells_truth(cell, border, width, mm_per_px)
    return easel.surface("leather", mm_per_px, None, light_deg=LAMP_DEG, cells=cells)
