"""What the photo check says of surroundings: is something else read than the piece?"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.photo.card.find import CardSighting
from jartide.photo.health import Warnings
from jartide.photo.leave_out import Fault, Suggestion, draw_shapes, suggest
from jartide.photo.load import Photo
from jartide.photo.piece.find_piece import Piece, PieceSought
from jartide.photo.settings import PhotoSettings, Polygon, Rect, Shape
from jartide.wording import Message

_LOOK_PX = 120_000
# More of what is read than this may not lie beyond the piece; and of a shadow or hand in it, less
# than this must be left out already.
_BEYOND, _LEFT_OUT = 0.03, 0.5
# A region that shares less than this with the piece is meant for something else.
_SAME_THING = 0.5


def around_warnings(
    photo: Photo, settings: PhotoSettings, sought: PieceSought, card: CardSighting | None
) -> Warnings:
    """Return what there is to say about surroundings inside what is read.

    `settings` are the painter's own: what the piece adds to them is no answer yet.
    """
    found: Warnings = []
    told = _told_part(settings)
    piece = sought.piece
    if told is None and sought.surrounded and not settings.whole_plane:
        if piece is None:
            found.append(("border", Message("warning.border")))
        elif not piece.likely:
            found.append(("piece_unsure", Message("warning.piece_unsure_whole")))
        elif not piece.sure:
            found.append(("piece_unsure", Message("warning.piece_unsure")))
    elif told is not None and piece is not None and piece.sure:
        percent = round(100 * _beyond(told, Polygon(points=piece.corners), photo.size))
        if percent >= 100 * _BEYOND:
            found.append(("border", Message("warning.beyond", percent=percent)))
    part: Polygon | Rect | None = told
    if part is None and piece is not None and piece.likely:
        part = Polygon(points=piece.corners)
    if piece is not None and _still_read(piece.reaching_in, settings, part, photo.size):
        found.append(("reaches_in", Message("warning.reaches_in")))
    if not settings.scan:
        shadows = [s.outline for s in _shadows(photo, part, card)]
        if _still_read(tuple(shadows), settings, part, photo.size):
            found.append(("cast_shadow", Message("warning.cast_shadow")))
    return found


# Opposite sides of a piece that differ by more than this, or corners further off a right angle, are
# those of a board that leans away: one scale does not hold all over it.
_LEANS_LOG, _LEANS_DEG = 0.06, 4.0


def angle_warnings(piece: Piece | None, settings: PhotoSettings, *, squared: bool) -> Warnings:
    """Return what there is to say of a piece seen at an angle that nothing squares."""
    if piece is None or squared or settings.mm_per_px is None or not piece.all_seen():
        return []
    ring = np.array(piece.corners, float)
    sides = np.roll(ring, -1, axis=0) - ring
    lengths = np.linalg.norm(sides, axis=1)
    uneven = np.abs(np.log(lengths[:2] / lengths[2:])).max()
    ways = sides / lengths[:, None]
    square = np.abs((ways * np.roll(ways, -1, axis=0)).sum(axis=1)).max()
    if uneven <= _LEANS_LOG and np.rad2deg(np.arcsin(min(square, 1.0))) <= _LEANS_DEG:
        return []
    return [("at_an_angle", Message("warning.at_an_angle"))]


def suggestions(
    photo: Photo, settings: PhotoSettings, sought: PieceSought, card: CardSighting | None
) -> list[Suggestion]:
    """Return what could be left out: glare, shadows, burnt areas, and what reaches in."""
    piece = sought.piece
    part: Polygon | Rect | None = _told_part(settings)
    if part is None and piece is not None and piece.likely:
        part = Polygon(points=piece.corners)
    reaching = []
    if piece is not None:
        total = float(photo.size[0] * photo.size[1])
        for outline in piece.reaching_in:
            ring = np.array(outline.points, np.float32)
            share = float(cv2.contourArea(ring)) / total
            reaching.append(Suggestion(fault=Fault.REACHING_IN, outline=outline, share=share))
    return [*reaching, *suggest(photo, part, _grown_card(card))]


def _grown_card(card: CardSighting | None) -> Polygon | None:
    """The card with a rim around it: its shadow is no fault."""
    if card is None:
        return None
    ring = card.outline_px()
    grown = ring + 0.04 * (ring - ring.mean(axis=0))
    return Polygon(points=tuple((float(x), float(y)) for x, y in grown))


def _told_part(settings: PhotoSettings) -> Polygon | Rect | None:
    if settings.region is not None:
        return settings.region
    return None if settings.corners is None else Polygon(points=settings.corners)


def _scale(size: tuple[int, int]) -> float:
    return min(1.0, (_LOOK_PX / (size[0] * size[1])) ** 0.5)


def _beyond(told: Shape, piece: Polygon, size: tuple[int, int]) -> float:
    """Which share of what is read lies beyond the piece; 0 where it is about something else."""
    scale = _scale(size)
    read, own = (draw_shapes((shape,), size, scale) for shape in (told, piece))
    both = float((read & own).sum())
    if both < _SAME_THING * float(own.sum()):
        return 0.0
    return 1 - both / max(float(read.sum()), 1.0)


def _still_read(
    outlines: tuple[Polygon, ...],
    settings: PhotoSettings,
    part: Polygon | Rect | None,
    size: tuple[int, int],
) -> bool:
    """Whether most of one of some outlines lies inside what is read."""
    if not outlines:
        return False
    scale = _scale(size)
    left_out = draw_shapes(settings.leave_out, size, scale)
    if part is not None:
        left_out |= ~draw_shapes((part,), size, scale)
    for outline in outlines:
        own = draw_shapes((outline,), size, scale)
        if own.any() and left_out[own].mean() < _LEFT_OUT:
            return True
    return False


def _shadows(
    photo: Photo, part: Polygon | Rect | None, card: CardSighting | None
) -> list[Suggestion]:
    found = suggest(photo, part, _grown_card(card), most_px=_LOOK_PX)
    return [suggestion for suggestion in found if suggestion.fault is Fault.SHADOW]
