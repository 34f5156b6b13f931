"""Draw the flat surface from the photo, and say which pixels are to be read."""

from __future__ import annotations

import math
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from jartide.errors import PrepareError
from jartide.photo.flatten import Extent, SurfaceMap, px_per_unit
from jartide.photo.load import Photo

# Up to this many times the wanted pixels a photo is taken as it is: pixels
# averaged from a larger photo are sharper than a camera's own.
_AS_TAKEN = 2.0
# OpenCV takes x and y from one array when the second is none; its stubs do not know.
_NO_MAP: Any = None
# The map is worked out on a grid of this many flat pixels and bent between.
_BLOCK = 8


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Drawn:
    """A flat picture before its colours are corrected.

    Attributes
    ----------
    rgb_linear : (H, W, 3) float32 as the camera saw it
    where : (H, W, 2) float32, original px of every flat pixel; NaN where nothing is seen
    per_unit : flat pixels per surface unit
    reduced : original px per flat px at the sharpest place
    """

    rgb_linear: np.ndarray
    where: np.ndarray
    per_unit: float
    reduced: float


def reduce_photo(photo: Photo, code: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Decode and average `code` down to (width, height), in strips to bound the memory."""

    def averaged(rgb: np.ndarray, to: tuple[int, int]) -> np.ndarray:
        if to == (rgb.shape[1], rgb.shape[0]):
            return rgb
        return cv2.resize(rgb, to, interpolation=cv2.INTER_AREA)

    height, width = code.shape[:2]
    if width * height < 3_000_000 or size[1] < 16:
        return averaged(photo.linear(code), size)
    out = np.empty((size[1], size[0], 3), np.float32)
    # Strip edges fall on whole rows of the result, so every strip averages exactly.
    step = max(1, size[1] // 12)

    def reduce_strip(top: int) -> None:
        bottom = min(top + step, size[1])
        first = round(top * height / size[1])
        last = round(bottom * height / size[1])
        out[top:bottom] = averaged(photo.linear(code[first:last]), (size[0], bottom - top))

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(reduce_strip, range(0, size[1], step)))
    return out


def draw_as_taken(
    photo: Photo, corner: tuple[int, int], code: np.ndarray, max_pixels: int
) -> Drawn:
    """Return a photo, or the part `code`, (h, w, 3), whose top left is `corner`, read as it is."""
    height, width = code.shape[:2]
    factor = math.sqrt(width * height / max_pixels)
    factor = 1.0 if factor**2 <= _AS_TAKEN else factor
    size = (max(1, round(width / factor)), max(1, round(height / factor)))
    x = corner[0] + (np.arange(size[0], dtype=np.float32) + 0.5) * (width / size[0])
    y = corner[1] + (np.arange(size[1], dtype=np.float32) + 0.5) * (height / size[1])
    return Drawn(
        rgb_linear=reduce_photo(photo, code, size),
        where=np.stack(np.meshgrid(x, y), axis=-1),
        per_unit=size[0] / width,
        reduced=width / size[0],
    )


def flat_size(
    surface: SurfaceMap, extent: Extent, photo_size: tuple[int, int], max_pixels: int
) -> tuple[float, float]:
    """Return flat pixels per unit, and the finest original pixels per unit, for an extent."""
    x = np.linspace(extent.left, extent.left + extent.width, 11)
    y = np.linspace(extent.top, extent.top + extent.height, 11)
    grid = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    at = surface.to_photo(grid)
    inside = np.all((at >= -0.5) & (at <= np.array(photo_size) + 0.5), axis=1)
    _, most = px_per_unit(surface, grid)
    finest = float(most[inside].max()) if inside.any() else 0.0
    if not finest > 0:
        raise PrepareError("error.corners.outside")
    per_unit = math.sqrt(max_pixels / (extent.width * extent.height))
    # As fine as the nearest part shows it: finer would only enlarge.
    per_unit = finest if finest**2 <= _AS_TAKEN * per_unit**2 else per_unit
    return per_unit, finest


def draw_flat(
    photo: Photo, surface: SurfaceMap, extent: Extent, per_unit: float, finest: float
) -> Drawn:
    """Return the extent of a surface drawn flat.

    The original is averaged down first, so that the drawing samples it about
    one to one.
    """
    size = (max(2, round(extent.width * per_unit)), max(2, round(extent.height * per_unit)))
    if size[0] * size[1] > 60_000_000:
        raise PrepareError("error.plane.steep")
    where = where_of(surface, extent, size)
    # The smooth map's rim and a coarse grid hold its extremes to a fraction of a pixel.
    few = np.concatenate(
        [where[::16, ::16].reshape(-1, 2), where[[0, -1]].reshape(-1, 2)]
        + [where[:, [0, -1]].reshape(-1, 2)]
    )
    few = few[np.isfinite(few[:, 0]) & np.isfinite(few[:, 1])]
    if few.size == 0:
        raise PrepareError("error.corners.outside")
    left, top = np.floor(np.clip(few.min(axis=0) - 4, 0, np.array(photo.size) - 2)).astype(int)
    right, bottom = np.ceil(np.clip(few.max(axis=0) + 4, 0, photo.size)).astype(int)
    if right - left < 2 or bottom - top < 2:
        raise PrepareError("error.corners.outside")
    shrink = max(1.0, finest / per_unit)
    small = (max(2, round((right - left) / shrink)), max(2, round((bottom - top) / shrink)))
    part = reduce_photo(photo, photo.code[top:bottom, left:right], small)
    ratio = np.array(small, np.float32) / np.array((right - left, bottom - top), np.float32)
    lookup = (np.nan_to_num(where, nan=-1e6) - np.array([left, top], np.float32)) * ratio
    # OpenCV puts (0, 0) at a pixel's centre, we at its corner.
    lookup = np.ascontiguousarray(lookup - 0.5, dtype=np.float32)
    rgb = cv2.remap(part, lookup, _NO_MAP, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    np.maximum(rgb, 0, out=rgb)
    return Drawn(rgb_linear=rgb, where=where, per_unit=per_unit, reduced=shrink)


def where_of(surface: SurfaceMap, extent: Extent, size: tuple[int, int]) -> np.ndarray:
    """Return the original px of every pixel of a flat picture of `size`, (H, W, 2) float32."""
    columns, rows = size[0] // _BLOCK + 3, size[1] // _BLOCK + 3
    # Block middles, one block beyond the edges on each side, so that all lies between middles.
    x = extent.left + (np.arange(columns) - 0.5) * _BLOCK * extent.width / size[0]
    y = extent.top + (np.arange(rows) - 0.5) * _BLOCK * extent.height / size[1]
    coarse = surface.to_photo(np.stack(np.meshgrid(x, y), axis=-1)).astype(np.float32)
    fine = cv2.resize(coarse, (columns * _BLOCK, rows * _BLOCK), interpolation=cv2.INTER_LINEAR)
    return fine[_BLOCK : _BLOCK + size[1], _BLOCK : _BLOCK + size[0]]


def sampled(mask: np.ndarray, scale: float, where: np.ndarray) -> np.ndarray:
    """Return a photo's mask, shrunk by `scale`, at every flat pixel, (H, W) bool."""
    at = np.nan_to_num(where * np.float32(scale) - np.float32(0.5), nan=-9.0)
    picked = cv2.remap(
        mask.astype(np.uint8), at, _NO_MAP, cv2.INTER_NEAREST, borderMode=cv2.BORDER_REPLICATE
    )
    return picked > 0
