"""Read patches of known colour in a photo: greys, paints, and the fields of a chart."""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ, lab_to_linear
from jartide.errors import PrepareError
from jartide.photo.correct import Correction, Grade, KnownColours, Model, fit_correction
from jartide.photo.load import Photo
from jartide.photo.settings import Chart, KnownPatch, Rect
from jartide.photo.square import UNIT_SQUARE, check_corners, homography, transform
from jartide.wording import Message

# A patch smaller than this says more about noise than about the light.
MIN_PATCH_PX = 16
# Plain office paper in a room's light, CIELAB D65: whiteners need more ultraviolet than windows and
# lamps leave. Sheets of different makes lie within `_PAPER_SD` of it, CIEDE2000.
PAPER, PAPER_LAB = "paper", (94.0, 0.0, -2.0)
_PAPER_SD, _PATCH_SD = 2.5, 1.0


def crop(photo: Photo, rect: Rect, what: str) -> np.ndarray:
    """Return the code, (h, w, 3), inside a rectangle; `what` is its message id, for the error.

    Raises
    ------
    PrepareError : when the rectangle holds too little of the photo.
    """
    width, height = photo.size
    left, right = np.clip([rect.x, rect.x + rect.w], 0, width).round().astype(int)
    top, bottom = np.clip([rect.y, rect.y + rect.h], 0, height).round().astype(int)
    if (right - left) * (bottom - top) < MIN_PATCH_PX:
        raise PrepareError("error.rect.outside", what=Message(what))
    return photo.code[top:bottom, left:right]


def patch_light(photo: Photo, rect: Rect) -> np.ndarray:
    """Return the median linear light, (3,), of a patch.

    Raises
    ------
    PrepareError : when the patch is outside, burnt out or black.
    """
    code = crop(photo, rect, "word.grey_patch")
    top = float(np.iinfo(code.dtype).max)
    if np.mean(code.max(axis=2) >= 0.99 * top) > 0.2:
        raise PrepareError("error.neutral.burnt")
    light = np.median(photo.linear(code).reshape(-1, 3), axis=0).astype(float)
    if light.min() < 0.002:
        raise PrepareError("error.neutral.black")
    return light


def correction_by_patches(photo: Photo, patches: tuple[KnownPatch, ...]) -> Correction:
    """Return the correction that the painter's known patches allow.

    Patches whose lightness is unknown tell the tint alone: then the first
    patch keeps its luminance.

    Raises
    ------
    PrepareError : when a patch is no use, or its lightness no lightness.
    """
    lights = np.array([patch_light(photo, p.rect) for p in patches])
    for patch in patches:
        if patch.lightness is not None and not 5 < patch.lightness <= 100:
            raise PrepareError("error.neutral.lightness")
    if all(p.lightness is not None for p in patches):
        labs = np.array([[p.lightness, p.a, p.b] for p in patches], float)
        trust = [_PAPER_SD if patch.source == PAPER else _PATCH_SD for patch in patches]
        known = KnownColours(seen=lights, lab=labs, trust=np.array(trust))
        return fit_correction(known, Grade.PATCH)
    gains = []
    for patch, light in zip(patches, lights, strict=True):
        true = lab_to_linear([patch.lightness or 60.0, patch.a, patch.b])
        gains.append(
            np.log(true / light) - np.log((RGB_TO_XYZ[1] @ true) / (RGB_TO_XYZ[1] @ light))
        )
    tint = np.exp(np.mean(gains, axis=0))
    first = lights[0]
    tint *= (RGB_TO_XYZ[1] @ first) / (RGB_TO_XYZ[1] @ (first * tint))
    return Correction(
        grade=Grade.PATCH,
        model=Model.WHITE,
        tone=(0.0, 0.0, 0.0),
        matrix=np.diag(tint),
        left_out_mean=None,
        left_out_max=None,
        lightness_sd=0.0,
        chroma_sd=0.8,
    )


def correction_by_chart(photo: Photo, chart: Chart) -> Correction:
    """Return the correction that a chart of known patches allows.

    Raises
    ------
    PrepareError : when the chart's corners or numbers don't fit, or its patches are no use.
    """
    count = chart.columns * chart.rows
    if not 2 <= count <= 400 or len(chart.labs) != count:
        raise PrepareError("error.chart.count", wanted=count, given=len(chart.labs))
    quad = check_corners(chart.corners, photo.size)
    matrix = homography(UNIT_SQUARE * (chart.columns, chart.rows), quad)
    lights, labs = [], []
    for number, lab in enumerate(chart.labs):
        row, column = divmod(number, chart.columns)
        ring = transform(matrix, np.array([[0.3, 0.3], [0.7, 0.7]]) + (column, row))
        low, high = ring.min(axis=0), ring.max(axis=0)
        side = np.maximum(high - low, 4.0)
        rect = Rect(x=low[0], y=low[1], w=side[0], h=side[1])
        try:
            lights.append(patch_light(photo, rect))
        except PrepareError:
            continue  # one burnt or black field must not cost the chart
        labs.append(lab)
    if len(lights) < 2:
        raise PrepareError("error.chart.unusable")
    known = KnownColours(
        seen=np.array(lights), lab=np.array(labs, float), trust=np.full(len(labs), 0.4)
    )
    return fit_correction(known, Grade.CHART)
