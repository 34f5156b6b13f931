"""The measures of what has a structure of its own: cells, weave, wood grain, brush marks."""

from __future__ import annotations

from jartide.measures.measure import Judged, Measure, Mended, Scale, Unit, Way

_GROOVE = "cells.groove_width_mm"


def _threads(path: str) -> Measure:
    return Measure(
        path=path,
        length_power=-1,
        digits=1,
        words="threads",
        own_error=(0.0, 0.006),
        judged=Judged(scale=Scale.RATIO, jnd=0.08, more="fine", less="coarse"),
        mended=Mended(way=Way.SIZE, power=-1.0),
    )


def _thread_direction(path: str) -> Measure:
    return Measure(path=path, unit=Unit.DEGREES, axial=True, own_error=(0.3, 0.0))


CELLS = (
    Measure(
        path="cells.size_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="cell",
        own_error=(0.0, 0.2),
        judged=Judged(
            scale=Scale.RATIO, jnd=0.14, more="big", less="small", strays=0.8, as_ratio=True
        ),
        mended=Mended(way=Way.SIZE),
    ),
    Measure(
        path=_GROOVE,
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="groove",
        own_error=(0.1, 0.35),
        judged=Judged(
            scale=Scale.RATIO,
            jnd=0.16,
            more="wide",
            less="narrow",
            strays=0.7,
            seen_by=_GROOVE,
            as_ratio=True,
        ),
        mended=Mended(way=Way.SIZE),
    ),
    Measure(path="cells.count_per_dm2", length_power=-2, own_error=(0.3, 0.5), tiles_wider=1.3),
    Measure(path="cells.elongation", digits=1, words="elongation", own_error=(0.03, 0.05)),
)
WEAVE = (
    _threads("weave.warp_per_cm"),
    _threads("weave.weft_per_cm"),
    _thread_direction("weave.warp_direction_deg"),
    _thread_direction("weave.weft_direction_deg"),
    Measure(path="weave.evenness", unit=Unit.SHARE, words="weave_even", own_error=(0.05, 0.0)),
    Measure(path="weave.slubs_per_dm2", length_power=-2, digits=1, own_error=(1.0, 0.3)),
)
GRAIN = (
    Measure(
        path="grain.spacing_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="grain",
        own_error=(0.0, 0.17),
        tiles_wider=2.0,
        judged=Judged(
            scale=Scale.RATIO, jnd=0.16, more="coarse", less="fine", strays=0.7, as_ratio=True
        ),
        mended=Mended(way=Way.SIZE),
    ),
    Measure(
        path="grain.contrast_L",
        words="contrast",
        own_error=(1.0, 0.05),
        judged=Judged(scale=Scale.PLAIN, jnd=3.0, more="strong", less="weak", strays=0.8),
        mended=Mended(way=Way.CONTRAST),
    ),
    Measure(
        path="grain.straightness",
        unit=Unit.SHARE,
        words="straightness",
        own_error=(0.02, 0.0),
        judged=Judged(scale=Scale.PLAIN, jnd=0.08, more="straight", less="wild", by_hand=True),
    ),
    Measure(
        path="grain.length_mm", unit=Unit.MM, length_power=1, digits=None, own_error=(1.0, 0.3)
    ),
    Measure(
        path="grain.direction_deg",
        unit=Unit.DEGREES,
        axial=True,
        listed=False,
        own_error=(1.0, 0.0),
    ),
    Measure(path="grain.knots"),
    Measure(path="grain.pores_per_cm2", length_power=-2, digits=1, own_error=(0.1, 0.15)),
)


# Joints are set out and taped: no tool of the finish mends them, nor a veil over all of it.
def _between_joints(path: str) -> Measure:
    return Measure(
        path=path,
        unit=Unit.MM,
        length_power=1,
        digits=None,
        own_error=(0.0, 0.01),
        judged=Judged(scale=Scale.RATIO, jnd=0.08, more="far", less="near", as_ratio=True),
        mended=Mended(way=Way.HAND),
    )


JOINTS = (
    _between_joints("joints.spacing_mm"),
    _between_joints("joints.length_mm"),
    Measure(
        path="joints.width_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        own_error=(0.2, 0.12),
        judged=Judged(
            scale=Scale.RATIO,
            jnd=0.16,
            more="wide",
            less="narrow",
            seen_by="joints.width_mm",
            as_ratio=True,
        ),
        mended=Mended(way=Way.HAND),
    ),
    Measure(
        path="joints.contrast_L",
        words="contrast",
        own_error=(1.5, 0.1),
        judged=Judged(
            scale=Scale.PLAIN, jnd=3.0, more="strong", less="weak", seen_by="joints.width_mm"
        ),
        mended=Mended(way=Way.HAND),
    ),
    Measure(path="joints.direction_deg", unit=Unit.DEGREES, axial=True, own_error=(0.5, 0.0)),
    Measure(path="joints.coverage", unit=Unit.SHARE, listed=False),
)
BRUSH = (
    # All ways at once, each with its share.
    Measure(path="brush.directions", unit=Unit.DEGREES, axial=True, listed=False),
    Measure(
        path="brush.ridge_spacing_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="ridge",
        own_error=(0.1, 0.12),
    ),
)
