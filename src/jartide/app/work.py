"""What the background does for the window: pure functions from files to what is shown.

Heavy modules are imported here inside the functions, in the worker thread, so
that the window is shown before they load.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np

    from jartide.photo.load import Photo as LoadedPhoto
    from jartide.photo.settings import PhotoSettings
    from jartide.reading.result import Reading

Progress = Callable[[float], None]
PREVIEW_PX = 1_600_000


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Preview:
    """A photo as taken, small enough to show: (H, W, 3) uint8, and px of it per original px."""

    code: np.ndarray
    scale: float
    size: tuple[int, int]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Flat:
    """The squared, neutral surface: (H, W, 3) uint8, and its mm per px."""

    code: np.ndarray
    mm_per_px: float | None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Analysis:
    """A reading with what it was read from: the flat picture and the layer seen at each pixel."""

    reading: Reading
    flat: Flat
    seen: np.ndarray


def make_preview(photo: LoadedPhoto) -> Preview:
    """Return the photo reduced for the screen."""
    import cv2
    import numpy as np

    code = photo.code if photo.code.dtype == np.uint8 else (photo.code // 257).astype(np.uint8)
    height, width = code.shape[:2]
    scale = min(1.0, (PREVIEW_PX / (width * height)) ** 0.5)
    if scale < 1:
        size = (max(1, round(width * scale)), max(1, round(height * scale)))
        code = cv2.resize(code, size, interpolation=cv2.INTER_AREA)
    return Preview(code=np.ascontiguousarray(code), scale=code.shape[1] / width, size=photo.size)


def make_flat(photo: LoadedPhoto, settings: PhotoSettings) -> Flat:
    """Return the surface as `settings` square and neutralise it, for the screen."""
    from jartide.photo.prepare import prepare

    picture = prepare(photo, settings)
    return Flat(code=_encoded(picture.rgb_linear), mm_per_px=picture.mm_per_px)


def analyse(
    photo: LoadedPhoto, settings: PhotoSettings, family: str, progress: Progress
) -> Analysis:
    """Prepare and read a photo."""
    from jartide.photo.prepare import prepare
    from jartide.reading.read import read_picture

    picture = prepare(photo, settings)
    progress(0.15)
    reading, layers = read_picture(
        picture, family, progress=lambda fraction: progress(0.15 + 0.85 * fraction)
    )
    flat = Flat(code=_encoded(picture.rgb_linear), mm_per_px=picture.mm_per_px)
    return Analysis(reading=reading, flat=flat, seen=layers.seen)


def _encoded(rgb_linear: np.ndarray) -> np.ndarray:
    """Linear light to uint8 sRGB, by table: a screen needs no more."""
    import numpy as np

    from jartide.colour.spaces import encode_srgb

    table = np.rint(encode_srgb(np.arange(4096) / 4095) * 255).astype(np.uint8)
    return table[(np.clip(rgb_linear, 0, 1) * 4095).astype(np.uint16)]
