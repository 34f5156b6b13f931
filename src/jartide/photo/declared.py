"""What a picture file says of its size before anything of it is decoded, and what is too much."""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import Image, UnidentifiedImageError

from jartide.errors import PhotoError

MAX_MEGAPIXELS = 200
# What the decoded picture may take: 200 megapixels of three channels of 16 bits, and some more.
MAX_DECODED_BYTES = 1_500_000_000
# What is thinner, or so much longer than it is wide, is no photo of a surface.
_LEAST_SIDE_PX = 8
_MOST_RATIO = 50
_TIFF = (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")
# Pillow's kinds of one channel that are no levels of a picture.
_NO_LEVELS = frozenset({"F", "I"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Declared:
    """Size as a file states it: pixels, channels, bytes of each value; whether those are levels."""

    width: int
    height: int
    channels: int = 3
    depth_bytes: int = 1
    is_levels: bool = True

    @property
    def megapixels(self) -> float:
        """Millions of pixels."""
        return self.width * self.height / 1e6

    @property
    def decoded_bytes(self) -> int:
        """What the decoded picture takes; never less than three channels."""
        return self.width * self.height * max(self.channels, 3) * self.depth_bytes


def is_tiff(data: bytes) -> bool:
    """Whether a file begins as a TIFF does."""
    return data[:4] in _TIFF


def register_heif() -> None:
    """Teach Pillow the kind of picture that phones write."""
    from pillow_heif import register_heif_opener  # heavy, and only phones write it

    register_heif_opener()


def declared_of(data: bytes) -> Declared | None:
    """Return what a file states; None where Pillow and tifffile know nothing of it."""
    if is_tiff(data):
        return _of_tiff(data)
    # Its own limit is another, and warns before it refuses.
    Image.MAX_IMAGE_PIXELS = None
    register_heif()
    try:
        with Image.open(io.BytesIO(data)) as image:
            deep = image.mode.startswith("I;16") or (image.format == "PNG" and data[24] == 16)
            return Declared(
                width=image.size[0],
                height=image.size[1],
                channels=len(image.getbands()),
                depth_bytes=2 if deep else 1,
                is_levels=image.mode not in _NO_LEVELS or deep,
            )
    except UnidentifiedImageError:
        return None


def _of_tiff(data: bytes) -> Declared | None:
    import tifffile  # heavy, and few photos are TIFF

    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            page = file.pages[0]
            if not isinstance(page, tifffile.TiffPage) or page.dtype is None:
                return None
            return Declared(
                width=int(page.imagewidth),
                height=int(page.imagelength),
                channels=int(page.samplesperpixel),
                depth_bytes=int(page.dtype.itemsize),
                is_levels=page.dtype.kind == "u" and page.dtype.itemsize <= 2,
            )
    except Exception:  # a damaged directory raises many kinds
        return None


def check(declared: Declared, name: str) -> None:
    """Refuse what is too large, too thin, or no picture's levels.

    Raises
    ------
    PhotoError : one sentence.
    """
    width, height = declared.width, declared.height
    short, long = min(width, height), max(width, height)
    if short < _LEAST_SIDE_PX or long > _MOST_RATIO * short:
        raise PhotoError("error.photo.shape", name=name, width=width, height=height)
    if declared.megapixels > MAX_MEGAPIXELS:
        raise PhotoError(
            "error.photo.megapixels",
            name=name,
            megapixels=round(declared.megapixels),
            most=MAX_MEGAPIXELS,
        )
    if not declared.is_levels:
        raise PhotoError("error.photo.levels", name=name)
    if declared.decoded_bytes > MAX_DECODED_BYTES:
        raise PhotoError(
            "error.photo.deep", name=name, gb=round(declared.decoded_bytes / 1e9, 1), most=1.5
        )
