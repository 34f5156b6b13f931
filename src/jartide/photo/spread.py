"""How far a spoonful of paste has spread, from one photo with the card beside it."""

from __future__ import annotations

import math
from collections.abc import Sequence

import cv2
import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.errors import PrepareError
from jartide.photo.load import Photo
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import EvenLight, LightSource, PhotoSettings

# Worked on at no more than this many pixels across: a pat has no fine detail.
_ACROSS_PX = 700
# A pat is at least so wide, covers so much of its own hull, and is so wide for its length.
_LEAST_MM, _LEAST_SOLID, _LEAST_SLIM = 8.0, 0.8, 0.6
# What is not the pat differs from the board by less than this, CIEDE76.
_LEAST_APART = 5.0
_KERNEL = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7))


def read_spread(photo: Photo) -> float:
    """Return the diameter of the one pat beside the card, mm, of a circle of the same area.

    Raises
    ------
    PrepareError : when no card is in the photo, or no pat stands off the board beside it.
    """
    settings = PhotoSettings(light=EvenLight(source=LightSource.NOT))
    card = card_for(photo, settings)
    if card is None:
        raise PrepareError("error.paste.no_card")
    picture = prepare_in_full(photo, settings, card=card).picture
    if picture.mm_per_px is None:
        raise PrepareError("error.paste.no_card")
    rgb = picture.rgb_linear
    valid = np.ones(rgb.shape[:2], bool) if picture.mask is None else picture.mask
    factor = min(_ACROSS_PX / max(rgb.shape[:2]), 1.0)
    size = (max(round(rgb.shape[1] * factor), 1), max(round(rgb.shape[0] * factor), 1))
    small = cv2.resize(np.asarray(rgb, np.float32), size, interpolation=cv2.INTER_AREA)
    seen = cv2.resize(valid.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    diameter = _diameter_px(np.clip(small, 0, None), seen) * picture.mm_per_px / factor
    if diameter < _LEAST_MM:
        raise PrepareError("error.paste.no_pat")
    return diameter


def _diameter_px(rgb_linear: np.ndarray, seen: np.ndarray) -> float:
    """The diameter of the largest round thing that lies wholly inside; 0 where there is none."""
    # Relief and shade inside the pat are not its edge.
    lab = np.asarray(cv2.medianBlur(np.asarray(linear_to_lab(rgb_linear), np.float32), 5))
    board = np.median(lab[seen], axis=0)
    apart = np.linalg.norm(lab - board, axis=2)
    apart[~seen] = 0
    best = 0.0
    for outline in _outlines(apart > _LEAST_APART):
        if not _is_round_and_whole(outline, seen):
            continue
        own = np.zeros(seen.shape, np.uint8)
        cv2.drawContours(own, [outline], -1, 1, cv2.FILLED)
        # Its edge lies where half of what sets it off is reached.
        half = float(np.median(apart[own > 0])) / 2
        inner = (apart > half) & (cv2.dilate(own, _KERNEL) > 0)
        best = max([best, *(cv2.contourArea(one) for one in _outlines(inner))])
    return 2 * math.sqrt(best / math.pi)


def _outlines(there: np.ndarray) -> Sequence[np.ndarray]:
    mask = cv2.morphologyEx(there.astype(np.uint8), cv2.MORPH_CLOSE, _KERNEL)
    mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, _KERNEL)
    return cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0]


def _is_round_and_whole(outline: np.ndarray, seen: np.ndarray) -> bool:
    """Whether it is one pat and no splash, table or card, and ends inside what is seen."""
    area, hull = cv2.contourArea(outline), cv2.contourArea(cv2.convexHull(outline))
    left, top, wide, high = cv2.boundingRect(outline)
    height, width = seen.shape
    if left < 2 or top < 2 or left + wide > width - 2 or top + high > height - 2:
        return False
    whole = seen[top : top + high, left : left + wide].all()
    slim = min(wide, high) / max(wide, high)
    return bool(whole and hull > 0 and area / hull >= _LEAST_SOLID and slim >= _LEAST_SLIM)
