"""A measured value with its two intervals, and the tile jackknife behind the second."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.stats import t as student

from jartide.wording import Message

LEVEL = 0.90

Interval = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Measured:
    """One value and how far it can be trusted; both intervals hold 90 %.

    Attributes
    ----------
    value : float or None
        None when it can't be trusted; `reason` then says why.
    measurement : (low, high) or None
        Would hold the true value of this surface in this picture.
    sampling : (low, high) or None
        Would hold the value of another patch of the same finish.
    """

    value: float | None
    measurement: Interval | None = None
    sampling: Interval | None = None
    reason: Message | None = None


def unknown(id: str, **parameters: str | int | float) -> Measured:
    """Return a value that can't be trusted, with the reason's message id."""
    return Measured(value=None, reason=Message(id, count=None, **parameters))


def measured(
    value: float, measurement_half: float, sampling_half: float, *, least: float | None = 0.0
) -> Measured:
    """Return a value with symmetric 90 % intervals, not reaching below `least`.

    What this patch was measured as strays from another patch by the measurement's error, too:
    that is joined to the sampling interval here.
    """

    def around(half: float) -> Interval:
        low = value - half
        return (low if least is None else max(least, low), value + half)

    return Measured(
        value=float(value),
        measurement=around(float(measurement_half)),
        sampling=around(float(np.hypot(measurement_half, sampling_half))),
    )


def jackknife_half_width(
    tiles: np.ndarray, statistic: Callable[[np.ndarray], float], period: float | None = None
) -> float:
    """Return half of the 90 % interval of a statistic for another patch like this one.

    Delete-one-tile jackknife with Student's t for the number of tiles in use
    (Tukey 1958; Miller 1974), times the root of two: this patch strays from the
    finish as far as the other does. Neighbouring tiles share clouds, so for patterns
    larger than a tile this is too narrow; such sizes are refused elsewhere.

    Parameters
    ----------
    tiles : (N,) tile number of every sample
    statistic : of a boolean (N,) of kept samples
    period : 180 for axial angles, whose differences wrap
    """
    used = np.flatnonzero(np.bincount(tiles, minlength=1))
    if used.size < 3:
        return float("inf")
    left_out = np.array([statistic(tiles != tile) for tile in used])
    if period is not None:
        left_out = (left_out - left_out[0] + period / 2) % period - period / 2
    spread = (used.size - 1) / used.size * np.sum((left_out - left_out.mean()) ** 2)
    return float(student.ppf(0.5 + LEVEL / 2, used.size - 1) * np.sqrt(2 * spread))


def weighted_percentile(values: np.ndarray, weights: np.ndarray, share: float) -> float:
    """Return the value of (N,) below which `share` (0..1) of the weight lies; NaN of nothing."""
    if values.size == 0:
        return float("nan")
    order = np.argsort(values)
    heap = np.cumsum(weights[order])
    return float(values[order][np.searchsorted(heap, share * heap[-1]).clip(0, values.size - 1)])
