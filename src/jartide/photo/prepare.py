"""Photo and settings -> Picture: squared, scaled, neutral, at the size the work needs."""

from __future__ import annotations

import math
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from jartide.errors import PrepareError
from jartide.photo.load import Photo
from jartide.photo.neutral import crop, neutral_gains
from jartide.photo.picture import Picture
from jartide.photo.settings import PhotoSettings, Rect
from jartide.photo.square import UNIT_SQUARE, aspect_ratio, check_corners, homography, transform
from jartide.wording import Message

# Readings work on this many pixels. A photo of up to twice as many is taken
# as it is: pixels averaged from a larger photo are sharper than a camera's own.
READING_PIXELS = 750_000
_AS_TAKEN = 2.0


def prepare(photo: Photo, settings: PhotoSettings, max_pixels: int = READING_PIXELS) -> Picture:
    """Return the flat picture of the surface, about `max_pixels` large, never enlarged.

    Raises
    ------
    PrepareError : one sentence, when the settings don't make sense for this photo.
    """
    _check_numbers(settings)
    # Checked first: a bad patch must not cost the painter the wait for the squaring.
    gains = None if settings.neutral is None else neutral_gains(photo, settings.neutral)
    squarer = _squared if settings.corners is not None else _cut_out
    rgb, mm_per_px, mask, reduced = squarer(photo, settings, max_pixels)
    if gains is not None:
        rgb *= gains.astype(np.float32)
    neutral = settings.neutral
    return Picture(
        rgb_linear=rgb,
        photo_size=photo.size,
        mm_per_px=mm_per_px,
        mask=mask,
        balance_known=neutral is not None,
        exposure_known=neutral is not None and neutral.lightness is not None,
        reduced=reduced,
    )


def original_to_surface(photo_size: tuple[int, int], settings: PhotoSettings) -> np.ndarray:
    """Return the homography, (3, 3), from original pixels to the surface.

    The surface's unit is the millimetre when its scale is known, else the
    rectangle's height (with corners) or the original pixel (without).
    """
    if settings.corners is None:
        scale = settings.mm_per_px or 1.0
        if settings.known_length is not None:
            scale = _length_scale(np.eye(3), settings)
        return np.diag([scale, scale, 1.0])
    quad = check_corners(settings.corners, photo_size)
    if settings.size_mm is not None:
        return homography(quad, UNIT_SQUARE * np.array(settings.size_mm))
    to_unit = homography(quad, UNIT_SQUARE * np.array([aspect_ratio(quad, photo_size), 1.0]))
    if settings.known_length is not None:
        scale = _length_scale(to_unit, settings)
        return np.diag([scale, scale, 1.0]) @ to_unit
    return to_unit


def has_scale(settings: PhotoSettings) -> bool:
    """Tell whether these settings give the photo a scale."""
    if settings.known_length is not None:
        return True
    if settings.corners is not None:
        return settings.size_mm is not None
    return settings.mm_per_px is not None


def _length_scale(matrix: np.ndarray, settings: PhotoSettings) -> float:
    """Millimetres per unit of the surface that `matrix` leads to."""
    known = settings.known_length
    assert known is not None
    start, end = transform(matrix, np.array([known.start, known.end]))
    length = float(np.hypot(*(end - start)))
    if np.hypot(*np.subtract(known.start, known.end)) < 8:
        raise PrepareError("error.scale.close")
    return known.length_mm / length


def _check_numbers(settings: PhotoSettings) -> None:
    lengths = [
        ("word.board_size", v) for v in (settings.size_mm if settings.size_mm is not None else ())
    ]
    if settings.known_length is not None:
        lengths.append(("word.known_length", settings.known_length.length_mm))
    if settings.mm_per_px is not None:
        lengths.append(("word.scale", settings.mm_per_px))
    for what, value in lengths:
        if not (math.isfinite(value) and 0 < value < 1e5):
            raise PrepareError("error.scale.number", what=Message(what))


def _reduce(rgb: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Average linear light down to (width, height)."""
    import cv2

    if size == (rgb.shape[1], rgb.shape[0]):
        return rgb
    return cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)


def _reduce_photo(photo: Photo, code: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Decode and average `code` down to (width, height), in strips to bound the memory."""
    height, width = code.shape[:2]
    if width * height < 3_000_000 or size[1] < 16:
        return _reduce(photo.linear(code), size)
    out = np.empty((size[1], size[0], 3), np.float32)
    # Strip edges fall on whole rows of the result, so every strip averages exactly.
    step = max(1, size[1] // 12)

    def reduce_strip(top: int) -> None:
        bottom = min(top + step, size[1])
        first = round(top * height / size[1])
        last = round(bottom * height / size[1])
        out[top:bottom] = _reduce(photo.linear(code[first:last]), (size[0], bottom - top))

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(reduce_strip, range(0, size[1], step)))
    return out


def _cut_out(
    photo: Photo, settings: PhotoSettings, max_pixels: int
) -> tuple[np.ndarray, float | None, np.ndarray | None, float]:
    """The photo, or its region, as it is: taken square on."""
    code = photo.code
    if settings.region is not None:
        code = crop(photo, settings.region, "word.region")
    height, width = code.shape[:2]
    factor = math.sqrt(width * height / max_pixels)
    factor = 1.0 if factor**2 <= _AS_TAKEN else factor
    size = (max(1, round(width / factor)), max(1, round(height / factor)))
    rgb = _reduce_photo(photo, code, size)
    reduced = width / size[0]
    scale = None
    if has_scale(settings):
        scale = float(original_to_surface(photo.size, settings)[0, 0]) * reduced
    return rgb, scale, None, reduced


def _squared(
    photo: Photo, settings: PhotoSettings, max_pixels: int
) -> tuple[np.ndarray, float | None, np.ndarray | None, float]:
    """The rectangle inside the four corners, flat."""
    import cv2

    matrix = original_to_surface(photo.size, settings)
    assert settings.corners is not None
    quad = np.asarray(settings.corners, float)
    surface = transform(matrix, quad)
    extent = surface[2] - surface[0]
    sides_px = np.linalg.norm(np.roll(quad, -1, axis=0) - quad, axis=1)
    # As fine as the nearer edges show it: finer would only enlarge.
    finest = max(sides_px[[0, 2]].max() / extent[0], sides_px[[1, 3]].max() / extent[1])
    per_unit = math.sqrt(max_pixels / (extent[0] * extent[1]))
    per_unit = finest if finest**2 <= _AS_TAKEN * per_unit**2 else per_unit
    size = (max(2, round(extent[0] * per_unit)), max(2, round(extent[1] * per_unit)))
    per_unit = size[0] / extent[0]

    # Average the original down first, so that the warp samples about one to one.
    left, top = np.floor(np.maximum(quad.min(axis=0) - 2, 0)).astype(int)
    right, bottom = np.ceil(np.minimum(quad.max(axis=0) + 2, photo.size)).astype(int)
    if right - left < 2 or bottom - top < 2:
        raise PrepareError("error.corners.outside")
    shrink = max(1.0, finest / per_unit)
    small = (max(2, round((right - left) / shrink)), max(2, round((bottom - top) / shrink)))
    part = _reduce_photo(photo, photo.code[top:bottom, left:right], small)
    ratio = np.array(small) / (right - left, bottom - top)
    to_part = np.diag([*ratio, 1.0]) @ np.array([[1, 0, -left], [0, 1, -top], [0, 0, 1.0]])
    flat_to_original = np.linalg.inv(matrix) @ np.diag([1 / per_unit, 1 / per_unit, 1.0])
    # OpenCV puts (0, 0) at a pixel's centre, we at its corner.
    half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
    lookup = np.linalg.inv(half) @ to_part @ flat_to_original @ half
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    rgb = cv2.warpPerspective(part, lookup, size, flags=flags, borderMode=cv2.BORDER_REPLICATE)
    np.maximum(rgb, 0, out=rgb)

    mask = _flat_mask(settings.region, flat_to_original, size, photo.size)
    scale = 1 / per_unit if has_scale(settings) else None
    return rgb, scale, mask, shrink


def _flat_mask(
    region: Rect | None,
    flat_to_original: np.ndarray,
    size: tuple[int, int],
    photo_size: tuple[int, int],
) -> np.ndarray | None:
    """True where a flat pixel lies inside the photo and the region; None when all do."""
    columns, rows = np.meshgrid(np.arange(size[0]) + 0.5, np.arange(size[1]) + 0.5)
    x, y = np.moveaxis(transform(flat_to_original, np.stack([columns, rows], -1)), -1, 0)
    mask = (x >= 0) & (y >= 0) & (x <= photo_size[0]) & (y <= photo_size[1])
    if region is not None:
        mask &= (x >= region.x) & (x <= region.x + region.w)
        mask &= (y >= region.y) & (y <= region.y + region.h)
    if mask.all():
        return None
    if mask.sum() < 64:
        raise PrepareError("error.region.outside")
    return mask
