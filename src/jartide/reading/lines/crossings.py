"""Walk straight across lines and count them: their mean distance, and how even it is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# Every so many pixels along the lines one walk is made across them, this thick.
_WALK_PX = 6.0
_THICK_PX = 2.0
# Centre points this near on one walk belong to one line.
_SAME_PX = 3.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Crossings:
    """Where walks cross lines.

    Attributes
    ----------
    row, column : (N,) where a line is crossed
    nearest_px : (N,) to the nearest other line on the same walk; NaN at a walk's ends
    walk_row, walk_column : (M,) points all along the walks, one for each pixel of way
    """

    row: np.ndarray
    column: np.ndarray
    nearest_px: np.ndarray
    walk_row: np.ndarray
    walk_column: np.ndarray


def walk_across(
    row: np.ndarray, column: np.ndarray, direction_deg: float, valid: np.ndarray
) -> Crossings:
    """Cross lines given by their centre points, (N,) each, at right angles to `direction_deg`.

    Walks lie within `valid`, (H, W).
    """
    way = np.radians(direction_deg)
    along = np.array([np.cos(way), -np.sin(way)])
    across = np.array([np.sin(way), np.cos(way)])
    height, width = valid.shape
    corners = np.array([(0, 0), (width, 0), (0, height), (width, height)], float)
    low, high = (corners @ along).min(), (corners @ along).max()
    left, right = (corners @ across).min(), (corners @ across).max()
    walks = np.arange(low + _WALK_PX / 2, high, _WALK_PX)
    steps = np.arange(left, right, 1.0)
    x = walks[:, None] * along[0] + steps[None] * across[0]
    y = walks[:, None] * along[1] + steps[None] * across[1]
    inside = (x >= 0) & (x < width) & (y >= 0) & (y < height)
    xi, yi = x[inside].astype(int), y[inside].astype(int)
    counts = valid[yi, xi]
    walk_row, walk_column = yi[counts], xi[counts]

    points = np.column_stack([column, row])
    v, u = points @ along, points @ across
    number = np.rint((v - walks[0]) / _WALK_PX).astype(int)
    near = (np.abs(v - walks[0] - number * _WALK_PX) <= _THICK_PX / 2) if len(walks) else v < 0
    number, u = number[near], u[near]
    if u.size == 0:
        none = np.zeros(0)
        return Crossings(
            row=none, column=none, nearest_px=none, walk_row=walk_row, walk_column=walk_column
        )
    order = np.lexsort((u, number))
    number, u = number[order], u[order]
    starts = np.flatnonzero(
        np.concatenate([[True], (np.diff(number) != 0) | (np.diff(u) > _SAME_PX)])
    )
    count = np.diff(np.append(starts, u.size))
    place = np.add.reduceat(u, starts) / count
    walk = number[starts]
    gap = np.where(np.diff(walk) == 0, np.diff(place), np.nan)
    before, after = np.append(np.nan, gap), np.append(gap, np.nan)
    middle = walks[0] + walk * _WALK_PX
    return Crossings(
        row=np.clip(middle * along[1] + place * across[1], 0, height - 1),
        column=np.clip(middle * along[0] + place * across[0], 0, width - 1),
        nearest_px=np.minimum(before, after),
        walk_row=walk_row,
        walk_column=walk_column,
    )


def spacing_px(crossed: np.ndarray, walked: np.ndarray) -> float:
    """Return the mean distance between lines, px, from crossings, (N,), and pixels walked, (N,)."""
    return float(walked.sum() / max(crossed.sum(), 1e-9))


def evenness(nearest_px: np.ndarray, mean_px: float) -> float:
    """Return the nearest-neighbour ratio on a line: mean of (N,) nearest over half the mean.

    Points scattered at random on a line are half of their mean distance from the nearest
    (Clark & Evans 1954, in one dimension). NaN when there are too few.
    """
    known = nearest_px[np.isfinite(nearest_px)]
    return float(known.mean() / (mean_px / 2)) if known.size >= 8 else float("nan")
