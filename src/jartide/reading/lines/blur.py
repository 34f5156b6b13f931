"""Take the photo's own blur out of widths and softness.

A line is modelled as a bar of width w whose edges are Gaussian integrals of
deviation s; its profile is Phi((x + w/2)/s) - Phi((x - w/2)/s). A blur of
deviation b turns s into sqrt(s^2 + b^2). Width at half contrast and 10 to 90 %
softness depend on w/s alone, apart from scale, so two tables undo the blur.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.special import ndtr

# Edges are measured from 20 to 80 %, since noise reaches the ends of a profile first. Of a
# Gaussian edge that is 1.683 deviations, and 10 to 90 %, the softness, is 2.563.
SOFT_BY_RUN = 2.563 / 1.683


@lru_cache(maxsize=1)
def _tables() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """u = w/s, and width and softness in units of s."""
    u = np.concatenate([np.linspace(0.05, 8, 160), np.geomspace(8.2, 400, 60)])
    x = np.linspace(0, 6, 1201)
    width, softness = np.empty_like(u), np.empty_like(u)
    for i, value in enumerate(u):
        # Outward from near the upper edge: a wide bar is flat before it.
        at = x + max(value / 2 - 3, 0)
        profile = ndtr(at + value / 2) - ndtr(at - value / 2)
        profile = profile / (2 * ndtr(value / 2) - 1)
        outward = np.interp([-0.8, -0.5, -0.2], -profile, at)
        width[i], softness[i] = 2 * outward[1], SOFT_BY_RUN * (outward[2] - outward[0])
    return u, width, softness


def bar_of(width_px: np.ndarray, softness_px: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return (w/s, s) of bars that show these widths and softnesses, all arrays of (N,)."""
    u, width, softness = _tables()
    ratio = np.asarray(width_px) / np.maximum(softness_px, 1e-6)
    u_found = np.interp(ratio, width / softness, u)
    s = np.asarray(width_px) / np.interp(u_found, u, width)
    return u_found, s


def peak_cover(u: np.ndarray) -> np.ndarray:
    """Return how much a bar of relative width u = w/s, any shape, covers at its centre, 0..1."""
    return 2 * ndtr(np.asarray(u) / 2) - 1


def own_colour(centre: np.ndarray, beside: np.ndarray, u: np.ndarray) -> np.ndarray:
    """Return the linear light, (N, 3), a line would show where it covered wholly.

    Stretched from what lies beside it by the cover its profile implies, but
    never more than by two thirds: beyond that noise would be stretched, not colour.
    """
    return beside + (centre - beside) / np.maximum(peak_cover(u), 0.6)[:, None]


def without_blur(
    width_px: np.ndarray, softness_px: np.ndarray, blur_px: float
) -> tuple[np.ndarray, np.ndarray]:
    """Return widths and softnesses, (N,), as they are on the surface.

    `blur_px` is the standard deviation of the picture's own blur.
    """
    table_u, width, softness = _tables()
    u, s = bar_of(width_px, softness_px)
    bar = u * s
    # The last 3 % of a measured edge are left: a blur never explains a softness whole.
    own = np.sqrt(np.maximum(s**2 - blur_px**2, (0.03 * s) ** 2))
    own_u = np.maximum(bar / own, table_u[0])
    # Beyond the table a bar is sharp, and as wide as it is.
    own_width = np.where(own_u > table_u[-1], bar, own * np.interp(own_u, table_u, width))
    return own_width, own * np.interp(own_u, table_u, softness)


def picture_blur_px(reduced: float, sharpest_edge_px: float | None) -> tuple[float, float, float]:
    """Return (least, likely, most) standard deviation of the blur, in picture pixels.

    A focused camera blurs by 0.4 to 1.1 original pixels. Reducing adds the box
    of one picture pixel. No edge in the picture can be sharper than its blur,
    so the sharpest one seen (its deviation, None when there is none) bounds it.
    """
    box = np.sqrt(1 / 12) if reduced > 1.05 else 0.0
    least, likely, most = (float(np.hypot(b / reduced, box)) for b in (0.35, 0.7, 1.2))
    if sharpest_edge_px is not None:
        most = max(min(2.5 * most, sharpest_edge_px), least)
        likely = min(likely, most)
    return least, likely, most
