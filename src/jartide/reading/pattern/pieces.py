"""The separate areas of a layer, counted fairly: every area once, however regions are cut."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.spatial import cKDTree

from jartide.reading.pattern.crumbs import with_crumbs


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Pieces:
    """8-connected areas of a mask; arrays of N.

    Attributes
    ----------
    row, column : centre
    area_px : pixels
    counted : inside the unbiased frame: those that touch the right or lower border are left
        to the neighbouring region (Gundersen 1977)
    long_axis, short_axis : standard deviations along and across, pixels
    axis_deg : of the long axis, counter-clockwise from the right
    label : (H, W) int32, number of the area + 1 at each pixel; 0 outside
    """

    row: np.ndarray
    column: np.ndarray
    area_px: np.ndarray
    counted: np.ndarray
    long_axis: np.ndarray
    short_axis: np.ndarray
    axis_deg: np.ndarray
    label: np.ndarray


def pieces_of(
    mask: np.ndarray, valid: np.ndarray, least_px: float, *, gathered: bool = False
) -> Pieces:
    """Return the areas of a mask, (H, W) bool, of at least `least_px` pixels.

    `gathered` gives crumbs to the flakes that they lie beside: then an area may have parts.
    """
    count, label, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    area = stats[1:, cv2.CC_STAT_AREA]
    keep = np.flatnonzero(area >= least_px) + 1
    renumber = np.zeros(count, np.int32)
    renumber[keep] = np.arange(1, len(keep) + 1)
    numbered = renumber[label]
    return pieces_of_labels(with_crumbs(numbered) if gathered else numbered, valid)


def pieces_of_labels(label: np.ndarray, valid: np.ndarray) -> Pieces:
    """Return areas that are numbered already, (H, W) from 1 on with none left out; 0 is outside."""
    count = int(label.max(initial=0))
    # What lies right of or under the region that was read is outside, too.
    height, width = label.shape
    beyond = np.zeros(label.shape, bool)
    beyond[:, :-1] |= ~valid[:, 1:]
    beyond[:-1] |= ~valid[1:]
    beyond[:, width - 1] = beyond[height - 1] = True
    cut = np.zeros(count + 1, bool)
    cut[np.unique(label[beyond])] = True
    rows, columns = np.nonzero(label)
    own = label[rows, columns] - 1
    area = np.bincount(own, minlength=count)
    size = np.maximum(area, 1)
    row, column = np.bincount(own, rows, count) / size, np.bincount(own, columns, count) / size
    dy, dx = rows - row[own], columns - column[own]
    # A pixel is a square, not a point: 1/12 to each second moment.
    xx = np.bincount(own, dx * dx, count) / size + 1 / 12
    yy = np.bincount(own, dy * dy, count) / size + 1 / 12
    xy = np.bincount(own, dx * dy, count) / size
    middle, apart = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
    return Pieces(
        row=row,
        column=column,
        area_px=area.astype(float),
        counted=~cut[1:],
        long_axis=np.sqrt(middle + apart),
        short_axis=np.sqrt(np.maximum(middle - apart, 1 / 12)),
        axis_deg=np.degrees(np.arctan2(-2 * xy, xx - yy)) / 2 % 180,
        label=label,
    )


def nearest_px(row: np.ndarray, column: np.ndarray) -> np.ndarray:
    """Return each centre's distance to its nearest neighbour, (N,); NaN for a single one."""
    if row.size < 2:
        return np.full(row.size, np.nan)
    points = np.column_stack([row, column])
    return cKDTree(points).query(points, k=2)[0][:, 1]


def clark_evans(nearest: np.ndarray, area_px: float, perimeter_px: float) -> float:
    """Return the mean of nearest distances, (N,) px, over that of points scattered at random.

    Clark & Evans 1954, with Donnelly's correction for the region's border (1978).
    """
    n = nearest.size
    expected = 0.5 * np.sqrt(area_px / n) + (0.0514 + 0.041 / np.sqrt(n)) * perimeter_px / n
    return float(nearest.mean() / expected)
