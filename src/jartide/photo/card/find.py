"""Find the photo card in a photo and say how it lies.

Codes are searched in the reduced photo first and at full resolution last, so
that a large card is found fast and a small one is found at all. Two codes of
one card that agree on a plane are needed: one alone might be chance.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

import cv2
import numpy as np

from jartide.errors import PrepareError
from jartide.photo.card.codes import SeenCode, seen_codes
from jartide.photo.card.design import Box, Card, CardSize, card_of
from jartide.photo.card.edges import find_edges
from jartide.photo.card.pose import Pose, first_pose, refine_pose
from jartide.photo.lens import focal_guess
from jartide.photo.load import Photo
from jartide.photo.shrink import shrunk
from jartide.photo.square import transform

# Long sides, px, of the reduced photos that are searched before the whole one.
_SEARCH_PX = (1200, 2400)
# Code corners may lie this far from their plane, in cells.
_AGREE_CELLS = 1.0
# A wrong card's edges would not be where its codes say: at least this share must be seen.
_LEAST_EDGES = 40
_ROUNDS = 4
# Where the file tells no focal length, the search starts from several.
_FOCAL_TRIES = (0.8, 1.5, 2.8)
# Edges are used where the pose so far places them within this, px.
_SURE_PX = 2.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CardSighting:
    """A card in a photo.

    Attributes
    ----------
    size : which card
    print_scale : printed over nominal size, as the painter measured it
    pose : the camera over it
    codes : numbers of the codes seen
    edge_points : how many places of edges the pose was fitted to
    focal_known : whether the file told the focal length
    """

    size: CardSize
    print_scale: float
    pose: Pose
    codes: tuple[int, ...]
    edge_points: int
    focal_known: bool

    @property
    def card(self) -> Card:
        """The design of the card."""
        return card_of(self.size)

    def outline_px(self) -> np.ndarray:
        """Return where the card's cut edge lies in the photo, (N, 2) px."""
        return self.pose.project(np.array(self.card.outline) * self.print_scale)

    def px_per_mm(self) -> float:
        """Return the photo's pixels per millimetre at the card, root of the areas' ratio."""
        outline = np.array(self.card.outline) * self.print_scale
        return float(np.sqrt(_area(self.outline_px()) / _area(outline)))


def _area(ring: np.ndarray) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))


def find_card(
    photo: Photo, check_mm: float | None = None, thorough: bool = True
) -> CardSighting | None:
    """Return the card in a photo, or None when there is none.

    `check_mm` is the length of the card's ruler as printed, when it is not what it says;
    `thorough` searches the photo at its full resolution too, not only reduced.

    Raises
    ------
    PrepareError : when that length is no printer's doing.
    """
    code = photo.code
    if code.dtype == np.uint16:
        code = (code >> 8).astype(np.uint8)
    grey = cv2.cvtColor(code, cv2.COLOR_RGB2GRAY)
    long_side = max(photo.size)
    targets = [*(px for px in _SEARCH_PX if px < 0.8 * long_side), long_side]
    if not thorough:
        targets = targets[:1]
    for target in targets:
        shrink = long_side / target
        small = grey
        if shrink > 1:
            size = (round(photo.size[0] / shrink), round(photo.size[1] / shrink))
            small = shrunk(grey, size)
        ratio = np.array(photo.size) / np.array(small.shape[::-1])
        # The neighbourhoods fit codes of 3 to 12 px a cell; larger ones were found before.
        seen = [
            SeenCode(number=c.number, corners=c.corners * ratio) for c in seen_codes(small, (9, 23))
        ]
        agreed = _agreeing(seen)
        if agreed is not None:
            card, codes = agreed
            sighting = _sighting(photo, card, codes, _print_scale(card, check_mm))
            if sighting is not None:
                return sighting
    return None


def _print_scale(card: Card, check_mm: float | None) -> float:
    if check_mm is None:
        return 1.0
    scale = check_mm / card.ruler.length_mm
    if not 0.5 <= scale <= 2:
        raise PrepareError("error.card.scale", length=card.ruler.length_mm, given=f"{check_mm:g}")
    return scale


def _agreeing(codes: list[SeenCode]) -> tuple[Card, list[SeenCode]] | None:
    """Return the card most of whose codes lie on one plane, with those codes; None below two."""
    best: tuple[Card, list[SeenCode]] | None = None
    for size in CardSize:
        card = card_of(size)
        numbers = {code.number for code in card.codes}
        own = [code for code in codes if code.number in numbers]
        if len({code.number for code in own}) < 2:
            continue
        on_card = np.concatenate([_code_corners(card, c.number) for c in own])
        in_photo = np.concatenate([c.corners for c in own])
        side = np.median([np.linalg.norm(np.diff(c.corners, axis=0), axis=1).mean() for c in own])
        allowed = _AGREE_CELLS * side / 6
        matrix, _ = cv2.findHomography(on_card, in_photo, cv2.RANSAC, allowed)
        if matrix is None:
            continue
        off = np.linalg.norm(transform(matrix, on_card) - in_photo, axis=1).reshape(-1, 4)
        kept = {
            c.number: c for c, worst in zip(own, off.max(axis=1), strict=True) if worst < allowed
        }
        if len(kept) >= 2 and (best is None or len(kept) > len(best[1])):
            best = (card, list(kept.values()))
    return best


def _code_corners(card: Card, number: int) -> np.ndarray:
    return next(code.box.corners() for code in card.codes if code.number == number)


def _sighting(
    photo: Photo, card: Card, codes: list[SeenCode], print_scale: float
) -> CardSighting | None:
    guess = focal_guess(photo.size, photo.focal_35mm)
    on_card = np.concatenate([_code_corners(card, c.number) * print_scale for c in codes])
    in_photo = np.concatenate([c.corners for c in codes])
    light, corner = _light_around(photo, card, on_card, in_photo, print_scale)
    seen_boxes = [code.box for code in card.codes if code.number in {c.number for c in codes}]

    def fitted(pose: Pose, rounds: range) -> tuple[Pose, int]:
        """The pose after some rounds, and to how many edge points it was fitted."""
        count = 0
        for round_ in rounds:
            edges = find_edges(light, card, print_scale, partial(_seen_from, pose, corner))
            # Outward from what is sure: an edge expected in the wrong place finds a wrong edge.
            if round_ == 0:
                sure = _on_boxes(edges.card_mm, seen_boxes, print_scale)
            else:
                sure = pose.error_px(edges.card_mm) < _SURE_PX
            edges = edges.kept(sure)
            count = len(edges.card_mm)
            if count < _LEAST_EDGES:
                break
            pose = refine_pose(pose, replace(edges, seen_px=edges.seen_px + corner), guess)
        return pose, count

    # A few rounds tell which start is right; the last are for that one alone.
    tried = [
        fitted(start, range(_ROUNDS - 1))
        for factor in ((1.0,) if guess.known else _FOCAL_TRIES)
        for start in first_pose(
            on_card, in_photo, photo.size, replace(guess, focal_px=factor * guess.focal_px)
        )
    ]
    tried = [(pose, count) for pose, count in tried if count >= _LEAST_EDGES]
    if not tried:
        return None
    likely = min(tried, key=lambda t: _badness(t[0], guess.focal_px, guess.spread))[0]
    best, best_edges = fitted(likely, range(_ROUNDS - 1, _ROUNDS))
    if best_edges < _LEAST_EDGES:
        return None
    return CardSighting(
        size=card.size,
        print_scale=print_scale,
        pose=best,
        codes=tuple(sorted(c.number for c in codes)),
        edge_points=best_edges,
        focal_known=guess.known,
    )


def _seen_from(pose: Pose, corner: np.ndarray, mm: np.ndarray) -> np.ndarray:
    """Where card points are seen by `pose`, from the corner of the part looked at."""
    return pose.project(mm) - corner


def _on_boxes(points_mm: np.ndarray, boxes: list[Box], print_scale: float) -> np.ndarray:
    """Whether points, (N, 2), lie on the edges of some of the boxes."""
    on = np.zeros(len(points_mm), bool)
    for box in boxes:
        low = np.array([box.x, box.y]) * print_scale - 1e-6
        high = np.array([box.x + box.w, box.y + box.h]) * print_scale + 1e-6
        on |= np.all((points_mm >= low) & (points_mm <= high), axis=1)
    return on


def _badness(pose: Pose, focal_px: float, spread: float) -> float:
    """Residual in tenths of a pixel, with what the lens had to be bent for it."""
    focal = np.log(pose.lens.focal_px / focal_px) / spread
    return (pose.residual_px / 0.1) ** 2 + 0.02 * float(focal) ** 2


def _light_around(
    photo: Photo, card: Card, on_card: np.ndarray, in_photo: np.ndarray, print_scale: float
) -> tuple[np.ndarray, np.ndarray]:
    """Light of the photo around the card, and the crop's corner, px."""
    matrix, _ = cv2.findHomography(on_card, in_photo, 0)
    ring = transform(matrix, np.array(card.outline) * print_scale)
    margin = 0.1 * np.ptp(ring, axis=0).max() + 8
    low = np.floor(np.clip(ring.min(axis=0) - margin, 0, np.array(photo.size) - 8)).astype(int)
    high = np.ceil(np.clip(ring.max(axis=0) + margin, low + 8, photo.size)).astype(int)
    part = np.ascontiguousarray(photo.code[low[1] : high[1], low[0] : high[0]])
    # Luma, not light: a JPEG keeps it sharp and its colour blurred.
    return photo.linear(cv2.cvtColor(part, cv2.COLOR_RGB2GRAY)), low.astype(float)
