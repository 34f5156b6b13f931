"""What an eye at a distance still resolves of a picture: S-CIELAB's spatial filters.

Zhang & Wandell 1996, "A spatial extension of CIELAB for digital color image reproduction":
opponent planes, each blurred by a sum of Gaussians whose spreads are degrees of visual angle.
Holds for daylight levels and a still eye; it says what merges, not what is noticed first.
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import RGB_TO_XYZ, WHITE_D65, linear_to_lab

# XYZ to luminance, red-green, blue-yellow, as published; and the share of luminance taken off
# the colour planes, so that greys (of D65) lie in luminance alone and get no fringes.
_PUBLISHED = np.array([[0.279, 0.720, -0.107], [-0.449, 0.290, -0.077], [0.086, -0.590, 0.501]])
_WHITE = _PUBLISHED @ WHITE_D65
_TO_OPPONENT = _PUBLISHED - np.outer(np.array([0, *_WHITE[1:]]) / _WHITE[0], _PUBLISHED[0])
# Weight and spread, degrees, of each plane's Gaussians; of exp(-(r / spread)^2).
LUMINANCE_KERNEL = ((0.921, 0.0283), (0.105, 0.133), (-0.108, 4.336))
_KERNELS = (
    LUMINANCE_KERNEL,
    ((0.531, 0.0392), (0.330, 0.494)),
    ((0.488, 0.0536), (0.371, 0.386)),
)
# A wide blur is made on a reduced picture, its deviation there this many pixels.
_WORK_PX = 3.0


def px_per_degree(mm_per_px: float, viewing_m: float) -> float:
    """Return how many pixels one degree of visual angle spans."""
    return float(1000 * viewing_m * np.tan(np.radians(1.0)) / mm_per_px)


def as_seen(rgb_linear: np.ndarray, mm_per_px: float, viewing_m: float) -> np.ndarray:
    """Return a picture, (H, W, 3) linear light float32, as an eye at a distance resolves it.

    Raises
    ------
    ValueError : when `mm_per_px` or `viewing_m` is not above 0.
    """
    if mm_per_px <= 0 or viewing_m <= 0:
        raise ValueError(f"mm_per_px and viewing_m must be > 0, got {mm_per_px}, {viewing_m}")
    degree = px_per_degree(mm_per_px, viewing_m)
    matrix = _TO_OPPONENT @ RGB_TO_XYZ
    planes = rgb_linear.astype(np.float32) @ matrix.T.astype(np.float32)
    for plane, kernels in enumerate(_KERNELS):
        whole = sum(weight for weight, _ in kernels)
        own = np.ascontiguousarray(planes[..., plane])
        planes[..., plane] = sum(
            (weight / whole) * _blurred(own, spread * degree / np.sqrt(2))
            for weight, spread in kernels
        )
    back = planes @ np.linalg.inv(matrix).T.astype(np.float32)
    return np.clip(back, 0, None)


def _blurred(plane: np.ndarray, deviation_px: float) -> np.ndarray:
    """Return a plane blurred by a Gaussian; what lies outside is taken to go on like inside."""
    if deviation_px < 0.15:
        return plane
    height, width = plane.shape
    factor = min(deviation_px / _WORK_PX, min(height, width) / 4)
    if factor < 2:
        return cv2.GaussianBlur(plane, (0, 0), deviation_px, borderType=cv2.BORDER_REFLECT)
    size = max(1, round(width / factor)), max(1, round(height / factor))
    small = cv2.resize(plane, size, interpolation=cv2.INTER_AREA)
    deviation = deviation_px * size[0] / width
    # The averaging above has blurred by a box already.
    deviation = float(np.sqrt(max(deviation**2 - 1 / 12, 0.05)))
    soft = cv2.GaussianBlur(small, (0, 0), deviation, borderType=cv2.BORDER_REFLECT)
    return cv2.resize(soft, (width, height), interpolation=cv2.INTER_LINEAR)


def seen_difference(
    rgb_a: np.ndarray, rgb_b: np.ndarray, mm_per_px: float, viewing_m: float
) -> np.ndarray:
    """Return CIEDE2000, (H, W), between two pictures of the same spot as seen from a distance."""
    first, second = (as_seen(rgb, mm_per_px, viewing_m) for rgb in (rgb_a, rgb_b))
    return delta_e_2000(linear_to_lab(first), linear_to_lab(second))
