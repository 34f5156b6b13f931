"""Cells round scattered points, and the net of borders between them."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from jartide.studio.noise import fractal, pixel_grid


def scatter_cells(
    shape: tuple[int, int],
    mm_per_px: float,
    cell_mm: float,
    rng: np.random.Generator,
    evenness: float = 0.35,
    wobble: float = 0.14,
) -> tuple[np.ndarray, np.ndarray]:
    """Return the number of each pixel's cell, (H, W), and its distance to the cell's border, mm.

    Points stand on a grid and are moved at random by `evenness` of its step; borders
    waver by `wobble` of it.
    """
    height, width = shape[0] * mm_per_px, shape[1] * mm_per_px
    step = cell_mm * 0.94
    rows, columns = int(height / step) + 5, int(width / step) + 5
    grid = np.stack(np.meshgrid(np.arange(columns), np.arange(rows)), axis=-1).reshape(-1, 2)
    # Every second row stands between the points of the one above it.
    staggered = grid + np.column_stack([0.5 * (grid[:, 1] % 2), np.zeros(len(grid))])
    points = (staggered - 2 + rng.normal(0, evenness, staggered.shape)) * step
    x, y = pixel_grid(shape, mm_per_px)
    for axis in (x, y):
        waver = fractal(shape, mm_per_px, rng, largest_mm=cell_mm * 0.7, slope=2.2)
        axis += wobble * cell_mm * waver
    distance, index = cKDTree(points).query(np.column_stack([x.ravel(), y.ravel()]), k=2, workers=2)
    between = np.hypot(*(points[index[:, 1]] - points[index[:, 0]]).T)
    # Distance to the line halfway between the two nearest points.
    border = (distance[:, 1] ** 2 - distance[:, 0] ** 2) / (2 * np.maximum(between, 1e-6))
    return index[:, 0].reshape(shape), border.reshape(shape).astype(np.float32)
