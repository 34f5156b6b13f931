"""The truth of drawn lines, by the definitions of docs/measures.md."""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.studio.strokes import Strokes
from jartide.studio.truth import LinesTruth


def axial_mean(angles_deg: np.ndarray, weights: np.ndarray | float = 1.0) -> tuple[float, float]:
    """Return mean and spread, degrees, of undirected angles (doubled-angle statistics)."""
    z = np.mean(np.exp(2j * np.radians(angles_deg)) * weights) / np.mean(
        np.broadcast_to(weights, np.shape(angles_deg))
    )
    spread = 0.5 * np.sqrt(-2 * np.log(np.clip(abs(z), 1e-9, 1)))
    return float(np.degrees(np.angle(z)) / 2 % 180), float(np.degrees(spread))


def weighted_median(values: np.ndarray, weights: np.ndarray) -> float:
    """Return the value with half of the weight on either side."""
    order = np.argsort(values)
    heap = np.cumsum(weights[order])
    return float(values[order][np.searchsorted(heap, heap[-1] / 2)])


def lines_truth(
    sets: list[Strokes],
    size_mm: tuple[float, float],
    rgb_linear: np.ndarray,
    mm_per_px: float,
) -> LinesTruth | None:
    """Return the truth of several sets of strokes, drawn into `rgb_linear`; None without any."""
    x = np.concatenate([s.x[s.inside(size_mm)] for s in sets])
    y = np.concatenate([s.y[s.inside(size_mm)] for s in sets])
    if x.size == 0:
        return None
    width = np.concatenate([s.seen_width()[s.inside(size_mm)] for s in sets])
    step = np.concatenate([s.step_mm[s.inside(size_mm)] for s in sets])
    heading = np.concatenate([s.heading_deg[s.inside(size_mm)] for s in sets])
    soft = np.concatenate([np.full(s.inside(size_mm).sum(), s.softness_mm) for s in sets])

    light = linear_to_lab(rgb_linear)[..., 0]
    rows = np.clip((y / mm_per_px).astype(int), 0, light.shape[0] - 1)
    columns = np.clip((x / mm_per_px).astype(int), 0, light.shape[1] - 1)
    on_centre = light[rows, columns]
    covers = np.max([s.cover(light.shape, mm_per_px) for s in sets], axis=0)
    beside = []
    for side in (-1, 1):
        reach = width / 2 + 1.5 * soft + 1.0
        bx = x - side * reach * np.sin(np.radians(heading))
        by = y - side * reach * np.cos(np.radians(heading))
        c = np.clip((bx / mm_per_px).astype(int), 0, light.shape[1] - 1)
        r = np.clip((by / mm_per_px).astype(int), 0, light.shape[0] - 1)
        clear = covers[r, c] < 0.05
        beside.append(np.where(clear, light[r, c], np.nan))
    stacked = np.array(beside)
    known = np.isfinite(stacked)
    contrast = np.abs(on_centre - np.where(known, stacked, 0).sum(0) / np.maximum(known.sum(0), 1))[
        known.any(0)
    ]
    direction, spread = axial_mean(heading, step)
    area_cm2 = size_mm[0] * size_mm[1] / 100
    return LinesTruth(
        width_mm=weighted_median(width, step),
        length_mm_per_cm2=float(step.sum() / area_cm2),
        softness_mm=float(np.median(soft)),
        contrast_L=float(np.mean(contrast)),
        direction_deg=direction,
        direction_spread_deg=spread,
    )
