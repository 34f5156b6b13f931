"""Zones of a piece: field, ridges, hollows, edges, or a part of another family."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

# Tiles a side that zones are sought in, and how unlike their layers' shares must be.
_TILES = 12
_UNLIKE = 0.32
_EDGE_SHARE = 0.08
_LEAST_SHARE = 0.01


class ZoneKind(StrEnum):
    """What part of a piece a zone is."""

    FIELD = "field"
    RIDGES = "ridges"
    HOLLOWS = "hollows"
    EDGES = "edges"
    OTHER = "other"


Point = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """One zone of the squared surface.

    Attributes
    ----------
    outlines : closed outlines in shares of its width and height, from the top left; a
        point is in the zone when it lies within an odd number of them
    family : of the finish there; None for the piece's own
    """

    kind: ZoneKind
    name: str = ""
    outlines: tuple[tuple[Point, ...], ...]
    family: str | None = None

    def mask(self, shape: tuple[int, ...]) -> np.ndarray:
        """Return where the zone lies, (H, W) bool."""
        import cv2

        height, width = shape[:2]
        inside = np.zeros((height, width), np.uint8)
        rings = [
            np.rint(np.array(ring) * (width, height) * 16).astype(np.int32)
            for ring in self.outlines
            if len(ring) >= 3
        ]
        if rings:
            cv2.fillPoly(inside, rings, 1, 8, 4)
        return inside > 0


def edge_zone(share: float = _EDGE_SHARE) -> Zone:
    """Return the band along all four edges, `share` of the smaller side wide."""
    outer: tuple[Point, ...] = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
    inner = tuple((min(max(x, share), 1 - share), min(max(y, share), 1 - share)) for x, y in outer)
    return Zone(kind=ZoneKind.EDGES, outlines=(outer, inner))


def suggest_zones(seen: np.ndarray, valid: np.ndarray, count: int) -> tuple[Zone, ...]:
    """Return zones that the layers' shares speak for.

    Two parts with a straight border between them, where the shares on either side
    differ most (of all borders along rows or columns of tiles); and the band along
    the edges, where it differs from the middle. Shares are compared by half the sum
    of their differences, 0 to 1.

    Parameters
    ----------
    seen, valid : (H, W), the layer at each pixel, and where it counts
    count : number of layers
    """
    shares, weight = _tile_shares(seen, valid, count)
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
    band = rim.mask(seen.shape) & valid
    inner = ~rim.mask(seen.shape) & valid
    if band.any() and inner.any():
        here, there = (
            np.bincount(seen[part], minlength=count)[:count] / part.sum() for part in (band, inner)
        )
        sides = _side_shares(seen, valid, count)
        # A worn rim is worn all round: every side must differ from the middle alike.
        alike = all(
            0.5 * np.abs(side - there).sum() > 0.5 * _UNLIKE
            and float((side - there) @ (here - there)) > 0
            for side in sides
        )
        if 0.5 * np.abs(here - there).sum() > 0.6 * _UNLIKE and alike:
            found.append(rim)
    return tuple(found)


def _tile_shares(seen: np.ndarray, valid: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
    """Shares of each layer in each tile, (T, T, K), and the pixels that count there, (T, T)."""
    rows = np.minimum(np.arange(seen.shape[0]) * _TILES // seen.shape[0], _TILES - 1)
    columns = np.minimum(np.arange(seen.shape[1]) * _TILES // seen.shape[1], _TILES - 1)
    tile = (rows[:, None] * _TILES + columns[None])[valid]
    label = np.minimum(seen[valid], count - 1).astype(int)
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


def _side_shares(seen: np.ndarray, valid: np.ndarray, count: int) -> list[np.ndarray]:
    """Shares of the layers in the band along each of the four sides, (K,) each."""
    deep = [max(1, round(_EDGE_SHARE * n)) for n in seen.shape]
    parts = (
        (slice(0, deep[0]), slice(None)),
        (slice(-deep[0], None), slice(None)),
        (slice(None), slice(0, deep[1])),
        (slice(None), slice(-deep[1], None)),
    )
    found = []
    for rows, columns in parts:
        own = seen[rows, columns][valid[rows, columns]]
        found.append(np.bincount(own, minlength=count)[:count] / max(own.size, 1))
    return found


def shares_in(
    seen: np.ndarray, valid: np.ndarray, inside: np.ndarray, count: int
) -> tuple[float, np.ndarray]:
    """Return how much of the piece a zone is, and the layers' shares in it, (K,)."""
    own = valid & inside
    share = float(own.sum() / max(int(valid.sum()), 1))
    counts = np.bincount(seen[own], minlength=count)[:count].astype(float)
    return share, counts / max(counts.sum(), 1)


def large_enough(share: float) -> bool:
    """Whether a zone is large enough, as a share of the piece, to be read."""
    return share >= _LEAST_SHARE
