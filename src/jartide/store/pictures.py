"""Flat pictures as files others can open."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from jartide.colour.spaces import encode_srgb
from jartide.photo.picture import Picture


def picture_png(picture: Picture) -> bytes:
    """Return a picture as PNG, sRGB; its dpi states the scale, if known, for other programs."""
    code = np.rint(encode_srgb(picture.rgb_linear) * 255).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(code).save(out, "PNG", **dpi_of(picture))
    return out.getvalue()


def dpi_of(picture: Picture) -> dict[str, tuple[float, float]]:
    """Return what a file is saved with so that other programs know its scale; nothing without."""
    if picture.mm_per_px is None:
        return {}
    dpi = 25.4 / picture.mm_per_px
    return {"dpi": (dpi, dpi)}
