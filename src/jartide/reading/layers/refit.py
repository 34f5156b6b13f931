"""Fit layers again around what the painter has decided."""

from __future__ import annotations

import numpy as np

from jartide.colour.perceptual import even_to_lab, lab_to_even
from jartide.reading.decisions import LayerChoices
from jartide.reading.layers.covers import Covers
from jartide.reading.layers.evidence import Evidence
from jartide.reading.layers.soft_tones import PURE_COST, settled
from jartide.reading.layers.tones import nearest_tone
from jartide.reading.result import Lab

_SETTLE_ROUNDS = 3
# Colours this far from a tone, Lab units, pull it no more: they are something else's.
_REACH = 7.0
_SAMPLE = 15_000


def settled_tones(evidence: Evidence, choices: LayerChoices) -> tuple[np.ndarray, np.ndarray]:
    """Return the tones of all choices, (K, 3) Lab, and the number of the layer each is of, (K,).

    Tones that are not locked move to the middle of the colours nearest to them,
    as in k-means (Lloyd 1982) with colours out of reach left aside.
    """
    rows = [(tone, n) for n, layer in enumerate(choices.layers) for tone in layer.tones]
    tones = np.array([tone for tone, _ in rows], float)
    owner = np.array([n for _, n in rows])
    free = [k for k, n in enumerate(owner) if not choices.layers[n].locked]
    if evidence.heap is not None:
        fixed = np.ones(len(tones), bool)
        fixed[free] = False
        even = settled(evidence.heap, lab_to_even(tones), PURE_COST, _SETTLE_ROUNDS, fixed)
        return np.where(fixed[:, None], tones, even_to_lab(even)), owner
    stride = max(1, len(evidence.sample) // _SAMPLE)
    colours, weight = evidence.sample[::stride], evidence.weight[::stride].astype(float)
    for _ in range(_SETTLE_ROUNDS):
        nearest = nearest_tone(colours, tones)
        for k in free:
            own = nearest == k
            away = np.linalg.norm(colours[own] - tones[k], axis=1)
            near = weight[own] * np.exp(-0.5 * (away / (_REACH / 2)) ** 2)
            if near.sum() > 3:
                tones[k] = near @ colours[own] / near.sum()
    return tones, owner


def fitted(evidence: Evidence, choices: LayerChoices) -> tuple[Covers, np.ndarray]:
    """Return the covers of the layers of `choices`, by their numbers, and their tones (K, 3)."""
    tones, owner = settled_tones(evidence, choices)
    covers = evidence.covers(tones)
    first = np.array([tones[owner == n][0] for n in range(len(choices.layers))])
    return covers.renumbered(owner.astype(np.uint8)), first


def two_tones(evidence: Evidence, labels: np.ndarray, number: int) -> tuple[Lab, Lab] | None:
    """Return the two tones that part a layer best; None when it shows one colour only.

    `labels`, (H, W), says where. The colours are parted where doing so takes out most of
    their variance along the way they vary most (Otsu 1979, on the first component).
    """
    own = (labels == number) & evidence.valid & (evidence.flatness > 0.2)
    colours = evidence.calm[own]
    if len(colours) < 50:
        return None
    colours = colours[:: max(1, len(colours) // 20_000)].astype(float)
    middle = colours.mean(axis=0)
    _, _, axes = np.linalg.svd(colours - middle, full_matrices=False)
    along = np.sort((colours - middle) @ axes[0])
    heap, count = np.cumsum(along), np.arange(1, len(along) + 1)
    low, high = heap / count, (heap[-1] - heap) / np.maximum(len(along) - count, 1)
    gain = count * (len(along) - count) * (high - low) ** 2
    gain[-1] = 0
    at = along[int(gain.argmax())]
    side = (colours - middle) @ axes[0] > at
    parts = [np.median(colours[part], axis=0) for part in (~side, side) if part.any()]
    if len(parts) < 2 or np.linalg.norm(parts[1] - parts[0]) < 1.0:
        return None
    # The more of the two stays in its place.
    first, second = sorted(
        parts, key=lambda part: -(np.linalg.norm(colours - part, axis=1) < 3).sum()
    )
    return _lab(first), _lab(second)


def _lab(colour: np.ndarray) -> Lab:
    return float(colour[0]), float(colour[1]), float(colour[2])
