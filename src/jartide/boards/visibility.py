"""What an eye still sees of a line or spot at a distance, by the kernels of `eye`."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.special import erf

from jartide.boards.eye import LUMINANCE_KERNEL

# Millimetres per degree of visual angle at one metre.
_MM_PER_DEGREE_M = 1000 * np.tan(np.radians(1.0))


@lru_cache(maxsize=8192)
def contrast_left(size_mm: float, viewing_m: float) -> float:
    """Return how much of a bar's contrast is left in its middle, 0..1.

    The bar, `size_mm` wide, goes through the luminance Gaussians of S-CIELAB (Zhang & Wandell
    1996), as they stand but for the widest, which takes off what whole fields have in common.
    """
    half = max(size_mm, 1e-3) / (_MM_PER_DEGREE_M * viewing_m) / 2
    near = LUMINANCE_KERNEL[:2]
    left = sum(weight * erf(half / spread) for weight, spread in near)
    return float(np.clip(left / sum(weight for weight, _ in near), 0, 1))


# Lines that stand off by this much after the eye has softened them, L*, show all of their ways.
_CLEAR_L = 6.0


def visible_share(
    size_mm: float | None, viewing_m: float, strength_L: float | None = None
) -> float:
    """Return how much of a difference is left to see, 0..1, for features of one size.

    None stands for features that cover areas: nothing is lost. `strength_L` is given for how
    lines run, lie and branch, which is seen for as long as the lines are: above threshold
    contrasts look alike at all finenesses (Georgeson & Sullivan 1975).
    """
    if size_mm is None:
        return 1.0
    left = contrast_left(size_mm, viewing_m)
    return left if strength_L is None else min(1.0, left * strength_L / _CLEAR_L)
