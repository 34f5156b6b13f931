"""Find the edges of the board, panel or tile that the photo card lies on.

With the card the plane is square, so a board is an upright or turned rectangle
on it. Straight edges are gathered along two directions at right angles; the
rectangle around the card whose four sides are best borne out by edges is the
board. A wall has none, and a doubtful one is none.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

import cv2
import numpy as np

from jartide.photo.card.find import CardSighting
from jartide.photo.flatten import Extent, PlaneMap, seen_extent
from jartide.photo.load import Photo
from jartide.photo.render import where_of
from jartide.photo.settings import Point
from jartide.photo.shrink import shrunk

_LOOK_PX = 300_000
_STEEPEST = 3.0
# Edges may turn this far from their line and lie this far beside it.
_AGREE_DEG = 9.0
_BAND_PX = 1.6
_BIN_PX = 3
_MOST_LINES = 16
# The least share of a side that edges must bear out, and of all four together.
_LEAST_SIDE = 0.6
_LEAST_MEAN = 0.75
_CARD_MARGIN_MM = 3.0
_NEAR_CARDS = 1.8
# What lies this near a board's edge is its edge and shadow.
_INSET_MM = 0.6

Corners = tuple[Point, Point, Point, Point]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Line:
    """A line across the turned picture: where, and the summed occupancy of its bins."""

    at: float
    heap: np.ndarray

    def share(self, start: float, end: float) -> float:
        """Return which share of the line between two places is borne out."""
        last = len(self.heap) - 1
        first = int(np.clip(round(start / _BIN_PX), 0, last))
        stop = int(np.clip(round(end / _BIN_PX), 0, last))
        return float(self.heap[stop] - self.heap[first]) / max(stop - first, 1)


def find_board(photo: Photo, card: CardSighting, height_mm: float = 0.0) -> Corners | None:
    """Return the board's corners in the photo, px, clockwise from its top left; None if unsure.

    They lie just inside its edges, so that the edge itself is not read.
    """
    plane = PlaneMap(matrix=np.linalg.inv(card.pose.homography(height_mm)), lens=card.pose.lens)
    extent = seen_extent(plane, photo.size, _STEEPEST)
    if extent is None:
        return None
    ring = np.array(card.card.outline) * card.print_scale
    on_plane, reduced = None, _reduced(photo)
    # A board is mostly a few cards large; a door is found in the whole.
    for part in (_around(extent, ring), extent):
        per_mm = (_LOOK_PX / (part.width * part.height)) ** 0.5
        flat = _quickly_drawn(reduced, photo, plane, part, per_mm)
        found = _rectangle(*flat, (ring - (part.left, part.top)) * per_mm, per_mm)
        if found is not None:
            on_plane = found / per_mm + (part.left, part.top)
            break
        if part.width * part.height > 0.5 * extent.width * extent.height:
            return None
    if on_plane is None or np.any(np.ptp(on_plane, axis=0) < 20):
        return None
    px = plane.to_photo(on_plane)
    width, height = photo.size
    if not np.all(np.isfinite(px)) or px.min() < 0 or np.any(px.max(axis=0) > (width, height)):
        return None
    # The first side is the one that runs most to the photo's right.
    first = int(np.argmax([(px[(n + 1) % 4] - px[n])[0] for n in range(4)]))
    a, b, c, d = ((round(float(x), 1), round(float(y), 1)) for x, y in np.roll(px, -first, axis=0))
    return a, b, c, d


def _around(extent: Extent, ring: np.ndarray) -> Extent:
    """The part of the plane within a few cards' lengths of the card."""
    reach = _NEAR_CARDS * float(np.ptp(ring, axis=0).max())
    low = np.maximum(ring.min(axis=0) - reach, (extent.left, extent.top))
    far = (extent.left + extent.width, extent.top + extent.height)
    high = np.maximum(np.minimum(ring.max(axis=0) + reach, far), low + 1)
    left, top = (float(v) for v in low)
    width, height = (float(v) for v in high - low)
    return Extent(left=left, top=top, width=width, height=height)


def _reduced(photo: Photo) -> np.ndarray:
    """The photo, (H, W, 3) uint8, small enough to look for edges in."""
    code = photo.code if photo.code.dtype == np.uint8 else (photo.code >> 8).astype(np.uint8)
    ratio = min(1.0, (4 * _LOOK_PX / (photo.size[0] * photo.size[1])) ** 0.5)
    small = (max(8, round(photo.size[0] * ratio)), max(8, round(photo.size[1] * ratio)))
    return shrunk(code, small)


def _quickly_drawn(
    reduced: np.ndarray, photo: Photo, plane: PlaneMap, extent: Extent, per_mm: float
) -> tuple[np.ndarray, np.ndarray]:
    """The plane drawn flat and small, encoded 0..1, for edges, not for colours; and where it
    lies well inside the photo, (H, W) bool.
    """
    small = (reduced.shape[1], reduced.shape[0])
    size = (max(8, round(extent.width * per_mm)), max(8, round(extent.height * per_mm)))
    where = where_of(plane, extent, size) * (np.array(small) / np.array(photo.size)) - 0.5
    x, y = cv2.split(np.nan_to_num(where, nan=-9).astype(np.float32))
    drawn = cv2.remap(reduced, x, y, cv2.INTER_LINEAR).astype(np.float32) / 255
    inside = (x > 1) & (y > 1) & (x < small[0] - 2) & (y < small[1] - 2)
    return drawn, cv2.erode(inside.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0


def _rectangle(
    rgb: np.ndarray, inside: np.ndarray, card: np.ndarray, per_mm: float
) -> np.ndarray | None:
    """Corners, (4, 2), of the best rectangle around the card's outline, px of the flat picture."""
    points, angles = _edge_points(rgb, inside)
    if len(points) < 200:
        return None
    middle = np.array(rgb.shape[1::-1]) / 2
    turn = _main_direction(points - middle, angles)
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    to_level = np.array([[c, s], [-s, c]])
    turned = (points - middle) @ to_level.T
    low = turned.min(axis=0) - 1
    turned -= low
    off = (angles - turn + 90) % 180 - 90
    is_level = np.abs(off) < _AGREE_DEG
    is_upright = np.abs(np.abs(off) - 90) < _AGREE_DEG
    margin = _CARD_MARGIN_MM * per_mm
    ring = (card - middle) @ to_level.T - low
    (x0, y0), (x1, y1) = ring.min(axis=0) - margin, ring.max(axis=0) + margin
    uprights = _lines(turned[is_upright][:, 0], turned[is_upright][:, 1])
    levels = _lines(turned[is_level][:, 1], turned[is_level][:, 0])
    sides = _best_sides(uprights, levels, (x0, y0, x1, y1))
    if sides is None:
        return None
    left, top, right, bottom = sides
    upright, level = turned[is_upright], turned[is_level]
    fits = [
        _fitted(upright[:, 1], upright[:, 0], left.at, top.at, bottom.at),
        _fitted(level[:, 0], level[:, 1], top.at, left.at, right.at),
        _fitted(upright[:, 1], upright[:, 0], right.at, top.at, bottom.at),
        _fitted(level[:, 0], level[:, 1], bottom.at, left.at, right.at),
    ]
    inset = _INSET_MM * per_mm
    fits = [(slope, at + (inset if n < 2 else -inset)) for n, (slope, at) in enumerate(fits)]
    corners = np.array([_meet(fits[u], fits[v]) for u, v in ((0, 1), (2, 1), (2, 3), (0, 3))])
    return (corners + low) @ to_level + middle


def _edge_points(rgb: np.ndarray, inside: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Edge pixels, (N, 2) x and y, and the direction of their edge, degrees in [0, 180)."""
    smooth = cv2.GaussianBlur(rgb, (0, 0), 1.0)
    # The strongest channel: a green board on a brown bench may be as light as it.
    dx = np.stack([cv2.Sobel(smooth[..., n], cv2.CV_32F, 1, 0) for n in range(3)])
    dy = np.stack([cv2.Sobel(smooth[..., n], cv2.CV_32F, 0, 1) for n in range(3)])
    size = np.hypot(dx, dy)
    pick = size.argmax(axis=0)[None]
    dx, dy, size = (np.take_along_axis(v, pick, axis=0)[0] for v in (dx, dy, size))
    # Crests of the gradient only.
    across_x = np.abs(dx) > np.abs(dy)
    beside = np.where(
        across_x,
        np.maximum(np.roll(size, 1, 1), np.roll(size, -1, 1)),
        np.maximum(np.roll(size, 1, 0), np.roll(size, -1, 0)),
    )
    strong = (size >= beside) & (size > max(0.03, float(np.quantile(size, 0.6)))) & inside
    strong[:3], strong[-3:], strong[:, :3], strong[:, -3:] = False, False, False, False
    rows, columns = np.nonzero(strong)
    # The picture's y points down, the edge runs across the gradient.
    angles = np.degrees(np.arctan2(dy[rows, columns], dx[rows, columns])) + 90
    return np.column_stack([columns + 0.5, rows + 0.5]), angles % 180


def _main_direction(points: np.ndarray, angles: np.ndarray) -> float:
    """The turn, degrees, at which edges along it and across it gather on the fewest lines."""
    few = slice(None, None, max(1, len(points) // 15_000))
    points, angles = points[few], angles[few]
    coarse = np.arange(-45, 45, 1.5)
    scores = [_gathered(points, angles, turn, 4.0) for turn in coarse]
    fine = {
        float(turn)
        for n in np.argsort(scores)[-3:]
        for turn in np.arange(coarse[n] - 1, coarse[n] + 1.1, 0.5)
    }
    return max(sorted(fine), key=lambda turn: _gathered(points, angles, turn, 1.0))


def _gathered(points: np.ndarray, angles: np.ndarray, turn: float, bin_px: float) -> float:
    """How strongly edges of both directions gather on a few lines, at one turn."""
    off = (angles - turn + 90) % 180 - 90
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    score = 0.0
    for own, across in (
        (np.abs(off) < _AGREE_DEG / 2, np.array([-s, c])),
        (np.abs(np.abs(off) - 90) < _AGREE_DEG / 2, np.array([c, s])),
    ):
        at = points[own] @ across
        if len(at) > 50:
            counts = np.bincount(((at - at.min()) / bin_px).astype(int))
            score += float(np.sum(np.sort(counts)[-6:].astype(float) ** 2))
    return score


def _lines(at: np.ndarray, along: np.ndarray) -> list[_Line]:
    """The places across which most edge points gather, each with its occupancy along it."""
    if len(at) < 20:
        return []
    counts = np.bincount(np.round(at).astype(int))
    summed = np.convolve(counts, np.ones(3), "same")
    bins = int(along.max() // _BIN_PX) + 2
    found: list[_Line] = []
    for place in np.argsort(-summed):
        if len(found) == _MOST_LINES or summed[place] < 15:
            break
        if any(abs(place - line.at) < 4 for line in found):
            continue
        own = np.abs(at - place) < _BAND_PX
        filled = np.zeros(bins)
        filled[(along[own] // _BIN_PX).astype(int)] = 1
        heap = np.concatenate([[0.0], np.cumsum(filled)])
        found.append(_Line(at=float(np.median(at[own])), heap=heap))
    return found


def _best_sides(
    uprights: list[_Line], levels: list[_Line], card: tuple[float, float, float, float]
) -> tuple[_Line, _Line, _Line, _Line] | None:
    """Left, top, right and bottom line whose rectangle around the card is borne out best."""
    x0, y0, x1, y1 = card
    lefts = [line for line in uprights if line.at < x0]
    rights = [line for line in uprights if line.at > x1]
    tops = [line for line in levels if line.at < y0]
    bottoms = [line for line in levels if line.at > y1]
    best, most = None, _LEAST_MEAN
    for left, top, right, bottom in product(lefts, tops, rights, bottoms):
        shares = (
            left.share(top.at, bottom.at),
            right.share(top.at, bottom.at),
            top.share(left.at, right.at),
            bottom.share(left.at, right.at),
        )
        if min(shares) >= _LEAST_SIDE and sum(shares) / 4 > most:
            best, most = (left, top, right, bottom), sum(shares) / 4
    return best


def _fitted(
    along: np.ndarray, at: np.ndarray, near: float, start: float, end: float
) -> tuple[float, float]:
    """(slope, offset) of a side: at = slope * along + offset, by its own edge points."""
    own = (np.abs(at - near) < _BAND_PX * 2) & (along > start + 3) & (along < end - 3)
    if own.sum() < 20:
        return 0.0, near
    rows = np.column_stack([along[own], np.ones(own.sum())])
    weight = np.ones(own.sum())
    solved = np.array([0.0, near])
    for _ in range(4):
        solved = np.linalg.lstsq(rows * weight[:, None], at[own] * weight, rcond=None)[0]
        weight = 1 / (1 + ((at[own] - rows @ solved) / 0.5) ** 2)
    return float(solved[0]), float(solved[1])


def _meet(upright: tuple[float, float], level: tuple[float, float]) -> tuple[float, float]:
    """Where x = a y + b meets y = c x + d."""
    (a, b), (c, d) = upright, level
    y = (c * b + d) / (1 - a * c)
    return a * y + b, y
