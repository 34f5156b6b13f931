"""The lens: focal length, distortion, and the bounds within which they are known.

A pinhole with its axis through the middle of the picture and one radial term,
x_d = x (1 + k1 r^2), r the tangent of the angle off axis (Brown 1971).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# The diagonal of a 36 x 24 mm frame: EXIF's equivalent focal length refers to it (CIPA DC-008).
_FRAME_DIAGONAL_MM = 43.267
# A main camera of a phone, relative to the picture's diagonal; zooms and wide lenses
# spread around it by this factor (one standard deviation of the logarithm).
_USUAL_FOCAL = 0.68
_UNKNOWN_SPREAD = 0.4
# EXIF rounds to whole millimetres, and phones state it before they crop for steadiness.
_KNOWN_SPREAD = 0.02
# Phones and cameras correct their files; what they leave is below one percent in the corners.
DISTORTION_SPREAD = 0.008


@dataclass(frozen=True, slots=True, kw_only=True)
class Lens:
    """Focal length in pixels, distortion, and the axis's place in the picture, pixels."""

    focal_px: float
    k1: float
    centre: tuple[float, float]

    def distort(self, ray: np.ndarray) -> np.ndarray:
        """Return where rays, (..., 2) tangents, fall in the picture, px."""
        r2 = np.sum(ray**2, axis=-1, keepdims=True)
        return ray * (1 + self.k1 * r2) * self.focal_px + np.array(self.centre)

    def undistort(self, px: np.ndarray) -> np.ndarray:
        """Return the rays, (..., 2) tangents, of points in the picture."""
        seen = (np.asarray(px, float) - np.array(self.centre)) / self.focal_px
        ray = seen
        for _ in range(6):  # contracts fast: the distortion is small
            ray = seen / (1 + self.k1 * np.sum(ray**2, axis=-1, keepdims=True))
        return ray


@dataclass(frozen=True, slots=True, kw_only=True)
class FocalGuess:
    """What is known of the focal length before looking: px, and the spread of its logarithm."""

    focal_px: float
    spread: float

    @property
    def known(self) -> bool:
        """Whether the file told it."""
        return self.spread < 0.1


def focal_guess(size: tuple[int, int], focal_35mm: float | None) -> FocalGuess:
    """Return what EXIF's 35 mm equivalent, or none, says about a picture of `size` px."""
    diagonal = float(np.hypot(*size))
    if focal_35mm is None or not 5 < focal_35mm < 1500:
        return FocalGuess(focal_px=_USUAL_FOCAL * diagonal, spread=_UNKNOWN_SPREAD)
    rounding = 0.29 / focal_35mm  # a whole number's rounding, as a standard deviation
    return FocalGuess(
        focal_px=focal_35mm / _FRAME_DIAGONAL_MM * diagonal,
        spread=float(np.hypot(_KNOWN_SPREAD, rounding)),
    )
