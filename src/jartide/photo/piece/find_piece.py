"""Find the outline of the piece in a photo: a board, slab or panel before whatever is around it.

A flat piece has four straight sides, in perspective too. Without the photo card it must hold the
photo's middle; with it, the card, and its corners are right angles on the card's plane. Where
nothing around it bears an outline out the whole photo is the piece; in between stands a doubt.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import decoding_table, encode_srgb
from jartide.photo.card.find import CardSighting
from jartide.photo.load import Photo
from jartide.photo.piece.fine_sides import fine_sides
from jartide.photo.piece.four_sides import FourSides, best_four, difference
from jartide.photo.piece.reaching_in import reaching_in
from jartide.photo.piece.shadow_strip import without_shadow
from jartide.photo.piece.straight_lines import (
    STRICT_DEG,
    WIDE_DEG,
    find_straight_lines,
    frame_lines,
)
from jartide.photo.piece.surface_kinds import KINDS, NO_KIND, surface_kinds
from jartide.photo.piece.whole_piece import whole_piece
from jartide.photo.settings import Point, Polygon
from jartide.photo.shrink import shrunk

_LOOK_PX = 150_000
_FINE_PX = 1_500_000
# Dark photos are lightened to this luminance in the middle, by this factor at most.
_MIDDLE, _MOST_GAIN = 0.16, 6.0
# How much the border, so wide, must differ from the middle: boards on sites differ by 0.5 and more,
# surfaces that fill their photo by 0.3 and less.
_RIM, _MIDDLE_FROM, _SURROUNDED = 0.05, 0.3, 0.38
# Boards on sites score 1.9 and more, surfaces that fill their photo 1.3 and less
# (accuracy/outlines.py).
_SURE, _DOUBT = 1.62, 1.34
# So many sides may be the photo's own borders: stripes of one surface have two.
_MOST_FRAMED = 1
# Right outlines look otherwise beyond each side by 0.41 and more; at joints of a board, and where
# a shadow ends, by 0.38 and less.
_LEAST_EDGE, _LEAST_APART = 0.4, 0.4
# Another outline as good as this, that overlaps less than this, casts doubt.
_RIVAL_SCORE, _RIVAL_OVERLAP = 0.04, 0.9
# An outline of faint edges that is not sure, either, must be so much better.
_FAINT_BETTER = 0.2
# An outline that leaves the card outside must be so much better.
_BESIDE_THE_CARD = 0.3
# What lies this near an edge is edge and shadow, px of the picture looked at.
_INSET_PX = 0.3

Corners = tuple[Point, Point, Point, Point]


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """The outline of the piece.

    Attributes
    ----------
    corners : px of the photo, clockwise from the top left; a corner may lie outside the photo
    photo_size : (width, height) of that photo, px
    sure : whether nothing speaks against it
    likely : whether it is to be read by it until the painter says otherwise
    reaching_in : outlines of what reaches over its edges from outside: hands, tape, cloths
    """

    corners: Corners
    photo_size: tuple[int, int]
    sure: bool
    likely: bool
    reaching_in: tuple[Polygon, ...] = ()

    def all_seen(self) -> bool:
        """Whether all four corners lie inside the photo."""
        width, height = self.photo_size
        return all(0 <= x <= width and 0 <= y <= height for x, y in self.corners)


@dataclass(frozen=True, slots=True, kw_only=True)
class PieceSought:
    """What looking for the piece has found.

    `piece` is None where no outline is borne out; `surrounded` whether the photo's border looks
    otherwise than its middle.
    """

    piece: Piece | None = None
    surrounded: bool = False


def find_piece(
    photo: Photo, card: CardSighting | None = None, height_mm: float = 0.0
) -> PieceSought:
    """Return the outline of the piece; none where it fills the photo.

    `height_mm` is how far the card's face lies above the piece.
    """
    code = photo.code if photo.code.dtype == np.uint8 else (photo.code >> 8).astype(np.uint8)
    small, ratio = _reduced(code, photo.size, _LOOK_PX)
    gain = _gain(small)
    lab = _lab(small, gain)
    kinds = surface_kinds(lab)
    height, width = kinds.shape
    middle, none = np.array([[width / 2, height / 2]]), np.zeros((0, 2))
    ways = [(middle, none)]
    square = None
    if card is not None:
        ring = np.asarray(card.outline_px(), float) * ratio
        # A card may lie beside the piece, too.
        inner = ring + 0.08 * (ring.mean(axis=0) - ring)
        ways = [(inner, none), (middle, ring)]
        over = ring + 0.06 * (ring - ring.mean(axis=0))
        cv2.fillPoly(kinds, [np.rint(over).astype(np.int32)], NO_KIND)
        square = np.linalg.inv(card.pose.homography(height_mm)) @ _to_rays(card, ratio)
    if not _is_surrounded(kinds):
        return PieceSought()
    found = _outlines(lab, kinds, ways, square, STRICT_DEG)
    if not found or not _is_sure(found[0], found):
        # A side as dark as what lies behind it: its edges turn with every grain.
        faint = _outlines(lab, kinds, ways, square, WIDE_DEG)
        least = max(_SURE, found[0].score + _FAINT_BETTER) if found else _SURE
        if faint and (_is_sure(faint[0], faint) or faint[0].score >= least):
            found = faint
    if not found or found[0].score < _DOUBT:
        return PieceSought(surrounded=True)
    best = whole_piece(found, lab, kinds)
    borders = np.isnan(best.edges)
    rough = without_shadow(lab, kinds != NO_KIND, best.corners, borders)
    fine, fine_ratio = _reduced(code, photo.size, _FINE_PX)
    shown = None if card is None else np.asarray(card.outline_px(), float) * fine_ratio
    corners = fine_sides(_lab(fine, gain), rough * (fine_ratio / ratio), borders, shown)
    corners = _inset(corners, borders, _INSET_PX * fine_ratio / ratio) / fine_ratio
    intruders = reaching_in(lab, corners * ratio)
    first, second, third, fourth = ((round(float(x), 1), round(float(y), 1)) for x, y in corners)
    piece = Piece(
        corners=(first, second, third, fourth),
        photo_size=photo.size,
        sure=_is_sure(best, found),
        likely=best.score >= _SURE and best.framed <= _MOST_FRAMED,
        reaching_in=tuple(
            Polygon(points=tuple((float(x), float(y)) for x, y in np.round(ring / ratio, 1)))
            for ring in intruders
        ),
    )
    return PieceSought(piece=piece, surrounded=True)


def _is_surrounded(kinds: np.ndarray) -> bool:
    """Whether the photo's border shows other kinds of surface than its middle."""
    height, width = kinds.shape
    rim = round(_RIM * width)
    middle = kinds[
        round(_MIDDLE_FROM * height) : round((1 - _MIDDLE_FROM) * height),
        round(_MIDDLE_FROM * width) : round((1 - _MIDDLE_FROM) * width),
    ]
    border = [kinds[:rim].ravel(), kinds[-rim:].ravel()]
    border += [kinds[:, :rim].ravel(), kinds[:, -rim:].ravel()]
    counts = [
        np.bincount(part, minlength=256)[:KINDS].astype(float)
        for part in (np.concatenate(border), middle.ravel())
    ]
    return difference(counts[0], counts[1]) > _SURROUNDED


def _outlines(
    lab: np.ndarray,
    kinds: np.ndarray,
    ways: list[tuple[np.ndarray, np.ndarray]],
    square: np.ndarray | None,
    turn_deg: int,
) -> list[FourSides]:
    """The outlines that hold some points and not others, best first, by the best of the ways."""
    uprights, levels = find_straight_lines(lab, kinds, turn_deg)
    frames = frame_lines((kinds.shape[1], kinds.shape[0]))
    lines = (uprights + frames[0], levels + frames[1])
    found: list[FourSides] = []
    for needed, outside in ways:
        more = best_four(*lines, (2, 2), kinds, needed, outside, square)
        if more and (not found or more[0].score > found[0].score + _BESIDE_THE_CARD):
            found = more
    return found


def _is_sure(best: FourSides, found: list[FourSides]) -> bool:
    if best.score < _SURE or best.framed > _MOST_FRAMED:
        return False
    if np.nanmin(best.edges) < _LEAST_EDGE or np.nanmin(best.apart) < _LEAST_APART:
        return False
    rivals = (four for four in found if four.score > best.score - _RIVAL_SCORE)
    return all(_overlap(best.corners, four.corners) > _RIVAL_OVERLAP for four in rivals)


def _overlap(one: np.ndarray, other: np.ndarray) -> float:
    """Intersection over union of two convex outlines, (4, 2) each."""
    a, b = one.astype(np.float32), other.astype(np.float32)
    both, _ = cv2.intersectConvexConvex(a, b)
    either = cv2.contourArea(a) + cv2.contourArea(b) - both
    return float(both / max(either, 1e-9))


def _to_rays(card: CardSighting, ratio: float) -> np.ndarray:
    """From pixels of the reduced photo to what the card's homography leads from, (3, 3).

    The lens's bend is left out: it moves a corner by less than an angle's tolerance.
    """
    lens = card.pose.lens
    focal, (x, y) = lens.focal_px, lens.centre
    return np.array(
        [[1 / (focal * ratio), 0, -x / focal], [0, 1 / (focal * ratio), -y / focal], [0, 0, 1.0]]
    )


def _reduced(code: np.ndarray, size: tuple[int, int], most: int) -> tuple[np.ndarray, float]:
    """The photo, (H, W, 3) uint8, of about so many pixels, and its px per px of the original."""
    ratio = min(1.0, (most / (size[0] * size[1])) ** 0.5)
    small = (max(16, round(size[0] * ratio)), max(16, round(size[1] * ratio)))
    return shrunk(code, small), ratio


def _gain(code: np.ndarray) -> float:
    """How much a dark photo must be lightened for its middle to be seen well."""
    light = decoding_table(256)[code[::3, ::3]].mean(axis=2)
    return float(np.clip(_MIDDLE / max(float(np.median(light)), 1e-3), 1.0, _MOST_GAIN))


def _lab(code: np.ndarray, gain: float) -> np.ndarray:
    """Lab, (H, W, 3) float32, of encoded colours lightened by a factor."""
    levels = encode_srgb(np.clip(decoding_table(256) * gain, 0, 1)).astype(np.float32)
    return cv2.cvtColor(levels[code], cv2.COLOR_RGB2LAB)


def _inset(corners: np.ndarray, borders: np.ndarray, by: float) -> np.ndarray:
    """Move each side but the photo's borders inwards by so many pixels."""
    found = corners.copy()
    for n in range(4):
        if borders[n]:
            continue
        start, end = corners[n], corners[(n + 1) % 4]
        along = (end - start) / max(float(np.linalg.norm(end - start)), 1e-9)
        inward = np.array([-along[1], along[0]]) * by
        found[n] += inward
        found[(n + 1) % 4] += inward
    return found
