"""Say of every pixel which tone one sees there.

A pixel on an edge may look like a third tone that happens to lie between the
two. It is therefore judged by what its edge leads to: up and down the slope to
where the surface is whole on either side. As paints mix in linear light, it
belongs to the side that covers at least half of it.
"""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import lab_to_linear
from jartide.reading.tones import nearest_tone

# A pixel flatter than this shows one tone whole.
_WHOLE = 0.35
# How far an edge is followed to either side, picture pixels.
_REACH_PX = 4


def assign(
    lab: np.ndarray, rgb_linear: np.ndarray, flat: np.ndarray, tones: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return the tone seen at each pixel, (H, W) uint8, and where it is seen whole, (H, W) bool.

    `tones` is (K, 3) Lab, `flat` the flatness of `tones.flatness`.
    """
    nearest = nearest_tone(lab, tones)
    whole = flat >= _WHOLE
    if len(tones) == 1:
        return nearest, whole
    seen = nearest.copy()
    light = lab_to_linear(tones).astype(np.float32)
    for channel, rows, columns, gx, gy in _edge_pixels(lab, ~whole):
        up, down = _ends(lab[..., channel], nearest, rows, columns, gx, gy)
        rgb = rgb_linear[rows, columns]
        along = light[up] - light[down]
        cover = ((rgb - light[down]) * along).sum(axis=1)
        seen[rows, columns] = np.where(cover >= 0.5 * (along**2).sum(axis=1), up, down)
    return seen, whole


def _edge_pixels(lab: np.ndarray, mixed: np.ndarray):
    """Yield per Lab channel the mixed pixels it changes fastest at, with its unit gradient."""
    import cv2

    slopes = []
    for channel in range(3):
        plane = cv2.GaussianBlur(np.ascontiguousarray(lab[..., channel]), (0, 0), 0.8)
        slopes.append(
            (
                cv2.Sobel(plane, cv2.CV_32F, 1, 0, ksize=3)[mixed],
                cv2.Sobel(plane, cv2.CV_32F, 0, 1, ksize=3)[mixed],
            )
        )
    steepness = np.stack([np.hypot(gx, gy) for gx, gy in slopes])
    steepest = steepness.argmax(axis=0)
    rows, columns = np.nonzero(mixed)
    for channel, (gx, gy) in enumerate(slopes):
        at = steepest == channel
        if at.any():
            size = np.maximum(steepness[channel][at], 1e-6)
            yield channel, rows[at], columns[at], gx[at] / size, gy[at] / size


def _ends(plane, nearest, rows, columns, gx, gy):
    """Return the tones at the upper and lower end of each pixel's edge, (N,) each.

    The slope is followed pixel by pixel while it goes on; where it turns, the
    surface is as whole as it gets.
    """
    width = plane.shape[1] + 2 * _REACH_PX
    values = np.pad(plane, _REACH_PX, mode="edge").ravel()
    labels = np.pad(nearest, _REACH_PX, mode="edge").ravel()
    here = ((rows + _REACH_PX) * width + columns + _REACH_PX).astype(np.int32)
    ends = []
    for way in (1, -1):
        value = values[here] * way
        end = labels[here]
        going = np.ones(rows.size, bool)
        for step in range(1, _REACH_PX + 1):
            away = np.rint(way * step * gy).astype(np.int32) * width
            away += np.rint(way * step * gx).astype(np.int32)
            there = here + away
            further = values.take(there) * way
            going &= further > value
            np.copyto(value, further, where=going)
            np.copyto(end, labels.take(there), where=going)
        ends.append(end)
    return ends
