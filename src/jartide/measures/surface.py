"""The measures of the whole surface: mottle, direction, repeat, texture, sheen, each layer."""

from __future__ import annotations

from jartide.measures.measure import Judged, Measure, Mended, Scale, Unit, Way

MOTTLE = (
    Measure(
        path="correlation_mm",
        unit=Unit.MM,
        length_power=1,
        digits=None,
        words="mottle",
        judged=Judged(
            scale=Scale.RATIO, jnd=0.20, more="big", less="small", strays=1.4, as_ratio=True
        ),
        mended=Mended(way=Way.SIZE),
    ),
    Measure(
        path="directionality",
        unit=Unit.SHARE,
        judged=Judged(scale=Scale.PLAIN, jnd=0.10, more="streaky", less="even", strays=0.6),
        mended=Mended(way=Way.HAND),
    ),
    Measure(
        path="direction_deg",
        unit=Unit.DEGREES,
        axial=True,
        listed=False,
        judged=Judged(scale=Scale.DEGREES, jnd=6.0, strays=0.8),
        mended=Mended(way=Way.TURN),
    ),
    Measure(
        path="direction_spread_deg",
        unit=Unit.DEGREES,
        judged=Judged(scale=Scale.DEGREES, jnd=5.0, more="wild", less="straight", strays=0.7),
        mended=Mended(way=Way.HAND),
    ),
)
EDGES = (
    Measure(
        path="edges_mm_per_cm2",
        unit=Unit.DENSITY,
        length_power=-1,
        digits=0,
        own_error=(0.0, 0.05),
        judged=Judged(
            scale=Scale.RATIO,
            # As many as a just visible change of all sizes brings.
            jnd=0.10,
            more="busy",
            less="plain",
            strays=0.75,
            wanders_jnd=0.35,
            as_ratio=True,
        ),
        mended=Mended(way=Way.SIZE, power=-1.0),
    ),
)
REPEAT = (
    Measure(path="repeat.period_mm", unit=Unit.MM, length_power=1, digits=None),
    Measure(
        path="repeat.strength",
        unit=Unit.SHARE,
        listed=False,
        judged=Judged(scale=Scale.PLAIN, jnd=0.10, more="even", less="uneven", by_hand=True),
    ),
)
TEXTURE = (
    Measure(path="texture.contrast_L", digits=1),
    Measure(path="texture.size_mm", unit=Unit.MM, length_power=1, digits=None),
    Measure(path="texture.direction_deg", unit=Unit.DEGREES, axial=True),
    Measure(path="texture.light_share", unit=Unit.SHARE, words="light_share"),
    Measure(path="texture.mottle_L", digits=1),
)


# Told beside the numbers, not among them: each layer's colour and share, and the sheen.
def _place(name: str, more: str, less: str) -> Measure:
    return Measure(
        path=f"position.{name}",
        digits=1,
        listed=False,
        judged=Judged(scale=Scale.PLAIN, jnd=0.15, more=more, less=less, strays=1.5, of_layer=True),
        mended=Mended(way=Way.HAND),
    )


PLACES = (
    _place("edges", "far_out", "far_in"),
    _place("corners", "far_cornered", "bare_cornered"),
    _place("foot", "low", "high"),
    _place("hollows", "hollow", "ridged"),
)
# What moves many measures together; it stands in no reading, only between two.
COMMON = (
    Measure(
        path="common.scale",
        digits=2,
        listed=False,
        judged=Judged(scale=Scale.OWN, more="big", less="small", as_ratio=True),
        mended=Mended(way=Way.SIZE),
    ),
    Measure(
        path="common.lab",
        unit=Unit.COLOUR,
        listed=False,
        # An eye that does not see both at once takes a cast of everything for the light.
        judged=Judged(scale=Scale.OWN, tolerated_jnd=5.0),
        mended=Mended(way=Way.TONE),
    ),
)
TOLD = (
    Measure(
        path="lab",
        unit=Unit.COLOUR,
        listed=False,
        judged=Judged(scale=Scale.OWN, strays=0.75),
        mended=Mended(way=Way.TONE),
    ),
    Measure(
        path="coverage",
        unit=Unit.SHARE,
        listed=False,
        judged=Judged(scale=Scale.OWN, more="much", less="little", strays=0.65),
        mended=Mended(way=Way.COVER),
    ),
    Measure(
        path="sheen",
        unit=Unit.WORD,
        listed=False,
        judged=Judged(scale=Scale.OWN, more="shiny", less="dull"),
        mended=Mended(way=Way.SHEEN),
    ),
)
