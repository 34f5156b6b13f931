"""Skeletons of the layers of lines: forks, and stretches too faint for a crest of lightness."""

from __future__ import annotations

import cv2
import numpy as np
from skimage.morphology import skeletonize

from jartide.reading.lines.ridges import CentreLines, steps

# Spurs shorter than this many local half widths and pixels are burrs of a ragged edge.
_SPUR_HALVES = 2.2
_SPUR_PX = 6.0
_LEAST_STRETCH_PX = 14
# How far the way of a skeleton pixel is looked for along it.
_WAY_PX = 5


def skeleton_of(mask: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the pruned skeleton of a layer of lines, (H, W) bool, and half widths on it, px."""
    # A gap or crumb of a pixel is noise.
    image = cv2.medianBlur(mask.astype(np.uint8), 3)
    half = cv2.distanceTransform(image, cv2.DIST_L2, 5) - 0.5
    return _pruned(skeletonize(image > 0), half), half


def branch_pixels(skeleton: np.ndarray) -> np.ndarray:
    """Return the pixels of a skeleton, (H, W) bool, where three or more arms meet.

    Going once round such a pixel one steps onto the skeleton three times (the crossing
    number of Rutovitz 1966); corners of a stair have as many neighbours but not as many arms.
    """
    padded = np.pad(skeleton, 1)
    rows, columns = np.nonzero(padded)
    ring = ((-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1))
    around = np.array([padded[rows + dr, columns + dc] for dr, dc in ring])
    arms = (~around & np.roll(around, -1, axis=0)).sum(axis=0)
    found = np.zeros(skeleton.shape, bool)
    found[rows[arms >= 3] - 1, columns[arms >= 3] - 1] = True
    return found


def _pruned(skeleton: np.ndarray, half: np.ndarray) -> np.ndarray:
    """Take away the arms with a free end that are no longer than the line is thick."""
    image = skeleton.astype(np.uint8)
    around = cv2.filter2D(image, cv2.CV_8U, np.ones((3, 3)), borderType=cv2.BORDER_CONSTANT)
    branch = branch_pixels(skeleton)
    spots = cv2.dilate(branch.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    arms = skeleton & ~spots
    count, label = cv2.connectedComponents(arms.astype(np.uint8), connectivity=8)
    length = np.bincount(label.ravel(), minlength=count).astype(float)
    free = np.zeros(count, bool)
    free[label[arms & (around == 2)]] = True
    free[label[arms & (around == 1)]] = True
    at_branch = np.zeros(count, bool)
    rim = cv2.dilate(spots.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    at_branch[label[arms & rim]] = True
    thick = np.zeros(count)
    halves = half.astype(float)
    np.maximum.at(thick, np.asarray(label[arms], int), halves[arms])
    # The branch itself lies in the middle of the thick line it springs from.
    near = cv2.dilate(np.where(spots, half, 0).astype(np.float32), np.ones((5, 5), np.uint8))
    np.maximum.at(thick, np.asarray(label[arms & rim], int), near[arms & rim].astype(float))
    spur = free & at_branch & (length < np.maximum(_SPUR_PX, _SPUR_HALVES * thick))
    spur[0] = False
    return skeleton & ~spur[label]


def forks(skeleton: np.ndarray, half: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return row and column, (N,) each, of forks and crossings; one within two widths."""
    branch = branch_pixels(skeleton)
    if not branch.any():
        return np.zeros(0), np.zeros(0)
    # A burr of a pixel or two makes a branch, too, but no third arm.
    near = cv2.dilate(branch.astype(np.uint8), np.ones((3, 3), np.uint8))
    number, place = cv2.connectedComponents(near, connectivity=8)
    _, arm = cv2.connectedComponents((skeleton & (near == 0)).astype(np.uint8), connectivity=8)
    rim = cv2.dilate(place.astype(np.float32), np.ones((3, 3), np.uint8)).astype(int)
    touching = (arm > 0) & (rim > 0)
    pairs = np.unique(np.column_stack([rim[touching], arm[touching]]), axis=0)
    real = np.bincount(pairs[:, 0], minlength=number) >= 3
    rows, columns = np.nonzero(branch & real[place])
    spots = np.zeros(skeleton.shape, np.uint8)
    for row, column in zip(rows, columns, strict=True):
        radius = max(2, round(2 * float(half[row, column])))
        cv2.circle(spots, (int(column), int(row)), radius, 1, -1)
    count, _, _, centres = cv2.connectedComponentsWithStats(spots, connectivity=8)
    return centres[1:count, 1], centres[1:count, 0]


def with_missed(
    lines: CentreLines, skeletons: list[tuple[np.ndarray, np.ndarray, int]]
) -> tuple[CentreLines, np.ndarray]:
    """Add the stretches of skeletons that no crest lies near.

    Parameters
    ----------
    skeletons : (skeleton, half width px, both (H, W), sign) of each layer of lines

    Returns
    -------
    The lines with the added ones at their end, and the number of the skeleton of each of those.
    """
    if not skeletons:
        return lines, np.zeros(0, int)
    known = np.zeros(skeletons[0][0].shape, np.uint8)
    known[lines.row, lines.column] = 1
    away = cv2.distanceTransform(1 - known, cv2.DIST_L2, 3)
    parts: dict[str, list[np.ndarray]] = {name: [] for name in CentreLines.__slots__}
    owner: list[np.ndarray] = []
    piece = int(lines.piece.max(initial=-1)) + 1
    segment = int(lines.segment.max(initial=-1)) + 1
    for number, (skeleton, half, sign) in enumerate(skeletons):
        missed = skeleton & (away > np.maximum(half, 3.0)) & ~branch_pixels(skeleton)
        count, label, stats, _ = cv2.connectedComponentsWithStats(
            missed.astype(np.uint8), connectivity=8
        )
        long = np.hypot(stats[:, 2], stats[:, 3]) >= _LEAST_STRETCH_PX
        long[0] = False
        row, column = np.nonzero(long[label])
        if row.size == 0:
            continue
        own = label[row, column]
        parts["row"].append(row)
        parts["column"].append(column)
        parts["normal_deg"].append(_normals(missed, row, column))
        parts["scale_px"].append(np.maximum(0.6 * half[row, column], 0.9))
        parts["segment"].append(own + segment)
        parts["piece"].append(own + piece)
        parts["step_px"].append(steps(long[label], row, column))
        parts["sign"].append(np.full(row.size, sign))
        owner.append(np.full(row.size, number))
        piece, segment = piece + count, segment + count
    if not owner:
        return lines, np.zeros(0, int)
    joined = {
        name: np.concatenate([getattr(lines, name), *parts[name]]) for name in CentreLines.__slots__
    }
    return CentreLines(**joined), np.concatenate(owner)


def _normals(skeleton: np.ndarray, row: np.ndarray, column: np.ndarray) -> np.ndarray:
    """Return the direction across at pixels of a skeleton, degrees: of the pixels near by."""
    y, x = np.mgrid[-_WAY_PX : _WAY_PX + 1, -_WAY_PX : _WAY_PX + 1].astype(np.float32)
    image = skeleton.astype(np.float32)
    xx, yy, xy = (
        cv2.filter2D(image, cv2.CV_32F, k, borderType=cv2.BORDER_CONSTANT)[row, column]
        for k in (x * x, y * y, x * y)
    )
    return np.degrees(np.arctan2(-2 * xy, xx - yy) / 2 + np.pi / 2) % 180
