"""What an eye still sees at a distance."""

from __future__ import annotations

import numpy as np

# Millimetres per degree of visual angle at one metre.
_MM_PER_DEGREE_M = 1000 * np.tan(np.radians(1.0))


def contrast_sensitivity(cycles_per_degree: np.ndarray | float) -> np.ndarray:
    """Return the eye's relative sensitivity, 0..1, to a pattern of this fineness.

    Mannos & Sakrison 1974. Its fall below the peak, near 8 cycles per degree,
    holds for gratings and not for paint with edges, so it is left out: coarse
    patterns are seen whole.
    """
    f = np.maximum(np.asarray(cycles_per_degree, float), 1e-6)
    sensitivity = 2.6 * (0.0192 + 0.114 * f) * np.exp(-((0.114 * f) ** 1.1))
    return np.where(f < 8, 1.0, np.minimum(sensitivity / 0.98, 1.0))


# Lines that stand off by this much after the eye has softened them, L*, show all of their ways.
_CLEAR_L = 6.0


def visible_share(
    size_mm: float | None, viewing_m: float, strength_L: float | None = None
) -> float:
    """Return how much of a difference is left to see, 0..1, for features of one size.

    A feature of width w is half a cycle. None stands for features that cover
    areas: nothing is lost. `strength_L` is given for how lines run, lie and branch, which is
    seen for as long as the lines are: above threshold contrasts look alike at all
    finenesses (Georgeson & Sullivan 1975).
    """
    if size_mm is None:
        return 1.0
    cycles = _MM_PER_DEGREE_M * viewing_m / (2 * max(size_mm, 1e-3))
    left = float(contrast_sensitivity(cycles))
    return left if strength_L is None else min(1.0, left * strength_L / _CLEAR_L)
