"""The joints of one direction: straight lines that cross the whole surface.

Grain, veins and cracks are seldom straight, and where they are, others like them lie close by at
every near direction. A joint is straight from edge to edge, stands out everywhere along it, and
is gone a few degrees off its own direction.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import cv2
import numpy as np
from scipy.signal import find_peaks

from jartide.reading.joints.crossing import (
    PIECES,
    STRAY,
    Turned,
    responses,
    standing_out,
    turned,
    unrest_of,
)

# Sides of the pictures that joints are first sought and then placed in, pixels.
_COARSE, FINE = 240, 480
# Joints run level, upright or slantwise, and hardly ever otherwise, degrees.
_AXES, _ABOUT = (0, 45, 90, 135), 8
# A joint stands out by this much L*, by this share of the plainest one, and by more than the
# surface's own unrest does.
_LEAST_L, _LEAST_SHARE = 2.0, 0.3
# This far off its direction, degrees, less than this share of it is left.
_OFF, _LEFT = 4.0, 0.5
# In pieces so many times shorter it stands out by this share of that, in all but this share.
_SHORT, _WHOLE, _GAPS = 3, 0.25, 0.35
# That share of all lines that stand out must be so.
_MOSTLY = 0.65
# Two joints are this far apart at least, pixels of the fine picture.
_APART = 12
# One that stands alone, or one of two, must be plainer than one of many.
_ALONE_L, _ALONE_LEFT = 4.0, 0.3
# Where the others lie evenly, a fainter one is taken where one is missing.
_FAINT_L, _EVENLY = 1.0, 0.1
# Lines are joints when they stand out so many times as far as the surface's unrest, or lie
# evenly, so many gaps at least, or part tones that differ by this share of a board's own spread.
_PLAINLY, _LEAST_GAPS, _STEP = 2.0, 3, 0.4


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Parallel:
    """Joints of one direction.

    Attributes
    ----------
    direction_deg : counter-clockwise from the picture's right
    sign : -1 darker than what lies beside them, 1 lighter
    columns : (N,) where they stand in the turned fine picture
    strength_L : (N,) how plainly they stand out all along
    left : (N,) the share of that a few degrees off
    lines : of each its points, (P, 2) x, y in pixels of the fine picture
    parted : how far tones differ over a line, as a share of the spread within a board
    """

    direction_deg: float
    sign: int
    columns: np.ndarray
    strength_L: np.ndarray
    left: np.ndarray
    lines: tuple[np.ndarray, ...]
    parted: float


def reduced_to(
    lightness: np.ndarray, valid: np.ndarray, side: int
) -> tuple[np.ndarray, np.ndarray, float]:
    """Return a small picture's L* times weight, its weight, and how often it is smaller."""
    factor = max(1.0, max(lightness.shape) / side)
    size = (round(lightness.shape[1] / factor), round(lightness.shape[0] / factor))
    weight = valid.astype(np.float32)
    how = cv2.INTER_AREA
    small = cv2.resize(lightness * weight, size, interpolation=how)
    return small, cv2.resize(weight, size, interpolation=how), factor


def find_parallel(lightness: np.ndarray, valid: np.ndarray, most: int) -> list[Parallel]:
    """Return the joints of each direction that has any, plainest direction first.

    `lightness` is L*, `valid` what was read, both (H, W); more than `most` joints of one
    direction are no joints.
    """
    coarse, coarse_weight, _ = reduced_to(lightness, valid, _COARSE)
    fine, weight, _ = reduced_to(lightness, valid, FINE)
    if min(fine.shape) < _COARSE // 2:
        return []
    tops = []
    for degrees in (axis + off for axis in _AXES for off in range(-_ABOUT, _ABOUT + 1)):
        view = turned(coarse, coarse_weight, degrees)
        for sign in (-1, 1):
            response = responses(view.lightness, view.weight, sign, PIECES, (1, 2))
            tops.append((float(standing_out(response).max()), float(degrees), sign))
    tops.sort(reverse=True)
    found: list[Parallel] = []
    tried: list[float] = []
    for top, about, sign in tops:
        if top < 0.7 * _LEAST_L or len(tried) >= 4:
            break
        if any(abs((about - other + 90) % 180 - 90) < 12 for other in tried):
            continue
        tried.append(about)
        joints = _placed(fine, weight, about, sign, most)
        if joints is not None:
            found.append(joints)
    return _together(found)


def _placed(
    fine: np.ndarray, weight: np.ndarray, about_deg: float, sign: int, most: int
) -> Parallel | None:
    """Return the joints near one direction; None where what stands out are no joints."""

    def seen(degrees: float) -> tuple[Turned, np.ndarray]:
        view = turned(fine, weight, degrees)
        return view, responses(view.lightness, view.weight, sign, PIECES)

    def at(degrees: float) -> np.ndarray:
        return standing_out(seen(degrees)[1])

    near = {about_deg + off: at(about_deg + off) for off in np.arange(-1, 1.01, 0.25)}
    # All that stand out together tell the direction better than the plainest.
    degrees = max(near, key=lambda d: float(near[d].max() + near[d][_peaks(near[d])].sum()))
    own = near[degrees]
    view, response = seen(degrees)
    unrest = unrest_of(response)
    peaks = _peaks(own, unrest)
    if not peaks.size:
        return None
    off = np.max([at(degrees - _OFF), at(degrees + _OFF)], axis=0)
    left = np.array([off[max(0, p - STRAY) : p + STRAY + 1].max() / own[p] for p in peaks])
    # Rows of spots and dashes leave gaps that are shorter than a piece.
    shorter = responses(view.lightness, view.weight, sign, _SHORT * PIECES)
    unbroken = standing_out(shorter, missed=_GAPS)
    whole = np.array([unbroken[max(0, p - STRAY) : p + STRAY + 1].max() / own[p] for p in peaks])
    plain = (left <= _LEFT) & (whole >= _WHOLE)
    if plain.mean() < _MOSTLY or not 1 <= plain.sum() <= most:
        return None
    columns, left = peaks[plain], left[plain]
    columns = _completed(columns, own)
    left = np.interp(columns, peaks[plain], left)
    plainly = float(np.median(own[columns])) >= _PLAINLY * unrest
    parted = _parted(view, columns)
    if not (plainly or _are_even(columns) or parted >= _STEP):
        return None
    return Parallel(
        direction_deg=degrees % 180,
        sign=sign,
        columns=columns,
        strength_L=np.maximum(own[columns], 0),
        left=left,
        parted=parted,
        lines=tuple(_line(response, int(c), view.back, len(view.lightness)) for c in columns),
    )


def _peaks(own: np.ndarray, unrest: float = 0.0) -> np.ndarray:
    """Return the columns, (N,), where lines stand out."""
    value = np.where(np.isfinite(own), own, 0.0)
    least = max(_LEAST_L, unrest, _LEAST_SHARE * float(value.max()))
    peaks, _ = find_peaks(np.pad(value, 1), height=least, distance=_APART)
    return peaks - 1


def _are_even(columns: np.ndarray) -> bool:
    """Whether lines, (N,), lie evenly enough to be no chance."""
    gaps = np.diff(columns)
    if len(gaps) < _LEAST_GAPS:
        return False
    return bool(np.abs(gaps / np.median(gaps) - 1).max() <= _EVENLY)


def _parted(view: Turned, columns: np.ndarray) -> float:
    """Return by how much tones differ over a line, as a share of the spread within a board."""
    inside = np.flatnonzero(view.weight.max(axis=0) > 0.5)
    means, spreads = [], []
    for left, right in pairwise([int(inside[0]), *columns.tolist(), int(inside[-1])]):
        if right - left < _APART:
            continue
        margin = (right - left) // 5 + 2
        seen = view.weight[:, left + margin : right - margin] > 0.9
        own = view.lightness[:, left + margin : right - margin][seen]
        if own.size:
            means.append(float(np.median(own)))
            spreads.append(float(own.std()))
    if len(means) < 2:
        return 0.0
    return float(np.median(np.abs(np.diff(means))) / max(np.median(spreads), 0.5))


def _completed(columns: np.ndarray, own: np.ndarray) -> np.ndarray:
    """Add fainter joints where one is missing among others that lie evenly."""
    if len(columns) < 3:
        return columns
    gaps = np.diff(columns)
    usual = float(np.median(gaps))
    times = np.maximum(np.rint(gaps / usual), 1)
    if np.abs(gaps / usual / times - 1).max() > _EVENLY:
        return columns
    wanted = [
        round(start + k * gap / n)
        for start, gap, n in zip(columns, gaps, times, strict=False)
        for k in range(1, int(n))
    ]
    wanted += [round(columns[0] - usual), round(columns[-1] + usual)]
    added = []
    reach = max(STRAY, round(0.05 * usual))
    for place in wanted:
        low = max(0, place - reach)
        around = own[low : place + reach + 1] if place >= 0 else own[:0]
        if around.size and around.max() >= _FAINT_L:
            added.append(low + int(around.argmax()))
    return np.unique(np.concatenate([columns, np.array(added, int)]))


def _line(response: np.ndarray, column: int, back: np.ndarray, rows: int) -> np.ndarray:
    """Return a joint's points, (P, 2) x, y of the fine picture, a point in each piece."""
    reach = 2 * STRAY
    low = max(0, column - reach)
    near = np.nan_to_num(response[:, low : column + reach + 1], nan=-99.0)
    best = low + near.argmax(axis=1)
    # A piece in which it hardly shows lies where the ones around it do.
    sure = near.max(axis=1) > 0.5 * np.median(near.max(axis=1))
    piece = np.arange(len(best))
    place = np.interp(piece, piece[sure], best[sure]) if sure.any() else np.full(len(best), column)
    middles = (piece + 0.5) * rows / len(best)
    points = np.concatenate(
        [[[place[0], 0.0]], np.column_stack([place, middles]), [[place[-1], rows]]]
    )
    return points @ back[:, :2].T + back[:, 2]


def _together(found: list[Parallel]) -> list[Parallel]:
    """Leave out directions that have too little to be joints, and order them."""

    def is_plain(one: Parallel) -> bool:
        return bool((one.strength_L >= _ALONE_L).all() and (one.left <= _ALONE_LEFT).all())

    def upright(one: Parallel, other: Parallel) -> bool:
        return abs((one.direction_deg - other.direction_deg) % 180 - 90) < 2.5

    kept = []
    for one in found:
        many = len(one.columns) >= 3 or (len(one.columns) == 2 and is_plain(one))
        beside = [other for other in found if other is not one and upright(one, other)]
        if many or (is_plain(one) and any(is_plain(other) for other in beside)):
            kept.append(one)
    kept.sort(key=lambda one: -float(np.median(one.strength_L)) * min(len(one.columns), 2))
    if not kept:
        return []
    return [kept[0], *(other for other in kept[1:] if upright(kept[0], other))]


def scaled(joints: Parallel, factor: float) -> Parallel:
    """Return joints with their points in pixels of a picture so many times as large."""
    half = 0.5 * (factor - 1)
    return replace(joints, lines=tuple(factor * line + half for line in joints.lines))
