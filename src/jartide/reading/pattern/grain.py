"""Wood grain: how far apart its lines lie, how straight, how much of it shows; knots and pores."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.signal import find_peaks

from jartide.reading.pattern.direction import Lay
from jartide.reading.pattern.knots import find_knots
from jartide.reading.pattern.pieces import pieces_of
from jartide.reading.pattern.records import Grain
from jartide.reading.trust.measured import (
    Measured,
    jackknife_half_width,
    measured,
    unknown,
    weighted_percentile,
)
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import TILES, density_half_width, tile_of

# A line of grain stands out from both neighbours by this share of the usual contrast.
_STANDS_OUT = 0.8
# The picture is looked at along its grain by so many of its spacings.
_ALONG = 1.0
_ROUNDS = 3
# Every so many rows of pixels one is walked.
_ROW_STEP = 3
LEAST_LINES = 6
# Grain is looked at no closer than this.
_USUAL_MM_PER_PX = 0.2
_LEAST_SPACING_PX = 7.0
# Pores are short dashes of lime or shadow, under this area.
_PORE_MM2 = 40.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class GrainLines:
    """Lines of grain where walks cross them: row and column, (N,), and the way walked by tile."""

    row: np.ndarray
    column: np.ndarray
    walked_px: np.ndarray


def find_grain(
    lightness: np.ndarray, valid: np.ndarray, direction_deg: float, mm_per_px: float | None
) -> GrainLines | None:
    """Return where walks across the grain of L*, (H, W), cross its lines; None without any.

    A closer photo is averaged down first: it would show pores and fibres as lines of their
    own, and the answer would depend on where the painter stood.
    """
    factor = 1.0 if mm_per_px is None else max(1.0, _USUAL_MM_PER_PX / mm_per_px)
    found = _grain_reduced(lightness, valid, direction_deg, factor)
    while found is not None and factor > 1:
        spacing_px = found.walked_px.sum() / max(found.row.size, 1) / factor
        if spacing_px > _LEAST_SPACING_PX:
            break
        # Fine grain after all: a closer look is needed for it.
        factor = max(1.0, factor / 2)
        found = _grain_reduced(lightness, valid, direction_deg, factor)
    return found


def _grain_reduced(
    lightness: np.ndarray, valid: np.ndarray, direction_deg: float, factor: float
) -> GrainLines | None:
    """Return the grain of a picture averaged down by `factor`, in its own pixels."""
    if factor == 1.0:
        return _grain_at(lightness, valid, direction_deg)
    size = round(lightness.shape[1] / factor), round(lightness.shape[0] / factor)
    small = cv2.resize(lightness, size, interpolation=cv2.INTER_AREA)
    covered = cv2.resize(valid.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    found = _grain_at(small, covered, direction_deg)
    if found is None:
        return None
    down, along = lightness.shape[0] / size[1], lightness.shape[1] / size[0]
    # Rows are walked every so many pixels of the small picture: longer steps, fewer rows.
    return GrainLines(
        row=found.row * down, column=found.column * along, walked_px=found.walked_px * along
    )


def _grain_at(lightness: np.ndarray, valid: np.ndarray, direction_deg: float) -> GrainLines | None:
    height, width = lightness.shape
    # Turned so that the grain runs upright, then walked level.
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), 90 - direction_deg, 1.0)
    # What was not read weighs nothing, so that a mask's edge is no line and hides none.
    level = np.where(valid, lightness, 0).astype(np.float32)
    total = cv2.warpAffine(level, turn, (width, height), flags=cv2.INTER_LINEAR)
    share = cv2.warpAffine(valid.astype(np.float32), turn, (width, height))
    inside = share > 0.5
    back = cv2.invertAffineTransform(turn)
    spacing = 12.0
    peaks: list[np.ndarray] = []
    rows: np.ndarray = np.arange(0)
    for _ in range(_ROUNDS):
        soft = _averaged(total, share, max(0.07 * spacing, 0.8), max(_ALONG * spacing, 1.5))
        weight = inside.astype(np.float32)
        broad = _averaged(soft * weight, weight, 2.5 * spacing, 2.5 * spacing)
        soft = cv2.subtract(soft, broad)
        # Half of what the middle two thirds span: one dark knot must not hide the lines.
        low, high = np.percentile(soft[inside], [16, 84])
        deviation = float(high - low) / 2
        if deviation < 0.3:
            return None
        rows = np.arange(2, height - 2, _ROW_STEP)
        peaks = [find_peaks(-soft[r], prominence=_STANDS_OUT * deviation)[0] for r in rows]
        peaks = [p[inside[r, p]] for r, p in zip(rows, peaks, strict=True)]
        crossed = sum(p.size for p in peaks)
        if crossed < LEAST_LINES:
            return None
        spacing = float(inside[rows].sum() / crossed)
    at = np.concatenate(peaks)
    row = np.repeat(rows, [p.size for p in peaks])
    x = back[0, 0] * at + back[0, 1] * row + back[0, 2]
    y = back[1, 0] * at + back[1, 1] * row + back[1, 2]
    wr, wc = np.nonzero(inside[rows])
    wr = rows[wr]
    walk_x = back[0, 0] * wc + back[0, 1] * wr + back[0, 2]
    walk_y = back[1, 0] * wc + back[1, 1] * wr + back[1, 2]
    walked = np.bincount(tile_of(walk_y, walk_x, valid), minlength=TILES)
    return GrainLines(row=y, column=x, walked_px=walked.astype(float))


def _averaged(total: np.ndarray, weight: np.ndarray, across: float, along: float) -> np.ndarray:
    """Return the Gaussian mean of weighted values, (H, W), where there are any."""
    border = cv2.BORDER_CONSTANT
    values, weights = (
        cv2.GaussianBlur(image, (0, 0), sigmaX=across, sigmaY=along, borderType=border)
        for image in (total, weight)
    )
    mean: np.ndarray = values / np.maximum(weights, 1e-3)
    return mean


def measure_grain(
    lightness: np.ndarray,
    valid: np.ndarray,
    lay: Lay,
    lines: GrainLines | None,
    pores: list[np.ndarray],
    length_px: np.ndarray,
    mm_per_px: float | None,
) -> Grain | None:
    """Return the measures of wood grain; None where no way is told.

    Parameters
    ----------
    lightness, valid : (H, W) L*, and what was read
    lines : from `find_grain`
    pores : (H, W) bool, one mask a layer of grain beside the broadest
    length_px : (N,) lengths of single lines of grain
    """
    if lay.direction_deg.value is None or lines is None:
        return None
    tiles = tile_of(lines.row, lines.column, valid)
    crossed = np.bincount(tiles, minlength=TILES).astype(float)
    if mm_per_px is None:
        spacing = length = unknown("reason.no_scale")
        pore = unknown("reason.no_scale")
    else:
        walked = lines.walked_px
        used = np.flatnonzero(walked > 0)
        half = jackknife_half_width(
            used,
            lambda keep: float(walked[used[keep]].sum() / max(crossed[used[keep]].sum(), 1e-9)),
        )
        mean = float(walked.sum() / crossed.sum())
        spacing = judged("grain.spacing_mm", mean * mm_per_px, half * mm_per_px)
        length = _length(length_px * mm_per_px)
        pore = _pores(pores, valid, mm_per_px)
    strength = lay.directionality
    contrast, contrast_half = _contrast(lightness, valid, lines)
    return Grain(
        spacing_mm=spacing,
        length_mm=length,
        direction_deg=lay.direction_deg,
        straightness=strength,
        contrast_L=judged("grain.contrast_L", contrast, contrast_half),
        knots=_knots(lightness, valid, lay.direction_deg.value, mm_per_px),
        pores_per_cm2=pore,
    )


def _length(length_mm: np.ndarray) -> Measured:
    if length_mm.size < 8:
        return unknown("reason.few_lines")
    value = weighted_percentile(length_mm, length_mm, 0.5)
    return judged("grain.length_mm", value, 1.645 * value / np.sqrt(length_mm.size))


def _contrast(lightness: np.ndarray, valid: np.ndarray, lines: GrainLines) -> tuple[float, float]:
    """Return how far L* of the lines lies below (or above) what is seen all over, twice.

    Lines and what lies between share the surface about evenly, so the mean of all stands
    halfway between both.
    """
    rows = np.clip(np.rint(lines.row), 0, lightness.shape[0] - 1).astype(int)
    columns = np.clip(np.rint(lines.column), 0, lightness.shape[1] - 1).astype(int)
    own = lightness[rows, columns]
    tiles = tile_of(rows, columns, valid)
    mean = float(lightness[valid].mean())
    half = jackknife_half_width(tiles, lambda keep: 2 * abs(mean - float(own[keep].mean())))
    return 2 * abs(mean - float(own.mean())), half


def _pores(pores: list[np.ndarray], valid: np.ndarray, mm_per_px: float) -> Measured:
    if not pores:
        return measured(0.0, 0.0, 0.0)
    rows, columns = [], []
    for mask in pores:
        found = pieces_of(mask & valid, valid, 4)
        use = found.counted & (found.area_px * mm_per_px**2 < _PORE_MM2)
        rows.append(found.row[use])
        columns.append(found.column[use])
    row, column = np.concatenate(rows), np.concatenate(columns)
    per_cm2 = 100 / mm_per_px**2
    return judged(
        "grain.pores_per_cm2",
        row.size / float(valid.sum()) * per_cm2,
        density_half_width(row, column, valid) * per_cm2,
    )


def _knots(
    lightness: np.ndarray, valid: np.ndarray, direction_deg: float, mm_per_px: float | None
) -> Measured:
    if mm_per_px is None:
        return unknown("reason.no_scale")
    number = float(len(find_knots(lightness, valid, mm_per_px)))
    # Counted whole; another board of this size holds as many by Poisson's chance.
    return measured(number, 0.5, 1.645 * float(np.sqrt(number + 0.5)))
