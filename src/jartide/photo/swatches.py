"""Read painted swatches from one photo with the card: a row of them, side by side."""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.colour.words import Lab
from jartide.errors import PrepareError
from jartide.photo.load import Photo
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import EvenLight, LightSource, PhotoSettings

# Of each swatch's place only the middle is read: edges are thin and run together.
_MIDDLE = 0.5
_LEAST_PX = 30


def read_swatches(photo: Photo, count: int) -> tuple[Lab, ...]:
    """Return the colours of `count` swatches from left to right, each the median of its middle.

    Without swatches beside each other (`count` 1) the middle of the picture is read. The card
    corrects colour and light and is left out itself.

    Raises
    ------
    PrepareError : when no card is in the photo, or too little of a swatch is seen.
    """
    # Swatches differ from each other: light evened by what the picture shows would even them.
    settings = PhotoSettings(light=EvenLight(source=LightSource.NOT))
    card = card_for(photo, settings)
    if card is None:
        raise PrepareError("error.swatch.no_card")
    picture = prepare_in_full(photo, settings, card=card).picture
    height, width = picture.rgb_linear.shape[:2]
    valid = np.ones((height, width), bool) if picture.mask is None else picture.mask
    found = []
    for number in range(count):
        left, right = number * width / count, (number + 1) * width / count
        inset = (1 - _MIDDLE) / 2 * (right - left)
        rows = slice(int(height * (1 - _MIDDLE) / 2), int(height * (1 + _MIDDLE) / 2))
        columns = slice(int(left + inset), int(right - inset) + 1)
        inside = valid[rows, columns]
        if inside.sum() < _LEAST_PX:
            raise PrepareError("error.swatch.hidden", number=number + 1)
        colour = np.median(picture.rgb_linear[rows, columns][inside].astype(float), axis=0)
        lightness, a, b = linear_to_lab(colour)
        found.append((float(lightness), float(a), float(b)))
    return tuple(found)
