"""The shadow a piece throws beside itself: its own edge is straight and as bold as the piece's.

Shade has the colour of what it falls on, only darker, and is as smooth.
"""

from __future__ import annotations

import cv2
import numpy as np

_NEAR_AB, _NEAR_ROUGH = 5.0, 1.0
# So far to the inside a shadow's strip is looked for, share of the piece's width there.
_REACH = 0.14
_CORE = 0.18
# A row is shade when so much of it looks like shade, and the piece when so little does.
_ROW_SHADE, _OWN_SHADE, _OWN_SMOOTH_SHADE = 0.75, 0.5, 0.3
_EVEN_L = 7.0
# The deepest shade in a room that is lit for a photo, share of L*.
_DEEPEST = 0.5


def roughness(lab: np.ndarray) -> np.ndarray:
    """Return the local unevenness of L*, (H, W), of a picture in Lab, (H, W, 3)."""
    lightness = np.ascontiguousarray(lab[..., 0])
    return np.abs(lightness - cv2.GaussianBlur(lightness, (0, 0), 1.2))


def is_shade_of(lab: np.ndarray, part: np.ndarray, ground: np.ndarray) -> bool:
    """Return whether one part of a picture, (H, W) bool, is another one in shade.

    `lab` is (H, W, 3).
    """
    if not part.any() or not ground.any():
        return False
    rough = roughness(lab)
    a, b = (np.median(lab[m], axis=0) for m in (part, ground))
    darker = a[0] < b[0] + 2
    smooth = abs(np.median(rough[part]) - np.median(rough[ground])) < _NEAR_ROUGH
    return bool(darker and np.hypot(*(a[1:] - b[1:])) < _NEAR_AB and smooth)


def without_shadow(
    lab: np.ndarray, open_: np.ndarray, corners: np.ndarray, borders: np.ndarray
) -> np.ndarray:
    """Return the corners, (4, 2) px, moved in by strips of shadow that lie inside the sides.

    Parameters
    ----------
    lab : (H, W, 3) float32, Lab
    open_ : (H, W) bool, False where the photo card lies
    corners : (4, 2) px, clockwise
    borders : (4,) bool, sides that are the photo's own borders and stay
    """
    features = np.dstack([lab, roughness(lab)])
    core = corners + 2 * _CORE * (corners.mean(axis=0) - corners)
    inside = np.zeros(lab.shape[:2], np.uint8)
    cv2.fillPoly(inside, [np.rint((core - 0.5) * 16).astype(np.int32)], 1, shift=4)
    own = features[(inside > 0) & open_][::7]
    found = corners.copy()
    for n in range(4):
        if borders[n] or len(own) == 0:
            continue
        start, end = corners[n], corners[(n + 1) % 4]
        before, after = corners[n - 1] - start, corners[(n + 2) % 4] - end
        wide = float(min(np.linalg.norm(before), np.linalg.norm(after)))
        depth = _shadow_depth(features, own, start, end, wide)
        if depth > 0:
            found[n] += before / np.linalg.norm(before) * depth
            found[(n + 1) % 4] += after / np.linalg.norm(after) * depth
    return found


def _shadow_depth(
    features: np.ndarray, own: np.ndarray, start: np.ndarray, end: np.ndarray, wide: float
) -> float:
    """How many pixels inside a side there is the shade of what lies outside; 0 for none.

    `features` are Lab and roughness, (H, W, 4), `own` those of the piece's middle, (N, 4).
    """
    height, width = features.shape[:2]
    length = float(np.linalg.norm(end - start))
    along = (end - start) / max(length, 1e-9)
    inward = np.array([-along[1], along[0]])
    offsets = np.arange(-9.0, _REACH * wide)
    at = start + np.linspace(0.12, 0.88, 120)[None, :, None] * (end - start)
    at = at + offsets[:, None, None] * inward
    seen = np.all((at >= 0) & (at < (width, height)), axis=2)
    x, y = np.clip(at, 0, (width - 1, height - 1)).astype(int).transpose(2, 0, 1)
    values = features[y, x]
    outer = (offsets < -3)[:, None] & seen
    if outer.sum() < 0.5 * (offsets < -3).sum() * seen.shape[1]:
        return 0.0
    ground = np.median(values[outer], axis=0)
    rough_alone = _is_shade(own, ground, by_rough=False).mean() > _OWN_SHADE
    if rough_alone and _is_shade(own, ground, by_rough=True).mean() > _OWN_SMOOTH_SHADE:
        return 0.0  # the piece itself looks like shade: it can't be told from it
    depth = 0.0
    for offset, row, known in zip(offsets, values, seen, strict=True):
        if offset < 1:
            continue
        # Near the shade's own edge any surface is uneven.
        shade = _is_shade(row[known], ground, by_rough=bool(offset > 4))
        if known.sum() < 10 or shade.mean() < _ROW_SHADE:
            break
        # Shade of one wall is of one lightness all along.
        if rough_alone and float(np.ptp(np.quantile(row[known, 0], (0.15, 0.85)))) > _EVEN_L:
            break
        depth = float(offset)
    return depth + 1 if depth >= 2 else 0.0


def _is_shade(features: np.ndarray, ground: np.ndarray, *, by_rough: bool) -> np.ndarray:
    """Which places, (N, 4) Lab and roughness, may be a ground in shade."""
    off = features - ground
    shade = (np.hypot(off[:, 1], off[:, 2]) < _NEAR_AB) & (off[:, 0] < 2)
    shade &= features[:, 0] > _DEEPEST * ground[0]
    return shade & (off[:, 3] < _NEAR_ROUGH) if by_rough else shade
