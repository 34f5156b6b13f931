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


def visible_share(size_mm: float | None, viewing_m: float) -> float:
    """Return how much of a difference is left to see, 0..1, for features of one size.

    A feature of width w is half a cycle. None stands for features that cover
    areas: nothing is lost.
    """
    if size_mm is None:
        return 1.0
    cycles = _MM_PER_DEGREE_M * viewing_m / (2 * max(size_mm, 1e-3))
    return float(contrast_sensitivity(cycles))
