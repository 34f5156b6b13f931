"""Straight lines of a reduced photo that may be sides of a piece.

Crests of the colour's gradient vote for the lines through them (Duda & Hart 1972), each only for
its own direction. A line is as long as the crests bear it out; what lies to either side of it is
kept as counts of kinds of surface, so that any stretch of it can be compared with any other.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.photo.piece.surface_kinds import KINDS, NO_KIND

# Edges may turn this far from their line: of a bold side, and of one that is hard to see; and lie
# this far beside it.
STRICT_DEG, WIDE_DEG = 3, 8
_AGREE_MORE_DEG = 8.0
_BESIDE_PX = 1.7
# Places along a line lie this far apart; strips beside it reach from and to this far from it.
STEP_PX = 2.0
_STRIP_PX = (3.0, 5.0, 7.5, 10.0)
_MOST_LINES = 48
# Edges fainter than this, Lab units a pixel, are none, unless nearly all of the photo is fainter.
_FAINTEST, _FAINT_SHARE = 0.7, 0.85
# Lines nearer than this are one.
_APART_DEG, _APART_PX = 4, 3
# After fitting, lines that lie nowhere farther apart than this are one.
_ONE_LINE_PX = 1.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class StraightLine:
    """A line a x + b y = c with (a, b) of length 1, and what lies along it.

    Attributes
    ----------
    normal, offset : (a, b) and c; places along it are measured by the dot product with (-b, a)
    start : place of the first step
    edge : (N + 1,) running sum of steps where an edge lies on it
    seen : (N + 1,) running sum of steps inside the photo
    before, behind : (N + 1, K) running counts of kinds of surface on the side the normal points
        away from, and on the side it points to
    """

    normal: np.ndarray
    offset: float
    start: float
    edge: np.ndarray
    seen: np.ndarray
    before: np.ndarray
    behind: np.ndarray

    @property
    def along(self) -> np.ndarray:
        """The unit vector places are measured along, (2,)."""
        return np.array([-self.normal[1], self.normal[0]])

    def steps(self, place: np.ndarray) -> np.ndarray:
        """Return the step of places along the line, any shape, int."""
        step = np.rint((place - self.start) / STEP_PX)
        return np.clip(np.nan_to_num(step), 0, len(self.edge) - 1).astype(int)

    def borne_out(self, start: np.ndarray, end: np.ndarray) -> float:
        """Return which share of the line between two points, (2,) px each, edges bear out."""
        first, last = sorted(self.steps(np.stack([start, end]) @ self.along))
        seen = self.seen[last] - self.seen[first]
        return float((self.edge[last] - self.edge[first]) / max(seen, 1))


def find_straight_lines(
    lab: np.ndarray, kinds: np.ndarray, turn_deg: int = STRICT_DEG
) -> tuple[list[StraightLine], list[StraightLine]]:
    """Return the upright and the level lines of a picture.

    Parameters
    ----------
    lab : (H, W, 3) float32, Lab
    kinds : (H, W) uint8, which kind of surface each pixel shows
    turn_deg : how far edges may turn from the line they vote for
    """
    points, angles, weights = _crests(lab)
    # What is left out of the counts, the photo card, has no say in lines either.
    open_ = cv2.dilate((kinds == NO_KIND).astype(np.uint8), np.ones((5, 5))) == 0
    own = open_[points[:, 1].astype(int), points[:, 0].astype(int)]
    points, angles, weights = points[own], angles[own], weights[own]
    if len(points) < 50:
        return [], []
    height, width = lab.shape[:2]
    votes, reach = _votes(points, angles, weights, (height, width), turn_deg)
    found: tuple[list[StraightLine], list[StraightLine]] = ([], [])
    for theta, rho in _peaks(votes):
        # The normal lies at theta: an upright line's is about level.
        upright = abs((theta + 90) % 180 - 90) < 45
        own = found[0 if upright else 1]
        if len(own) < _MOST_LINES:
            line = _fitted(points, angles, kinds, (np.radians(theta), rho - reach), turn_deg)
            # Several guesses end at one bold line: it would take the places of fainter ones.
            if all(_apart_px(line, other, lab.shape[:2]) > _ONE_LINE_PX for other in own):
                own.append(line)
    return found


def _apart_px(one: StraightLine, other: StraightLine, shape: tuple[int, ...]) -> float:
    """How far two lines of one way lie apart inside the photo at most, px, nearly."""
    height, width = shape
    middle = np.array([width / 2, height / 2])
    beside = (one.normal @ middle - one.offset) - (other.normal @ middle - other.offset)
    turned = np.linalg.norm(one.normal - other.normal)
    return float(abs(beside) + turned * np.hypot(width, height) / 2)


def frame_lines(size: tuple[int, int]) -> tuple[list[StraightLine], list[StraightLine]]:
    """Return the photo's own borders as lines that nothing bears out: upright ones, level ones."""
    width, height = size

    def border(normal: tuple[float, float], offset: float) -> StraightLine:
        none = np.zeros(2)
        counts = np.zeros((2, KINDS))
        return StraightLine(
            normal=np.array(normal),
            offset=offset,
            start=0.0,
            edge=none,
            seen=none,
            before=counts,
            behind=counts,
        )

    return (
        [border((1.0, 0.0), 0.0), border((1.0, 0.0), float(width))],
        [border((0.0, 1.0), 0.0), border((0.0, 1.0), float(height))],
    )


def _crests(lab: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Edge pixels, (N, 2) x and y; the direction of their normal, degrees; their weight."""
    smooth = cv2.GaussianBlur(lab, (0, 0), 1.0)
    dx = np.stack([cv2.Scharr(smooth[..., n], cv2.CV_32F, 1, 0, scale=1 / 32) for n in range(3)])
    dy = np.stack([cv2.Scharr(smooth[..., n], cv2.CV_32F, 0, 1, scale=1 / 32) for n in range(3)])
    # The direction in which colour changes most (Di Zenzo 1986).
    xx, yy, xy = (dx * dx).sum(0), (dy * dy).sum(0), (dx * dy).sum(0)
    size = np.sqrt(np.maximum((xx + yy + np.hypot(xx - yy, 2 * xy)) / 2, 0))
    normal = 0.5 * np.arctan2(2 * xy, xx - yy)
    cx, cy = np.abs(np.cos(normal)), np.abs(np.sin(normal))
    across_x = cx > cy
    beside = np.where(
        across_x,
        np.maximum(np.roll(size, 1, 1), np.roll(size, -1, 1)),
        np.maximum(np.roll(size, 1, 0), np.roll(size, -1, 0)),
    )
    faintest = min(_FAINTEST, float(np.quantile(size, _FAINT_SHARE)))
    strong = (size >= beside) & (size > faintest)
    strong[:3], strong[-3:], strong[:, :3], strong[:, -3:] = False, False, False, False
    rows, columns = np.nonzero(strong)
    # A bold edge says little more than a faint one: the wall's corner must not drown the board.
    weight = np.sqrt(np.minimum(size[rows, columns], 12.0))
    points = np.column_stack([columns + 0.5, rows + 0.5])
    return points, np.degrees(normal[rows, columns]) % 180, weight


def _votes(
    points: np.ndarray,
    angles: np.ndarray,
    weights: np.ndarray,
    shape: tuple[int, int],
    turn_deg: int,
) -> tuple[np.ndarray, int]:
    """Votes by degree of the normal and pixel of the offset, (180, R); offsets begin at -reach."""
    reach = int(np.ceil(np.hypot(*shape))) + 2
    votes = np.zeros(180 * 2 * reach)
    near = np.rint(angles).astype(int)
    for turn in range(-turn_deg, turn_deg + 1):
        theta = (near + turn) % 180
        radians = np.radians(theta)
        rho = points[:, 0] * np.cos(radians) + points[:, 1] * np.sin(radians)
        cell = theta * 2 * reach + np.rint(rho).astype(int) + reach
        votes += np.bincount(cell, weights, len(votes))
    return cv2.GaussianBlur(votes.reshape(180, -1).astype(np.float32), (3, 3), 0.7), reach


def _peaks(votes: np.ndarray) -> list[tuple[int, int]]:
    """(degree, offset) of the strongest lines, each apart from stronger ones."""
    window = np.ones((2 * _APART_DEG + 1, 2 * _APART_PX + 1), np.uint8)
    wrapped = np.vstack([votes[-_APART_DEG:, ::-1], votes, votes[:_APART_DEG, ::-1]])
    highest = cv2.dilate(wrapped, window)[_APART_DEG:-_APART_DEG]
    theta, rho = np.nonzero((votes >= highest) & (votes > 20))
    order = np.argsort(-votes[theta, rho])[: 6 * _MOST_LINES]
    return [(int(theta[n]), int(rho[n])) for n in order]


def _fitted(
    points: np.ndarray,
    angles: np.ndarray,
    kinds: np.ndarray,
    guess: tuple[float, float],
    turn_deg: int,
) -> StraightLine:
    """The line through the crests near a first guess, radians and px, with what lies along it."""
    theta, rho = guess
    agree = turn_deg + _AGREE_MORE_DEG
    normal = np.array([np.cos(theta), np.sin(theta)])
    for reach in (2.5, _BESIDE_PX):
        own = _near(points, angles, normal, rho, (reach, agree))
        if own.sum() < 10:
            break
        middle = points[own].mean(axis=0)
        away = points[own] - middle
        turned = np.linalg.eigh(away.T @ away)[1][:, 0]
        normal = turned if turned @ normal > 0 else -turned
        rho = float(middle @ normal)
    own = _near(points, angles, normal, rho, (_BESIDE_PX, agree))
    return _with_sides(points[own], kinds, normal, float(rho))


def _near(
    points: np.ndarray,
    angles: np.ndarray,
    normal: np.ndarray,
    rho: float,
    within: tuple[float, float],
) -> np.ndarray:
    """Which points lie within so many px of a line and turn from it by no more than so many deg."""
    reach, agree = within
    own_deg = np.degrees(np.arctan2(normal[1], normal[0]))
    off = np.abs((angles - own_deg + 90) % 180 - 90)
    return (np.abs(points @ normal - rho) < reach) & (off < agree)


def _with_sides(own: np.ndarray, kinds: np.ndarray, normal: np.ndarray, rho: float) -> StraightLine:
    height, width = kinds.shape
    # An upright line's normal points right, a level one's down.
    if normal[np.abs(normal).argmax()] < 0:
        normal, rho = -normal, -rho
    along = np.array([-normal[1], normal[0]])
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], float) @ along
    start = float(corners.min())
    count = int(np.ptp(corners) / STEP_PX) + 2
    filled = np.zeros(count)
    filled[np.clip(np.rint((own @ along - start) / STEP_PX), 0, count - 1).astype(int)] = 1
    place = start + STEP_PX * np.arange(count)
    foot = rho * normal + place[:, None] * along
    inside = np.all((foot >= 0) & (foot <= (width, height)), axis=1)
    # Steps between two edges count too: crests lie a pixel and more apart.
    edge = (cv2.dilate(filled[:, None], np.ones((3, 1))) > 0)[:, 0] & inside
    before, behind = (_beside(foot, sign * normal, kinds) for sign in (-1, 1))

    def summed(values: np.ndarray) -> np.ndarray:
        return np.concatenate([np.zeros((1, *values.shape[1:])), np.cumsum(values, axis=0)])

    return StraightLine(
        normal=normal,
        offset=rho,
        start=start,
        edge=summed(edge.astype(float)),
        seen=summed(inside.astype(float)),
        before=summed(before),
        behind=summed(behind),
    )


def _beside(foot: np.ndarray, way: np.ndarray, kinds: np.ndarray) -> np.ndarray:
    """Counts, (N, K), of the kinds of surface beside each place, on the side `way` points to."""
    height, width = kinds.shape
    counts = np.zeros((len(foot), KINDS))
    step = np.arange(len(foot))
    for reach in _STRIP_PX:
        x, y = np.floor(foot + reach * way).astype(int).T
        inside = (x >= 0) & (y >= 0) & (x < width) & (y < height)
        kind = kinds[y[inside], x[inside]]
        known = kind != NO_KIND
        counts[step[inside][known], kind[known]] += 1
    return counts
