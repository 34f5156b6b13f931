"""Setting out: panels and joints, the axis on each panel, veins across joints, motifs."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.errors import PlanError


class Axis(StrEnum):
    """How the axis goes from panel to panel."""

    SAME = "same"
    MIRRORED = "mirrored"


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """One panel from the left: where it begins, its axis, and that its top is marked."""

    number: int
    left_mm: float
    width_mm: float
    height_mm: float
    axis_deg: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """A joint between two panels and the heights at which main veins run across it, mm."""

    left: int
    right: int
    at_mm: float
    crossings_mm: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SetOut:
    """Panels in a row, and the joints between them."""

    panels: tuple[Panel, ...]
    joints: tuple[Joint, ...]
    whole_mm: float


def set_out(
    count: int,
    width_mm: float,
    height_mm: float,
    *,
    joint_mm: float = 0.0,
    axis_deg: float | None = None,
    axis: Axis = Axis.SAME,
    spacing_mm: float | None = None,
    evenness: float | None = None,
    seed: int = 0,
) -> SetOut:
    """Return where panels, joints and crossings lie.

    Main veins lie `spacing_mm` apart across their direction, so they meet an upright joint
    every spacing / |cos(direction)|. The crossings wander as the veins' own spacing does: for
    a nearest-neighbour ratio of 1 they are drawn at random, above it more evenly. A vein that
    is worked as one goes on over the joint, so both panels get the same height.

    Parameters
    ----------
    axis_deg : direction of the finish, degrees counter-clockwise from level; None for none
    spacing_mm : between main veins; None where there are none
    evenness : their nearest-neighbour ratio; None is taken as 1

    Raises
    ------
    PlanError : when a size is not above zero.
    """
    if count < 1 or not (width_mm > 0 and height_mm > 0) or joint_mm < 0:
        raise PlanError("error.plan.size")
    panels = []
    for number in range(count):
        turned = axis_deg
        if axis_deg is not None and axis is Axis.MIRRORED and number % 2 == 1:
            turned = (180.0 - axis_deg) % 180.0
        panels.append(
            Panel(
                number=number + 1,
                left_mm=number * (width_mm + joint_mm),
                width_mm=width_mm,
                height_mm=height_mm,
                axis_deg=turned,
            )
        )
    joints = tuple(
        Joint(
            left=number + 1,
            right=number + 2,
            at_mm=(number + 1) * width_mm + (number + 0.5) * joint_mm,
            crossings_mm=_crossings(height_mm, axis_deg, spacing_mm, evenness, seed + number),
        )
        for number in range(count - 1)
    )
    return SetOut(
        panels=tuple(panels),
        joints=joints,
        whole_mm=count * width_mm + (count - 1) * joint_mm,
    )


def _crossings(
    height_mm: float,
    axis_deg: float | None,
    spacing_mm: float | None,
    evenness: float | None,
    seed: int,
) -> tuple[float, ...]:
    if axis_deg is None or not spacing_mm:
        return ()
    level = abs(math.cos(math.radians(axis_deg)))
    if level < 0.05:
        return ()  # nearly upright veins run along the joint, not across it
    step = spacing_mm / level
    rng = np.random.default_rng(seed)
    # A gamma renewal process: its shape is 1 for a random one and grows as it evens out.
    even = min(max(evenness or 1.0, 0.3), 2.0)
    shape = max(even**4, 0.3)
    gaps = rng.gamma(shape, step / shape, max(int(4 * height_mm / step) + 8, 8))
    heights = np.cumsum(gaps) - gaps[0] * rng.random()
    return tuple(round(float(h)) for h in heights[(heights > 0) & (heights < height_mm)])


@dataclass(frozen=True, slots=True, kw_only=True)
class Motifs:
    """A row of stencilled motifs: how many, and the equal gaps between them and at the ends."""

    number: int
    gap_mm: float
    first_mm: float


def motif_spacing(width_mm: float, motif_mm: float, least_gap_mm: float) -> Motifs:
    """Return how many motifs go into a width with equal gaps, half a gap at either end.

    Raises
    ------
    PlanError : when not even one fits.
    """
    if not (width_mm > 0 and motif_mm > 0) or least_gap_mm < 0:
        raise PlanError("error.plan.size")
    number = int(width_mm / (motif_mm + least_gap_mm) + 1e-9)
    if number < 1:
        raise PlanError("error.plan.motif")
    gap = width_mm / number - motif_mm
    return Motifs(number=number, gap_mm=gap, first_mm=gap / 2)
