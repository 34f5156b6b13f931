"""How big the pattern is: the share of L* variance in each octave of size.

A size is half a wavelength: a dark and a light patch of 8 mm each repeat every
16 mm. The octave "8 mm" reaches from 8/sqrt(2) to 8*sqrt(2).
"""

from __future__ import annotations

import cv2
import numpy as np
from scipy import fft

from jartide.reading.pattern.records import SIZES_MM
from jartide.reading.trust.measured import Measured, measured, unknown

_MOST_PX = 900
# A region must hold this many wavelengths before an octave can be told.
_LEAST_WAVES = 1.5
# The finest size must span this many picture pixels.
_LEAST_PX = 1.4
# Shares add up to one and clouds are no noise: halves of one surface stray so much farther.
_STRAYS = 1.8


def size_spectrum(
    lightness: np.ndarray, valid: np.ndarray, mm_per_px: float | None
) -> tuple[Measured, ...]:
    """Return the share of L* variance for sizes 1, 2, 4, 8, 16 and 32 mm.

    `lightness` is (H, W) L*. The region is windowed by a raised cosine, so that its
    edges add nothing, and pixels outside the mask take the mean.
    """
    if mm_per_px is None:
        return tuple(unknown("reason.no_scale") for _ in SIZES_MM)
    factor = max(1, int(np.ceil(max(lightness.shape) / _MOST_PX)))
    small_mm = mm_per_px * factor
    size = (max(lightness.shape[1] // factor, 1), max(lightness.shape[0] // factor, 1))
    small = cv2.resize(lightness, size, interpolation=cv2.INTER_AREA) if factor > 1 else lightness
    inside = cv2.resize(valid.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    if min(size) < 16 or inside.sum() < 256:
        return tuple(unknown("reason.too_small") for _ in SIZES_MM)
    window = np.outer(np.hanning(size[1] + 2)[1:-1], np.hanning(size[0] + 2)[1:-1]) * inside
    mean = (small * window).sum() / window.sum()
    power = np.abs(fft.rfft2((small - mean) * window, workers=2)) ** 2
    power[:, 1 : -1 if size[0] % 2 == 0 else None] *= 2  # the half not computed
    frequency = np.hypot(
        np.fft.fftfreq(size[1], small_mm)[:, None], np.fft.rfftfreq(size[0], small_mm)[None]
    )
    total = power.sum() or 1.0
    extent = min(size) * small_mm
    shares = []
    for size_mm in SIZES_MM:
        low, high = 0.5 / (size_mm * np.sqrt(2)), 0.5 / (size_mm / np.sqrt(2))
        if size_mm < _LEAST_PX * mm_per_px:
            shares.append(unknown("reason.size_too_fine", size=size_mm))
            continue
        if extent < _LEAST_WAVES * 2 * size_mm:
            shares.append(unknown("reason.size_too_large", size=size_mm))
            continue
        band = (frequency >= low) & (frequency < high)
        share = float(power[band].sum() / total)
        # Power estimates scatter as chi-squared: two degrees of freedom per wave in the region.
        waves = max(band.sum() / 4, 1.0)
        half = _STRAYS * (1.645 * share / np.sqrt(waves) + 0.01)
        shares.append(measured(share, 0.02 + 0.05 * share, half))
    return tuple(shares)
