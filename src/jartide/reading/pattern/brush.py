"""Brush marks: the one or two ways they run, and how far apart their ridges lie."""

from __future__ import annotations

import cv2
import numpy as np

from jartide.reading.pattern.direction import lay_of_picture
from jartide.reading.pattern.peaks import direction_peaks
from jartide.reading.pattern.records import Brush
from jartide.reading.trust.measured import Measured, jackknife_half_width, unknown
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import count_by_tile

_WALK_STEP = 4
DIRECTION_ERROR_DEG = 3.0


def measure_brush(
    marks: list[np.ndarray], valid: np.ndarray, mm_per_px: float | None
) -> Brush | None:
    """Return the measures of brush marks; None where no way stands out.

    `marks` is one cover, (H, W) in 0..1, a layer. Each layer's own edges tell its way, and it
    counts by what it covers: by lightness the starkest layer would speak for all.
    """
    if not marks:
        return None
    angles, weights = [], []
    for cover in marks:
        lay = lay_of_picture((100 * cover).astype(np.float32), valid)
        total = float(lay.weight.sum())
        if total > 0:
            angles.append(lay.angle_deg)
            weights.append(lay.weight / total * float(cover[valid].mean()))
    if not angles:
        return None
    peaks = direction_peaks(np.concatenate(angles), np.concatenate(weights))
    if not peaks:
        return None
    every = np.max(marks, axis=0) >= 0.5
    return Brush(
        directions=peaks,
        direction_error_deg=DIRECTION_ERROR_DEG,
        ridge_spacing_mm=_ridges(every, valid, peaks[0].deg, mm_per_px),
    )


def _ridges(
    marks: np.ndarray, valid: np.ndarray, direction_deg: float, mm_per_px: float | None
) -> Measured:
    """Return the mean distance from one mark to the next across the main direction."""
    if mm_per_px is None:
        return unknown("reason.no_scale")
    height, width = marks.shape
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), 90 - direction_deg, 1.0)
    soft = cv2.GaussianBlur(marks.astype(np.float32), (0, 0), 1.0)
    turned = cv2.warpAffine(soft, turn, (width, height))[::_WALK_STEP] >= 0.5
    inside = cv2.warpAffine(valid.astype(np.uint8), turn, (width, height))[::_WALK_STEP] > 0
    begins = turned[:, 1:] & ~turned[:, :-1] & inside[:, 1:] & inside[:, :-1]
    crossed, walked = count_by_tile(begins, inside), count_by_tile(inside, inside)
    if crossed.sum() < 30:
        return unknown("reason.few_lines")
    used = np.flatnonzero(walked > 0)
    half = jackknife_half_width(
        used, lambda keep: float(walked[used[keep]].sum() / max(crossed[used[keep]].sum(), 1e-9))
    )
    mean = float(walked.sum() / crossed.sum())
    return judged("brush.ridge_spacing_mm", mean * mm_per_px, half * mm_per_px)
