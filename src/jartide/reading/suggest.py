"""Suggest zones that the layers of a piece speak for: two parts, worn edges, ridges and hollows."""

from __future__ import annotations

import numpy as np

from jartide.families import Family
from jartide.reading.heights import suggest_heights
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.zones import EDGE_SHARE, Zone, ZoneKind, edge_zone

# Tiles a side that zones are sought in, and how unlike their layers' shares must be.
_TILES = 12
_UNLIKE = 0.32


def suggest_zones(layers: LayerMap, family: Family) -> tuple[Zone, ...]:
    """Return the zones that a piece's layers speak for; none where it is one even field."""
    tones_L = np.array([layer.shown_lab[0] for layer in layers.layers])
    return suggest_parts(layers.labels, layers.valid, len(tones_L)) or suggest_heights(
        tones_L, layers.labels, layers.valid, family
    )


def suggest_parts(labels: np.ndarray, valid: np.ndarray, count: int) -> tuple[Zone, ...]:
    """Return zones that the layers' shares speak for.

    Two parts with a straight border between them, where the shares on either side
    differ most (of all borders along rows or columns of tiles); and the band along
    the edges, where it differs from the middle. Shares are compared by half the sum
    of their differences, 0 to 1.

    Parameters
    ----------
    labels, valid : (H, W), the layer at each pixel, and where it counts
    count : number of layers
    """
    shares, weight = _tile_shares(labels, valid, count)
    found: list[Zone] = []
    apart, axis, at = max(
        (_parted_at(shares, weight, axis, at), axis, at)
        for axis in (0, 1)
        for at in range(3, _TILES - 2)
    )
    # Clouds make halves differ too: the border must be a step, not a drift.
    if apart > _UNLIKE and _step_at(shares, weight, axis, at) > 0.7 * apart:
        cut = at / _TILES
        for low, high in ((0.0, cut), (cut, 1.0)):
            box = ((0.0, low, 1.0, high), (low, 0.0, high, 1.0))[axis]
            left, top, right, bottom = box
            ring = ((left, top), (right, top), (right, bottom), (left, bottom))
            found.append(Zone(kind=ZoneKind.OTHER if low else ZoneKind.FIELD, outlines=(ring,)))
        return tuple(found)
    rim = edge_zone()
    band = rim.mask(labels.shape) & valid
    inner = ~rim.mask(labels.shape) & valid
    if band.any() and inner.any():
        here, there = (
            np.bincount(labels[part], minlength=count)[:count] / part.sum()
            for part in (band, inner)
        )
        sides = _side_shares(labels, valid, count)
        # A worn rim is worn all round: every side must differ from the middle alike.
        alike = all(
            0.5 * np.abs(side - there).sum() > 0.5 * _UNLIKE
            and float((side - there) @ (here - there)) > 0
            for side in sides
        )
        if 0.5 * np.abs(here - there).sum() > 0.6 * _UNLIKE and alike:
            found.append(rim)
    return tuple(found)


def _tile_shares(
    labels: np.ndarray, valid: np.ndarray, count: int
) -> tuple[np.ndarray, np.ndarray]:
    """Shares of each layer in each tile, (T, T, K), and the pixels that count there, (T, T)."""
    rows = np.minimum(np.arange(labels.shape[0]) * _TILES // labels.shape[0], _TILES - 1)
    columns = np.minimum(np.arange(labels.shape[1]) * _TILES // labels.shape[1], _TILES - 1)
    tile = (rows[:, None] * _TILES + columns[None])[valid]
    label = np.minimum(labels[valid], count - 1).astype(int)
    table = np.bincount(tile * count + label, minlength=_TILES**2 * count)
    table = table.reshape(_TILES, _TILES, count).astype(float)
    weight = table.sum(axis=2)
    return table / np.maximum(weight[..., None], 1), weight


def _parted_at(shares: np.ndarray, weight: np.ndarray, axis: int, at: int) -> float:
    if axis == 1:
        shares, weight = shares.swapaxes(0, 1), weight.swapaxes(0, 1)
    return _unlike(shares[:at], weight[:at], shares[at:], weight[at:])


def _step_at(shares: np.ndarray, weight: np.ndarray, axis: int, at: int) -> float:
    """How unlike the two rows of tiles right on either side of a border are."""
    if axis == 1:
        shares, weight = shares.swapaxes(0, 1), weight.swapaxes(0, 1)
    return _unlike(
        shares[at - 2 : at], weight[at - 2 : at], shares[at : at + 2], weight[at : at + 2]
    )


def _unlike(a: np.ndarray, a_weight: np.ndarray, b: np.ndarray, b_weight: np.ndarray) -> float:
    if a_weight.sum() == 0 or b_weight.sum() == 0:
        return 0.0
    mean_a = np.tensordot(a_weight, a, 2) / a_weight.sum()
    mean_b = np.tensordot(b_weight, b, 2) / b_weight.sum()
    return 0.5 * float(np.abs(mean_a - mean_b).sum())


def _side_shares(labels: np.ndarray, valid: np.ndarray, count: int) -> list[np.ndarray]:
    """Shares of the layers in the band along each of the four sides, (K,) each."""
    deep = [max(1, round(EDGE_SHARE * n)) for n in labels.shape]
    parts = (
        (slice(0, deep[0]), slice(None)),
        (slice(-deep[0], None), slice(None)),
        (slice(None), slice(0, deep[1])),
        (slice(None), slice(-deep[1], None)),
    )
    found = []
    for rows, columns in parts:
        own = labels[rows, columns][valid[rows, columns]]
        found.append(np.bincount(own, minlength=count)[:count] / max(own.size, 1))
    return found
