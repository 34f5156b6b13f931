"""Does the pattern come again, as under a stencil, a stamp, a roller or a habit of the hand?

The autocorrelation of the whitened picture: power divided by its own surroundings in the
spectrum, so that size, direction and evenness of the pattern count for nothing and only what
comes again in the same shape stands out. In whitened noise every shift is as good as any
other; a repeat is a shift whose correlation could hardly come by chance among all of them.
"""

from __future__ import annotations

import cv2
import numpy as np
from scipy import fft, ndimage

from jartide.reading.pattern.records import Repeat
from jartide.reading.trust.measured import measured, unknown

_MOST_PX = 288
# Power is divided by its mean over this many waves both ways, and cut at this many times it.
_AROUND = 21
_MOST_POWER = 2.0
# A pattern has at least this standard deviation of L*.
_LEAST_L = 0.5
# Shifts below this share of the smaller side are the pattern itself.
_LEAST_SHIFT = 0.07
# Deviations, pixels, of a spot's and of its surroundings' Gaussian.
_SPOT_PX, _NEAR_PX = 5.0, 20.0
# A repeat stands this many deviations above its surroundings: among 50,000 independent shifts
# the highest of chance reaches 4.3 in the mean and 5.5 in one of 1,000 pictures.
_STANDS_OUT = 9.0


def measure_repeat(
    lightness: np.ndarray, valid: np.ndarray, mm_per_px: float | None
) -> Repeat | None:
    """Return strength and period of the repeat in L*, (H, W); None where too little is seen."""
    factor = max(1.0, max(lightness.shape) / _MOST_PX)
    size = (round(lightness.shape[1] / factor), round(lightness.shape[0] / factor))
    if min(size) < 64:
        return None
    small = cv2.resize(lightness, size, interpolation=cv2.INTER_AREA)
    inside = cv2.resize(valid.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    height, width = small.shape
    edge = min(height, width) // 12
    ramp = [np.minimum(np.minimum(np.arange(n), np.arange(n)[::-1]) / edge, 1) for n in small.shape]
    window = np.outer(ramp[0], ramp[1]) * inside
    mean = (small * window).sum() / max(window.sum(), 1e-9)
    centred = (small - mean) * window
    # What is smooth but for the steps of its codes has no pattern to come again.
    fine = small - ndimage.gaussian_filter(small, edge)
    inner = np.zeros(small.shape, bool)  # at the border a slope has no other side to be even with
    inner[3 * edge : -3 * edge, 3 * edge : -3 * edge] = True
    inner &= window > 0.5
    if not inner.any() or float(fine[inner].std()) < _LEAST_L:
        return None
    # Few strong spots must not speak for all.
    deviation = centred[window > 0.5].std()
    centred = np.clip(centred, -2.5 * deviation, 2.5 * deviation).astype(np.float32)
    shape = [fft.next_fast_len(2 * n, real=True) for n in small.shape]
    power = np.abs(fft.fft2(centred, s=shape, workers=2)) ** 2
    around = ndimage.uniform_filter(power, _AROUND, mode="wrap") + 1e-9
    white = np.minimum(power / around, _MOST_POWER)
    # Noise of the camera fills the finest waves: these say nothing.
    fy, fx = np.fft.fftfreq(shape[0])[:, None], np.fft.fftfreq(shape[1])[None]
    white *= np.exp(-((np.hypot(fx, fy) / 0.2) ** 2)).astype(np.float32)
    white -= white.mean()
    overlap = np.real(
        fft.ifft2(np.abs(fft.fft2(window.astype(np.float32), s=shape, workers=2)) ** 2, workers=2)
    )
    dy = np.rint(np.fft.fftfreq(shape[0], 1 / shape[0]))[:, None]
    dx = np.rint(np.fft.fftfreq(shape[1], 1 / shape[1]))[None]
    least = _LEAST_SHIFT * min(height, width)
    use = (np.hypot(dx, dy) >= max(least, _AROUND / 2)) & (overlap > 0.25 * overlap.max())
    use &= (np.abs(dy) < 0.75 * height) & (np.abs(dx) < 0.75 * width)
    half_plane = use & ((dy > 0) | ((dy == 0) & (dx > 0)))
    if half_plane.sum() < 500:
        return None
    # A repeat is a spot that stands out of its own surroundings; the ridges of a pattern that
    # runs one way, and the slow waves of clouds, stand out all along.
    waves = np.hypot(fx, fy).astype(np.float32)
    sharp = np.real(fft.ifft2(white * (1 - _gaussian(waves, _SPOT_PX)), workers=2))
    near = np.real(fft.ifft2(fft.fft2(sharp**2, workers=2) * _gaussian(waves, _NEAR_PX), workers=2))
    score = np.where(half_plane, sharp / np.sqrt(np.maximum(near, 1e-24)), 0)
    top = np.unravel_index(int(score.argmax()), score.shape)
    stands = float(score[top])
    if stands < _STANDS_OUT:
        return Repeat(strength=measured(0.0, 0.05, 0.1), period_mm=None)
    # Of shifts that stand out nearly as well the shortest is the period, the rest its multiples.
    good = np.argwhere(score > max(0.6 * stands, _STANDS_OUT))
    shifts = np.array([(dx[0, c], dy[r, 0]) for r, c in good])
    first = good[np.hypot(*shifts.T).argmin()]
    shortest = _peak_near(score, first[0], first[1], dy[:, 0], dx[0])
    strength = float(np.clip(stands / (stands + 12.0), 0, 1))
    if mm_per_px is None:
        return Repeat(strength=unknown("reason.no_scale"), period_mm=None)
    scale = mm_per_px * lightness.shape[1] / width
    return Repeat(
        strength=measured(strength, 0.1, 0.15),
        period_mm=(float(shortest[0] * scale), float(shortest[1] * scale)),
    )


def _gaussian(waves: np.ndarray, sigma_px: float) -> np.ndarray:
    """Return what a Gaussian leaves of each wave, given in waves per pixel."""
    left: np.ndarray = np.exp(-2 * (np.pi * sigma_px * waves) ** 2)
    return left


def _peak_near(
    score: np.ndarray, row: int, column: int, dy: np.ndarray, dx: np.ndarray
) -> tuple[float, float]:
    """Return the shift (right, down) of a peak between pixels: the middle of what stands out."""
    reach = np.arange(-2, 3)
    rows, columns = (row + reach) % len(dy), (column + reach) % len(dx)
    top = int(score[np.ix_(rows, columns)].argmax())
    rows = (rows[top // 5] + reach) % len(dy)
    columns = (columns[top % 5] + reach) % len(dx)
    weight = np.maximum(score[np.ix_(rows, columns)], 0) ** 2
    total = max(float(weight.sum()), 1e-9)
    return float((weight @ dx[columns]).sum() / total), float((dy[rows] @ weight).sum() / total)
