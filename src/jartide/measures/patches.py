"""The measures of clouds and patches, and of specks."""

from __future__ import annotations

from jartide.measures.measure import Judged, Measure, Mended, Scale, Unit, Way

_DIAMETER = "specks.diameter_mm"


def _areas(block: str, size_strays: float, number_strays: float) -> tuple[Measure, ...]:
    """The measures of one block of areas: patches, or clouds."""
    size = f"{block}.size_by_area_mm"
    return (
        Measure(
            path=size,
            unit=Unit.MM,
            length_power=1,
            digits=None,
            words="across",
            own_error=(0.1, 0.06),
            tiles_wider=1.3,
            judged=Judged(
                scale=Scale.RATIO,
                jnd=0.2,
                more="big",
                less="small",
                strays=size_strays,
                seen_by=size,
                tolerated_jnd=4.0,
                by_layer=True,
                as_ratio=True,
            ),
            mended=Mended(way=Way.SIZE),
        ),
        Measure(
            path=f"{block}.coverage", unit=Unit.SHARE, own_error=(0.012, 0.03), tiles_wider=1.5
        ),
        Measure(
            path=f"{block}.count_per_dm2",
            length_power=-2,
            words="count",
            own_error=(0.5, 0.28),
            tiles_wider=1.2,
            judged=Judged(
                scale=Scale.RATIO,
                jnd=0.25,
                more="crowded",
                less="sparse",
                strays=number_strays,
                by_layer=True,
                tolerated_jnd=4.0,
            ),
            mended=Mended(way=Way.NUMBER),
        ),
        # By number each crumb counts as much as a flake: for tables that go out.
        Measure(
            path=f"{block}.area_mm2",
            unit=Unit.MM2,
            length_power=2,
            digits=None,
            listed=False,
            own_error=(0.3, 0.12),
        ),
        Measure(
            path=f"{block}.spacing_mm",
            unit=Unit.MM,
            length_power=1,
            digits=None,
            own_error=(0.1, 0.19),
            tiles_wider=1.2,
        ),
        Measure(
            path=f"{block}.clustering",
            digits=2,
            words="evenness",
            own_error=(0.03, 0.05),
            judged=Judged(
                scale=Scale.PLAIN, jnd=0.15, more="even", less="uneven", strays=1.3, by_hand=True
            ),
        ),
        Measure(
            path=f"{block}.softness_mm",
            unit=Unit.MM,
            length_power=1,
            digits=None,
            words="softness",
            own_error=(0.05, 0.20),
            judged=Judged(
                scale=Scale.RATIO, jnd=0.35, more="soft", less="hard", strays=1.1, by_layer=True
            ),
            mended=Mended(way=Way.HAND),
        ),
        Measure(
            path=f"{block}.raggedness", unit=Unit.SHARE, words="ragged", own_error=(0.02, 0.15)
        ),
        Measure(path=f"{block}.elongation", digits=1, words="elongation", own_error=(0.03, 0.06)),
        Measure(
            path=f"{block}.runs_down",
            digits=2,
            words="runs",
            own_error=(0.05, 0.0),
            judged=Judged(
                scale=Scale.PLAIN, jnd=0.15, more="running", less="still", tolerated_jnd=4.0
            ),
            mended=Mended(way=Way.HAND),
        ),
    )


PATCHES = _areas("patches", 0.9, 1.0)
CLOUDS = _areas("clouds", 0.75, 1.1)
SPECKS = (
    Measure(
        path="specks.count_per_dm2",
        length_power=-2,
        words="count",
        own_error=(0.5, 0.3),
        tiles_wider=1.3,
        judged=Judged(
            scale=Scale.RATIO, jnd=0.30, more="crowded", less="sparse", seen_by=_DIAMETER
        ),
        mended=Mended(way=Way.NUMBER),
    ),
    Measure(
        path=_DIAMETER,
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="diameter",
        own_error=(0.15, 0.25),
        judged=Judged(
            scale=Scale.RATIO,
            jnd=0.20,
            more="big",
            less="small",
            strays=1.6,
            seen_by=_DIAMETER,
            as_ratio=True,
        ),
        mended=Mended(way=Way.SIZE),
    ),
)
