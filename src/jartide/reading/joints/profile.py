"""What a joint looks like across: its width, how far it stands out, its colour."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.reading.joints.parallel import Parallel

# A profile reaches this far to either side, of the gap to the next joint and in pixels.
_REACH, _MOST_PX = 0.35, 60
_STEP_PX = 2.0
# Profiles of one stretch so long are one: what lies on the surface beside evens out.
_STRETCH = 24
# The camera's blur at half height, pixels, of a picture as sharp as pictures are.
_BLUR_PX = 1.2


@dataclass(frozen=True, slots=True, kw_only=True)
class JointProfile:
    """How joints look across, in pixels of the picture.

    Attributes
    ----------
    width_px, width_spread_px : full width at half contrast, and how it strays along
    contrast_L, spread_L : L* of a joint less that of the nearer side, and how it strays
    lab : of the middle; None where joints are too narrow to have any
    """

    width_px: float
    width_spread_px: float
    contrast_L: float
    spread_L: float
    lab: tuple[float, float, float] | None


def measure_profile(lab: np.ndarray, valid: np.ndarray, joints: Parallel) -> JointProfile:
    """Measure joints across, in a picture, (H, W, 3) Lab; their points are in its pixels."""
    gaps = [
        float(np.linalg.norm(a.mean(axis=0) - b.mean(axis=0)))
        for a, b in zip(joints.lines[:-1], joints.lines[1:], strict=True)
    ]
    reach = int(np.clip(_REACH * (np.median(gaps) if gaps else 100), 6, _MOST_PX))
    across = np.arange(-reach, reach + 1)
    widths, contrasts, middles = [], [], []
    for line in joints.lines:
        profiles = _profiles(lab, valid, line, across)
        for first in range(0, len(profiles) - _STRETCH // 2, _STRETCH):
            stretch = profiles[first : first + _STRETCH]
            if not np.isfinite(stretch).all(axis=2).any(axis=0).all():
                continue  # beside it lies what was not read
            own = np.nanmedian(stretch, axis=0)
            told = _across(joints.sign * own[:, 0], reach)
            if told is not None:
                place, width, contrast = told
                widths.append(width)
                contrasts.append(joints.sign * contrast)
                middles.append(own[place])
    if not widths:
        return JointProfile(
            width_px=2.0, width_spread_px=2.0, contrast_L=0.0, spread_L=5.0, lab=None
        )
    shown = float(np.median(widths))
    width = float(np.sqrt(max(shown**2 - _BLUR_PX**2, 0.5)))
    colour = np.median(middles, axis=0)
    return JointProfile(
        width_px=width,
        width_spread_px=float(np.std(widths) / np.sqrt(len(joints.lines))),
        contrast_L=float(np.median(contrasts)),
        spread_L=float(np.std(contrasts) / np.sqrt(len(joints.lines))),
        lab=None if width < 3 else (float(colour[0]), float(colour[1]), float(colour[2])),
    )


def _profiles(
    lab: np.ndarray, valid: np.ndarray, line: np.ndarray, across: np.ndarray
) -> np.ndarray:
    """Return Lab across a line, (N, 2 reach + 1, 3), NaN where nothing was read."""
    steps = np.linalg.norm(np.diff(line, axis=0), axis=1)
    walked = np.concatenate([[0.0], np.cumsum(steps)])
    at = np.arange(0, walked[-1], _STEP_PX)
    points = np.column_stack([np.interp(at, walked, line[:, c]) for c in (0, 1)])
    way = (line[-1] - line[0]) / max(float(np.linalg.norm(line[-1] - line[0])), 1e-9)
    normal = np.array([-way[1], way[0]])
    x = (points[:, :1] + across * normal[0]).astype(np.float32)
    y = (points[:, 1:] + across * normal[1]).astype(np.float32)
    seen = cv2.remap(lab.astype(np.float32), x, y, cv2.INTER_LINEAR)
    read = cv2.remap(valid.astype(np.float32), x, y, cv2.INTER_LINEAR) > 0.99
    return np.where(read[..., None], seen, np.nan)


def _across(value: np.ndarray, reach: int) -> tuple[int, float, float] | None:
    """Return where a joint's middle lies in one profile, (N,), its width and its contrast."""
    inner = slice(reach - reach // 2, reach + reach // 2 + 1)
    top = inner.start + int(value[inner].argmax())
    quarter = max(2, reach // 3)
    sides = float(np.median(value[:quarter])), float(np.median(value[-quarter:]))
    contrast = float(value[top] - max(sides))
    if contrast <= 0.5:
        return None
    ends = []
    for way, side in ((-1, sides[0]), (1, sides[1])):
        half = (value[top] + side) / 2
        place = top
        while 0 < place < len(value) - 1 and value[place + way] > half:
            place += way
        beyond = min(max(place + way, 0), len(value) - 1)
        fall = value[place] - value[beyond]
        ends.append(abs(place - top) + float((value[place] - half) / fall if fall > 0 else 0.0))
    return top, ends[0] + ends[1], contrast
