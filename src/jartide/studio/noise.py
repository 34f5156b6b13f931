"""Seeded random fields: irregularity at every scale, with a known direction."""

from __future__ import annotations

import numpy as np


def fractal(
    shape: tuple[int, int],
    mm_per_px: float,
    rng: np.random.Generator,
    *,
    largest_mm: float,
    smallest_mm: float = 0.5,
    slope: float = 2.0,
    direction_deg: float = 0.0,
    stretch: float = 1.0,
) -> np.ndarray:
    """Return a field (H, W) float32 of mean 0 and standard deviation 1.

    White noise shaped in the Fourier domain to a power spectrum that falls
    with frequency to the power of `slope` between the two feature sizes.
    Features are `stretch` times longer along `direction_deg`.
    """
    height, width = shape
    # Drawn on a larger sheet and cut, so that opposite edges do not match.
    rows, columns = _even(height * 1.25), _even(width * 1.25)
    white = np.fft.rfft2(rng.standard_normal((rows, columns)))
    fy = np.fft.fftfreq(rows, mm_per_px)[:, None]
    fx = np.fft.rfftfreq(columns, mm_per_px)[None, :]
    angle = np.radians(direction_deg)
    # Rows run down and angles run counter-clockwise, hence the minus signs.
    along = fx * np.cos(angle) - fy * np.sin(angle)
    across = fx * np.sin(angle) + fy * np.cos(angle)
    squared = (along * np.sqrt(stretch)) ** 2 + (across / np.sqrt(stretch)) ** 2
    low, high = 0.5 / largest_mm, 0.5 / smallest_mm
    shaped = (squared + low**2) ** (-slope / 2) * np.exp(-squared / high**2)
    shaped[0, 0] = 0
    field = np.fft.irfft2(white * shaped, s=(rows, columns))[:height, :width]
    field -= field.mean()
    return (field / field.std()).astype(np.float32)


def _even(value: float) -> int:
    return 2 * round(value / 2)


def smoothstep(field: np.ndarray, low: float, high: float) -> np.ndarray:
    """Return 0 below `low`, 1 above `high`, and a smooth rise between, of any shape."""
    t = np.clip((field - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


def level_for_share(field: np.ndarray, share: float) -> float:
    """Return the level that leaves `share` of the field, any shape, above it."""
    return float(np.quantile(field[::3, ::3], 1 - share))


def pixel_grid(shape: tuple[int, int], mm_per_px: float) -> tuple[np.ndarray, np.ndarray]:
    """Return x to the right and y down of every pixel centre, millimetres, (H, W) each."""
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    return (x + 0.5) * mm_per_px, (y + 0.5) * mm_per_px
