"""The measures of lines: veins, cracks, grain lines drawn by themselves."""

from __future__ import annotations

from jartide.measures.measure import Judged, Measure, Mended, Scale, Unit, Way

_WIDTH = "lines.width_mm"

LINES = (
    Measure(
        path=_WIDTH,
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="width",
        judged=Judged(
            scale=Scale.RATIO,
            jnd=0.14,
            more="wide",
            less="narrow",
            seen_by=_WIDTH,
            wanders_jnd=0.40,
            by_layer=True,
            as_ratio=True,
        ),
        mended=Mended(way=Way.SIZE),
    ),
    Measure(
        path="lines.contrast_L",
        words="contrast",
        own_error=(2.6, 0.17),
        judged=Judged(
            scale=Scale.PLAIN, jnd=3.0, more="strong", less="weak", seen_by=_WIDTH, by_layer=True
        ),
        mended=Mended(way=Way.CONTRAST),
    ),
    Measure(path="lines.contrast_spread_L", words="contrast_spread", own_error=(0.8, 0.15)),
    Measure(
        path="lines.length_mm_per_cm2",
        unit=Unit.DENSITY,
        length_power=-1,
        digits=1,
        words="length",
        own_error=(0.0, 0.14),
        judged=Judged(
            scale=Scale.RATIO,
            jnd=0.18,
            more="crowded",
            less="sparse",
            seen_by=_WIDTH,
            strays=1.3,
            with_lines=True,
            as_ratio=True,
        ),
        mended=Mended(way=Way.NUMBER),
    ),
    Measure(
        path="lines.spacing_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        own_error=(0.0, 0.2),
        tiles_wider=1.3,
    ),
    Measure(
        path="lines.spacing_evenness",
        digits=2,
        words="evenness",
        own_error=(0.06, 0.05),
        judged=Judged(scale=Scale.PLAIN, jnd=0.25, more="even", less="uneven", strays=1.9),
        mended=Mended(way=Way.HAND),
    ),
    Measure(
        path="lines.softness_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="softness",
        judged=Judged(
            scale=Scale.RATIO, jnd=0.28, more="soft", less="hard", seen_by=_WIDTH, by_layer=True
        ),
        mended=Mended(way=Way.HAND, open=True),
    ),
    Measure(
        path="lines.halo_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="halo",
        own_error=(0.2, 0.5),
    ),
    Measure(
        path="lines.junctions_per_dm2",
        length_power=-2,
        digits=1,
        words="forks",
        own_error=(1.2, 0.2),
        judged=Judged(
            scale=Scale.RATIO, jnd=0.40, more="branched", less="unbranched", seen_by=_WIDTH
        ),
        mended=Mended(way=Way.NUMBER),
    ),
    Measure(
        path="lines.tortuosity",
        digits=2,
        words="wander",
        own_error=(0.02, 0.02),
        judged=Judged(scale=Scale.PLAIN, jnd=0.03, more="wild", less="straight", by_hand=True),
    ),
    Measure(
        path="lines.width_variation",
        unit=Unit.SHARE,
        words="variation",
        own_error=(0.04, 0.25),
        judged=Judged(
            scale=Scale.PLAIN, jnd=0.12, more="uneven", less="even", seen_by=_WIDTH, strays=1.7
        ),
        mended=Mended(way=Way.HAND),
    ),
    Measure(
        path="lines.direction_deg",
        unit=Unit.DEGREES,
        axial=True,
        judged=Judged(scale=Scale.DEGREES, jnd=6.0, seen_by=_WIDTH, with_lines=True),
        mended=Mended(way=Way.TURN),
    ),
    Measure(
        path="lines.direction_spread_deg",
        unit=Unit.DEGREES,
        listed=False,
        judged=Judged(
            scale=Scale.DEGREES,
            jnd=5.0,
            more="wild",
            less="straight",
            seen_by=_WIDTH,
            strays=1.3,
            with_lines=True,
        ),
        mended=Mended(way=Way.HAND),
    ),
)
