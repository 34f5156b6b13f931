"""Two pictures as an eye at a distance sees them: their colours and their sizes, not their pixels.

Board and target need not show the same spot, so the filtered pictures are compared by how
their colours are distributed and by how much of the pattern's contrast lies in each size.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np

from jartide.boards.eye import as_seen
from jartide.boards.result import Comparison, SeenDifference, Verdict
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import linear_to_lab

# Pictures are looked at on so many pixels a side; what is finer an eye at arm's length misses.
WORK_PX = 256
_QUANTILES = np.linspace(0.03, 0.97, 24)
# Directions the colours are sorted along: lightness, the two colour axes, and between them.
_AXES = np.array(
    [[1, 0, 0], [0, 1, 0], [0, 0, 1], [0.7, 0.7, 0], [0.7, -0.7, 0], [0.7, 0, 0.7], [0.7, 0, -0.7]]
)
# A third more or less contrast in a size is just visible side by side; a contrast under this,
# L*, is none.
_JND_LOG_BAND = 0.30
_LEAST_BAND_L = 0.6
_POOL = 3.0
_TILES = 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class View:
    """A flat picture reduced for looking at: (H, W, 3) linear light and its scale."""

    rgb_linear: np.ndarray
    mm_per_px: float


def view_of(rgb_linear: np.ndarray, mm_per_px: float) -> View:
    """Reduce a flat picture, (H, W, 3) linear light, by averaging.

    Raises
    ------
    ValueError : when `mm_per_px` is not above 0.
    """
    if mm_per_px <= 0:
        raise ValueError(f"mm_per_px must be > 0, got {mm_per_px}")
    height, width = rgb_linear.shape[:2]
    factor = min(1.0, WORK_PX / max(height, width))
    rgb: np.ndarray = np.asarray(rgb_linear, np.float32)
    if factor < 1:
        size = max(8, round(width * factor)), max(8, round(height * factor))
        rgb = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
        mm_per_px = mm_per_px * width / size[0]
    return View(rgb_linear=rgb, mm_per_px=mm_per_px)


def in_light(view: View, gains: np.ndarray | None) -> np.ndarray:
    """Return a picture in another light: factors on linear R, G, B, (3,)."""
    if gains is None:
        return view.rgb_linear
    return view.rgb_linear * np.asarray(gains, np.float32)


def seen_differences(
    target: View, board: View, viewing_m: Sequence[float], gains: np.ndarray | None = None
) -> tuple[SeenDifference, ...]:
    """Return how target and board differ from each distance.

    `gains` : (3,) factors on linear R, G, B that take the board's light to the target's.
    """
    lit = in_light(board, gains)
    # Both at the coarser of the two scales, or the finer one has more to show.
    scale = max(target.mm_per_px, board.mm_per_px)
    first = _at(target.rgb_linear, target.mm_per_px, scale)
    second = _at(lit, board.mm_per_px, scale)
    return tuple(_difference(first, second, scale, metres) for metres in viewing_m)


def _at(rgb: np.ndarray, mm_per_px: float, scale: float) -> np.ndarray:
    factor = mm_per_px / scale
    if factor > 0.98:
        return rgb
    size = max(8, round(rgb.shape[1] * factor)), max(8, round(rgb.shape[0] * factor))
    return cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)


def _difference(a: np.ndarray, b: np.ndarray, scale: float, metres: float) -> SeenDifference:
    seen = [linear_to_lab(as_seen(rgb, scale, metres)) for rgb in (a, b)]
    colours = [_distribution(lab) for lab in seen]
    bands = [_bands(lab[..., 0]) for lab in seen]
    colour = _colour_jnd(*colours)
    by_size, pattern = _pattern_jnd(bands[0], bands[1], scale)
    chance = float(
        np.mean([_within(lab, own, scale) for lab, own in zip(seen, colours, strict=True)])
    )
    together = float((colour**_POOL + pattern**_POOL) ** (1 / _POOL))
    return SeenDifference(
        viewing_m=metres,
        colour_jnd=colour,
        pattern_jnd=pattern,
        by_size=by_size,
        chance_jnd=chance,
        distance=float(np.sqrt(max(together**2 - chance**2, 0.0))),
    )


def _distribution(lab: np.ndarray) -> np.ndarray:
    """Quantiles along each axis, (axes, quantiles), and the mean colour's place."""
    pixels = lab.reshape(-1, 3)
    if pixels.shape[0] > 16_000:
        pixels = pixels[:: pixels.shape[0] // 16_000]
    return np.quantile(pixels @ _AXES.T, _QUANTILES, axis=0).T


@lru_cache(maxsize=1)
def _axis_lengths() -> np.ndarray:
    return np.linalg.norm(_AXES, axis=1)


def _colour_jnd(a: np.ndarray, b: np.ndarray) -> float:
    """The largest of the mean shifts along the axes (sliced earth mover's distance), in JND.

    A shift of Lab is scaled to CIEDE2000 at the colours' own middle.
    """
    shift = np.abs(a - b).mean(axis=1) / _axis_lengths()
    middle = a[:3].mean(axis=1)
    off = b[:3].mean(axis=1) - middle
    plain = float(np.linalg.norm(off))
    scale = float(delta_e_2000(middle, middle + off)) / plain if plain > 0.2 else 0.8
    return float(shift.max()) * min(max(scale, 0.3), 1.5)


def _bands(lightness: np.ndarray) -> np.ndarray:
    """The standard deviation of L* in each octave of size, finest first."""
    found = []
    rest: np.ndarray = lightness.astype(np.float32)
    while min(rest.shape) >= 16:
        small = cv2.pyrDown(rest)
        up = cv2.pyrUp(small, dstsize=(rest.shape[1], rest.shape[0]))
        found.append(float((rest - up).std()))
        rest = small
    return np.array(found)


def _pattern_jnd(
    a: np.ndarray, b: np.ndarray, scale: float
) -> tuple[tuple[tuple[float, float], ...], float]:
    count = min(len(a), len(b))
    low, high = a[:count] + _LEAST_BAND_L, b[:count] + _LEAST_BAND_L
    # The coarsest sizes fit in a picture only a few times: they are no measure of it.
    count = max(count - 2, 1)
    told = (np.log(high / low) / _JND_LOG_BAND)[:count]
    sizes = scale * 2.0 ** np.arange(count)
    pooled = float(np.sum(np.abs(told) ** _POOL) ** (1 / _POOL))
    return tuple(zip(sizes.tolist(), told.tolist(), strict=True)), pooled


def _within(lab: np.ndarray, whole: np.ndarray, scale: float) -> float:
    """How far the quarters of one picture lie from it, brought to the size of the whole."""
    height, width = lab.shape[:2]
    rows = np.array_split(np.arange(height), _TILES)
    columns = np.array_split(np.arange(width), _TILES)
    bands = _bands(lab[..., 0])
    found = []
    for own_rows in rows:
        for own_columns in columns:
            tile = lab[own_rows[0] : own_rows[-1] + 1, own_columns[0] : own_columns[-1] + 1]
            colour = _colour_jnd(whole, _distribution(tile))
            _, pattern = _pattern_jnd(bands, _bands(tile[..., 0]), scale)
            found.append((colour**_POOL + pattern**_POOL) ** (1 / _POOL))
    # A quarter strays twice as far as the whole does; two pictures stray from each other.
    return float(np.mean(found)) / _TILES * np.sqrt(2)


def with_seen(comparison: Comparison, seen: Sequence[SeenDifference]) -> Comparison:
    """Return a comparison that also holds what the pictures show.

    What no measure tells but an eye would see leaves a board open, and it reads the same from
    where neither the measures nor the pictures differ visibly.
    """
    table = tuple(sorted(seen, key=lambda s: s.viewing_m))
    if not table:
        return comparison
    here = min(table, key=lambda s: abs(s.viewing_m - comparison.viewing_m))
    verdict = comparison.verdict
    if verdict in (Verdict.MATCH, Verdict.CLOSE) and here.distance >= comparison.tolerance:
        verdict = Verdict.OPEN
    same_from = comparison.same_from_m
    if same_from is not None:
        different = [s.viewing_m for s in table if s.distance >= comparison.tolerance]
        farther = [s.viewing_m for s in table if s.viewing_m > max(different, default=0.0)]
        same_from = max(same_from, min(farther)) if farther else None
    return replace(comparison, verdict=verdict, same_from_m=same_from, seen=table)
