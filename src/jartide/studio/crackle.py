"""Crackled paint: a coat that broke into cells, the coat below seen between, tone rubbed in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.cells import scatter_cells
from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.pattern_truth import cells_truth
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Crackle:
    """What can be chosen of a crackle. `under` is what shows in the cracks."""

    under: tuple[float, float, float] = (30.0, 9.0, 9.0)
    cell: tuple[float, float, float] = (78.0, 0.0, 17.0)
    rubbed: tuple[float, float, float] = (66.0, 5.0, 25.0)
    rubbed_share: float = 0.22
    cell_mm: float = 13.0
    crack_mm: float = 1.7


def draw_crackle(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Crackle | None = None
) -> Surface:
    """Draw a crackle of (width, height) mm. It has no lay."""
    look = look or Crackle()
    r_cell, r_rub, r_grain = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    brush = fractal(shape, mm_per_px, r_grain, largest_mm=4, smallest_mm=0.5, slope=1.5)
    shading = np.exp(0.022 * brush)
    easel = Easel(shape)
    easel.lay("undercoat", "ground", look.under, shading=shading)
    cell, border = scatter_cells(shape, mm_per_px, look.cell_mm, r_cell)
    width = look.crack_mm * np.exp(0.28 * fractal(shape, mm_per_px, r_cell, largest_mm=18))
    cells = smoothstep(border - width / 2, -0.18, 0.18)
    easel.lay("cells", "cell", look.cell, cells, shading)
    rub = fractal(shape, mm_per_px, r_rub, largest_mm=26, slope=2.4)
    rub = rub + 0.3 * fractal(shape, mm_per_px, r_rub, largest_mm=3, slope=1.5)
    level = level_for_share(rub, look.rubbed_share)
    # What is rubbed on stays on the cells; the cracks were wiped out.
    easel.lay(
        "rubbed", "patch", look.rubbed, cells * smoothstep(rub, level - 0.2, level + 0.2), shading
    )
    truth = cells_truth(cell, border, width, mm_per_px)
    return easel.surface("crackle", mm_per_px, None, cells=truth)
