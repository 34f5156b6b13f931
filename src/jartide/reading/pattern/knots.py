"""Knots: dark discs in the grain, told by lightness that bends up every way from their middle.

At the scale of a disc of radius r a Gaussian of deviation r / sqrt(2) answers strongest
(Lindeberg 1998). Of a line of grain only the second derivative across is strong; of a disc
the weaker of the two is, too.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter

_RADII_MM = (2.5, 3.5, 5.0, 7.0, 9.5, 12.5)
_WORK_MM = 0.8
# The weaker second derivative, times the scale squared, as a share of the contrast of the grain.
_LEAST_BEND = 0.22


@dataclass(frozen=True, slots=True, kw_only=True)
class Knot:
    """A knot's middle, picture pixels, and its radius in mm."""

    row: float
    column: float
    radius_mm: float


def find_knots(lightness: np.ndarray, valid: np.ndarray, mm_per_px: float) -> tuple[Knot, ...]:
    """Return the knots in L*, (H, W)."""
    factor = min(1.0, mm_per_px / _WORK_MM)
    size = (round(lightness.shape[1] * factor), round(lightness.shape[0] * factor))
    if min(size) < 40:
        return ()
    mm = mm_per_px * lightness.shape[1] / size[0]
    small = cv2.resize(lightness, size, interpolation=cv2.INTER_AREA)
    inside = cv2.resize(valid.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    small = np.where(inside, small, small[inside].mean())
    low, high = np.percentile(small[inside], [10, 90])
    best = np.zeros(small.shape)
    which = np.zeros(small.shape, int)
    for number, radius in enumerate(_RADII_MM):
        deviation = radius / mm / np.sqrt(2)
        xx, yy, xy = (
            deviation**2 * gaussian_filter(small, deviation, order=order, mode="nearest")
            for order in ((0, 2), (2, 0), (1, 1))
        )
        weaker = (xx + yy) / 2 - np.hypot((xx - yy) / 2, xy)
        better = weaker > best
        best[better] = weaker[better]
        which[better] = number
    left = np.where(inside, best / max(high - low, 1.0), 0)
    found: list[Knot] = []
    while True:
        row, column = np.unravel_index(int(left.argmax()), left.shape)
        if left[row, column] < _LEAST_BEND:
            return tuple(found)
        radius = _RADII_MM[which[row, column]]
        found.append(
            Knot(
                row=float((row + 0.5) / size[1] * lightness.shape[0]),
                column=float((column + 0.5) / size[0] * lightness.shape[1]),
                radius_mm=radius,
            )
        )
        left = left.copy()
        cv2.circle(left, (int(column), int(row)), int(np.ceil(2.5 * radius / mm)), 0.0, -1)
