"""Direction of undirected things: doubled-angle statistics and the structure tensor.

Angles are degrees counter-clockwise from the right, in [0, 180).
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.reading.pattern.records import LAY_BINS
from jartide.reading.trust.measured import Measured, jackknife_half_width, measured, unknown
from jartide.reading.trust.tiles import tile_of

# Below this the lay is too weak to name: an even mottle of this many tiles reaches it by chance.
LEAST_DIRECTIONALITY = 0.06
# A direction less sure than this is no direction.
LARGEST_HALF_WIDTH_DEG = 30.0
# Neighbouring tiles share what leans one way, so the jackknife alone is too sure.
_AXES_WIDER = 1.35
# Derivatives at these deviations, picture pixels, each on a copy reduced to suit.
_SCALES_PX = (1.5, 3.0, 6.0)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Lay:
    """Mean direction, spread, strength (0..1) and the share of each 6 degrees.

    `angle_deg` and `weight`, (N,), are what it was told from.
    """

    direction_deg: Measured
    spread_deg: Measured
    directionality: Measured
    shares: tuple[float, ...]
    angle_deg: np.ndarray
    weight: np.ndarray


def axial_mean(angle_deg: np.ndarray, weight: np.ndarray) -> tuple[float, float]:
    """Return the mean of (N,) directions, degrees in [0, 180), and the resultant length R, 0..1.

    Mardia & Jupp 2000, section 9.1: angles are doubled, averaged as vectors, halved.
    """
    z = np.sum(weight * np.exp(2j * np.radians(angle_deg))) / max(float(np.sum(weight)), 1e-12)
    return float(np.degrees(np.angle(z)) / 2 % 180), float(abs(z))


def axial_spread(resultant: float) -> float:
    """Return half the circular standard deviation of the doubled angles, degrees."""
    return float(np.degrees(0.5 * np.sqrt(-2 * np.log(np.clip(resultant, 1e-6, 1)))))


def lay_shares(angle_deg: np.ndarray, weight: np.ndarray) -> tuple[float, ...]:
    """Return the weight, (N,), in each of 30 bins of 6 degrees, as shares of 1."""
    counts, _ = np.histogram(angle_deg % 180, bins=LAY_BINS, range=(0, 180), weights=weight)
    return tuple(float(c) for c in counts / max(counts.sum(), 1e-12))


def lay_of_samples(
    angle_deg: np.ndarray, weight: np.ndarray, tiles: np.ndarray, own_half_deg: float
) -> Lay:
    """Return the lay of weighted directions, (N,) each; `tiles` says where they lie.

    `own_half_deg` is the measurement's own 90 % half width.
    """
    direction, resultant = axial_mean(angle_deg, weight)
    # Summed per tile once: leaving a tile out is then a sum of the others.
    count = int(tiles.max(initial=0)) + 1
    weights = np.bincount(tiles, weight, count)
    doubled = np.radians(2 * angle_deg)
    z = np.bincount(tiles, weight * np.cos(doubled), count) + 1j * np.bincount(
        tiles, weight * np.sin(doubled), count
    )
    used = np.flatnonzero(np.bincount(tiles, minlength=count))

    def without(keep: np.ndarray) -> complex:
        kept = used[keep]
        return complex(z[kept].sum() / max(float(weights[kept].sum()), 1e-12))

    half = _AXES_WIDER * jackknife_half_width(
        used, lambda keep: float(np.degrees(np.angle(without(keep))) / 2 % 180), period=180.0
    )
    spread_half = _AXES_WIDER * jackknife_half_width(
        used, lambda keep: axial_spread(abs(without(keep)))
    )
    strength_half = jackknife_half_width(used, lambda keep: abs(without(keep)))
    strength = measured(resultant, 0.03, strength_half)
    shares = lay_shares(angle_deg, weight)
    if resultant < LEAST_DIRECTIONALITY or half > LARGEST_HALF_WIDTH_DEG:
        return Lay(
            direction_deg=unknown("reason.no_lay"),
            spread_deg=unknown("reason.no_lay"),
            directionality=strength,
            shares=shares,
            angle_deg=angle_deg,
            weight=weight,
        )
    return Lay(
        direction_deg=measured(direction, own_half_deg, half, least=None),
        spread_deg=measured(axial_spread(resultant), 2 * own_half_deg, spread_half),
        directionality=strength,
        shares=shares,
        angle_deg=angle_deg,
        weight=weight,
    )


def lay_of_picture(lightness: np.ndarray, valid: np.ndarray) -> Lay:
    """Return the lay of all edges in L*, (H, W): across the gradient, by its energy.

    Structure tensor of Gaussian derivatives (Bigun & Granlund 1987), summed
    over three scales that each count alike.
    """
    angles, weights, tiles = [], [], []
    for scale in _SCALES_PX:
        factor = max(1, int(scale / 1.5))
        height, width = lightness.shape[0] // factor, lightness.shape[1] // factor
        if min(height, width) < 24:
            continue
        small = cv2.resize(lightness, (width, height), interpolation=cv2.INTER_AREA)
        covered = cv2.resize(
            valid.astype(np.uint8), (width, height), interpolation=cv2.INTER_NEAREST
        )
        # Gradients across the mask's edge are the mask's, not the surface's.
        inside = cv2.erode(covered, np.ones((9, 9), np.uint8), borderValue=1) > 0
        smooth = cv2.GaussianBlur(small, (0, 0), 1.5)
        # The optimised 3 x 3 derivative of Scharr 2000: its angle errs by under 0.2 degrees.
        gx, gy = cv2.Scharr(smooth, cv2.CV_32F, 1, 0), cv2.Scharr(smooth, cv2.CV_32F, 0, 1)
        # Smoothed neighbours say the same: every other pixel both ways is enough.
        rows, columns = np.nonzero(inside[4:-4:2, 4:-4:2])
        gx = gx[4:-4:2, 4:-4:2][rows, columns]
        gy = gy[4:-4:2, 4:-4:2][rows, columns]
        energy = gx**2 + gy**2
        if energy.sum() <= 0:
            continue
        # A few very strong edges must not rule: their energy is capped.
        energy = np.minimum(energy, 12 * energy.mean())
        angles.append(np.degrees(np.arctan2(-gy, gx)) + 90)
        weights.append(energy / energy.sum())
        tiles.append(tile_of(rows * 2 + 4, columns * 2 + 4, inside))
    if not angles:
        none = unknown("reason.too_small")
        return Lay(
            direction_deg=none,
            spread_deg=none,
            directionality=none,
            shares=(0.0,) * LAY_BINS,
            angle_deg=np.zeros(0),
            weight=np.zeros(0),
        )
    return _lay_of_sums(np.concatenate(angles), np.concatenate(weights), np.concatenate(tiles))


def _lay_of_sums(angle_deg: np.ndarray, weight: np.ndarray, tiles: np.ndarray) -> Lay:
    """As `lay_of_samples`, for millions of samples: first summed per tile and 2 degrees."""
    step = 2.0
    bins = int(180 / step)
    angle_deg = angle_deg % 180
    index = tiles * bins + (angle_deg / step).astype(int) % bins
    sums = np.bincount(index, weight, 16 * bins)
    # The mean angle of each bin, not its middle: a pure direction keeps its decimals.
    angle = np.bincount(index, weight * angle_deg, 16 * bins) / np.maximum(sums, 1e-30)
    return lay_of_samples(angle, sums, np.repeat(np.arange(16), bins), own_half_deg=1.0)
