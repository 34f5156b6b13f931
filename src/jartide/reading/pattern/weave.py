"""Weave: threads per centimetre both ways, their angles, how even they are, slubs.

Threads are two peaks of the picture's power spectrum. Each is found among whole waves and
then refined between them: the frequency where the windowed Fourier sum is largest.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from scipy import fft, optimize

from jartide.reading.pattern.records import Weave
from jartide.reading.trust.measured import Measured, jackknife_half_width, unknown
from jartide.reading.trust.own_error import judged

# Periods looked at, pixels, and the least number of threads across the region.
_LEAST_PX, _MOST_PX = 2.6, 40.0
_LEAST_THREADS = 12
# A thread's peak stands this many times above the median power of its own frequency.
_LEAST_PEAK = 60.0
# Threads stand out by this much L*, half of what parts them from their gaps.
_LEAST_L = 0.4
# The sets cross within this of a right angle.
_ASKEW_DEG = 25.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Threads:
    """One set of threads: waves per pixel to the right and down, and height of the peak."""

    fx: float
    fy: float
    peak: float

    @property
    def per_px(self) -> float:
        """Threads per pixel across them."""
        return float(np.hypot(self.fx, self.fy))

    @property
    def direction_deg(self) -> float:
        """The way the threads run, counter-clockwise from the right, [0, 180)."""
        return float((np.degrees(np.arctan2(-self.fy, self.fx)) + 90) % 180)


def find_threads(lightness: np.ndarray, valid: np.ndarray) -> tuple[Threads, Threads] | None:
    """Return the warp, nearer upright, and the weft of L*, (H, W); None where there is no weave."""
    height, width = lightness.shape
    if min(height, width) < _LEAST_THREADS * _LEAST_PX:
        return None
    window = np.outer(np.hanning(height + 2)[1:-1], np.hanning(width + 2)[1:-1]) * valid
    mean = float((lightness * window).sum() / max(window.sum(), 1e-9))
    seen = ((lightness - mean) * window).astype(np.float32)
    power = np.abs(fft.rfft2(seen, workers=2)) ** 2
    fy, fx = np.fft.fftfreq(height)[:, None], np.fft.rfftfreq(width)[None]
    size = np.hypot(fx, fy)
    inside = (size > max(1 / _MOST_PX, _LEAST_THREADS / min(height, width))) & (
        size < 1 / _LEAST_PX
    )
    # Against the usual power of each frequency, so that coarse mottle does not win.
    ring = np.minimum((size * 2 * max(height, width)).astype(int), 2 * max(height, width))
    usual = _ring_median(power, ring, inside)
    relative = np.where(inside, power / usual[ring], 0)
    first = _highest(relative, fx, fy, None)
    if first is None or first[2] < _LEAST_PEAK:
        return None
    second = _highest(relative, fx, fy, np.degrees(np.arctan2(first[1], first[0])) + 90)
    if second is None or second[2] < _LEAST_PEAK:
        return None
    # The steps of a file's codes in a smooth gradient are as regular as threads, but far fainter.
    raised = 2 * np.sqrt(power.max(where=inside, initial=0)) / max(float(window.sum()), 1e-9)
    if raised < _LEAST_L:
        return None
    sets = [_refined(seen, *peak) for peak in (first, second)]
    sets.sort(key=lambda t: abs((t.direction_deg - 90 + 90) % 180 - 90))
    return sets[0], sets[1]


def _ring_median(power: np.ndarray, ring: np.ndarray, inside: np.ndarray) -> np.ndarray:
    """Return about the median power at each whole frequency: of its logarithm's mean."""
    count = np.bincount(ring[inside], minlength=ring.max() + 1)
    total = np.bincount(ring[inside], np.log(power[inside] + 1e-12), ring.max() + 1)
    mean = total / np.maximum(count, 1)
    # Neighbouring rings together: one ring has few waves.
    kernel = np.ones(9) / 9
    near = np.convolve(np.pad(mean * (count > 0), 4, mode="edge"), kernel, "valid")
    weight = np.convolve(np.pad((count > 0).astype(float), 4, mode="edge"), kernel, "valid")
    return np.exp(near / np.maximum(weight, 1e-9)) + 1e-12


def _highest(relative, fx, fy, near_deg: float | None) -> tuple[float, float, float] | None:
    """Return fx, fy and height of the highest peak; within reach of a direction if given."""
    field = relative
    if near_deg is not None:
        angle = np.degrees(np.arctan2(fy, fx + 0 * fy))
        off = np.abs((angle - near_deg + 90) % 180 - 90)
        field = np.where(off <= _ASKEW_DEG, relative, 0)
    at = np.unravel_index(int(field.argmax()), field.shape)
    if field[at] <= 0:
        return None
    # A fine thread's overtone is no thread: half of the frequency is tried, too.
    fx0, fy0 = float(fx[0, at[1]]), float(fy[at[0], 0])
    half = (round(int(at[1]) / 2), round(fy0 / 2 * relative.shape[0]) % relative.shape[0])
    rows = (half[1] + np.arange(-2, 3)) % relative.shape[0]
    columns = np.clip(half[0] + np.arange(-2, 3), 0, relative.shape[1] - 1)
    block = relative[np.ix_(rows, columns)]
    if block.max() > 0.35 * field[at] and block.max() > _LEAST_PEAK:
        k = np.unravel_index(int(block.argmax()), block.shape)
        row, column = rows[k[0]], columns[k[1]]
        return float(fx[0, column]), float(fy[row, 0]), float(block.max())
    return fx0, fy0, float(field[at])


def _refined(seen: np.ndarray, fx: float, fy: float, peak: float) -> Threads:
    """Move a peak to where the Fourier sum of the windowed picture is largest."""
    height, width = seen.shape
    y, x = np.arange(height), np.arange(width)

    def power(f: np.ndarray) -> float:
        row = np.exp(-2j * np.pi * f[1] * y).astype(np.complex64)
        column = np.exp(-2j * np.pi * f[0] * x).astype(np.complex64)
        return -float(np.abs(row @ (seen @ column)) ** 2)

    # Waver blurs the peak over some waves: the middle of its power, not its highest spike.
    steps = np.arange(-2, 3)
    grid = [(fx + i / width, fy + j / height) for i in steps for j in steps]
    weight = np.array([-power(np.array(f)) for f in grid])
    weight = np.maximum(weight - np.percentile(weight, 40), 0) ** 1.5
    start = np.array(grid).T @ weight / max(weight.sum(), 1e-30)
    scale = np.array([1 / width, 1 / height])
    found = optimize.minimize(
        lambda s: power(start + s * scale),
        np.zeros(2),
        method="Nelder-Mead",
        options={"xatol": 0.02, "fatol": 1e-3, "initial_simplex": [[0, 0], [0.4, 0], [0, 0.4]]},
    )
    best = start + np.clip(found.x, -1.0, 1.0) * scale
    return Threads(fx=float(best[0]), fy=float(best[1]), peak=peak)


def measure_weave(
    lightness: np.ndarray, valid: np.ndarray, mm_per_px: float | None
) -> Weave | None:
    """Return the measures of a weave in L*, (H, W); None where there is none."""
    found = find_threads(lightness, valid)
    if found is None:
        return None
    local = [_local_frequency(lightness, valid, threads) for threads in found]
    counts: list[Measured] = []
    turns: list[Measured] = []
    for name, threads, (per_px, angle) in zip(("warp", "weft"), found, local, strict=True):
        tiles = np.arange(per_px.size)
        half = jackknife_half_width(tiles, _mean_of(per_px))
        if mm_per_px is None:
            counts.append(unknown("reason.no_scale"))
        else:
            per_cm = 10 / mm_per_px
            counts.append(judged(f"weave.{name}_per_cm", threads.per_px * per_cm, half * per_cm))
        half = jackknife_half_width(tiles, _mean_of(angle), period=180.0)
        turns.append(judged(f"weave.{name}_direction_deg", threads.direction_deg, half, least=None))
    uneven = np.concatenate([per_px / per_px.mean() - 1 for per_px, _ in local])
    even = float(1 / (1 + 4 * uneven.std()))
    half = float(4 * uneven.std() / np.sqrt(2 * max(uneven.size - 1, 1)) * 1.645)
    return Weave(
        warp_per_cm=counts[0],
        weft_per_cm=counts[1],
        warp_direction_deg=turns[0],
        weft_direction_deg=turns[1],
        evenness=judged("weave.evenness", even, half),
        slubs_per_dm2=_slubs(lightness, valid, found, mm_per_px),
    )


def _mean_of(values: np.ndarray) -> Callable[[np.ndarray], float]:
    return lambda keep: float(values[keep].mean())


def _demodulated(lightness: np.ndarray, threads: Threads, soft_px: float) -> np.ndarray:
    """Return one set's wave with its mean frequency taken out, (H, W) complex, smoothed."""
    height, width = lightness.shape
    y, x = np.arange(height)[:, None], np.arange(width)[None]
    turned = (lightness - lightness.mean()) * np.exp(
        -2j * np.pi * (threads.fx * x + threads.fy * y)
    )
    parts = [
        cv2.GaussianBlur(np.ascontiguousarray(part, np.float32), (0, 0), soft_px)
        for part in (turned.real, turned.imag)
    ]
    return parts[0] + 1j * parts[1]


def _local_frequency(
    lightness: np.ndarray, valid: np.ndarray, threads: Threads
) -> tuple[np.ndarray, np.ndarray]:
    """Return threads per pixel and direction in each of 16 tiles, by the turn of the phase."""
    period = 1 / threads.per_px
    wave = _demodulated(np.where(valid, lightness, lightness[valid].mean()), threads, 2.0 * period)
    step = max(1, int(period / 2))
    right = np.angle(wave[:, step:] * np.conj(wave[:, :-step])) / (2 * np.pi * step)
    down = np.angle(wave[step:] * np.conj(wave[:-step])) / (2 * np.pi * step)
    weight = np.abs(wave)
    per_px, angle = [], []
    for rows in np.array_split(np.arange(lightness.shape[0] - step), 4):
        for columns in np.array_split(np.arange(lightness.shape[1] - step), 4):
            block = np.ix_(rows, columns)
            heavy = weight[block] * valid[block]
            total = max(float(heavy.sum()), 1e-9)
            fx = threads.fx + float((right[block] * heavy).sum() / total)
            fy = threads.fy + float((down[block] * heavy).sum() / total)
            per_px.append(np.hypot(fx, fy))
            angle.append((np.degrees(np.arctan2(-fy, fx)) + 90) % 180)
    return np.array(per_px), np.array(angle)


def _slubs(
    lightness: np.ndarray,
    valid: np.ndarray,
    found: tuple[Threads, Threads],
    mm_per_px: float | None,
) -> Measured:
    """Count thick places: a slub fills the gaps beside it, so that the waves break there.

    Both sets' waves do at once: a place is counted once, whichever of them shows it.
    """
    if mm_per_px is None:
        return unknown("reason.no_scale")
    odd = np.zeros(lightness.shape, bool)
    for threads in found:
        strength = np.abs(_demodulated(lightness, threads, 0.9 / threads.per_px))
        usual = np.median(strength)
        spread = 1.4826 * np.median(np.abs(strength - usual))
        odd |= (strength < usual - 3.2 * spread) & valid
    period = 1 / max(threads.per_px for threads in found)
    _, _, stats, _ = cv2.connectedComponentsWithStats(odd.astype(np.uint8), connectivity=8)
    number = int((stats[1:, cv2.CC_STAT_AREA] > 0.5 * period**2).sum())
    per_dm2 = 1e4 / (valid.sum() * mm_per_px**2)
    # Rare events scatter as Poisson's.
    half = 1.645 * np.sqrt(number + 1.0)
    return judged("weave.slubs_per_dm2", number * per_dm2, half * per_dm2)
