"""Find the colours a surface is made of: the peaks of how often each Lab occurs.

Pixels on an edge are mixtures and say nothing of either paint, so each pixel
counts by how flat its surroundings are. Peaks of the smoothed Lab histogram
(a mean-shift mode search done on a grid; Comaniciu & Meer 2002) that are not
parted by a valley, or are nearer than CIEDE2000 3, are one tone.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter, maximum_filter

from jartide.colour.difference import delta_e_2000

SAME_DE00 = 3.0
MAX_TONES = 8
# Grid step of the histogram in L*, a*, b*.
_STEP = 1.0
# A tone this near to one of which there is so much more is no tone of its own.
_SHADING_DE00 = 4.5
_SHADING_SHARE = 0.2
# Two peaks are one when the lowest density between them is above this share of the lower peak.
_VALLEY = 0.88


def flatness_of(lab: np.ndarray) -> np.ndarray:
    """Return how flat the surroundings of each pixel are, (H, W) float32 in 0..1."""
    slope = np.zeros(lab.shape[:2], np.float32)
    for channel in range(3):
        plane = np.ascontiguousarray(lab[..., channel])
        slope += cv2.Sobel(plane, cv2.CV_32F, 1, 0, ksize=3, scale=0.125) ** 2
        slope += cv2.Sobel(plane, cv2.CV_32F, 0, 1, ksize=3, scale=0.125) ** 2
    slope = np.sqrt(slope)
    # Texture of the paint itself sets what counts as flat here. It is told by the flattest
    # 15 %, since of a weave or fine grain most is edges; slopes of mere texture are Rayleigh
    # distributed, whose median is 2.07 times that.
    usual = 2.07 * float(np.percentile(slope[::4, ::4], 15))
    return np.exp(-((slope / max(1.2 * usual, 0.25)) ** 2)).astype(np.float32)


def nearest_tone(lab: np.ndarray, tones: np.ndarray) -> np.ndarray:
    """Return the number of the nearest tone in Lab, (...) uint8, for colours (..., 3)."""
    pixels = np.ascontiguousarray(lab, np.float32).reshape(-1, 3)
    # |x - t|^2 without |x|^2, which is alike for all tones: one matrix product.
    centred = tones.astype(np.float32)
    away = pixels @ (-2 * centred.T) + np.square(centred).sum(axis=1)
    return away.argmin(axis=1).astype(np.uint8).reshape(lab.shape[:-1])


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ColourCells:
    """A picture's colours rounded to cells of Lab, so that tones are sought per cell.

    `cell`, (H, W) int32, is the number of each pixel's cell; `middle`, (C, 3), its colour.
    """

    cell: np.ndarray
    middle: np.ndarray

    def nearest(self, tones: np.ndarray) -> np.ndarray:
        """Return the number of the nearest tone at each pixel, (H, W) uint8."""
        return nearest_tone(self.middle, tones).take(self.cell)


# Side of a cell, Lab units: well under what noise moves a pixel by.
_CELL = 0.8


def colour_cells(lab: np.ndarray) -> ColourCells:
    """Round the colours of a picture, (H, W, 3), to cells."""
    # Plane by plane: least and most along a last axis of three take many times as long.
    planes = [np.rint(lab[..., c] * (1 / _CELL)).astype(np.int32) for c in range(3)]
    low = [int(plane.min()) for plane in planes]
    size = [int(plane.max()) - least + 1 for plane, least in zip(planes, low, strict=True)]
    cell = planes[0] - low[0]
    for plane, least, count in zip(planes[1:], low[1:], size[1:], strict=True):
        cell *= count
        cell += plane
        cell -= least
    axes = [
        (np.arange(count, dtype=np.float32) + least) * _CELL
        for count, least in zip(size, low, strict=True)
    ]
    middle = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3)
    return ColourCells(cell=cell, middle=middle)


def find_tones(lab: np.ndarray, weight: np.ndarray, least_share: float = 0.004) -> np.ndarray:
    """Return the tones, (K, 3) Lab, most frequent first.

    Parameters
    ----------
    lab, weight : (N, 3) and (N,), pixels and how much each counts
    least_share : of the weight a tone must gather
    """
    all_lab, all_weight = lab.astype(np.float32), weight.astype(np.float32)
    if all_weight.sum() <= 0:
        all_weight = np.ones(len(all_lab), np.float32)
    low = np.floor(np.percentile(all_lab, 0.02, axis=0)) - 6
    high = np.ceil(np.percentile(all_lab, 99.98, axis=0)) + 6
    bins = np.maximum(((high - low) / _STEP).astype(int), 1)
    histogram, _ = np.histogramdd(
        all_lab, bins=bins, range=list(zip(low, high, strict=True)), weights=all_weight
    )
    spread = _bandwidth(all_lab, all_weight)
    density = gaussian_filter(histogram, spread / _STEP, mode="constant")
    is_peak = (density == maximum_filter(density, size=3)) & (density > 1e-5 * density.max())
    cells = np.argwhere(is_peak)
    peaks = low + (cells + 0.5) * (high - low) / bins
    heights = density[is_peak]
    order = np.argsort(-heights)[:40]
    peaks, heights = peaks[order], heights[order]

    def at(points: np.ndarray) -> np.ndarray:
        cell = ((points - low) / (high - low) * bins).astype(int)
        return density[tuple(np.clip(cell, 0, bins - 1).T)]

    kept: list[int] = []
    apart = delta_e_2000(peaks[:, None], peaks[None])
    for i in range(len(peaks)):
        near = any(apart[i, j] < SAME_DE00 for j in kept)
        if not near and not any(_one_hill(peaks[i], peaks[j], heights[i], at) for j in kept):
            kept.append(i)
    tones = _settle(peaks[kept], all_lab, all_weight, spread)
    return _by_share(tones, all_lab, all_weight, least_share)


def _bandwidth(lab: np.ndarray, weight: np.ndarray) -> np.ndarray:
    """Smoothing of the histogram, (3,): Lab units, from how much there is to smooth.

    Narrow enough to part tones CIEDE2000 5 apart, wide enough for their texture.
    """
    middle = np.average(lab, axis=0, weights=weight)
    spread = np.sqrt(np.average((lab - middle) ** 2, axis=0, weights=weight))
    return np.clip(0.16 * spread, 0.9, (1.9, 1.6, 1.6))


def _one_hill(peak, other, height, at) -> bool:
    """Whether no valley parts a peak from a higher one."""
    between = peak + np.linspace(0, 1, 25)[:, None] * (other - peak)
    return bool(at(between).min() > _VALLEY * height)


def _settle(tones: np.ndarray, lab: np.ndarray, weight: np.ndarray, spread) -> np.ndarray:
    """Move each tone to the weighted middle of the colours right around it."""
    sample = np.linspace(0, len(lab) - 1, min(len(lab), 8_000)).astype(int)
    colours, weights = lab[sample].astype(float), weight[sample].astype(float)
    settled = tones.astype(float).copy()
    for _ in range(3):
        for k in range(len(settled)):
            away = np.sum(((colours - settled[k]) / (1.6 * spread)) ** 2, axis=1)
            near = np.exp(-away / 2) * weights
            if near.sum() > 0:
                settled[k] = near @ colours / near.sum()
    return settled


def _by_share(
    tones: np.ndarray, lab: np.ndarray, weight: np.ndarray, least_share: float
) -> np.ndarray:
    """Merge what the eye would not part, drop what hardly occurs, sort by share."""
    sample = np.linspace(0, len(lab) - 1, min(len(lab), 20_000)).astype(int)
    while True:
        nearest = nearest_tone(lab[sample], tones)
        share = np.bincount(nearest, weight[sample], len(tones)) / weight[sample].sum()
        weak = np.flatnonzero(share < least_share)
        if len(tones) > 1 and weak.size:
            tones = np.delete(tones, weak[share[weak].argmin()], axis=0)
            continue
        apart = delta_e_2000(tones[:, None], tones[None]) + np.eye(len(tones)) * 1e3
        if len(tones) > 1 and apart.min() < SAME_DE00:
            i, j = np.unravel_index(apart.argmin(), apart.shape)
            merged = np.average(tones[[i, j]], axis=0, weights=share[[i, j]] + 1e-12)
            tones = np.vstack([np.delete(tones, [i, j], axis=0), merged])
            continue
        # A slight tone close to a common one is that tone's own shading, or its mixture.
        slight = (apart < _SHADING_DE00) & (share[:, None] < _SHADING_SHARE * share[None])
        if slight.any():
            tones = np.delete(tones, np.flatnonzero(slight.any(axis=1))[0], axis=0)
            continue
        if len(tones) > MAX_TONES:
            tones = np.delete(tones, share.argmin(), axis=0)
            continue
        return tones[np.argsort(-share)]
