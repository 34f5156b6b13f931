"""Joints of a surface: where they lie, to be left out of its lines, and their measures."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from jartide.families import Family
from jartide.reading.joints.courses import Across, find_across
from jartide.reading.joints.parallel import FINE, Parallel, find_parallel, reduced_to, scaled
from jartide.reading.joints.profile import JointProfile, measure_profile
from jartide.reading.pattern.records import Joints, Polarity
from jartide.reading.trust.measured import Measured, measured, unknown
from jartide.reading.trust.own_error import judged

# More of one direction are grain, threads or strokes; grain is the likelier to lie straight.
_MOST, _MOST_BOARDS = 32, 14
# Straight veins and grain on one surface are its lines: over joints that go one way only the tone
# must change by this share of the spread within a board.
_RULED, _LEAST_PARTED = ("vein", "grain"), 0.2
# What is left out is this many times as wide as a joint is at half its depth, and some pixels.
_WIDER, _MORE_PX = 1.4, 2.0
# Lengths that differ by more than this, relatively, are no length of the unit.
_AGREE = 0.15


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class JointsFound:
    """Joints as they lie in a picture.

    Attributes
    ----------
    cover : (H, W) bool, what is left out of the reading
    joints : their measures
    """

    cover: np.ndarray
    joints: Joints


def find_joints(
    lab: np.ndarray, valid: np.ndarray, mm_per_px: float | None, family: Family
) -> JointsFound | None:
    """Return the joints of boards, bricks, tiles or panels; None where there are none.

    `lab` is (H, W, 3), `valid`, (H, W) bool, what is read.
    """
    if not family.jointed:
        return None
    lightness = np.ascontiguousarray(lab[..., 0])
    has_grain = family.lines_role == "grain" or family.name == "auto"
    found = find_parallel(lightness, valid, _MOST_BOARDS if has_grain else _MOST)
    # Straight light strokes all one way are brushed on, or are grain.
    if not found or (has_grain and found[0].sign > 0 and len(found) == 1):
        return None
    fine, weight, factor = reduced_to(lightness, valid, FINE)
    across = find_across(fine, weight, found[0])
    if family.lines_role in _RULED and not across.lines and found[0].parted < _LEAST_PARTED:
        return None
    along = scaled(found[0], factor)
    half = 0.5 * (factor - 1)
    crossing = tuple(factor * line + half for line in across.lines)
    profile = measure_profile(lab, valid, along)
    cover = _cover(valid.shape, (*along.lines, *crossing), profile.width_px) & valid
    return JointsFound(
        cover=cover,
        joints=_measures(found, across, profile, factor, mm_per_px, cover, valid),
    )


def _cover(shape: tuple[int, int], lines: tuple[np.ndarray, ...], width_px: float) -> np.ndarray:
    """Draw joints, (N, 2) x, y each, as wide as is left out for them."""
    drawn = np.zeros(shape, np.uint8)
    thick = max(3, round(_WIDER * width_px + _MORE_PX))
    for line in lines:
        cv2.polylines(drawn, [np.rint(line).astype(np.int32)], False, 1, thick)
    return drawn > 0


def _measures(
    found: list[Parallel],
    across: Across,
    profile: JointProfile,
    factor: float,
    mm_per_px: float | None,
    cover: np.ndarray,
    valid: np.ndarray,
) -> Joints:
    along = found[0]
    beside = next((d.direction_deg for d in found[1:]), None)
    if beside is None and across.lines:
        beside = (along.direction_deg + 90) % 180
    scale = None if mm_per_px is None else mm_per_px * factor
    lengths = across.lengths_px
    agree = lengths.size > 1 and bool(np.median(np.abs(lengths / np.median(lengths) - 1)) <= _AGREE)
    return Joints(
        direction_deg=judged("joints.direction_deg", along.direction_deg, 1.0),
        across_direction_deg=None if beside is None else float(beside),
        spacing_mm=_distance("joints.spacing_mm", np.diff(along.columns), scale, mean=True),
        length_mm=_distance(
            "joints.length_mm", lengths if agree else lengths[:0], scale, mean=False
        ),
        width_mm=_width(profile, mm_per_px),
        contrast_L=judged("joints.contrast_L", abs(profile.contrast_L), 1.64 * profile.spread_L),
        coverage=measured(float(cover.sum() / max(valid.sum(), 1)), 0.02, 0.02),
        polarity=Polarity.LIGHTER if along.sign > 0 else Polarity.DARKER,
        bond=across.bond.value,
        count=len(along.columns) + len(across.lines),
        lab=profile.lab,
    )


def _distance(path: str, gaps_px: np.ndarray, scale: float | None, *, mean: bool) -> Measured:
    """Return from how far to how far joints come again, of the gaps, (N,), between them."""
    if scale is None:
        return unknown("reason.no_scale")
    if not gaps_px.size:
        return unknown("reason.few_joints")
    gaps = gaps_px.astype(float) * scale
    value = float(gaps.mean() if mean else np.median(gaps))
    spread = 2.0 * float(gaps.std()) / np.sqrt(gaps.size) + scale / gaps.size
    return judged(path, value, np.sqrt(2) * spread)


def _width(profile: JointProfile, mm_per_px: float | None) -> Measured:
    if mm_per_px is None:
        return unknown("reason.no_scale")
    value = judged(
        "joints.width_mm", profile.width_px * mm_per_px, 1.64 * profile.width_spread_px * mm_per_px
    )
    # Under two pixels what is seen is the blur.
    if profile.width_px < 2 and value.measurement is not None:
        most = max(value.measurement[1], 2 * mm_per_px)
        value = replace(value, measurement=(0.0, most))
    return value
