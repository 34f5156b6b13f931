"""Where on its piece a layer sits: at the edges or in the middle, towards the foot or the top."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jartide.reading.result import Position, Sits
from jartide.reading.trust.measured import Measured, jackknife_half_width, measured, unknown
from jartide.reading.trust.tiles import TILES, tile_of

# The rim reaches this far in, the middle begins there: shares of the shorter side.
_RIM, _MIDDLE, _CORNER = 0.10, 0.22, 0.20
# Where bands of distance from the edges begin, shares of the shorter side.
_BANDS_IN = (0.0, 0.05, 0.1, 0.2, 0.3, 0.5)
# More than this is all of it; a strength of 0.8 is nine times as much.
_MOST = 0.8
# How far a cover in a rim or third may be off by itself, as a strength.
_OWN = 0.03
# A few large clouds lie where they lie: tiles that share one tell too little of chance. Set on
# clouds thrown at random, so that one piece in ten is said to be anything but even.
_CHANCE = 1.7
# Weaker than this no eye sees it.
_SEEN = 0.15
_STRIDE = 2


def measure_position(
    cover: np.ndarray,
    valid: np.ndarray,
    *,
    whole_piece: bool = True,
    hollows: np.ndarray | None = None,
    ridges: np.ndarray | None = None,
) -> Position | None:
    """Return where a layer sits on its piece; None where nothing of the piece is known.

    Each strength is (a - b) / (a + b) of two covers: of the rim, a tenth of the shorter side wide,
    against the middle; of the corners, twice as wide both ways, against the rest of the rim; of
    the lower third against the upper one; of the hollows against the ridges. 0 is even, 1 all in
    the one, -1 all in the other.

    Parameters
    ----------
    cover : (H, W) float, how much of the layer is seen at each pixel
    valid : (H, W) bool, what was read
    whole_piece : whether the edges of what was read are the piece's own
    hollows, ridges : (H, W) bool, where they lie; None where they are not known
    """
    rows, columns = np.nonzero(valid[::_STRIDE, ::_STRIDE])
    rows, columns = rows * _STRIDE, columns * _STRIDE
    share = cover[rows, columns].astype(float)
    tiles = tile_of(rows, columns, valid)
    if not rows.size or not (whole_piece or (hollows is not None and ridges is not None)):
        return None
    found = Position(edges=unknown("reason.no_edges"), foot=unknown("reason.no_edges"))
    if whole_piece:
        top, foot, left, right = rows.min(), rows.max() + 1, columns.min(), columns.max() + 1
        y, x = rows + 0.5 - top, columns + 0.5 - left
        height, width = float(foot - top), float(right - left)
        side = min(width, height)
        beside, above = np.minimum(x, width - x) / side, np.minimum(y, height - y) / side
        inwards = np.minimum(beside, above)
        rim, middle = inwards < _RIM, inwards > _MIDDLE
        corner = rim & (np.maximum(beside, above) < _CORNER)
        found = Position(
            edges=_strength(share, tiles, rim, middle),
            corners=_strength(share, tiles, corner, rim & ~corner),
            foot=_strength(share, tiles, y > 2 / 3 * height, y < height / 3),
            by_edge=_in_bands(share, inwards, np.array(_BANDS_IN)),
            by_height=_in_bands(share, (height - y) / height, np.linspace(0, 1, 6)),
        )
    if hollows is not None and ridges is not None:
        low, high = hollows[rows, columns], ridges[rows, columns]
        if low.any() and high.any():
            found = replace(found, hollows=_strength(share, tiles, low, high))
    return found


def _in_bands(share: np.ndarray, place: np.ndarray, limits: np.ndarray) -> tuple[float, ...]:
    """Return the mean cover, (N,), in each band between two limits; the last one is open."""
    number = np.clip(np.searchsorted(limits, place, side="right") - 1, 0, len(limits) - 2)
    sums = np.bincount(number, share, len(limits) - 1)
    counts = np.bincount(number, minlength=len(limits) - 1)
    return tuple(float(v) for v in sums / np.maximum(counts, 1))


def _strength(share: np.ndarray, tiles: np.ndarray, one: np.ndarray, other: np.ndarray) -> Measured:
    """How much more of a layer there is in one part than in another, (a - b) / (a + b)."""
    sums = [np.bincount(tiles[part], share[part], TILES) for part in (one, other)]
    counts = [np.bincount(tiles[part], minlength=TILES).astype(float) for part in (one, other)]

    def of(keep: np.ndarray) -> float:
        a, b = (
            own[keep].sum() / max(count[keep].sum(), 1.0)
            for own, count in zip(sums, counts, strict=True)
        )
        return float((a - b) / max(a + b, 1e-9))

    used = np.arange(TILES)
    half = _CHANCE * jackknife_half_width(used, lambda k: of(used[k]))
    return measured(of(used), _OWN, half, least=-1.0)


def sits(position: Position) -> Sits:
    """Return where a layer plainly sits: what is strong enough to be seen and no chance."""
    found: list[tuple[float, Sits]] = []
    pairs: tuple[tuple[Measured, Sits, Sits | None], ...] = (
        (position.edges, Sits.EDGES, Sits.MIDDLE),
        (position.corners, Sits.CORNERS, None),
        (position.foot, Sits.FOOT, Sits.TOP),
        (position.hollows, Sits.HOLLOWS, Sits.RIDGES),
    )
    for value, more, less in pairs:
        strength = value.value
        if strength is not None and is_plain(value):
            where = more if strength > 0 else less
            if where is not None:
                found.append((abs(strength), where))
    return max(found)[1] if found else Sits.EVEN


def is_plain(value: Measured) -> bool:
    """Whether a strength is strong enough to be seen and no chance."""
    if value.value is None or value.sampling is None or abs(value.value) < _SEEN:
        return False
    low, high = value.sampling
    return low > 0 or high < 0


def times_as_much(position: Position, where: Sits) -> float:
    """Return how many times as much of a layer there is where it sits as where it doesn't."""
    value = {
        Sits.EDGES: position.edges,
        Sits.MIDDLE: position.edges,
        Sits.CORNERS: position.corners,
        Sits.FOOT: position.foot,
        Sits.TOP: position.foot,
        Sits.HOLLOWS: position.hollows,
        Sits.RIDGES: position.hollows,
    }.get(where)
    strength = 0.0 if value is None or value.value is None else min(abs(value.value), _MOST)
    return (1 + strength) / (1 - strength)
