"""How wide the passages between a picture's colours are, before any tone is known.

Layers with edges change their colour within the blur of the eye, however far apart the layers
are; where tones run into each other the way from one to the next is several times as long. It is
measured where a picture is steepest, at a size on the surface, so that neither the file's pixels
nor its noise nor the number of tones has a say in it.
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.colour.perceptual import lab_to_even
from jartide.colour.spaces import linear_to_lab
from jartide.reading.layers.judged import reduced

# Standard deviation of the blur that grain and file are looked at through, and how far to either
# side the colours of a place reach: shares of the root of the area that is read.
_BLUR, _REACH = 0.003, 0.035
# The picture is reduced to this many pixels a side: a little under its blur.
_SIDE = 400
# Places whose surroundings differ by less than this, even units, pass into nothing.
_LEAST_RANGE = 3.0
# The wider of a picture's passages speak for it: of the steep places, by their range.
_SHARE = 0.75
_FAR = 1e4


def passage_width(rgb_linear: np.ndarray, valid: np.ndarray) -> float:
    """Return how wide a picture's passages are, share of the root of the area; 0 without any.

    At every crest of the gradient (largest eigenvalue of Di Zenzo's structure tensor, 1986) the
    range of the colours around it over its steepness there is the width of the passage; the third
    quartile of all is returned, weighted by range. A sharp edge has 2.5 times the blur.

    Parameters
    ----------
    rgb_linear, valid : (H, W, 3) linear light and (H, W) bool
    """
    linear, inside = reduced(rgb_linear, valid, _BLUR, _SIDE)
    side = float(np.sqrt(max(int(inside.sum()), 1)))
    even = lab_to_even(linear_to_lab(linear)).astype(np.float32)
    steep = steepness(even)
    around = np.ones((2 * round(_REACH * side) + 1,) * 2, np.uint8)
    outside = ~inside
    spread = np.zeros(inside.shape, np.float32)
    for axis in range(3):
        plane = even[..., axis]
        highest = cv2.dilate(np.where(outside, -_FAR, plane).astype(np.float32), around)
        lowest = cv2.erode(np.where(outside, _FAR, plane).astype(np.float32), around)
        spread += np.maximum(highest - lowest, 0) ** 2
    spread = np.sqrt(spread)
    whole = cv2.erode(inside.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    steep[~whole] = 0
    crest = (steep >= cv2.dilate(steep, np.ones((5, 5), np.uint8))) & whole
    crest &= spread > _LEAST_RANGE
    if not crest.any():
        return 0.0
    steepest = cv2.dilate(steep, around)
    width = spread[crest] / np.maximum(steepest[crest], 1e-6)
    order = np.argsort(width, kind="stable")
    weight = np.cumsum(spread[crest][order])
    middle = int(np.searchsorted(weight, _SHARE * weight[-1]))
    return float(width[order][min(middle, width.size - 1)]) / side


def steepness(even: np.ndarray) -> np.ndarray:
    """Return how steeply colours, (H, W, 3), change at each pixel, units per pixel, (H, W)."""
    across, down, both = (np.zeros(even.shape[:2], np.float32) for _ in range(3))
    for axis in range(3):
        plane = np.ascontiguousarray(even[..., axis])
        gx = cv2.Scharr(plane, cv2.CV_32F, 1, 0) / 32
        gy = cv2.Scharr(plane, cv2.CV_32F, 0, 1) / 32
        across += gx * gx
        down += gy * gy
        both += gx * gy
    middle, half = (across + down) / 2, (across - down) / 2
    steep: np.ndarray = np.sqrt(np.maximum(middle + np.sqrt(half**2 + both**2), 0))
    return steep
