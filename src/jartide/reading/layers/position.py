"""Where on its piece a layer sits: at the edges or in the middle, towards the foot or the top."""

from __future__ import annotations

import numpy as np

from jartide.reading.result import Position, Sits
from jartide.reading.trust.measured import Measured, jackknife_half_width, measured
from jartide.reading.trust.tiles import TILES, tile_of

# The rim reaches this far in, the middle begins there: shares of the shorter side.
_RIM, _MIDDLE = 0.10, 0.22
# How far a cover in a rim or third may be off by itself, as a strength.
_OWN = 0.03
# A few large clouds lie where they lie: tiles that share one tell too little of chance. Set on
# clouds thrown at random, so that one piece in ten is said to be anything but even.
_CHANCE = 1.7
# Weaker than this no eye sees it.
_SEEN = 0.15
_STRIDE = 2


def measure_position(cover: np.ndarray, valid: np.ndarray) -> Position:
    """Return where a layer sits on a piece whose edges are those of what was read.

    Each strength is (a - b) / (a + b) of two covers: of the rim, a tenth of the shorter side wide,
    against the middle; of the lower third against the upper one. 0 is even, 1 all at the
    edges or the foot, -1 all in the middle or at the top.

    Parameters
    ----------
    cover : (H, W) float, how much of the layer is seen at each pixel
    valid : (H, W) bool, what was read
    """
    rows, columns = np.nonzero(valid[::_STRIDE, ::_STRIDE])
    rows, columns = rows * _STRIDE, columns * _STRIDE
    share = cover[rows, columns].astype(float)
    top, foot, left, right = rows.min(), rows.max() + 1, columns.min(), columns.max() + 1
    y, x = rows + 0.5 - top, columns + 0.5 - left
    height, width = float(foot - top), float(right - left)
    inwards = np.minimum(np.minimum(x, width - x), np.minimum(y, height - y)) / min(width, height)
    tiles = tile_of(rows, columns, valid)
    rim, middle = inwards < _RIM, inwards > _MIDDLE
    low, high = y > 2 / 3 * height, y < height / 3
    return Position(
        edges=_strength(share, tiles, rim, middle), foot=_strength(share, tiles, low, high)
    )


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
    for value, more, less in (
        (position.edges, Sits.EDGES, Sits.MIDDLE),
        (position.foot, Sits.FOOT, Sits.TOP),
    ):
        if value.value is None or value.sampling is None or abs(value.value) < _SEEN:
            continue
        low, high = value.sampling
        if low > 0 or high < 0:
            found.append((abs(value.value), more if value.value > 0 else less))
    return max(found)[1] if found else Sits.EVEN
