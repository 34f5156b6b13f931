"""Soft surfaces drawn another way: blots of paint that run into each other.

Thousands of blots, each of one paint, are pressed onto the sheet; what a place shows is the mean
of the blots around it, weighted by nearness. Where blots of one paint lie thick it is seen whole,
elsewhere it is a blend of neighbours. Grain is speckle of small grains, relief is pressed in by
dabs, and the light falls off from the middle.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from accuracy.second.canvas import linear_of
from accuracy.second.families import FAMILIES

MM_PER_PX = 0.25
# Lab of the paints in the order in which they gather beside each other.
_PAINTS = {
    "marble": ((28, -9, 3), (42, -12, 5), (60, -10, 6)),
    "stone": ((70, 2, 13), (60, 5, 17), (78, 1, 8), (50, 7, 20)),
    "concrete": ((54, 1, 3), (63, 1, 6), (45, 0, 1)),
    "rust": ((30, 4, 2), (38, 18, 22), (55, 25, 45)),
    "verdigris": ((28, 5, 12), (44, -12, 6), (64, -22, 0)),
    "bronze": ((28, 6, 14), (40, 9, 24), (33, 0, 8)),
    "plaster": ((84, 1, 10), (76, 4, 15)),
    "crackle": ((40, 8, 12), (72, 3, 14)),
    "wood": ((66, 8, 24), (54, 11, 27), (43, 11, 22)),
    "linen": ((77, 1, 12), (67, 3, 16)),
    "leather": ((34, 14, 16), (46, 19, 27)),
    "brushed": ((30, 4, -8), (46, 2, -10), (64, 0, -6)),
}
_LONG = {"wood": (14.0, 88.0), "brushed": (9.0, 20.0), "rust": (2.0, 90.0), "marble": (2.5, 40.0)}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SoftStack:
    """The picture in linear light, (H, W, 3), and of each paint its Lab, share and wholeness."""

    rgb_linear: np.ndarray
    lab: np.ndarray
    coverage: np.ndarray
    whole: np.ndarray


def draw_soft_stack(family: str, seed: int, size_mm: float = 180.0) -> SoftStack:
    """Draw a square soft surface of a family; the seed chooses colours, shares and sizes."""
    rng = np.random.default_rng([seed, 313, FAMILIES.index(family)])
    side = round(size_mm / MM_PER_PX)
    paints = np.array(_PAINTS[family], float) + rng.normal(0, 1.5, 3)
    share = rng.dirichlet(np.full(len(paints), 9.0))
    long, way = _LONG.get(family, (1.0, 0.0))
    reach = rng.uniform(7, 12) / MM_PER_PX
    # A slow drift decides which paint blots are of, so that like lie together.
    drift = _drift(rng, side, 3.2 * reach, long, way)
    level = np.quantile(drift, np.cumsum(share)[:-1])
    # Beside the drift's own passage each blot may be of a neighbour.
    strayed = drift + rng.normal(0, 0.25, drift.shape)
    label = np.digitize(strayed, level)
    weight = [
        _spread((label == k).astype(np.float32), 0.25 * reach, long, way)
        for k in range(len(paints))
    ]
    cover = np.stack(weight) ** 1.3
    cover /= cover.sum(axis=0)
    light = np.tensordot(cover, linear_of(paints), (0, 0)).astype(np.float32)
    grains = cv2.GaussianBlur(rng.standard_normal((side, side)).astype(np.float32), (0, 0), 0.9)
    grains *= rng.uniform(0.02, 0.05) / grains.std()
    dabs = _drift(rng, side, 2.0 / MM_PER_PX, 1.0, 0.0)
    lit = 1 + rng.uniform(0.0, 0.05) * np.gradient(dabs, axis=1) / np.gradient(dabs, axis=1).std()
    y, x = np.mgrid[-0.5 : 0.5 : side * 1j, -0.5 : 0.5 : side * 1j]
    fall = 1 - 0.1 * (x**2 + y**2)
    light *= ((1 + grains) * lit * fall / fall.mean())[..., None]
    return SoftStack(
        rgb_linear=np.clip(light, 0, 1).astype(np.float32),
        lab=paints,
        coverage=cover.mean(axis=(1, 2)),
        whole=(cover >= 0.95).mean(axis=(1, 2)) >= 0.01,
    )


def _drift(rng: np.random.Generator, side: int, size_px: float, long: float, way: float):
    """A smooth field (side, side) of deviation 1 whose features are about `size_px`."""
    grown = side + int(6 * size_px)
    rough = _spread(rng.standard_normal((grown, grown)).astype(np.float32), size_px / 4, long, way)
    start = (grown - side) // 2
    field = rough[start : start + side, start : start + side]
    return (field - field.mean()) / field.std()


def _spread(field: np.ndarray, sigma_px: float, long: float, way: float) -> np.ndarray:
    """Blur a field, `long` times as far along `way` degrees as across."""
    if long == 1.0:
        return cv2.GaussianBlur(field, (0, 0), sigma_px)
    across, along = sigma_px / np.sqrt(long), sigma_px * np.sqrt(long)
    middle = (field.shape[1] / 2, field.shape[0] / 2)
    size = field.shape[::-1]
    turn = cv2.getRotationMatrix2D(middle, -way, 1.0)
    back = cv2.getRotationMatrix2D(middle, way, 1.0)
    turned = cv2.warpAffine(field, turn, size, borderMode=cv2.BORDER_REFLECT)
    blurred = cv2.GaussianBlur(turned, (0, 0), sigmaX=along, sigmaY=across)
    return cv2.warpAffine(blurred, back, size, borderMode=cv2.BORDER_REFLECT)
