"""What reaches over the piece's edges from outside: a hand that holds it, tape, a cloth, a clamp.

Where the edge is not seen along a stretch of a side, and the colour there goes on inside but is
rare all over the rest of the piece, something lies over it.
"""

from __future__ import annotations

import cv2
import numpy as np

# Colours this near are one: lightness may vary more, since a hand is round.
_NEAR_L, _NEAR_AB = 16.0, 9.0
_SAME = 7.0
_BESIDE_PX = 2.5
# The least stretch of a side, and the least and most of the piece that it may lie over.
_LEAST_STRETCH, _LEAST_PX = 0.02, 5
_LEAST_SHARE, _MOST_SHARE = 0.0006, 0.25
# So much of the rest of the piece may have its colour.
_RARE = 0.02


def reaching_in(lab: np.ndarray, corners: np.ndarray) -> list[np.ndarray]:
    """Return outlines, (N, 2) px each, of what reaches over the edges of a piece.

    Parameters
    ----------
    lab : (H, W, 3) float32, Lab
    corners : (4, 2) px, clockwise
    """
    height, width = lab.shape[:2]
    smooth = cv2.GaussianBlur(lab, (0, 0), 1.0)
    piece = np.zeros((height, width), np.uint8)
    cv2.fillPoly(piece, [np.rint((corners - 0.5) * 16).astype(np.int32)], 1, shift=4)
    total = max(int(piece.sum()), 1)
    taken = np.zeros((height, width), np.uint8)
    found = []
    for n in range(4):
        for place in _open_stretches(smooth, corners[n], corners[(n + 1) % 4]):
            x, y = place.astype(int).T
            colour = np.median(smooth[y, x], axis=0)
            off = smooth - colour
            alike = (np.abs(off[..., 0]) < _NEAR_L) & (
                np.hypot(off[..., 1], off[..., 2]) < _NEAR_AB
            )
            _, label = cv2.connectedComponents((alike & (piece > 0)).astype(np.uint8))
            own_labels = np.unique(label[y, x])
            own = np.isin(label, own_labels[own_labels > 0])
            share = own.sum() / total
            rest = (piece > 0) & (cv2.dilate(own.astype(np.uint8), np.ones((9, 9))) == 0)
            common = float(alike[rest].mean()) if rest.any() else 1.0
            if _LEAST_SHARE < share < _MOST_SHARE and common < _RARE:
                taken |= own.astype(np.uint8)
    if not taken.any():
        return []
    grown = cv2.dilate(taken, np.ones((5, 5)))
    grown = cv2.morphologyEx(grown, cv2.MORPH_CLOSE, np.ones((9, 9)))
    contours, _ = cv2.findContours(grown, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    for contour in contours:
        simple = cv2.approxPolyDP(contour, 1.0, True)[:, 0].astype(float) + 0.5
        if len(simple) > 2:
            found.append(simple)
    return found


def _open_stretches(smooth: np.ndarray, start: np.ndarray, end: np.ndarray) -> list[np.ndarray]:
    """Points, (N, 2) px just inside a side, of each stretch along which no edge is seen."""
    height, width = smooth.shape[:2]
    length = float(np.linalg.norm(end - start))
    along = (end - start) / max(length, 1e-9)
    inward = np.array([-along[1], along[0]])
    at = start + np.arange(4.0, max(length - 4, 5))[:, None] * along
    inner, outer = at + _BESIDE_PX * inward, at - _BESIDE_PX * inward
    seen = np.all(
        (np.minimum(inner, outer) >= 1) & (np.maximum(inner, outer) < (width - 1, height - 1)),
        axis=1,
    )
    colours = []
    for points in (inner, outer):
        x, y = np.clip(points, 0, (width - 1, height - 1)).astype(int).T
        colours.append(smooth[y, x])
    open_ = seen & (np.linalg.norm(colours[0] - colours[1], axis=1) < _SAME)
    runs = np.flatnonzero(np.diff(np.concatenate([[0], open_.astype(int), [0]])))
    least = max(_LEAST_PX, _LEAST_STRETCH * length)
    return [
        np.clip(inner[a:b], 0, (width - 1, height - 1))
        for a, b in zip(runs[::2], runs[1::2], strict=True)
        if b - a >= least
    ]
