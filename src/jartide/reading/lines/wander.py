"""How much lines wander: their length over the straight way between their ends."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from scipy.ndimage import uniform_filter1d

from jartide.reading.lines.ridges import CentreLines

# Wandering is told over stretches of this many line widths, at least this many pixels.
_WINDOW_WIDTHS = 8.0
_WINDOW_PX = 16.0
_SMOOTH_PX = 5


def tortuosity(lines: CentreLines, width_px: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return length over straight distance, (N,), of stretches, and their row and column, px."""
    window = max(_WINDOW_PX, _WINDOW_WIDTHS * width_px)
    ratios: list[float] = []
    rows: list[float] = []
    columns: list[float] = []
    order = np.argsort(lines.piece, kind="stable")
    bounds = np.flatnonzero(np.diff(lines.piece[order])) + 1
    for own in np.split(order, bounds):
        if lines.step_px[own].sum() < window:
            continue
        points = np.column_stack([lines.column[own], lines.row[own]]).astype(float)
        # A stretch between two branches runs along its own longest axis.
        axis = np.linalg.svd(points - points.mean(axis=0), full_matrices=False)[2][0]
        own = own[np.argsort(points @ axis)]
        # Averaged over a few pixels: the stair of the pixel grid is no wandering.
        x, y = (
            uniform_filter1d(values[own].astype(float), _SMOOTH_PX, mode="nearest")
            for values in (lines.column, lines.row)
        )
        way = np.concatenate([[0.0], np.cumsum(np.hypot(np.diff(x), np.diff(y)))])
        ends = np.searchsorted(way, np.arange(0, way[-1], window))
        for a, b in pairwise(ends):
            straight = float(np.hypot(x[b] - x[a], y[b] - y[a]))
            ratios.append(max(float(way[b] - way[a]) / max(straight, 1.0), 1.0))
            rows.append(float(y[(a + b) // 2]))
            columns.append(float(x[(a + b) // 2]))
    return np.array(ratios), np.array(rows), np.array(columns)
