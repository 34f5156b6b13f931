"""The truth of drawn lines, by the definitions of docs/measures.md."""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from jartide.colour.spaces import linear_to_lab
from jartide.studio.strokes import Strokes
from jartide.studio.truth import LinesTruth


def axial_mean(angles_deg: np.ndarray, weights: np.ndarray | float = 1.0) -> tuple[float, float]:
    """Return mean and spread, degrees, of undirected angles, (N,) (doubled-angle statistics)."""
    z = np.mean(np.exp(2j * np.radians(angles_deg)) * weights) / np.mean(
        np.broadcast_to(weights, np.shape(angles_deg))
    )
    spread = 0.5 * np.sqrt(-2 * np.log(np.clip(abs(z), 1e-9, 1)))
    return float(np.degrees(np.angle(z)) / 2 % 180), float(np.degrees(spread))


def weighted_median(values: np.ndarray, weights: np.ndarray) -> float:
    """Return the value of (N,) with half of the weight on either side."""
    order = np.argsort(values)
    heap = np.cumsum(weights[order])
    return float(values[order][np.searchsorted(heap, heap[-1] / 2)])


def lines_truth(
    sets: list[Strokes],
    size_mm: tuple[float, float],
    rgb_linear: np.ndarray,
    mm_per_px: float,
) -> LinesTruth | None:
    """Return the truth of sets of strokes drawn into `rgb_linear`, (H, W, 3); None without any."""
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
    chain = np.concatenate(
        [s.chain[s.inside(size_mm)] + 10_000 * number for number, s in enumerate(sets)]
    )
    area_cm2 = size_mm[0] * size_mm[1] / 100
    return LinesTruth(
        width_mm=weighted_median(width, step),
        length_mm_per_cm2=float(step.sum() / area_cm2),
        softness_mm=float(np.median(soft)),
        contrast_L=float(np.mean(contrast)),
        direction_deg=direction,
        direction_spread_deg=spread,
        spacing_mm=spacing_of(heading, step, direction, size_mm),
        junctions_per_dm2=100 * junctions_of(x, y, width, chain) / area_cm2,
    )


def spacing_of(
    heading_deg: np.ndarray, step_mm: np.ndarray, direction_deg: float, size_mm: tuple[float, float]
) -> float:
    """Return the mean distance, mm, across a direction, between lines of (N,) steps.

    A line that runs at an angle to it is crossed once in every 1 / cos(angle) of its length,
    so length times cosine per area is crossings per way walked.
    """
    off = np.cos(np.radians(heading_deg - direction_deg))
    return float(size_mm[0] * size_mm[1] / (step_mm @ np.abs(off)))


def junctions_of(x: np.ndarray, y: np.ndarray, width: np.ndarray, chain: np.ndarray) -> int:
    """Return how many places there are where lines, (N,) mm, of different chains meet.

    Centre lines nearer than a sixth of a line's width meet; places nearer to each other
    than two widths are one: lines that cross at a slant run together for a while.
    """
    points = np.column_stack([x, y])
    tree = cKDTree(points)
    pairs = tree.query_pairs(float(np.percentile(width, 95)) / 3, output_type="ndarray")
    i, j = pairs[:, 0], pairs[:, 1]
    apart = np.hypot(*(points[i] - points[j]).T)
    meet = (chain[i] != chain[j]) & (apart <= np.maximum(np.maximum(width[i], width[j]) / 6, 0.15))
    if not meet.any():
        return 0
    spots = (points[i[meet]] + points[j[meet]]) / 2
    reach = 2 * np.maximum(width[i[meet]], width[j[meet]])
    near = cKDTree(spots).query_pairs(float(reach.max()), output_type="ndarray")
    close = np.hypot(*(spots[near[:, 0]] - spots[near[:, 1]]).T) <= np.maximum(
        reach[near[:, 0]], reach[near[:, 1]]
    )
    graph = coo_matrix(
        (np.ones(close.sum()), (near[close, 0], near[close, 1])), shape=(len(spots), len(spots))
    )
    return int(connected_components(graph, directed=False)[0])
