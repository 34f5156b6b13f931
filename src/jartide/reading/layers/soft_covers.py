"""How much of each tone is seen where tones pass into each other."""

from __future__ import annotations

import numpy as np

from jartide.colour.perceptual import lab_to_even
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.reading.layers.covers import Covers
from jartide.reading.layers.soft_tones import Blends, blend
from jartide.reading.layers.tones import ColourCells

# What a blend costs where covers are told: just so much that a colour near a tone is that tone's.
_COVER_COST = 0.05
# Of a main tone at least this is seen where a pixel counts as showing it whole.
WHOLE_SHARE = 0.85


def assign_blended(cells: ColourCells, tones: np.ndarray) -> Covers:
    """Return the covers of tones, (K, 3) Lab, over a picture given by its colour cells.

    Each colour is a blend of the two tones that come nearest to it in mixing. Paints mix in linear
    light, so the share of either is the one whose mixture looks like it.
    """
    count = np.bincount(cells.cell.ravel(), minlength=len(cells.middle))
    used = np.flatnonzero(count)
    colours, ends = lab_to_even(cells.middle[used]), lab_to_even(tones)
    pairs = blend(colours, ends, _COVER_COST)
    way = ends[pairs.other] - ends[pairs.main]
    length = np.maximum(np.square(way).sum(axis=1), 1e-12)
    along = np.einsum("nc,nc->n", colours - ends[pairs.main], way) / length
    part = _mixed(np.where(pairs.part > 0, along, 0.0), pairs, tones)
    swapped = part > 0.5
    labels = np.where(swapped, pairs.other, pairs.main)
    beside = np.where(swapped, pairs.main, pairs.other)
    share = np.where(swapped, part, 1 - part)

    def of_cells(values: np.ndarray, kind: type) -> np.ndarray:
        table: np.ndarray = np.zeros(len(cells.middle), kind)
        table[used] = values
        return table.take(cells.cell)

    return Covers(
        labels=of_cells(labels, np.uint8),
        beside=of_cells(np.where(share >= 1, labels, beside), np.uint8),
        share=of_cells(share, np.float32),
    )


def _mixed(along: np.ndarray, pairs: Blends, tones: np.ndarray) -> np.ndarray:
    """Return the share of the other tone, 0..1, that mixed in light looks as far along the way.

    Half of the way from dark to light is much less than half of the light paint.
    """
    linear, ends = lab_to_linear(np.asarray(tones, float)), lab_to_even(tones)
    steps = np.linspace(0, 1, 33)
    found = np.zeros(len(along))
    code = pairs.main * len(tones) + pairs.other
    for pair in np.unique(code):
        main, other = divmod(int(pair), len(tones))
        if main == other:
            continue
        mixed = linear[main] * (1 - steps[:, None]) + linear[other] * steps[:, None]
        way = ends[other] - ends[main]
        looks = (lab_to_even(linear_to_lab(mixed)) - ends[main]) @ way / max(way @ way, 1e-12)
        own = code == pair
        found[own] = np.interp(along[own], np.maximum.accumulate(looks), steps)
    return found
