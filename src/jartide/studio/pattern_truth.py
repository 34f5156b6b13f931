"""What is true of a drawn pattern beside its lines, by the definitions of docs/measures.md."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import distance_transform_edt
from skimage.morphology import skeletonize

# Grooves are enlarged so many times before their width is taken.
_FINER = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class CellsTruth:
    """Cells from groove centre to groove centre, and the width of what lies between."""

    size_mm: float
    count_per_dm2: float
    groove_width_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WeaveTruth:
    """Threads both ways."""

    warp_per_cm: float
    weft_per_cm: float
    warp_direction_deg: float
    weft_direction_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class GrainTruth:
    """Wood grain."""

    spacing_mm: float
    knots: int


def cells_truth(
    cell: np.ndarray, border_mm: np.ndarray, width_mm: np.ndarray, mm_per_px: float
) -> CellsTruth | None:
    """Return the truth of drawn cells; None where not one is whole.

    Parameters
    ----------
    cell, border_mm : (H, W) number of each pixel's cell, and distance to its border
    width_mm : (H, W) drawn width of the groove
    """
    _, number = np.unique(cell, return_inverse=True)
    number = number.reshape(cell.shape)
    area = np.bincount(number.ravel()) * mm_per_px**2
    cut = np.zeros(area.size, bool)
    for edge in (number[0], number[-1], number[:, 0], number[:, -1]):
        cut[edge] = True
    outside = np.zeros(area.size, bool)
    outside[number[-1]] = outside[number[:, -1]] = True
    if cut.all():
        return None
    across = 2 * np.sqrt(area[~cut] / np.pi)
    # Grooves waver, so what is drawn is not as wide as it was meant: twice the way from its
    # middle to the nearest point outside it. Enlarged: three pixels across are told to a third.
    inside = (width_mm / 2 - border_mm).astype(np.float32)
    height, width = (n // 5 for n in inside.shape)
    inside = inside[height : 4 * height, width : 4 * width]
    groove = cv2.resize(inside, None, fx=_FINER, fy=_FINER, interpolation=cv2.INTER_LINEAR) > 0
    half = distance_transform_edt(groove)
    drawn_mm = (2 * half[skeletonize(groove)] - 1) * mm_per_px / _FINER
    return CellsTruth(
        size_mm=float(np.median(across)),
        count_per_dm2=float((~outside).sum() / (cell.size * mm_per_px**2 / 1e4)),
        groove_width_mm=float(np.median(drawn_mm)),
    )


def bands_crossed(index: np.ndarray, direction_deg: float, mm_per_px: float) -> float:
    """Return the mean distance between the borders of numbered bands, (H, W), across them.

    Walked level and upright: a border of that slope is crossed by a level walk once in
    spacing / sin(angle), so both counts together give the way across.
    """
    level = float((index[:, 1:] != index[:, :-1]).mean())
    upright = float((index[1:] != index[:-1]).mean())
    return mm_per_px / float(np.hypot(level, upright))
