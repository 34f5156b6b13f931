"""What is not to be read: the painter's shapes; glare, shadow and burnt areas as suggestions."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from jartide.errors import PrepareError
from jartide.photo.load import Photo
from jartide.photo.settings import Polygon, Rect, Shape, Stroke
from jartide.photo.shrink import shrunk

_LOOK_PX = 500_000
_MOST_SUGGESTED = 12


class Fault(StrEnum):
    """Why a part of a photo is suggested to be left out."""

    GLARE = "glare"
    SHADOW = "shadow"
    BURNT = "burnt"
    REACHING_IN = "reaching_in"


@dataclass(frozen=True, slots=True, kw_only=True)
class Suggestion:
    """An outline in the original, what is wrong there, and its share of the photo."""

    fault: Fault
    outline: Polygon
    share: float


def shape_points(shape: Shape) -> np.ndarray:
    """Return the points of a shape, (N, 2) original px, checked.

    Raises
    ------
    PrepareError : when it is no area, or a number is none.
    """
    if isinstance(shape, Rect):
        x, y, w, h = shape.x, shape.y, shape.w, shape.h
        points = np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]], float)
        if not (w > 0 and h > 0):
            raise PrepareError("error.leave_out.shape")
    else:
        points = np.array(shape.points, float).reshape(-1, 2)
    if not np.all(np.isfinite(points)) or np.abs(points).max(initial=0) > 1e6:
        raise PrepareError("error.leave_out.shape")
    if isinstance(shape, Polygon) and len(points) < 3:
        raise PrepareError("error.leave_out.shape")
    if isinstance(shape, Stroke) and (len(points) < 1 or not 0 < shape.radius_px < 1e5):
        raise PrepareError("error.leave_out.shape")
    return points


def draw_shapes(shapes: tuple[Shape, ...], size: tuple[int, int], scale: float) -> np.ndarray:
    """Return where shapes lie, (H, W) bool, on a photo of `size` px shrunk by `scale` (0..1)."""
    mask = np.zeros((max(1, round(size[1] * scale)), max(1, round(size[0] * scale))), np.uint8)
    for shape in shapes:
        points = np.rint((shape_points(shape) * scale - 0.5) * 16).astype(np.int32)
        if isinstance(shape, Stroke):
            thick = max(1, round(2 * shape.radius_px * scale))
            whole = [points.reshape(-1, 1, 2)]
            if len(points) == 1:
                centre = (int(points[0, 0]), int(points[0, 1]))
                cv2.circle(mask, centre, max(1, thick * 8), 255, -1, shift=4)
            else:
                cv2.polylines(mask, whole, False, 255, thick, cv2.LINE_8, shift=4)
        else:
            cv2.fillPoly(mask, [points], 255, shift=4)
    return mask > 0


def suggest(
    photo: Photo,
    region: Shape | None = None,
    besides: Shape | None = None,
    most_px: int = _LOOK_PX,
) -> list[Suggestion]:
    """Look for burnt areas, glare and cast shadows in a photo or in a region of it.

    `besides`, such as a photo card, is not looked at; at most about `most_px` pixels are.

    Glare is much lighter than its surroundings and has lost their colour; a
    shadow is a large area, evenly darker by the same factor in all channels,
    with an edge softer than paint has.
    """
    ratio = min(1.0, (most_px / (photo.size[0] * photo.size[1])) ** 0.5)
    size = (max(8, round(photo.size[0] * ratio)), max(8, round(photo.size[1] * ratio)))
    code = photo.code if photo.code.dtype == np.uint8 else (photo.code >> 8).astype(np.uint8)
    small = shrunk(code, size)
    inside = np.ones(small.shape[:2], bool)
    if region is not None:
        inside = draw_shapes((region,), photo.size, ratio)[: size[1], : size[0]]
    if besides is not None:
        inside &= ~draw_shapes((besides,), photo.size, ratio)[: size[1], : size[0]]
    burnt = (small.max(axis=2) >= 252) & inside
    light = cv2.cvtColor(small, cv2.COLOR_RGB2LAB).astype(np.float32)
    lightness, chroma = light[..., 0] / 2.55, np.hypot(light[..., 1] - 128, light[..., 2] - 128)
    wide = max(3, round(0.04 * max(size)))
    ground = _local(lightness, inside, wide * 3)
    tint = _local(chroma, inside, wide * 3)
    glare = (lightness > ground + 18) & (lightness > 72) & inside
    glare &= (chroma < 0.6 * tint + 3) | (lightness > 95)
    glare = cv2.morphologyEx(glare.astype(np.uint8), cv2.MORPH_OPEN, _disc(3)) > 0
    found = [
        *_outlines(burnt, Fault.BURNT, ratio, 0.0004),
        *_outlines(glare & ~_grown(burnt, 3), Fault.GLARE, ratio, 0.0006),
        *_outlines(_shadow(small, inside, wide), Fault.SHADOW, ratio, 0.02),
    ]
    found.sort(key=lambda s: -s.share)
    return found[:_MOST_SUGGESTED]


def _disc(radius: int) -> np.ndarray:
    return cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1, 2 * radius + 1))


def _grown(mask: np.ndarray, radius: int) -> np.ndarray:
    return cv2.dilate(mask.astype(np.uint8), _disc(radius)) > 0


def _local(values: np.ndarray, inside: np.ndarray, sigma: float) -> np.ndarray:
    """Weighted local mean of values inside."""
    # Smooth: on a coarser grid it is the same and many times as fast.
    shrink = max(1, int(sigma / 4))
    rows, columns = values.shape
    size = (max(2, columns // shrink), max(2, rows // shrink))
    both = np.dstack([np.where(inside, values, 0), inside]).astype(np.float32)
    small = cv2.GaussianBlur(cv2.resize(both, size, interpolation=cv2.INTER_AREA), (0, 0), 4.0)
    total, weight = cv2.split(cv2.resize(small, (columns, rows), interpolation=cv2.INTER_LINEAR))
    return total / np.maximum(weight, 1e-4)


def _shadow(small: np.ndarray, inside: np.ndarray, wide: int) -> np.ndarray:
    """Large areas darker by one factor in all channels, beside lighter ones of the same colour."""
    linear = (small.astype(np.float32) / 255) ** 2.2 + 1e-3
    smooth = cv2.GaussianBlur(linear, (0, 0), wide / 2)
    log = np.log(smooth)
    value = log.mean(axis=2)
    colour = log - value[..., None]
    if inside.sum() < 100:
        return np.zeros(inside.shape, bool)
    # Two levels of light, if there are two: Otsu's threshold on the smoothed light.
    inner = value[inside]
    low, high = np.quantile(inner, [0.01, 0.99])
    if high - low < 0.45:
        return np.zeros(inside.shape, bool)
    scaled = np.clip((inner - low) / (high - low) * 255, 0, 255).astype(np.uint8).reshape(-1, 1)
    level, _ = cv2.threshold(scaled, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    dark = (value < low + level / 255 * (high - low)) & inside
    bright = ~dark & inside
    if dark.sum() < 0.02 * inside.sum() or bright.sum() < 0.2 * inside.sum():
        return np.zeros(inside.shape, bool)
    gap = float(value[bright].mean() - value[dark].mean())
    shift = np.abs(colour[bright].mean(axis=0) - colour[dark].mean(axis=0)).max()
    split = float(np.hypot(value[bright].std(), value[dark].std()))
    # Paint of another tone changes colour too; shadow darkens all channels alike, and
    # clouds have all values between.
    if gap < 0.4 or shift > 0.18 * gap or split > 0.45 * gap:
        return np.zeros(inside.shape, bool)
    return cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_OPEN, _disc(max(2, wide // 2))) > 0


def _outlines(mask: np.ndarray, fault: Fault, ratio: float, least: float) -> list[Suggestion]:
    joined = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, _disc(4))
    joined = cv2.dilate(joined, _disc(2))
    contours, _ = cv2.findContours(joined, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    found = []
    for contour in contours:
        share = cv2.contourArea(contour) / mask.size
        if share < least:
            continue
        simple = cv2.approxPolyDP(contour, 1.5, True).reshape(-1, 2)
        if len(simple) < 3:
            continue
        points = tuple((float(x), float(y)) for x, y in np.round((simple + 0.5) / ratio, 1))
        found.append(Suggestion(fault=fault, outline=Polygon(points=points), share=share))
    return found
