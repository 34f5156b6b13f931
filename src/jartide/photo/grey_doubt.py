"""Whether a spot that was shown as a grey is one: cards and paper are plain, and hardly coloured.

Cream marble shown as the grey card turns the whole photo blue, and nothing else in the program
can notice: every colour is then wrong by the same step.
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.photo.health import Warnings
from jartide.photo.load import Photo
from jartide.photo.neutral import PAPER, crop
from jartide.photo.settings import KnownPatch, Rect
from jartide.wording import Message

# A spot is looked at in so many cells a side, none smaller than so many pixels: the sensor's grain
# is gone, veins are not.
_CELLS, _CELL_PX = 12, 4
# Standard deviation of L* of the cells about an even slope: cards and paper show below 1.
_PLAIN_L = 1.2
# C*ab as the camera gave it. Cameras leave a true grey below it in most light.
_HARDLY_COLOURED = 6.0
# A spot at least so coloured, in shares of what the rest of the photo is, may be a piece of it.
_LIKE_THE_REST = 0.7
_REST_SIDE = 200


def grey_warnings(photo: Photo, patches: tuple[KnownPatch, ...]) -> Warnings:
    """Return the doubts about the greys among the painter's patches, those sure of left out."""
    for patch in patches:
        # Whose lightness is known was measured or bought: only its place can be wrong.
        bought = patch.lightness is not None and patch.source != PAPER
        if can_be_doubted(patch) and looks_no_grey(photo, patch.rect, any_tint=bought):
            return [("grey_doubt", Message("warning.grey_doubt"))]
    return []


def can_be_doubted(patch: KnownPatch) -> bool:
    """Whether a patch is a grey or a sheet of paper that the painter was not asked about yet."""
    return not patch.sure and (patch.source == PAPER or patch.a == patch.b == 0.0)


def looks_no_grey(photo: Photo, rect: Rect, *, any_tint: bool = False) -> bool:
    """Whether a spot is likely no plain grey: it is mottled, or as coloured as the rest.

    Parameters
    ----------
    rect : where it lies, px of the photo as it is stored
    any_tint : take a coloured spot for a grey in coloured light, and ask only that it be plain

    Raises
    ------
    PrepareError : when the rectangle holds too little of the photo.
    """
    code = crop(photo, rect, "word.grey_patch")
    cells = _lab(photo, code, max(2, min(_CELLS, min(code.shape[:2]) // _CELL_PX)))
    if _about_slope(cells[..., 0]) > _PLAIN_L:
        return True
    if any_tint:
        return False
    own = float(np.hypot(*np.median(cells[..., 1:].reshape(-1, 2), axis=0)))
    rest = _lab(photo, photo.code, _REST_SIDE)
    coloured = float(np.median(np.hypot(rest[..., 1], rest[..., 2])))
    return own > _HARDLY_COLOURED and own > _LIKE_THE_REST * coloured


def _lab(photo: Photo, code: np.ndarray, side: int) -> np.ndarray:
    """CIELAB, (h, w, 3), of a code brought down to at most `side` px, as the camera gave it."""
    h, w = code.shape[:2]
    size = (min(side, w), min(side, h))
    small = cv2.resize(code, size, interpolation=cv2.INTER_AREA)
    return linear_to_lab(photo.linear(small))


def _about_slope(values: np.ndarray) -> float:
    """Standard deviation of (h, w) values about their own plane: light may fall off over a card."""
    rows, columns = np.indices(values.shape)
    known = np.stack([np.ones(values.size), rows.ravel(), columns.ravel()], axis=1)
    fitted, *_ = np.linalg.lstsq(known, values.ravel(), rcond=None)
    return float(np.std(values.ravel() - known @ fitted))
