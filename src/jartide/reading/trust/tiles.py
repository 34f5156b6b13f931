"""The sixteen parts of what was read that a measure is varied over, and how far densities vary.

The parts are those of the smallest upright rectangle around what was read, so that a region under
a mask and the same region cut out have the same ones.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from scipy.stats import t as student

from jartide.reading.trust.measured import LEVEL

TILES_PER_SIDE = 4
TILES = TILES_PER_SIDE**2


def _extent(valid: np.ndarray) -> tuple[int, int, int, int]:
    """Return top, left, height and width of the rectangle around what was read."""
    rows, columns = np.flatnonzero(valid.any(axis=1)), np.flatnonzero(valid.any(axis=0))
    if rows.size == 0:
        return 0, 0, valid.shape[0], valid.shape[1]
    top, left = int(rows[0]), int(columns[0])
    return top, left, int(rows[-1]) + 1 - top, int(columns[-1]) + 1 - left


def tile_of(rows: np.ndarray, columns: np.ndarray, valid: np.ndarray) -> np.ndarray:
    """Return the tile number, (N,), of points given by row and column.

    `valid`, (H, W) bool, is what was read; points beside it count for the nearest tile.
    """
    top, left, height, width = _extent(valid)
    row = np.clip((rows - top) * TILES_PER_SIDE // height, 0, TILES_PER_SIDE - 1).astype(int)
    column = np.clip((columns - left) * TILES_PER_SIDE // width, 0, TILES_PER_SIDE - 1).astype(int)
    return row * TILES_PER_SIDE + column


def count_by_tile(mask: np.ndarray, valid: np.ndarray) -> np.ndarray:
    """Return how many pixels of a mask, (H, W) bool, lie in each tile of what was read, (16,)."""
    top, left, height, width = _extent(valid)
    every = range(TILES_PER_SIDE + 1)
    # The first row and column of each tile, as `tile_of` rounds them.
    rows = [top - (-height * tile // TILES_PER_SIDE) for tile in every]
    columns = [left - (-width * tile // TILES_PER_SIDE) for tile in every]
    rows[0], rows[-1], columns[0], columns[-1] = 0, mask.shape[0], 0, mask.shape[1]
    return np.array(
        [
            np.count_nonzero(mask[above:below, before:after])
            for above, below in pairwise(rows)
            for before, after in pairwise(columns)
        ],
        float,
    )


def density_half_width(
    rows: np.ndarray, columns: np.ndarray, valid: np.ndarray, weight: np.ndarray | None = None
) -> float:
    """Return half of the 90 % interval of a density, per pixel, for another patch like this one.

    The delete-m_j jackknife (Busing, Meijer & van der Leeden 1999): tiles count by how much of
    them was read, those of which nothing was read not at all. Student's t and the root of two as
    in `jackknife_half_width`.

    Parameters
    ----------
    rows, columns : (N,) where the things lie that are counted
    valid : (H, W) bool, what was read
    weight : (N,) how much each counts, such as a length; 1 each without
    """
    area = count_by_tile(valid, valid)
    found = np.bincount(tile_of(rows, columns, valid), weight, TILES)
    used = area > 0
    area, found = area[used], found[used]
    if area.size < 3:
        return float("inf")
    whole = float(area.sum())
    # The pseudo-value of a tile is its own density.
    away = found / area - float(found.sum()) / whole
    spread = np.mean(away**2 / (whole / area - 1))
    return float(student.ppf(0.5 + LEVEL / 2, area.size - 1) * np.sqrt(2 * spread))
