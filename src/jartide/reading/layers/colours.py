"""How often each colour is seen in a picture: what two readings can both be counted by."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.words import Lab

# Cells of this width in L*, a*, b*; of the mean colour in each the share is kept.
CELL = 3.0
_MOST_CELLS = 400
_LEAST_SHARE = 2e-5
_MOST_PIXELS = 300_000


@dataclass(frozen=True, slots=True, kw_only=True)
class ColourShares:
    """Colours of a picture, the most frequent first, and the share of its pixels in each."""

    labs: tuple[Lab, ...]
    shares: tuple[float, ...]


def colour_shares(lab: np.ndarray, valid: np.ndarray) -> ColourShares:
    """Return the colours of a picture, (H, W, 3) Lab, where it is valid, (H, W) bool."""
    pixels = lab[valid]
    if len(pixels) > _MOST_PIXELS:
        pixels = pixels[:: len(pixels) // _MOST_PIXELS + 1]
    cells = np.floor(pixels / CELL).astype(np.int64)
    cells -= cells.min(axis=0)
    span = cells.max(axis=0) + 1
    code = (cells[:, 0] * span[1] + cells[:, 1]) * span[2] + cells[:, 2]
    _, place, count = np.unique(code, return_inverse=True, return_counts=True)
    means = np.stack([np.bincount(place, pixels[:, axis]) / count for axis in range(3)], axis=1)
    share = count / count.sum()
    order = np.argsort(-share, kind="stable")[:_MOST_CELLS]
    order = order[share[order] >= _LEAST_SHARE]
    whole = share[order].sum()
    return ColourShares(
        labs=tuple(
            (round(float(L), 1), round(float(a), 1), round(float(b), 1)) for L, a, b in means[order]
        ),
        shares=tuple(round(float(v), 6) for v in share[order] / whole),
    )
