"""Dabs of paint in one photo with the card: each is read where the painter presses."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.spaces import encode_srgb, linear_to_lab
from jartide.colour.words import Lab
from jartide.errors import PrepareError
from jartide.photo.load import Photo
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import EvenLight, LightSource, PhotoSettings, Rect

# As many as lie beside a card in one photo without hurry.
MOST = 8
_LEAST_PX = 30
# A press on a dab's edge takes two colours: most of what is read must lie this near its median.
_NEAR_L, _NEAR_SHARE = 6.0, 0.8


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class DabPhoto:
    """A photo of dabs with the card's correction.

    Attributes
    ----------
    rgb_linear : (H, W, 3) float32 true linear light
    valid : (H, W) bool, False on the card and where nothing is seen
    code : (H, W, 3) uint8 sRGB, to be shown
    """

    rgb_linear: np.ndarray
    valid: np.ndarray
    code: np.ndarray


def open_dabs(photo: Photo) -> DabPhoto:
    """Return a photo of dabs corrected by the card in it.

    Raises
    ------
    PrepareError : when no card is in the photo.
    """
    # Dabs differ from each other: light evened by what the picture shows would even them.
    light = EvenLight(source=LightSource.NOT)
    settings = PhotoSettings(light=light, whole_plane=True)
    card = card_for(photo, settings)
    if card is None:
        raise PrepareError("error.swatch.no_card")
    picture = prepare_in_full(photo, settings, card=card).picture
    rgb = picture.rgb_linear
    valid = np.ones(rgb.shape[:2], bool) if picture.mask is None else picture.mask
    code = np.round(255 * np.clip(encode_srgb(rgb), 0, 1)).astype(np.uint8)
    return DabPhoto(rgb_linear=rgb, valid=valid, code=code)


def read_dab(dabs: DabPhoto, where: Rect) -> Lab:
    """Return the colour, CIELAB D65, of the dab in a box: the median of what is seen of it.

    Parameters
    ----------
    where : px of the corrected picture

    Raises
    ------
    PrepareError : when the box lies on the card or outside, or over an edge.
    """
    height, width = dabs.valid.shape
    left, right = np.clip([where.x, where.x + where.w], 0, width).round().astype(int)
    top, bottom = np.clip([where.y, where.y + where.h], 0, height).round().astype(int)
    inside = dabs.valid[top:bottom, left:right]
    if inside.sum() < max(_LEAST_PX, 0.5 * inside.size):
        raise PrepareError("error.dab.outside")
    colours = dabs.rgb_linear[top:bottom, left:right][inside].astype(float)
    lightness, a, b = linear_to_lab(np.median(colours, axis=0))
    near = np.abs(linear_to_lab(colours)[:, 0] - lightness) <= _NEAR_L
    if near.mean() < _NEAR_SHARE:
        raise PrepareError("error.dab.edge")
    return float(lightness), float(a), float(b)
