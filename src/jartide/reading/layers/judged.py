"""The picture as it looks from where it is judged: what is smaller than the eye then parts is even.

A finish is judged from where the whole piece is in view. A Gaussian of 0.4 % of the piece's side
takes out what is not told apart from there; it is a size on the surface, so the same whatever the
camera, the file or the margin.
"""

from __future__ import annotations

import cv2
import numpy as np

# Standard deviation of the blur, share of the root of the area that is read.
JUDGED_BLUR = 0.004
# Tones are sought a little calmer still: noise and grain of coarse files are no tones.
TONE_BLUR = 0.006
# The judged picture is kept at this many pixels a side: half its blur.
_SIDE = 220
# A pixel is itself the mean of a square, whose standard deviation is this much of its side.
_PIXEL = 0.29


def reduced(
    rgb_linear: np.ndarray,
    valid: np.ndarray,
    blur: float = JUDGED_BLUR,
    most_side: int = _SIDE,
) -> tuple[np.ndarray, np.ndarray]:
    """Return what is seen of a picture where it is judged, and where it was read.

    Parameters
    ----------
    rgb_linear, valid : (H, W, 3) and (H, W) bool
    blur : standard deviation, share of the root of the valid area
    most_side : the picture is reduced until the root of that area is so many pixels

    Returns
    -------
    (h, w, 3) linear light and (h, w) bool
    """
    side = float(np.sqrt(max(int(valid.sum()), 1)))
    step = max(side / most_side, 1.0)
    height, width = valid.shape
    size = (max(round(width / step), 1), max(round(height / step), 1))
    whole = bool(valid.all())
    linear: np.ndarray = np.ascontiguousarray(rgb_linear, np.float32)
    weight: np.ndarray | None = None if whole else valid.astype(np.float32)
    if weight is not None:
        linear = linear * weight[..., None]
    if step > 1:
        linear = cv2.resize(linear, size, interpolation=cv2.INTER_AREA)
        weight = None if weight is None else cv2.resize(weight, size, interpolation=cv2.INTER_AREA)
    sigma = blur * side / step
    own = _PIXEL * max(step, 1.0) / step
    sigma = float(np.sqrt(max(sigma**2 - own**2, 0.01)))
    linear = cv2.GaussianBlur(linear, (0, 0), sigma)
    if weight is None:
        return linear, np.ones(linear.shape[:2], bool)
    inside = weight > 0.5
    weight = cv2.GaussianBlur(weight, (0, 0), sigma)
    return linear / np.maximum(weight, 1e-3)[..., None], inside & (weight > 0.1)
