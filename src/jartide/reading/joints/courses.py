"""The joints across: from one joint to the next, as between two bricks of a course."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np
from scipy.signal import find_peaks

from jartide.reading.joints.crossing import responses, standing_out, turned, unrest_of
from jartide.reading.joints.parallel import Parallel

# A joint across stands out by this much L*, and by this share of what the long ones do.
_LEAST_L, _LEAST_SHARE = 2.0, 0.45
# In a short piece chance alone reaches this many times the surface's unrest.
_UNREST = 2.0
# A course is looked at in so many pieces across.
_PIECES = 4
# Less of a course than this share of the usual one, at a border, is not looked at.
_LEAST_COURSE = 0.4
# Two joints of one course are as far apart as this share of the course is high.
_APART = 0.4
# Joints of the next course within this share of a length stand over each other.
_OVER = 0.12
_MARGIN_PX = 3


class Bond(StrEnum):
    """How joints across lie from course to course."""

    NONE = "none"  # there are none
    STACKED = "stacked"  # over each other
    HALF = "half"  # over the middle of what lies below
    MIXED = "mixed"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Across:
    """Joints across the long ones.

    Attributes
    ----------
    lines : of each its two ends, (2, 2) x, y in pixels of the fine picture
    lengths_px : (N,) from one to the next in its course, pixels of the fine picture
    """

    lines: tuple[np.ndarray, ...]
    lengths_px: np.ndarray
    bond: Bond


def find_across(fine: np.ndarray, weight: np.ndarray, joints: Parallel) -> Across:
    """Return the joints across between long ones; the picture, (H, W), as they were found in."""
    view = turned(fine, weight, joints.direction_deg)
    columns = joints.columns.astype(float)
    usual = float(np.median(np.diff(columns))) if len(columns) > 1 else float("inf")
    inside = np.flatnonzero(view.weight.max(axis=0) > 0.5)
    cuts = [float(inside[0]), *columns, float(inside[-1])]
    least = max(_LEAST_L, _LEAST_SHARE * float(np.median(joints.strength_L)))
    lines, places, usual_course = [], [], min(usual, max(np.diff(cuts)))
    for left, right in pairwise(cuts):
        first, last = round(left) + _MARGIN_PX, round(right) - _MARGIN_PX
        if right - left < _LEAST_COURSE * usual_course or last - first < 8:
            places.append(np.zeros(0))
            continue
        pieces = min(_PIECES, max(1, (last - first) // 6))
        own = responses(
            np.ascontiguousarray(view.lightness[:, first:last].T),
            np.ascontiguousarray(view.weight[:, first:last].T),
            joints.sign,
            pieces,
        )
        value = standing_out(own, missed=0.25)
        value = np.where(np.isfinite(value), value, 0.0)
        apart = max(8, _APART * (right - left))
        height = max(least, _UNREST * unrest_of(own))
        found, _ = find_peaks(np.pad(value, 1), height=height, distance=apart)
        places.append((found - 1).astype(float))
        lines += [
            np.array([[left, row], [right, row]]) @ view.back[:, :2].T + view.back[:, 2]
            for row in places[-1]
        ]
    lengths = [np.diff(one) for one in places if len(one) > 1]
    length = np.concatenate(lengths) if lengths else np.zeros(0)
    return Across(lines=tuple(lines), lengths_px=length, bond=_bond(places, length))


def _bond(places: list[np.ndarray], lengths: np.ndarray) -> Bond:
    """Return how joints of one course, (N,) each, lie over those of the next."""
    if not any(one.size for one in places):
        return Bond.NONE
    apart = np.concatenate(
        [np.zeros(0)]
        + [
            np.abs(one[:, None] - other[None]).min(axis=1)
            for one, other in pairwise(places)
            if one.size and other.size
        ]
    )
    if not apart.size:
        return Bond.MIXED
    rows = max((one.max() for one in places if one.size), default=1.0)
    length = float(np.median(lengths)) if lengths.size else float(rows)
    share = apart / max(length, 1.0)
    if np.median(share) < _OVER and (share < _OVER).mean() > 0.7:
        return Bond.STACKED
    if (np.abs(share - 0.5) < _OVER).mean() > 0.7:
        return Bond.HALF
    return Bond.MIXED
