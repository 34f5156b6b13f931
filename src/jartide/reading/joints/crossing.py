"""How plainly a straight dark or light line goes all the way across a picture, place by place."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy import ndimage

# A line is looked for in so many pieces, one after the other: grain and veins leave some empty.
PIECES = 12
# It may be missing, or stray, in this share of them.
_MISSED = 0.2
# Fewer pieces than this say nothing.
_LEAST_PIECES = 7
# How far a line strays from straight from piece to piece, pixels of the small picture.
STRAY = 2
# Half widths looked for, pixels.
HALVES = (1, 2, 3, 5)
# What lies beside a line is looked at over this many half widths, and three pixels at least.
_BESIDE = 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Turned:
    """A small picture turned so that lines of one direction stand upright.

    Attributes
    ----------
    lightness, weight : (R, C) float32, L* times weight, and how much of each pixel was read
    back : (2, 3) takes a column and row of it to a column and row of the small picture
    """

    lightness: np.ndarray
    weight: np.ndarray
    back: np.ndarray


def turned(lightness: np.ndarray, weight: np.ndarray, direction_deg: float) -> Turned:
    """Turn a picture, (H, W) L* times weight and weight, so that its lines stand upright."""
    height, width = lightness.shape
    side = int(np.ceil(np.hypot(height, width)))
    middle = np.array([width - 1, height - 1]) / 2
    turn = np.asarray(cv2.getRotationMatrix2D(middle.tolist(), 90 - direction_deg, 1.0), float)
    turn[:, 2] = turn[:, 2] + (side - 1) / 2 - middle
    weights = cv2.warpAffine(weight, turn, (side, side))
    rows = np.flatnonzero(weights.max(axis=1) > 0.5)
    first, last = (int(rows[0]), int(rows[-1]) + 1) if rows.size else (0, side)
    turn[1, 2] -= first
    return Turned(
        lightness=cv2.warpAffine(lightness, turn, (side, last - first)),
        weight=weights[first:last],
        back=cv2.invertAffineTransform(turn),
    )


def responses(
    lightness: np.ndarray, weight: np.ndarray, sign: int, pieces: int, halves=HALVES
) -> np.ndarray:
    """Return by how much L* a line at each column stands out of both its sides, (pieces, C).

    NaN where too little was read. `sign` is -1 for lines that are darker than both sides, 1 for
    lighter ones; where two sides differ, the nearer one counts: an edge is no line.
    """
    cuts = np.linspace(0, len(lightness), pieces + 1).astype(int)
    tall = np.maximum(np.diff(cuts), 1)[:, None]
    sums = np.pad(np.cumsum(np.add.reduceat(lightness, cuts[:-1]), axis=1), ((0, 0), (1, 0)))
    counts = np.pad(np.cumsum(np.add.reduceat(weight, cuts[:-1]), axis=1), ((0, 0), (1, 0)))
    columns = lightness.shape[1]
    at = np.arange(columns)

    def mean(first: int, last: int) -> np.ndarray:
        low, high = np.clip(at + first, 0, columns), np.clip(at + last + 1, 0, columns)
        count = counts[:, high] - counts[:, low]
        enough = count > 0.3 * (last - first + 1) * tall
        value = (sums[:, high] - sums[:, low]) / np.maximum(count, 1e-6)
        return np.where(enough, value, np.nan)

    best = np.full((pieces, columns), np.nan)
    for half in halves:
        beside = max(3, _BESIDE * half)
        inner = (half + 1) // 2
        line = mean(-inner, inner)
        sides = sign * np.stack([mean(-half - beside, -half - 1), mean(half + 1, half + beside)])
        own = sign * line - np.maximum(sides[0], sides[1])
        best = np.fmax(best, own)
    return best


def standing_out(response: np.ndarray, missed: float = _MISSED, stray: int = STRAY) -> np.ndarray:
    """Return by how much L* a line at each column, (C,), stands out in all but a few pieces."""
    told = np.isfinite(response)
    near = ndimage.maximum_filter1d(np.where(told, response, -99.0), 2 * stray + 1, axis=1)
    ordered = np.sort(np.where(told, near, np.inf), axis=0)
    count = told.sum(axis=0)
    rank = np.clip((count * missed).astype(int), 0, len(response) - 1)
    found = ordered[rank, np.arange(response.shape[1])]
    least = _LEAST_PIECES * len(response) / PIECES
    return np.where(count >= least, found, -np.inf)


def unrest_of(response: np.ndarray) -> float:
    """Return the standard deviation of what stands out by chance, from the median deviation."""
    told = response[np.isfinite(response)]
    return 1.48 * float(np.median(np.abs(told - np.median(told)))) if told.size else 0.0
