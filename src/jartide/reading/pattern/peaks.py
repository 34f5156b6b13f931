"""One or two directions in a heap of undirected ones, and how much belongs to each.

Two von Mises distributions of the doubled angle over an even floor, fitted by expectation
and maximisation (Dempster, Laird & Rubin 1977; Banerjee et al. 2005 for the concentration).
"""

from __future__ import annotations

import numpy as np
from scipy.special import ive

from jartide.reading.pattern.records import Peak

_BIN_DEG = 2.0
# Directions nearer than this, and second ones rarer or weaker than this, are no second one.
_APART_DEG = 25.0
_LEAST_SHARE = 0.12
_LEAST_KAPPA = 2.0
# Where the heap nowhere rises to this many times its mean, all ways are alike.
_LEAST_RISE = 1.25
_ROUNDS = 25


def direction_peaks(angle_deg: np.ndarray, weight: np.ndarray) -> tuple[Peak, ...]:
    """Return the main direction of weighted ones, (N,), and a second one if there is one.

    Strongest first; the shares are of what belongs to either. Empty where all ways are alike.
    """
    bins = int(180 / _BIN_DEG)
    heap = np.bincount(
        (angle_deg % 180 / _BIN_DEG).astype(int) % bins, weight, minlength=bins
    ).astype(float)
    if heap.sum() <= 0:
        return ()
    angle = np.radians(2 * (np.arange(bins) + 0.5) * _BIN_DEG)
    heap /= heap.sum()
    smooth = _smoothed(heap)
    if smooth.max() < _LEAST_RISE * smooth.mean():
        return ()
    first = int(smooth.argmax())
    apart = np.abs((np.arange(bins) - first + bins / 2) % bins - bins / 2) * _BIN_DEG
    # A second start is the highest point well apart that is no slope of the first.
    is_top = (smooth >= np.roll(smooth, 1)) & (smooth >= np.roll(smooth, -1))
    others = np.flatnonzero(is_top & (apart >= _APART_DEG))
    starts = [first]
    if others.size:
        starts.append(int(others[smooth[others].argmax()]))
    fitted = _fitted(heap, angle, [angle[s] for s in starts])
    if len(fitted) == 2:
        (m1, k1, w1), (m2, k2, w2) = fitted
        turn = abs((m1 - m2 + np.pi) % (2 * np.pi) - np.pi)
        real = np.degrees(turn) / 2 >= _APART_DEG and min(k1, k2) >= _LEAST_KAPPA
        if not real or min(w1, w2) < _LEAST_SHARE * (w1 + w2):
            fitted = _fitted(heap, angle, [angle[first]])
    total = sum(w for _, _, w in fitted)
    if total < 0.05:
        return ()
    found = [Peak(deg=float(np.degrees(m) / 2 % 180), share=float(w / total)) for m, _, w in fitted]
    return tuple(sorted(found, key=lambda peak: -peak.share))


def _smoothed(heap: np.ndarray) -> np.ndarray:
    reach = np.arange(-6, 7)
    kernel = np.exp(-0.5 * (reach * _BIN_DEG / 5.0) ** 2)
    kernel /= kernel.sum()
    padded = np.concatenate([heap[-6:], heap, heap[:6]])
    return np.convolve(padded, kernel, "valid")


def _fitted(
    heap: np.ndarray, angle: np.ndarray, starts: list[float]
) -> list[tuple[float, float, float]]:
    """Return (mean of the doubled angle, concentration, weight) of each part."""
    means, kappas = list(starts), [6.0] * len(starts)
    weights = [0.7 / len(starts)] * len(starts)
    floor = 0.3
    for _ in range(_ROUNDS):
        parts = [
            w * np.exp(k * (np.cos(angle - m) - 1)) / (2 * np.pi * ive(0, k))
            for m, k, w in zip(means, kappas, weights, strict=True)
        ]
        even = np.full_like(angle, floor / (2 * np.pi))
        total = np.sum(parts, axis=0) + even
        for i, part in enumerate(parts):
            share = heap * part / total
            weights[i] = float(share.sum())
            z = np.sum(share * np.exp(1j * angle)) / max(weights[i], 1e-12)
            means[i] = float(np.angle(z))
            r = min(abs(z), 0.9995)
            kappas[i] = float(np.clip(r * (2 - r**2) / (1 - r**2), 0.05, 700))
        floor = float((heap * even / total).sum())
    return list(zip(means, kappas, weights, strict=True))
