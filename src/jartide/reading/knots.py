"""Knots: dark discs that the grain runs round, told by their rings facing every way.

Every edge votes for the middle it bends round (the fast radial symmetry of Loy & Zelinsky
2003). Straight grain votes, too, but from two sides only: what counts is the vote less the
part of it that goes one way.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

_RADII_MM = (2.5, 3.5, 5.0, 7.0, 9.5, 12.5)
_WORK_MM = 0.6
# Share of the ring round its middle that must vote for it, from every way.
_LEAST_VOTE = 0.3


@dataclass(frozen=True, slots=True, kw_only=True)
class Knot:
    """A knot's middle, picture pixels, and its radius in mm."""

    row: float
    column: float
    radius_mm: float


def find_knots(light: np.ndarray, valid: np.ndarray, mm_per_px: float) -> tuple[Knot, ...]:
    """Return the knots in L*, (H, W)."""
    import cv2

    factor = min(1.0, mm_per_px / _WORK_MM)
    size = (round(light.shape[1] * factor), round(light.shape[0] * factor))
    if min(size) < 40:
        return ()
    mm = mm_per_px * light.shape[1] / size[0]
    small = cv2.resize(light, size, interpolation=cv2.INTER_AREA)
    inside = cv2.resize(valid.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    small = cv2.GaussianBlur(small, (0, 0), 1.2)
    gx, gy = cv2.Scharr(small, cv2.CV_32F, 1, 0), cv2.Scharr(small, cv2.CV_32F, 0, 1)
    slope = np.hypot(gx, gy)
    usual = float(np.percentile(slope[inside], 60))
    rows, columns = np.nonzero((slope > usual) & inside)
    dx, dy = gx[rows, columns] / slope[rows, columns], gy[rows, columns] / slope[rows, columns]
    turn = np.exp(2j * np.arctan2(dy, dx))
    height, width = small.shape
    best = np.zeros(small.shape, np.float32)
    which = np.zeros(small.shape, np.uint8)
    for number, radius in enumerate(_RADII_MM):
        reach = radius / mm
        # The dark middle lies against the slope.
        r = np.rint(rows - reach * dy).astype(int)
        c = np.rint(columns - reach * dx).astype(int)
        ok = (r >= 0) & (r < height) & (c >= 0) & (c < width)
        at = r[ok] * width + c[ok]
        votes = [
            np.bincount(at, weight, height * width).reshape(height, width).astype(np.float32)
            for weight in (np.ones(at.size), turn.real[ok], turn.imag[ok])
        ]
        soft = max(0.28 * reach, 1.0)
        all_, real, imag = (cv2.GaussianBlur(v, (0, 0), soft) for v in votes)
        # Spread over the blur's disc, a whole ring of votes is 2 pi r / (2 pi soft^2) high.
        score = (all_ - np.hypot(real, imag)) / (reach / soft**2)
        better = score > best
        best = np.where(better, score, best)
        which[better] = number
    found: list[Knot] = []
    left = np.where(inside, best, 0)
    while True:
        row, column = np.unravel_index(int(left.argmax()), left.shape)
        if left[row, column] < _LEAST_VOTE:
            break
        radius = _RADII_MM[which[row, column]]
        if _is_dark(small, int(row), int(column), radius / mm):
            found.append(
                Knot(
                    row=float((row + 0.5) / size[1] * light.shape[0]),
                    column=float((column + 0.5) / size[0] * light.shape[1]),
                    radius_mm=radius,
                )
            )
        cv2.circle(left, (int(column), int(row)), int(np.ceil(2.2 * radius / mm)), 0.0, -1)
    return tuple(found)


def _is_dark(light: np.ndarray, row: int, column: int, radius_px: float) -> bool:
    """Whether the middle is darker than what lies round it at twice the radius."""
    y, x = np.mgrid[0 : light.shape[0], 0 : light.shape[1]]
    away = np.hypot(y - row, x - column)
    core = light[away <= 0.6 * radius_px]
    around = light[(away > 1.6 * radius_px) & (away < 2.6 * radius_px)]
    if core.size == 0 or around.size == 0:
        return False
    return float(core.mean()) < float(around.mean()) - 0.5 * float(around.std())
