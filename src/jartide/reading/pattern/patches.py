"""Clouds and patches: how many, how big, how far apart, how ragged, and whether they run."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from jartide.reading.lines.blur import picture_blur_px
from jartide.reading.pattern.pieces import Pieces, clark_evans, nearest_px, pieces_of
from jartide.reading.pattern.records import Patches, Spread
from jartide.reading.trust.measured import (
    Measured,
    jackknife_half_width,
    unknown,
    weighted_percentile,
)
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import TILES, count_by_tile, density_half_width, tile_of

LEAST_MM2 = 1.0
# Fewer than these, and sizes and distances are anecdotes.
LEAST_PATCHES = 8
# Less than this many pixels to the least patch, and specks of noise are counted with them.
_LEAST_PX = 5
_SMOOTH_MM = 2.0


def measure_patches(
    masks: list[np.ndarray],
    luminance: np.ndarray,
    valid: np.ndarray,
    mm_per_px: float | None,
    reduced: float,
    pieces: list[Pieces] | None = None,
    block: str = "patches",
) -> Patches | None:
    """Return the measures of all patches, one mask (H, W) a layer; None when there are none.

    `luminance` is linear, (H, W), for the softness of edges; `pieces` are those of the
    masks, where they are at hand; `block` is "patches" or "clouds".
    """
    share = sum(float((mask & valid).sum()) for mask in masks) / max(int(valid.sum()), 1)
    if not masks or share <= 0:
        return None
    tiles_all = count_by_tile(valid, valid)
    own = np.sum([count_by_tile(mask & valid, valid) for mask in masks], axis=0)
    used = np.flatnonzero(tiles_all > 0)
    half = jackknife_half_width(
        used, lambda keep: float(own[used[keep]].sum() / tiles_all[used[keep]].sum())
    )
    coverage = judged(f"{block}.coverage", share, half)
    if mm_per_px is None:
        return _without(coverage, "reason.no_scale")
    least = least_px(mm_per_px)
    if pieces is None:
        pieces = [pieces_of(mask, valid, least, gathered=True) for mask in masks]
    found = pieces
    counted = sum(int(p.counted.sum()) for p in found)
    if counted < LEAST_PATCHES:
        few = _without(coverage, "reason.few_patches")
        # Two clouds have no usual distance, but each has its size and its edges.
        if sum(p.area_px.size for p in found):
            few = replace(
                few,
                size_by_area_mm=_sizes(found, valid, mm_per_px, block),
                softness_mm=_softness(found, luminance, valid, (mm_per_px, reduced), block),
                raggedness=_raggedness(found, valid, mm_per_px, block),
            )
        return few
    area = np.concatenate([p.area_px[p.counted] for p in found]) * mm_per_px**2
    row = np.concatenate([p.row[p.counted] for p in found])
    column = np.concatenate([p.column[p.counted] for p in found])
    ratio = np.concatenate([(p.long_axis / p.short_axis)[p.counted] for p in found])
    axis = np.concatenate([p.axis_deg[p.counted] for p in found])
    tiles = tile_of(row, column, valid)
    per_dm2 = 1e4 / (valid.sum() * mm_per_px**2)
    half = density_half_width(row, column, valid) * valid.sum()
    nearest = np.concatenate([nearest_px(p.row, p.column)[p.counted] for p in found])
    runs = (ratio - 1) / (ratio + 1) * -np.cos(2 * np.radians(axis))

    def middle(values: np.ndarray):
        return lambda keep: float(np.average(values[keep], weights=area[keep]))

    def median(values: np.ndarray):
        return lambda keep: weighted_percentile(values[keep], area[keep], 0.5)

    every = np.ones(area.size, bool)
    return Patches(
        count_per_dm2=judged(f"{block}.count_per_dm2", counted * per_dm2, half * per_dm2),
        area_mm2=_areas(area, tiles, block),
        spacing_mm=_spacing(nearest * mm_per_px, tiles, block),
        coverage=coverage,
        softness_mm=_softness(found, luminance, valid, (mm_per_px, reduced), block),
        clustering=_clustering(found, valid, block),
        elongation=judged(
            "patches.elongation",
            median(ratio)(every),
            jackknife_half_width(tiles, median(ratio)),
            least=1.0,
        ),
        runs_down=judged(
            "patches.runs_down",
            middle(runs)(every),
            jackknife_half_width(tiles, middle(runs)),
            least=None,
        ),
        raggedness=_raggedness(found, valid, mm_per_px, block),
        size_by_area_mm=_sizes(found, valid, mm_per_px, block),
    )


def calmed(mask: np.ndarray) -> np.ndarray:
    """Return a layer's mask, (H, W) bool, without crumbs and gaps of a pixel: the camera's."""
    return cv2.medianBlur(mask.astype(np.uint8), 3) > 0


def least_px(mm_per_px: float) -> float:
    """Return how many pixels an area must have to be a patch."""
    return max(LEAST_MM2 / mm_per_px**2, _LEAST_PX)


def _without(coverage: Measured, reason: str) -> Patches:
    none = unknown(reason)
    return Patches(
        count_per_dm2=none,
        area_mm2=Spread(p10=none, median=none, p90=none, geometric_mean=none),
        spacing_mm=none,
        coverage=coverage,
        softness_mm=none,
        clustering=none,
        elongation=none,
        runs_down=none,
        raggedness=none,
        size_by_area_mm=Spread(p10=none, median=none, p90=none, geometric_mean=none),
    )


def _areas(area: np.ndarray, tiles: np.ndarray, block: str) -> Spread:
    def of(statistic) -> Measured:
        half = jackknife_half_width(tiles, lambda keep: float(statistic(area[keep])))
        return judged(f"{block}.area_mm2", float(statistic(area)), half)

    return Spread(
        p10=of(lambda a: np.percentile(a, 10)),
        median=of(np.median),
        p90=of(lambda a: np.percentile(a, 90)),
        geometric_mean=of(lambda a: np.exp(np.log(a).mean())),
    )


def _sizes(found: list[Pieces], valid: np.ndarray, mm_per_px: float, block: str) -> Spread:
    """Return diameters of equal area by the share of area that lies in smaller ones.

    All areas count with what is seen of them: what a patch that runs out of the picture lacks
    in size it lacks in weight, too.
    """
    area = np.concatenate([p.area_px for p in found]) * mm_per_px**2
    row, column = (np.concatenate([getattr(p, name) for p in found]) for name in ("row", "column"))
    across, tiles = 2 * np.sqrt(area / np.pi), tile_of(row, column, valid)

    def of(statistic) -> Measured:
        def over(keep: np.ndarray) -> float:
            return float(statistic(across[keep], area[keep]))

        half = jackknife_half_width(tiles, over)
        return judged(f"{block}.size_by_area_mm", over(np.ones(area.size, bool)), half)

    return Spread(
        p10=of(lambda d, a: weighted_percentile(d, a, 0.1)),
        median=of(lambda d, a: weighted_percentile(d, a, 0.5)),
        p90=of(lambda d, a: weighted_percentile(d, a, 0.9)),
        geometric_mean=of(lambda d, a: np.exp(np.average(np.log(d), weights=a))),
    )


def _spacing(nearest: np.ndarray, tiles: np.ndarray, block: str) -> Measured:
    known = np.isfinite(nearest)
    if known.sum() < LEAST_PATCHES:
        return unknown("reason.few_patches")
    near, own = nearest[known], tiles[known]
    half = jackknife_half_width(own, lambda keep: float(near[keep].mean()))
    return judged(f"{block}.spacing_mm", float(near.mean()), half)


def _clustering(found: list[Pieces], valid: np.ndarray, block: str) -> Measured:
    """Return the Clark-Evans ratio of each layer's patches, weighted by their number."""
    height, width = valid.shape
    ratios, numbers, tiles, scaled = [], [], [], []
    for p in found:
        if p.row.size < LEAST_PATCHES:
            continue
        near = nearest_px(p.row, p.column)
        ratio = clark_evans(near, float(valid.sum()), 2.0 * (height + width))
        ratios.append(ratio)
        numbers.append(p.row.size)
        tiles.append(tile_of(p.row, p.column, valid))
        scaled.append(near / near.mean() * ratio)
    if not ratios:
        return unknown("reason.few_patches")
    at, value = np.concatenate(tiles), np.concatenate(scaled)
    half = jackknife_half_width(at, lambda keep: float(value[keep].mean()))
    return judged(f"{block}.clustering", float(np.average(ratios, weights=numbers)), half)


def _softness(
    found: list[Pieces],
    luminance: np.ndarray,
    valid: np.ndarray,
    scale: tuple[float, float],
    block: str,
) -> Measured:
    """Return the 10 to 90 % softness of edges, blur taken out: median over all of them.

    Across a Gaussian edge of deviation s the steepest slope is step / (s sqrt(2 pi)),
    and its softness 2.563 s. The step is what lies three pixels and more to either side.
    """
    mm_per_px, reduced = scale
    inside = np.zeros(luminance.shape, bool)
    for p in found:
        inside |= p.label > 0
    edge = inside & (cv2.erode(inside.astype(np.uint8), np.ones((3, 3), np.uint8)) == 0)
    edge &= cv2.erode(valid.astype(np.uint8), np.ones((15, 15), np.uint8), borderValue=0) > 0
    rows, columns = np.nonzero(edge)
    if rows.size < 200:
        return unknown("reason.few_patches")
    step = max(1, rows.size // 3000)
    rows, columns = rows[::step].astype(np.float32), columns[::step].astype(np.float32)
    smooth = cv2.GaussianBlur(luminance, (0, 0), 1.5)
    gx, gy = cv2.Scharr(smooth, cv2.CV_32F, 1, 0), cv2.Scharr(smooth, cv2.CV_32F, 0, 1)
    r, c = rows.astype(int), columns.astype(int)
    size = np.maximum(np.hypot(gx[r, c], gy[r, c]), 1e-9)
    nx, ny = gx[r, c] / size, gy[r, c] / size
    t = np.arange(-12, 12.1, 0.5, dtype=np.float32)
    x, y = columns[:, None] + t * nx[:, None], rows[:, None] + t * ny[:, None]
    profile = cv2.remap(luminance, x.astype(np.float32), y.astype(np.float32), cv2.INTER_LINEAR)
    # Many edges together: each profile put on its own place and height, then the middle one.
    low = np.median(profile[:, :12], axis=1)
    high = np.median(profile[:, -12:], axis=1)
    use = high - low > 0.15 * np.maximum(high, 1e-6)
    if use.sum() < 100:
        return unknown("reason.few_patches")
    relative = (profile[use] - low[use, None]) / (high - low)[use, None]
    at = [_crossing(relative, t, level) for level in (0.1, 0.5, 0.9)]
    soft = at[2] - at[0]
    known = np.isfinite(soft) & (soft > 0) & (np.abs(at[1]) < 6)
    if known.sum() < 100:
        return unknown("reason.few_patches")
    tiles = tile_of(rows[use][known], columns[use][known], valid)
    _, blur, _ = picture_blur_px(reduced, float(np.percentile(soft[known], 5)) / 2.563)
    own = np.sqrt(np.maximum(soft[known] ** 2 - (2.563 * blur) ** 2, 0.01)) * mm_per_px
    half = jackknife_half_width(tiles, lambda keep: float(np.median(own[keep])))
    return judged(f"{block}.softness_mm", float(np.median(own)), half)


def _crossing(relative: np.ndarray, t: np.ndarray, level: float) -> np.ndarray:
    """Where each profile, (N, T), last comes up to a level before it has passed the middle one."""
    middle = len(t) // 2
    above = relative >= level
    # From the middle outward: down the slope for low levels, up for high ones.
    if level <= 0.5:
        below = ~above[:, : middle + 1]
        index = middle - below[:, ::-1].argmax(axis=1)
        found = below.any(axis=1)
    else:
        upper = above[:, middle:]
        index = middle + upper.argmax(axis=1) - 1
        found = upper.any(axis=1)
    index = np.clip(index, 0, len(t) - 2)
    n = np.arange(len(relative))
    a, b = relative[n, index], relative[n, index + 1]
    part = np.clip((level - a) / np.where(np.abs(b - a) > 1e-9, b - a, 1e-9), 0, 1)
    return np.where(found, t[index] + part * (t[1] - t[0]), np.nan)


def _raggedness(found: list[Pieces], valid: np.ndarray, mm_per_px: float, block: str) -> Measured:
    """Return how much longer the edges are than the same edges smoothed, less 1.

    Smoothed: the mask under a Gaussian of 2 mm, cut at one half. Lengths by the number of
    pixel sides, whose overstatement of curves is the same in both.
    """
    mask = np.zeros(valid.shape, np.float32)
    for p in found:
        mask[p.label > 0] = 1
    smooth = cv2.GaussianBlur(mask, (0, 0), _SMOOTH_MM / mm_per_px) >= 0.5
    fine, coarse = (_sides_by_tile(m, valid) for m in (mask > 0, smooth))
    if coarse.sum() < 200:
        return unknown("reason.few_patches")
    used = np.flatnonzero(count_by_tile(valid, valid))
    half = jackknife_half_width(
        used, lambda keep: float(fine[used[keep]].sum() / max(coarse[used[keep]].sum(), 1.0))
    )
    return judged(f"{block}.raggedness", max(float(fine.sum() / coarse.sum()) - 1, 0.0), half)


def _sides_by_tile(mask: np.ndarray, valid: np.ndarray) -> np.ndarray:
    total = np.zeros(TILES)
    for differs in (mask[1:] != mask[:-1], mask[:, 1:] != mask[:, :-1]):
        total += count_by_tile(differs, valid)
    return total
