"""Take the tint of the light out by a patch of known grey."""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ, lab_to_xyz
from jartide.errors import PrepareError
from jartide.photo.load import Photo
from jartide.photo.settings import Neutral, Rect
from jartide.wording import Message

# A patch smaller than this says more about noise than about the light.
MIN_PATCH_PX = 16


def crop(photo: Photo, rect: Rect, what: str) -> np.ndarray:
    """Return the code values inside a rectangle; `what` is its message id, for the error.

    Raises
    ------
    PrepareError : when the rectangle holds too little of the photo.
    """
    width, height = photo.size
    left, right = np.clip([rect.x, rect.x + rect.w], 0, width).round().astype(int)
    top, bottom = np.clip([rect.y, rect.y + rect.h], 0, height).round().astype(int)
    if (right - left) * (bottom - top) < MIN_PATCH_PX:
        raise PrepareError("error.rect.outside", what=Message(what))
    return photo.code[top:bottom, left:right]


def neutral_gains(photo: Photo, neutral: Neutral) -> np.ndarray:
    """Return the factors, (3,), that make the patch a true grey (von Kries scaling in linear RGB).

    With a known lightness the exposure is set by it too; without, the patch
    keeps its luminance.

    Raises
    ------
    PrepareError : when the patch is outside, burnt out, black or no grey at all.
    """
    code = crop(photo, neutral.rect, "word.grey_patch")
    top = float(np.iinfo(code.dtype).max)
    if np.mean(code.max(axis=2) >= 0.99 * top) > 0.2:
        raise PrepareError("error.neutral.burnt")
    patch = np.median(photo.linear(code).reshape(-1, 3), axis=0).astype(float)
    if patch.min() < 0.002:
        raise PrepareError("error.neutral.black")
    luminance = float(RGB_TO_XYZ[1] @ patch)
    if neutral.lightness is not None:
        if not 5 < neutral.lightness <= 100:
            raise PrepareError("error.neutral.lightness")
        luminance = float(lab_to_xyz([neutral.lightness, 0, 0])[1])
    return luminance / patch
