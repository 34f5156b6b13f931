"""Where on a board there is too much or too little of a layer, told tile by tile.

The target's own tiles show how much a layer varies from place to place. What a part of the board
shows beyond that is too much or too little there, whichever spot of the finish it is.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import label

from jartide.boards.match import match_layers
from jartide.reading.result import Reading
from jartide.reading.trust.samples import Samples
from jartide.wording import Message

# A part that is looked at is this share of the shorter side; beyond the target's own range it must
# lie by so much of its spread, and by so much of the face.
_PART = 0.25
_BEYOND_SD, _BEYOND = 0.5, 0.02
_MOST_SPOTS = 4
# Of spots that overlap by more than this, as a share of the smaller, the strongest is told.
_SAME_PLACE = 0.1
# Less than this of a part was read: it tells nothing.
_LEAST_READ = 0.5
# No part of the board shows more of a layer than this share of what the target has on average.
_HARDLY_ANY = 0.25
# A spot that takes so much of the board is everywhere.
_EVERYWHERE = 0.7


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """A part of the board with too much or too little of a layer.

    Attributes
    ----------
    layer : number of the target's layer
    points : how much too much (+) or too little beyond what the target shows anywhere, 0..1
    left, top, width, height : where, in shares of the board's picture
    """

    layer: int
    points: float
    left: float
    top: float
    width: float
    height: float
    words: Message


def where_layers(target: Reading, board: Reading) -> tuple[Spot, ...]:
    """Return the spots that differ most; none where a reading holds no samples or no scale."""
    if target.samples is None or board.samples is None:
        return ()
    if target.size_mm is None or board.size_mm is None:
        return ()
    part_mm = _PART * min(*target.size_mm, *board.size_mm)
    match = match_layers(target, board)
    of_board = dict(match.pairs)
    spots: list[Spot] = []
    for number in range(1, len(target.layers)):
        known = _parts(target.samples, number, target.size_mm, part_mm)
        own = _parts(board.samples, of_board.get(number), board.size_mm, part_mm)
        name = target.layers[number].name
        spots += _spots(number, name, known, own, board.samples.grid)
    spots.sort(key=lambda s: -abs(s.points) * s.width * s.height)
    kept: list[Spot] = []
    for spot in spots:
        if not any(_overlap(spot, other) > _SAME_PLACE for other in kept):
            kept.append(spot)
    return tuple(kept[:_MOST_SPOTS])


def _overlap(one: Spot, other: Spot) -> float:
    """Which share of the smaller of two spots lies within the other."""
    right = min(one.left + one.width, other.left + other.width)
    foot = min(one.top + one.height, other.top + other.height)
    wide, high = right - max(one.left, other.left), foot - max(one.top, other.top)
    smaller = min(one.width * one.height, other.width * other.height)
    return max(wide, 0.0) * max(high, 0.0) / smaller


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Parts:
    """A layer's cover of every part, (rows, columns), NaN where too little was read."""

    cover: np.ndarray
    tiles: tuple[int, int]  # how many tiles a part is high and wide


def _parts(
    samples: Samples, layer: int | None, size_mm: tuple[float, float], part_mm: float
) -> _Parts:
    rows, columns = samples.grid
    area = samples.area.reshape(rows, columns)
    if layer is None:
        covered = np.zeros_like(area)
    else:
        covered = np.array(samples.covers_px[layer], float).reshape(rows, columns)
    high = int(np.clip(round(part_mm / (size_mm[1] / rows)), 1, rows))
    wide = int(np.clip(round(part_mm / (size_mm[0] / columns)), 1, columns))
    window = (high, wide)
    whole = np.lib.stride_tricks.sliding_window_view(area, window).sum(axis=(2, 3))
    part = np.lib.stride_tricks.sliding_window_view(covered, window).sum(axis=(2, 3))
    full = high * wide * area.max(initial=1.0)
    with np.errstate(invalid="ignore", divide="ignore"):
        cover = np.where(whole >= _LEAST_READ * full, part / whole, np.nan)
    return _Parts(cover=cover, tiles=window)


def _spots(
    number: int, name: Message, known: _Parts, own: _Parts, grid: tuple[int, int]
) -> Iterator[Spot]:
    told = known.cover[np.isfinite(known.cover)]
    if told.size < 2 or not np.isfinite(own.cover).any():
        return
    mean, most = float(told.mean()), float(np.nanmax(own.cover))
    if most < _HARDLY_ANY * mean:
        # Where the target has next to none in places, no place by itself says that it is missing.
        words = Message("where.less.everywhere", layer=name)
        whole = {"left": 0.0, "top": 0.0, "width": 1.0, "height": 1.0}
        yield Spot(layer=number, points=most - mean, words=words, **whole)
        return
    margin = max(_BEYOND_SD * float(told.std()), _BEYOND)
    over = np.nan_to_num(own.cover - (float(told.max()) + margin), nan=-1.0)
    under = np.nan_to_num((float(told.min()) - margin) - own.cover, nan=-1.0)
    for beyond, sign in ((over, 1), (under, -1)):
        found, count = label(beyond > 0)
        for part in range(1, count + 1):
            rows, columns = np.nonzero(found == part)
            top, left = int(rows.min()), int(columns.min())
            height = int(rows.max()) + own.tiles[0] - top
            width = int(columns.max()) + own.tiles[1] - left
            share = height * width / (grid[0] * grid[1])
            where = "everywhere" if share >= _EVERYWHERE else "here"
            way = "more" if sign > 0 else "less"
            yield Spot(
                layer=number,
                points=sign * float((beyond[found == part] + margin).max()),
                left=left / grid[1],
                top=top / grid[0],
                width=width / grid[1],
                height=height / grid[0],
                words=Message(f"where.{way}.{where}", layer=name),
            )
