"""The sides of a piece, found roughly, drawn exactly: each along the steepest change nearby."""

from __future__ import annotations

import cv2
import numpy as np

# How far to either side of the rough line is looked, and how finely, px of the picture.
_REACH_PX = 8.0
_STEP_PX = 0.5
_PLACES = 220
# Near the corners the neighbouring side's edge is seen too.
_ENDS = 0.03
# A bold stretch of a side counts no more than this, Lab units a pixel: a hand is bolder than most.
_BOLDEST = 6.0
_ROUND = 0.8


def fine_sides(
    lab: np.ndarray, corners: np.ndarray, borders: np.ndarray, card: np.ndarray | None = None
) -> np.ndarray:
    """Return the corners, (4, 2) px, where the sides are steepest.

    Parameters
    ----------
    lab : (H, W, 3) float32, Lab
    corners : (4, 2) px, clockwise, within a few pixels of the true ones
    borders : (4,) bool, sides that are the photo's own borders and stay
    card : (N, 2) px, the photo card, whose own edges are none of the piece; None without one
    """
    smooth = cv2.GaussianBlur(lab, (0, 0), _ROUND)
    shut = np.zeros(lab.shape[:2], np.uint8)
    if card is not None:
        cv2.fillPoly(shut, [np.rint(card).astype(np.int32)], 1)
    open_ = cv2.dilate(shut, np.ones((9, 9), np.uint8)) == 0
    sides = []
    for n in range(4):
        start, end = corners[n], corners[(n + 1) % 4]
        sides.append((start, end) if borders[n] else _steepest(smooth, open_, start, end))
    return np.array([_meet(sides[n - 1], sides[n], corners[n]) for n in range(4)])


def _steepest(
    smooth: np.ndarray, open_: np.ndarray, start: np.ndarray, end: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Start and end of the line near another across which colour changes most, all along it."""
    length = float(np.linalg.norm(end - start))
    along = (end - start) / max(length, 1e-9)
    normal = np.array([-along[1], along[0]])
    share = np.linspace(_ENDS, 1 - _ENDS, _PLACES)
    off = np.arange(-_REACH_PX - 1, _REACH_PX + 1 + _STEP_PX / 2, _STEP_PX)
    at = start + share[:, None, None] * (end - start) + off[None, :, None] * normal
    x, y = (np.ascontiguousarray(at[..., n] - 0.5, np.float32) for n in range(2))
    strip = cv2.remap(smooth, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    # Along the side its edge goes on, while the grain of the piece changes: that evens out.
    strip = cv2.GaussianBlur(strip, (1, 13), sigmaX=0.01, sigmaY=2.0)
    # Colour one pixel to either side.
    lag = round(1 / _STEP_PX)
    step = np.linalg.norm(strip[:, 2 * lag :] - strip[:, : -2 * lag], axis=2)
    height, width = smooth.shape[:2]
    middle = at[:, lag:-lag]
    inside = np.all((middle >= 2) & (middle <= (width - 2, height - 2)), axis=2)
    column, row = np.clip(middle, 0, (width - 1, height - 1)).astype(int).transpose(2, 0, 1)
    inside &= open_[row, column]
    step = np.minimum(step, _BOLDEST) * inside
    if inside.mean() < 0.1:
        return start, end
    count = step.shape[1]
    ends = np.arange(count)
    first, last = np.meshgrid(ends, ends, indexing="ij")
    total = np.zeros(first.shape)
    for values, s in zip(step, share, strict=True):
        at_column = first * (1 - s) + last * s
        low = at_column.astype(int)
        part = at_column - low
        total += values[low] * (1 - part) + values[np.minimum(low + 1, count - 1)] * part
    best = np.unravel_index(int(total.argmax()), total.shape)
    d = off[lag:-lag]
    return start + d[best[0]] * normal, end + d[best[1]] * normal


def _meet(one, other, otherwise: np.ndarray) -> np.ndarray:
    """Where two lines, each by two points, meet."""
    (a, b), (c, d) = one, other
    p, q = b - a, d - c
    turn = p[0] * q[1] - p[1] * q[0]
    if abs(turn) < 1e-6 * np.linalg.norm(p) * np.linalg.norm(q):
        return otherwise
    along = ((c[0] - a[0]) * q[1] - (c[1] - a[1]) * q[0]) / turn
    return a + along * p
