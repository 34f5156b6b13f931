"""How layers meet: with a clear edge, run into each other, or one as a film over the other."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from jartide.reading.layers.covers import Covers
from jartide.reading.result import Edge, LayerEdge

# Two layers that share less than this of all the edges touch by chance.
_TOUCHING = 0.02
# A passage wider than this is seen as one: share of the root of the area, and pixels.
_CLEAR_SIDE, _CLEAR_PX = 0.009, 4.0
# How far to either side of an edge is looked, share of the root of the area.
_REACH_SIDE = 0.035
# A layer that in its own places is seen to less than this beside the other is a film over it.
_FILM = 0.7
# Crumbs narrower than this, share of the root of the area, are no edge of a layer.
_CRUMB_SIDE = 0.006
_MOST_PX = 300_000
_LEAST_PX = 30


def layer_edges(
    covers: Covers, valid: np.ndarray, ids: Sequence[str], mm_per_px: float | None
) -> tuple[LayerEdge, ...]:
    """Return how each two layers that touch meet, the upper first.

    The share of the upper one is averaged over all places at one signed distance from the edges
    between the two, so that grain evens out; the passage is as wide as this mean takes from 10 to
    90 % of its way. It is clear up to 0.9 % of the side of the piece (or 4 pixels). A layer whose
    share stays under 0.7 in its own places is a film over the other.

    Parameters
    ----------
    covers, valid : of layers numbered in paint order, and (H, W) bool
    ids : of the layers
    """
    count = len(ids)
    valid = valid & (covers.labels < count)
    step = 2 if valid.size > _MOST_PX else 1
    inside = valid[::step, ::step]
    side = float(np.sqrt(max(int(inside.sum()), 1)))
    crumb = max(3, 2 * round(_CRUMB_SIDE * side / 2) + 1)
    label = cv2.medianBlur(np.ascontiguousarray(covers.labels[::step, ::step]), crumb)
    inside = inside & (label < count)
    length = _boundary(label, inside, count)
    total = float(np.triu(length).sum())
    reach = max(6, round(_REACH_SIDE * side))
    away = [
        cv2.distanceTransform((label != k).astype(np.uint8), cv2.DIST_L2, 3) for k in range(count)
    ]
    shares = [covers.of(k)[::step, ::step] for k in range(count)]
    clear_px = max(_CLEAR_PX, _CLEAR_SIDE * side)
    found = []
    for a in range(count):
        for b in range(a + 1, count):
            of_all = length[a, b] / max(total, 1.0)
            if of_all < _TOUCHING:
                continue
            where = away[a] - away[b]
            near = (label == a) | (label == b)
            near &= inside & (np.abs(where) <= reach)
            for other in range(count):
                if other not in (a, b):  # another layer is not between
                    near &= away[other] > np.minimum(np.abs(where), 3)
            passage = _passage(where[near], shares[a][near], shares[b][near], reach)
            if passage is None:
                continue
            width_px, highest = passage
            edge = Edge.CLEAR if width_px <= clear_px else Edge.BLENDED
            if highest < _FILM:
                edge = Edge.FILM
            found.append(
                LayerEdge(
                    upper=ids[b],
                    lower=ids[a],
                    edge=edge,
                    share=float(of_all),
                    width_mm=None if mm_per_px is None else float(width_px * step * mm_per_px),
                )
            )
    return tuple(found)


def _passage(
    where: np.ndarray, lower: np.ndarray, upper: np.ndarray, reach: int
) -> tuple[float, float] | None:
    """Return the width of the passage, pixels, and the most of the upper one that is seen.

    `where`, (N,), is the signed distance from the edge, above 0 on the upper one's side; `lower`
    and `upper` are the shares there. None where too little is seen of either.
    """
    both = lower + upper
    part = upper / np.maximum(both, 1e-6)
    place = np.rint(where).astype(int) + reach
    weight = np.bincount(place, both, 2 * reach + 1)
    mean = np.bincount(place, both * part, 2 * reach + 1) / np.maximum(weight, 1e-9)
    enough = weight >= _LEAST_PX
    if not (enough[: reach + 1].any() and enough[reach:].any()):
        return None
    at = np.flatnonzero(enough) - reach
    # It only ever rises across the edge; what else it does is other edges nearby.
    mean = np.maximum.accumulate(mean[enough])
    low, high = float(mean[0]), float(mean[-1])
    if high - low < 1e-3:
        return 2.0 * reach, high
    ten, ninety = np.interp([low + 0.1 * (high - low), low + 0.9 * (high - low)], mean, at)
    return float(ninety - ten), high


def _boundary(labels: np.ndarray, valid: np.ndarray, count: int) -> np.ndarray:
    """Length of the boundary between each two layers, pixels, (K, K).

    Steps along the pixel grid overstate a curve's length by 4 / pi in the mean.
    """
    table = np.zeros((count, count))
    for one, other, inside in (
        (labels[1:], labels[:-1], valid[1:] & valid[:-1]),
        (labels[:, 1:], labels[:, :-1], valid[:, 1:] & valid[:, :-1]),
    ):
        differ = (one != other) & inside
        pair = one[differ].astype(int) * count + other[differ]
        table += np.bincount(pair, minlength=count * count).reshape(count, count)
    return np.pi / 4 * (table + table.T)
