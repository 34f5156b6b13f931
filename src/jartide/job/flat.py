"""A photo for the screen: as it was taken, and as the squared, neutral surface."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from jartide.boards.seen import View, view_of
from jartide.colour.spaces import encode_srgb
from jartide.errors import JarTideError
from jartide.job.decoded import Decoded, PhotoFile
from jartide.job.runner import Progress
from jartide.photo.card.find import CardSighting
from jartide.photo.leave_out import Suggestion
from jartide.photo.load import Photo as LoadedPhoto
from jartide.photo.piece.around import suggestions
from jartide.photo.prepare import Prepared, prepare_in_full
from jartide.photo.settings import PhotoSettings
from jartide.photo.shrink import shrunk

PREVIEW_PX = 1_600_000
# Long side of what stands in a list, px.
PRINT_PX = 360


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Preview:
    """A photo as taken, small enough to show: (H, W, 3) uint8, and px of it per original px."""

    code: np.ndarray
    scale: float
    size: tuple[int, int]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Flat:
    """The squared, neutral surface, and how it came to be.

    code, before : (H, W, 3) uint8, after and before colour and light were corrected
    mm_per_px : of the flat picture
    prepared : what the core made, its large arrays in half precision; None when only shown
    suggestions : what could be left out
    view : the surface reduced for looking at; None without a scale
    """

    code: np.ndarray
    before: np.ndarray
    mm_per_px: float | None
    prepared: Prepared
    suggestions: tuple[Suggestion, ...]
    view: View | None = None

    def flat_px(self, at: tuple[float, float]) -> tuple[float, float] | None:
        """Carry a point of the original to the flat picture, px; None where it does not lie."""
        layout, height, width = self.prepared.layout, *self.code.shape[:2]
        if layout.surface is None or layout.extent is None:
            where = self.prepared.where
            x0, y0 = where[0, 0]
            x1, y1 = where[-1, -1]
            x = (at[0] - x0) / max(x1 - x0, 1e-9) * (width - 1) + 0.5
            y = (at[1] - y0) / max(y1 - y0, 1e-9) * (height - 1) + 0.5
        else:
            on = layout.surface.to_surface(np.array([at], float))[0]
            x = (on[0] - layout.extent.left) / layout.extent.width * width
            y = (on[1] - layout.extent.top) / layout.extent.height * height
        inside = np.isfinite(x + y) and 0 <= x <= width and 0 <= y <= height
        return (float(x), float(y)) if inside else None

    def photo_px(self, share: tuple[float, float]) -> tuple[float, float]:
        """Carry a point in shares of the flat picture back to the original, px."""
        layout = self.prepared.layout
        if layout.surface is None or layout.extent is None:
            where = self.prepared.where
            (x0, y0), (x1, y1) = where[0, 0], where[-1, -1]
            return float(x0 + share[0] * (x1 - x0)), float(y0 + share[1] * (y1 - y0))
        on = np.array(
            [
                [
                    layout.extent.left + share[0] * layout.extent.width,
                    layout.extent.top + share[1] * layout.extent.height,
                ]
            ]
        )
        x, y = layout.surface.to_photo(on)[0]
        return float(x), float(y)

    def length_mm(self, start: tuple[float, float], end: tuple[float, float]) -> float | None:
        """Return how far apart two points of the original are; None without a scale, or beside."""
        a, b = self.flat_px(start), self.flat_px(end)
        if a is None or b is None or self.mm_per_px is None:
            return None
        return float(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5) * self.mm_per_px


@dataclass(frozen=True, slots=True, kw_only=True)
class Stand:
    """What is done to a photo: whether it is squared, scaled, and neutral."""

    squared: bool
    scaled: bool
    neutral: bool


def stand_of(flat: Flat) -> Stand:
    """Return what was done to the photo of a flat picture."""
    return Stand(
        squared=flat.prepared.layout.surface is not None,
        scaled=flat.mm_per_px is not None,
        neutral=flat.prepared.picture.balance_known,
    )


def make_preview(photo: LoadedPhoto) -> Preview:
    """Return the photo reduced for the screen."""
    code = photo.code if photo.code.dtype == np.uint8 else (photo.code // 257).astype(np.uint8)
    height, width = code.shape[:2]
    scale = min(1.0, (PREVIEW_PX / (width * height)) ** 0.5)
    if scale < 1:
        size = (max(1, round(width * scale)), max(1, round(height * scale)))
        code = cv2.resize(code, size, interpolation=cv2.INTER_AREA)
    return Preview(code=np.ascontiguousarray(code), scale=code.shape[1] / width, size=photo.size)


def make_print(preview: Preview) -> np.ndarray:
    """Return a photo small enough for a list of many, (H, W, 3) uint8."""
    height, width = preview.code.shape[:2]
    scale = min(1.0, PRINT_PX / max(width, height))
    return shrunk(preview.code, (max(1, round(width * scale)), max(1, round(height * scale))))


def make_flat(
    photo: LoadedPhoto,
    settings: PhotoSettings,
    card: CardSighting | None,
    blank: LoadedPhoto | None,
) -> Flat:
    """Return the surface as `settings` square and correct it, for the screen."""
    return flat_of(photo, settings, prepare_in_full(photo, settings, card=card, blank=blank))


def flat_of(photo: LoadedPhoto, settings: PhotoSettings, prepared: Prepared) -> Flat:
    """The flat picture for the screen; what is kept of the core's work takes half the room."""
    picture = prepared.picture
    code, before = encoded(picture.rgb_linear), encoded(prepared.before)
    if picture.mask is not None:
        # What is not read lies under a veil.
        for shown in (code, before):
            shown[~picture.mask] = (shown[~picture.mask] // 3 + 85).astype(np.uint8)
    small = replace(picture, rgb_linear=picture.rgb_linear.astype(np.float16))
    return Flat(
        code=code,
        before=before,
        mm_per_px=picture.mm_per_px,
        prepared=replace(
            prepared, picture=small, before=np.zeros((1, 1, 3)), where=_corners(prepared.where)
        ),
        suggestions=tuple(suggestions(photo, settings, prepared.sought, prepared.card)),
        view=None if picture.mm_per_px is None else view_of(picture.rgb_linear, picture.mm_per_px),
    )


def _corners(where: np.ndarray) -> np.ndarray:
    """The first and last pixel's places: enough for a photo read as taken."""
    return where[:: max(1, where.shape[0] - 1), :: max(1, where.shape[1] - 1)].copy()


def encoded(rgb_linear: np.ndarray) -> np.ndarray:
    """Return linear light, (H, W, 3), as uint8 sRGB, by table: a screen needs no more."""
    table = np.rint(encode_srgb(np.arange(4096) / 4095) * 255).astype(np.uint8)
    return table[(np.clip(rgb_linear, 0, 1) * 4095).astype(np.uint16)]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PictureRequest:
    """A photo that is to be shown: its file, how it is set, and what is at hand already.

    `blank` is the photo of the blank board that its light is evened by, where one is named.
    """

    file: PhotoFile
    settings: PhotoSettings
    blank: PhotoFile | None
    decoded: Decoded
    preview: Preview | None = None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Pictured:
    """What was made of a photo; no flat picture where it was `refused`, in one sentence."""

    preview: Preview
    flat: Flat | None
    refused: str = ""


def picture_of(request: PictureRequest, progress: Progress) -> Pictured:
    """Open a photo, reduce it for the screen and draw its surface flat.

    Raises
    ------
    JarTideError : when its file is gone or can't be opened.
    """
    loaded = request.decoded.photo(request.file)
    progress(0.5)
    preview = request.preview or make_preview(loaded)
    try:
        card = request.decoded.card(loaded, request.settings)
        blank = None if request.blank is None else request.decoded.photo(request.blank)
        flat = make_flat(loaded, request.settings, card, blank)
    except JarTideError as error:
        return Pictured(preview=preview, flat=None, refused=str(error))
    return Pictured(preview=preview, flat=flat)
