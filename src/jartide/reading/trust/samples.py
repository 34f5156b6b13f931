"""What was read tile by tile: the sums that two pieces are compared by, part by part."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.reading.layers.covers import Covers

PER_SIDE = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Samples:
    """Sums over the tiles of the flat picture, row by row from the top left.

    Attributes
    ----------
    grid : (rows, columns)
    area_px : pixels of each tile that were read
    covers_px : for each layer, how many pixels of each tile it covers
    lab_sums : for L, a and b, the sum over the pixels that were read
    """

    grid: tuple[int, int]
    area_px: tuple[float, ...]
    covers_px: tuple[tuple[float, ...], ...]
    lab_sums: tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...]]

    def shares(self) -> np.ndarray:
        """Return each layer's cover of each tile, 0..1, (layers, tiles); NaN of nothing read."""
        with np.errstate(invalid="ignore"):
            return np.array(self.covers_px) / np.where(self.area, self.area, np.nan)

    @property
    def area(self) -> np.ndarray:
        """`area_px` as an array, (tiles,)."""
        return np.array(self.area_px, float)


def sample(covers: Covers, count: int, lab: np.ndarray, valid: np.ndarray) -> Samples:
    """Sum a picture's layers and colours over its tiles.

    Parameters
    ----------
    count : how many layers there are
    lab : (H, W, 3)
    valid : (H, W) bool, what was read
    """
    rows, columns = (min(PER_SIDE, side) for side in valid.shape)
    # Of float32 a sum of many would lose its last digits: tiles are averaged, then multiplied.
    inside = valid.astype(np.float32)
    height, width = valid.shape
    tile = height * width / (rows * columns)

    def summed(values: np.ndarray) -> tuple[float, ...]:
        mean = cv2.resize(
            np.ascontiguousarray(values * inside, np.float32),
            (columns, rows),
            interpolation=cv2.INTER_AREA,
        )
        return tuple(round(float(v) * tile, 1) for v in mean.ravel())

    L, a, b = (summed(lab[..., axis]) for axis in range(3))
    return Samples(
        grid=(rows, columns),
        area_px=summed(inside),
        covers_px=tuple(summed(covers.of(number)) for number in range(count)),
        lab_sums=(L, a, b),
    )
