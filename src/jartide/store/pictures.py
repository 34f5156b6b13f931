"""Flat pictures as files others can open."""

from __future__ import annotations

import io

import numpy as np

from jartide.colour.spaces import encode_srgb
from jartide.photo.picture import Picture


def picture_png(picture: Picture) -> bytes:
    """Return a picture as PNG, sRGB; its dpi states the scale, if known, for other programs."""
    from PIL import Image

    code = np.rint(encode_srgb(picture.rgb_linear) * 255).astype(np.uint8)
    out = io.BytesIO()
    extra = {}
    if picture.mm_per_px is not None:
        dpi = 25.4 / picture.mm_per_px
        extra = {"dpi": (dpi, dpi)}
    Image.fromarray(code).save(out, "PNG", **extra)
    return out.getvalue()
