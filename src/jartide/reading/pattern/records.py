"""What is measured of a pattern: plain frozen records, in the terms of docs/measures.md.

A block is None where the picture has nothing of its kind.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jartide.reading.trust.measured import Measured

SIZES_MM = (1, 2, 4, 8, 16, 32)
LAY_BINS = 30


class Polarity(StrEnum):
    """Whether lines are darker or lighter than what lies beside them."""

    DARKER = "darker"
    LIGHTER = "lighter"


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """A distribution by its 10th percentile, median and 90th percentile.

    The geometric mean says least of any one value but varies least from patch
    to patch: comparisons judge by it whether the whole distribution has moved.
    """

    p10: Measured
    median: Measured
    p90: Measured
    geometric_mean: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Peak:
    """One of a pattern's directions, degrees in [0, 180), and its share of all of it."""

    deg: float
    share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Lines:
    """Veins, grain or cracks together, or one layer of them.

    Attributes
    ----------
    width_variation : standard deviation of ln width along one line
    halo_mm : how far beyond its edge a line still colours what lies beside it
    contrast_spread_L : standard deviation of the contrast, along and between lines
    spacing_mm : mean distance between neighbours across the main direction
    spacing_evenness : nearest-neighbour ratio across: under 1 in bunches, 1 at random, above even
    directions : the main direction, and a second one if there is one
    tortuosity : length along a line over the straight way between its ends
    """

    width_mm: Spread
    width_variation: Measured
    length_mm_per_cm2: Measured
    softness_mm: Measured
    halo_mm: Measured
    contrast_L: Measured
    contrast_spread_L: Measured
    polarity: Polarity
    direction_deg: Measured
    direction_spread_deg: Measured
    directions: tuple[Peak, ...]
    spacing_mm: Measured
    spacing_evenness: Measured
    junctions_per_dm2: Measured
    tortuosity: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Patches:
    """All patches, all clouds, or one layer of either.

    Attributes
    ----------
    area_mm2 : of one patch, by number: each counts once
    size_by_area_mm : diameters of equal area below which 10, 50, 90 % of the layer's area lie:
        what an eye and a brush mean by size; None in readings made before it was measured
    clustering : Clark-Evans ratio of their centres: under 1 in bunches, 1 at random, above even
    elongation : longer over shorter axis, median by area
    runs_down : -1 lying across to 1 running down
    raggedness : length of their edges over that of the same edges smoothed, less 1
    """

    count_per_dm2: Measured
    area_mm2: Spread
    spacing_mm: Measured
    coverage: Measured
    softness_mm: Measured
    clustering: Measured
    elongation: Measured
    runs_down: Measured
    raggedness: Measured
    size_by_area_mm: Spread | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Weave:
    """Threads both ways: the warp is the set that runs more upright."""

    warp_per_cm: Measured
    weft_per_cm: Measured
    warp_direction_deg: Measured
    weft_direction_deg: Measured
    evenness: Measured
    slubs_per_dm2: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Cells:
    """Cells between grooves or cracks; sizes are diameters of circles of equal area."""

    size_mm: Spread
    count_per_dm2: Measured
    groove_width_mm: Measured
    elongation: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Grain:
    """Wood grain: `spacing_mm` across it, `length_mm` along one line of it.

    `straightness` is 1 where all of it runs one way; `contrast_L` how much of it shows.
    """

    spacing_mm: Measured
    length_mm: Measured
    direction_deg: Measured
    straightness: Measured
    contrast_L: Measured
    knots: Measured
    pores_per_cm2: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Specks:
    """Round spots of under 1 cm2."""

    count_per_dm2: Measured
    diameter_mm: Spread


@dataclass(frozen=True, slots=True, kw_only=True)
class Brush:
    """The ways a brush went, strongest first, and how far apart its ridges lie."""

    directions: tuple[Peak, ...]
    direction_error_deg: float
    ridge_spacing_mm: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Joints:
    """Joints of boards, bricks, tiles or panels.

    Attributes
    ----------
    direction_deg : of the joints that go all the way across
    across_direction_deg : of the others; None where there are none
    spacing_mm : from one joint that goes all the way to the next
    length_mm : from one joint across to the next in its course
    width_mm : full width at half contrast
    coverage : share of the surface that is left out for them
    bond : how joints across lie from course to course: none, stacked, half, mixed
    count : how many there are
    lab : their colour; None where they are too narrow to have one
    """

    direction_deg: Measured
    across_direction_deg: float | None
    spacing_mm: Measured
    length_mm: Measured
    width_mm: Measured
    contrast_L: Measured
    coverage: Measured
    polarity: Polarity
    bond: str
    count: int
    lab: tuple[float, float, float] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Repeat:
    """Whether the pattern comes again: strength 0..1; (right, down) mm from one to the next."""

    strength: Measured
    period_mm: tuple[float, float] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Pattern:
    """The pattern of the whole region. `lay` is the share of each 6 degrees, from level.

    `clouds` have a block of their own; in readings made before they had one they are patches.
    """

    direction_deg: Measured
    direction_spread_deg: Measured
    directionality: Measured
    correlation_mm: Measured
    lines: Lines | None
    lines_by_layer: tuple[tuple[str, Lines], ...]
    patches: Patches | None
    patches_by_layer: tuple[tuple[str, Patches], ...]
    weave: Weave | None
    cells: Cells | None
    grain: Grain | None
    specks: Specks | None
    brush: Brush | None
    repeat: Repeat | None
    spectrum: tuple[Measured, ...]
    lay: tuple[float, ...]
    clouds: Patches | None = None
    clouds_by_layer: tuple[tuple[str, Patches], ...] = ()
    joints: Joints | None = None
    edges_mm_per_cm2: Measured | None = None
