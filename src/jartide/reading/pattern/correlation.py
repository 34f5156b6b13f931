"""How far the mottle hangs together: where its autocorrelation falls to 1/e.

Lines, specks and holes are left out (the mask-corrected autocorrelation of
Padfield 2012), so that a net of veins does not pass for small clouds.
"""

from __future__ import annotations

import numpy as np
from scipy import fft

from jartide.reading.trust.measured import Measured, measured, unknown

_MOST_PX = 300
# Fewer correlation areas than this in the region, and the value is a guess.
_LEAST_AREAS = 9


def correlation_length(
    lightness: np.ndarray, mottle: np.ndarray, mm_per_px: float | None
) -> Measured:
    """Return the correlation length in mm of L*, (H, W), over the pixels of `mottle`."""
    if mm_per_px is None:
        return unknown("reason.no_scale")
    factor = max(1, int(np.ceil(max(lightness.shape) / _MOST_PX)))
    # Only whole mottle pixels are averaged: a half line would leave its tone behind.
    height, width = lightness.shape[0] // factor, lightness.shape[1] // factor
    if min(height, width) < 16:
        return unknown("reason.too_small")
    blocks = np.where(mottle, lightness, 0)[: height * factor, : width * factor]
    counts = mottle[: height * factor, : width * factor].astype(np.float32)
    blocks = blocks.reshape(height, factor, width, factor).sum(axis=(1, 3))
    counts = counts.reshape(height, factor, width, factor).sum(axis=(1, 3))
    mask = counts > 0.5 * factor**2
    if mask.sum() < 256:
        return unknown("reason.no_mottle")
    values = np.where(mask, blocks / np.maximum(counts, 1), 0)
    values = np.where(mask, values - values[mask].mean(), 0)
    curve = _radial_autocorrelation(values, mask.astype(np.float32))
    # Grain and noise live at lag zero only: the curve is taken back to zero from lags 1 and 2.
    start = max(2 * curve[1] - curve[2], curve[1]) if curve[1] > 0.2 * curve[0] else curve[0]
    if start <= 1e-6:
        return unknown("reason.no_mottle")
    curve = curve / start
    below = np.flatnonzero(curve[1:] < 1 / np.e)
    if below.size == 0:
        return unknown("reason.mottle_too_large")
    last = below[0] + 1
    high, low = min(curve[last - 1], 1.0), curve[last]
    lag = last - 1 + (high - 1 / np.e) / max(high - low, 1e-9)
    length = float(lag * factor * mm_per_px)
    areas = mask.sum() / (np.pi * max(lag, 1) ** 2)
    if areas < _LEAST_AREAS:
        return unknown("reason.mottle_too_large")
    # Broad clouds gather unevenly: so much farther than independent areas do halves of one
    # surface stray from each other.
    half = 2.6 * 1.645 * length / np.sqrt(areas)
    return measured(length, 0.08 * length + 0.5 * mm_per_px, half)


def _radial_autocorrelation(values: np.ndarray, mask: np.ndarray) -> np.ndarray:
    """Return the autocovariance by whole pixels of lag, to a third of the region."""
    shape = [fft.next_fast_len(2 * n) for n in values.shape]
    spectrum = fft.rfft2(values, s=shape, workers=2)
    pairs = fft.rfft2(mask, s=shape, workers=2)
    products = fft.irfft2(np.abs(spectrum) ** 2, s=shape, workers=2)
    numbers = fft.irfft2(np.abs(pairs) ** 2, s=shape, workers=2)
    most = min(values.shape) // 3
    rows = np.fft.fftfreq(shape[0], 1 / shape[0])[:, None]
    columns = np.fft.fftfreq(shape[1], 1 / shape[1])[None]
    lag = np.rint(np.hypot(rows, columns)).astype(int)
    near = lag <= most
    total = np.bincount(lag[near], products[near], most + 1)
    count = np.bincount(lag[near], numbers[near], most + 1)
    return total / np.maximum(count, 1)
