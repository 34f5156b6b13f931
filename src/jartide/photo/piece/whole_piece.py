"""A part of the piece is not the piece: a joint or a painted border is as straight as its edge."""

from __future__ import annotations

import cv2
import numpy as np

from jartide.photo.piece.four_sides import FourSides, difference
from jartide.photo.piece.shadow_strip import is_shade_of
from jartide.photo.piece.surface_kinds import KINDS

# An outline that is larger on one side only is taken when it is nearly as good by itself.
_NEARLY = 0.42
_LEAST_EDGE, _LEAST_APART = 0.5, 0.18
# Corners this near are the same, share of the picture's diagonal; what is added is at least this.
_SAME_CORNER, _LEAST_MORE = 0.022, 0.06
_LEAST_GOES_ON = 0.6
# What is added looks so little like what lies beyond.
_UNLIKE = 0.6


def whole_piece(found: list[FourSides], lab: np.ndarray, kinds: np.ndarray) -> FourSides:
    """Return the best outline, or the larger one that it is a part of.

    Parameters
    ----------
    found : best first
    lab : (H, W, 3) float32, Lab
    kinds : (H, W) uint8, kinds of surface
    """
    best = found[0]
    diagonal = float(np.hypot(*kinds.shape))
    for other in found[1:]:
        if other.score < found[0].score - _NEARLY:
            continue
        good = np.nanmin(other.edges) >= _LEAST_EDGE and np.nanmin(other.apart) >= _LEAST_APART
        if good and _grown_on_one_side(best, other, diagonal):
            within, without = _mask(best.corners, kinds.shape), _mask(other.corners, kinds.shape)
            more = without & ~_eroded(within, -3)
            beyond = _eroded(without, -14) & ~_eroded(without, -3)
            if _unlike(more, ~_eroded(without, -3), kinds) and not is_shade_of(lab, more, beyond):
                best = other
    return best


def _grown_on_one_side(best: FourSides, larger: FourSides, diagonal: float) -> bool:
    """Whether another outline has a side of the first, holds all of it, and its two sides that
    go on are borne out there too.
    """
    one, other = best.corners, larger.corners
    near = np.linalg.norm(one - other, axis=1) < _SAME_CORNER * diagonal
    shared = [n for n in range(4) if near[n] and near[(n + 1) % 4]]
    if len(shared) != 1:
        return False
    moved = (shared[0] + 2) % 4  # the side between its corner and the next
    for corner, side in ((moved, shared[0] + 1), ((moved + 1) % 4, shared[0] - 1)):
        line = larger.lines[side % 4]
        if line.borne_out(one[corner], other[corner]) < _LEAST_GOES_ON:
            return False
    a, b = one.astype(np.float32), other.astype(np.float32)
    both, _ = cv2.intersectConvexConvex(a, b)
    own = cv2.contourArea(a)
    return both > 0.975 * own and cv2.contourArea(b) > (1 + _LEAST_MORE) * own


def _unlike(more: np.ndarray, beyond: np.ndarray, kinds: np.ndarray) -> bool:
    counts = [np.bincount(kinds[m], minlength=256)[:KINDS].astype(float) for m in (more, beyond)]
    return counts[1].sum() > 0 and difference(counts[0], counts[1]) > _UNLIKE


def _mask(corners: np.ndarray, shape: tuple[int, int]) -> np.ndarray:
    mask = np.zeros(shape, np.uint8)
    cv2.fillPoly(mask, [np.rint((corners - 0.5) * 16).astype(np.int32)], 1, shift=4)
    return mask > 0


def _eroded(mask: np.ndarray, by: int) -> np.ndarray:
    """A mask made smaller by so many pixels, or larger where that is below 0."""
    disc = np.ones((2 * abs(by) + 1,) * 2, np.uint8)
    change = cv2.erode if by > 0 else cv2.dilate
    return change(mask.astype(np.uint8), disc) > 0
