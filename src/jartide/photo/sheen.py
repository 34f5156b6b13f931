"""Estimate the sheen from two photos of one spot: one diffuse, one at the mirror angle.

What the second shows over the first is the lamp in the surface: the share of
a perfect white's light is set against what a polished surface of paint would
mirror of the lamp (about 4 %, Fresnel at small angles), spread by its
roughness. Seven words stand for ranges of that share.
"""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ
from jartide.errors import PrepareError
from jartide.photo.picture import Picture
from jartide.photo.settings import Sheen, SheenWord

# Upper bounds of the gloss estimate, 0..100, for each word but the last.
_BOUNDS = (2.0, 8.0, 20.0, 40.0, 65.0, 88.0)
# The mirrored lamp's light, relative to white paper under it, that counts as 100.
_POLISHED = 6.0


def sheen_word(gloss: float) -> SheenWord:
    """Return the word for a gloss estimate, 0 (blackboard) to 100 (mirror)."""
    return list(SheenWord)[int(np.searchsorted(_BOUNDS, gloss))]


def estimate_sheen(diffuse: Picture, mirror: Picture) -> Sheen:
    """Return the sheen that two pictures of one surface tell.

    Both must be of known exposure (card or grey), so that they share a white.

    Raises
    ------
    PrepareError : when a white is missing, or the second is not brighter where it should be.
    """
    if not (diffuse.exposure_known and mirror.exposure_known):
        raise PrepareError("error.sheen.exposure")
    plain = _light(diffuse)
    shine = _light(mirror)
    base = float(np.median(plain))
    # The brightest part of the mirror photo is where the lamp is mirrored.
    peak = float(np.quantile(shine, 0.98))
    middle = float(np.median(shine))
    excess = max(peak - base, 0.0)
    if middle < 0.6 * base and excess <= 0:
        raise PrepareError("error.sheen.darker")
    # A matt surface lifts the light a little everywhere, a glossy one much in one place:
    # a hundredfold span, so its logarithm is what words follow.
    gloss = 100 * np.log1p(20 * excess / _POLISHED) / np.log1p(20)
    gloss = float(np.clip(gloss, 0, 100))
    return Sheen(word=sheen_word(gloss), gloss=round(gloss, 1))


def _light(picture: Picture) -> np.ndarray:
    return np.maximum(picture.rgb_linear[picture.valid()] @ RGB_TO_XYZ[1].astype(np.float32), 0)
