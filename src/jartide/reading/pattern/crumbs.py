"""Which small areas are crumbs of a larger one beside them: a ragged flake is one to a painter."""

from __future__ import annotations

import cv2
import numpy as np
from scipy import ndimage

# A crumb has less than this share of its flake's area, and lies within this many of its widths.
CRUMB_SHARE = 1 / 20
WITHIN_WIDTHS = 1.0
# Flakes are taken class by class of size, each so many times as large as the next.
_CLASS = 3.0


def with_crumbs(label: np.ndarray) -> np.ndarray:
    """Return the areas, (H, W) int32 numbered from 1 on, with crumbs given to their flakes.

    A crumb belongs to the nearest area at least 20 times as large whose edge is no farther from
    it than that area is wide (the diameter of the circle of equal area).
    """
    count = int(label.max(initial=0))
    area = np.bincount(label.ravel(), minlength=count + 1)[1:].astype(float)
    if count < 2 or area.min() >= CRUMB_SHARE * area.max():
        return label
    owner = np.arange(count)
    bound = float(area.max())
    smallest = float(area.min()) / CRUMB_SHARE
    while bound >= smallest:
        lower = max(bound / _CLASS, smallest)
        _claim(label, area, owner, (lower, bound))
        bound /= _CLASS
    # Crumbs of crumbs go where their crumb goes.
    for _ in range(8):
        owner = owner[owner]
    kept = np.unique(owner)
    renumber = np.zeros(count + 1, np.int32)
    renumber[1:] = np.searchsorted(kept, owner) + 1
    return renumber[label]


def _claim(
    label: np.ndarray, area: np.ndarray, owner: np.ndarray, sizes: tuple[float, float]
) -> None:
    """Give crumbs that have no flake yet to the nearest flake of a class of sizes."""
    lower, upper = sizes
    flakes = (area >= lower) & (area <= upper)
    free = (owner == np.arange(len(area))) & (area < CRUMB_SHARE * upper)
    if not flakes.any() or not free.any():
        return
    chosen = np.concatenate([[False], flakes])[label]
    far, seed = cv2.distanceTransformWithLabels(
        (~chosen).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    # Each flake pixel has a number of its own; which flake it is of.
    flake_of = np.zeros(int(seed.max()) + 1, np.int32)
    flake_of[seed[chosen]] = label[chosen]
    numbers = np.flatnonzero(free) + 1
    places = ndimage.minimum_position(far, label, numbers)
    for number, (row, column) in zip(numbers, places, strict=True):
        flake = int(flake_of[seed[row, column]])
        if flake == 0 or area[number - 1] >= CRUMB_SHARE * area[flake - 1]:
            continue
        width = 2 * float(np.sqrt(area[flake - 1] / np.pi))
        if far[row, column] <= WITHIN_WIDTHS * width:
            owner[number - 1] = flake - 1
