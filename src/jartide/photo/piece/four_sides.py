"""Which four lines bound the piece: borne out by edges, one surface inside, others beyond.

Every pair of upright and every pair of level lines is tried. The best few by their edges are
judged by what lies beside them: just inside a side it looks as all over the piece, just outside
it does not. A board of planks has many straight lines, but the same wood to either side of them.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.photo.piece.straight_lines import STEP_PX, StraightLine
from jartide.photo.piece.surface_kinds import KINDS

_LEAST_AREA, _MOST_AREA = 0.05, 0.985
# A side that nothing bears out is no side; the photo's border is borne out by itself, a little.
_LEAST_EDGE = 0.35
_FRAME_SCORE = 0.45
_TRIED = 260
_MASK_PX = 6000
# A corner may lie this far outside the photo, share of its size.
_BEYOND = 0.35


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FourSides:
    """Four lines around the piece.

    Attributes
    ----------
    corners : (4, 2) px, clockwise from the top left
    edges : (4,) share of each side that edges bear out; NaN where it is the photo's border
    apart : (4,) how much less what lies just outside looks like the piece than what lies
        just inside, -1..1; NaN as above
    lines : the four lines themselves, in the sides' order: top, right, bottom, left
    score : what it was chosen by
    framed : how many sides are the photo's borders
    """

    corners: np.ndarray
    edges: np.ndarray
    apart: np.ndarray
    lines: tuple[StraightLine, ...]
    score: float

    @property
    def framed(self) -> int:
        return int(np.isnan(self.edges).sum())


_SQUARE_COS = float(np.sin(np.radians(3.5)))


def best_four(
    uprights: list[StraightLine],
    levels: list[StraightLine],
    frames: tuple[int, int],
    kinds: np.ndarray,
    needed: np.ndarray,
    outside: np.ndarray,
    square: np.ndarray | None = None,
) -> list[FourSides]:
    """Return the best ways to bound the piece, best first.

    Parameters
    ----------
    uprights, levels : candidate lines; the last `frames` of each are the photo's borders
    kinds : (H, W) uint8, kinds of surface
    needed, outside : (N, 2) px each, points the piece must hold, and points it must not
    square : (3, 3) from px to a plane on which the piece has right angles; None if unknown
    """
    if len(uprights) < 2 or len(levels) < 2:
        return []
    height, width = kinds.shape
    cross = _crossings(uprights, levels)  # (U, L, 2)
    up_edge = _shares(uprights, cross, frames[0])  # (U, L, L)
    level_edge = _shares(levels, cross.transpose(1, 0, 2), frames[1])  # (L, U, U)
    u, v = _pairs(uprights, 0, width, height / 2)
    s, t = _pairs(levels, 1, height, width / 2)
    left, right = np.repeat(u, len(s)), np.repeat(v, len(s))
    top, bottom = np.tile(s, len(u)), np.tile(t, len(u))
    a, b, c, d = cross[left, top], cross[right, top], cross[right, bottom], cross[left, bottom]
    good = (a[:, 0] < b[:, 0]) & (d[:, 0] < c[:, 0]) & (a[:, 1] < d[:, 1]) & (b[:, 1] < c[:, 1])
    ring = np.stack([a, b, c, d], axis=1)
    x, y = ring[..., 0], ring[..., 1]
    area = (
        0.5 * np.abs((x * np.roll(y, -1, 1) - np.roll(x, -1, 1) * y).sum(axis=1)) / (width * height)
    )
    good &= (area > _LEAST_AREA) & (area < _MOST_AREA * (1 + _BEYOND))
    low, high = ring.min(axis=1), ring.max(axis=1)
    size = np.array([width, height])
    good &= np.all(low > -_BEYOND * size, axis=1) & np.all(high < (1 + _BEYOND) * size, axis=1)
    for point in needed:
        good &= _holds(ring, point)
    for point in outside:
        good &= ~_holds(ring, point)
    edges = np.stack(
        [
            level_edge[top, left, right],
            up_edge[right, top, bottom],
            level_edge[bottom, left, right],
            up_edge[left, top, bottom],
        ],
        axis=1,
    )
    framed = np.isnan(edges)
    worst = np.where(framed, 1.0, edges).min(axis=1)
    good &= (worst >= _LEAST_EDGE) & (framed.sum(axis=1) < 4)
    if square is not None:
        good[good] &= _is_square(ring[good], square)
    chosen = np.flatnonzero(good)
    if chosen.size == 0:
        return []
    rank = np.where(framed, _FRAME_SCORE, edges).mean(axis=1) + 0.5 * np.minimum(worst, 0.8)
    # Of two the larger is tried first: what lies beside its sides decides.
    rank += 0.15 * np.sqrt(np.minimum(area, 1))
    chosen = chosen[np.argsort(-rank[chosen])][:_TRIED]
    lines = (levels, uprights, levels, uprights)
    numbers = np.stack([top, right, bottom, left], axis=1)[chosen]
    return _judged(ring[chosen], edges[chosen], numbers, lines, kinds)


def _pairs(
    lines: list[StraightLine], axis: int, size: int, middle: float
) -> tuple[np.ndarray, np.ndarray]:
    """Pairs of lines, the first left of the second, or above it, half way across the photo."""
    at = np.array([(n.offset - n.normal[1 - axis] * middle) / n.normal[axis] for n in lines])
    first, second = np.nonzero(at[None] - at[:, None] > _LEAST_AREA * size)
    return first, second


def _crossings(uprights: list[StraightLine], levels: list[StraightLine]) -> np.ndarray:
    """Where each upright line meets each level one, (U, L, 2)."""
    n = np.array([line.normal for line in uprights])[:, None]
    m = np.array([line.normal for line in levels])[None]
    p = np.array([line.offset for line in uprights])[:, None]
    q = np.array([line.offset for line in levels])[None]
    turn = n[..., 0] * m[..., 1] - n[..., 1] * m[..., 0]
    turn = np.where(np.abs(turn) < 1e-3, np.nan, turn)
    x = (p * m[..., 1] - q * n[..., 1]) / turn
    y = (q * n[..., 0] - p * m[..., 0]) / turn
    return np.stack([x, y], axis=-1)


def _shares(lines: list[StraightLine], cross: np.ndarray, frames: int) -> np.ndarray:
    """Which share of each line between two of its crossings edges bear out, (N, M, M)."""
    count, other = cross.shape[:2]
    found = np.full((count, other, other), np.nan)
    for n, line in enumerate(lines[: count - frames]):
        at = line.steps(cross[n] @ line.along)
        first, last = np.minimum(at[:, None], at[None]), np.maximum(at[:, None], at[None])
        edge, seen = line.edge[last] - line.edge[first], line.seen[last] - line.seen[first]
        # A side of which hardly anything is seen tells nothing.
        found[n] = np.where(seen * STEP_PX > 12, edge / np.maximum(seen, 1), 0.0)
    return found


def _holds(ring: np.ndarray, point: np.ndarray) -> np.ndarray:
    """Which outlines, (Q, 4, 2) clockwise as seen, hold a point."""
    inside = np.ones(len(ring), bool)
    for n in range(4):
        a, b = ring[:, n], ring[:, (n + 1) % 4]
        side, to = b - a, point - a
        inside &= side[:, 0] * to[:, 1] - side[:, 1] * to[:, 0] > 0
    return inside


def _is_square(ring: np.ndarray, square: np.ndarray) -> np.ndarray:
    """Which outlines have right angles on the plane."""
    on = np.concatenate([ring, np.ones((*ring.shape[:2], 1))], axis=2) @ square.T
    on = on[..., :2] / on[..., 2:]
    sides = np.roll(on, -1, axis=1) - on
    sides /= np.maximum(np.linalg.norm(sides, axis=2, keepdims=True), 1e-9)
    return np.abs((sides * np.roll(sides, -1, axis=1)).sum(axis=2)).max(axis=1) < _SQUARE_COS


def _judged(
    rings: np.ndarray,
    edges: np.ndarray,
    numbers: np.ndarray,
    lines: tuple[list[StraightLine], ...],
    kinds: np.ndarray,
) -> list[FourSides]:
    """Judge outlines, (Q, 4, 2), by what lies inside and beside them; best first."""
    height, width = kinds.shape
    scale = (_MASK_PX / (height * width)) ** 0.5
    small = cv2.resize(
        kinds, (round(width * scale), round(height * scale)), interpolation=cv2.INTER_NEAREST
    )
    found = []
    for ring, edge, number in zip(rings, edges, numbers, strict=True):
        mask = np.zeros(small.shape, np.uint8)
        cv2.fillPoly(mask, [np.rint((ring * scale - 0.5) * 16).astype(np.int32)], 1, shift=4)
        inside = np.bincount(small[mask > 0], minlength=256)[:KINDS].astype(float)
        beyond = np.bincount(small[mask == 0], minlength=256)[:KINDS].astype(float)
        apart = np.full(4, np.nan)
        own = tuple(lines[n][number[n]] for n in range(4))
        for n in range(4):
            if np.isnan(edge[n]):
                continue
            line = own[n]
            steps = line.steps(np.stack([ring[n], ring[(n + 1) % 4]]) @ line.along)
            first, last = int(steps.min()), int(steps.max())
            before = line.before[last] - line.before[first]
            behind = line.behind[last] - line.behind[first]
            # Top and left: the piece lies where the normal points to.
            inner, outer = (behind, before) if n in (0, 3) else (before, behind)
            apart[n] = difference(outer, inside) - difference(inner, inside)
        rest = difference(inside, beyond) if beyond.sum() > 0.02 * inside.sum() else 0.0
        sides = np.where(np.isnan(edge), _FRAME_SCORE, edge)
        looks = np.where(np.isnan(apart), 0.0, apart)
        score = float(sides.mean() + 0.3 * sides.min() + 0.8 * looks.mean() + 0.3 * looks.min())
        score += 0.5 * rest
        found.append(FourSides(corners=ring, edges=edge, apart=apart, lines=own, score=score))
    return sorted(found, key=lambda four: -four.score)


def difference(one: np.ndarray, other: np.ndarray) -> float:
    """Return how little two counts of kinds, (K,), overlap, 0..1.

    1 less the coefficient of Bhattacharyya (1943).
    """
    total = one.sum() * other.sum()
    if total <= 0:
        return 0.0
    return 1 - float(np.sqrt(one * other).sum() / np.sqrt(total))
