"""What a reading is: plain frozen records, in the terms of docs/measures.md."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from jartide.colour.words import Lab
from jartide.reading.layers.colours import ColourShares
from jartide.reading.pattern.records import Pattern
from jartide.reading.trust.measured import Measured, unknown
from jartide.reading.trust.samples import Samples
from jartide.wording import Message

ALGORITHM = "2026.12-2"


class Role(StrEnum):
    """What a layer is in the finish."""

    GROUND = "ground"
    CLOUD = "cloud"
    VEIN = "vein"
    PATCH = "patch"
    SPECK = "speck"
    CRACK = "crack"
    GRAIN = "grain"
    THREAD = "thread"
    CELL = "cell"
    GROOVE = "groove"
    BRUSH = "brush"
    RUN = "run"


class Sits(StrEnum):
    """Where on its piece most of a layer is."""

    EVEN = "even"
    EDGES = "edges"
    MIDDLE = "middle"
    CORNERS = "corners"
    FOOT = "foot"
    TOP = "top"
    HOLLOWS = "hollows"
    RIDGES = "ridges"


_NO_EDGES, _NO_HEIGHTS = unknown("reason.no_edges"), unknown("reason.no_heights")


@dataclass(frozen=True, slots=True, kw_only=True)
class Position:
    """Where a layer sits on its piece.

    The first four are -1 to 1, 0 where it is even; a value is unknown where the piece's edges, or
    its hollows and ridges, are not known.

    Attributes
    ----------
    edges : how much more there is of it at the piece's edges than in its middle
    corners : how much more in its corners than along the rest of its edges
    foot : how much more in its lower third than in its upper one
    hollows : how much more in its hollows than on its ridges
    by_edge, by_height : its cover in bands, from the edges inwards and from the foot up; empty
        where the piece's edges are not known
    """

    edges: Measured
    foot: Measured
    corners: Measured = _NO_EDGES
    hollows: Measured = _NO_HEIGHTS
    by_edge: tuple[float, ...] = ()
    by_height: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Layer:
    """One layer.

    Attributes
    ----------
    lab : None where no pixel shows the colour whole
    shown_lab : what the picture shows there all the same, for drawing
    lab_de00 : the 90 % radius of the colour, CIEDE2000
    lab_axes : the half axes of the colour's 90 % ellipsoid in Lab, longest first
    why : why it lies where it does in the order, one reason for each layer it touches
    gamut_edge : its colour lies where a camera's file ends, so the true one may lie beyond
    contrast_L : how much lighter (or, below 0, darker) it is than what it touches
    reader_lab : what a colour reader said of it; goes before `lab`
    locked : the painter has fixed it
    position : where on the piece it sits; None where the piece's edges are not known
    """

    id: str
    name: Message
    role: Role
    lab: Lab | None
    shown_lab: Lab
    lab_de00: float
    coverage: Measured
    coverage_painted: Measured
    lab_axes: tuple[Lab, Lab, Lab] = ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    why: tuple[Message, ...] = ()
    gamut_edge: bool = False
    contrast_L: float | None = None
    reader_lab: Lab | None = None
    locked: bool = False
    position: Position | None = None

    @property
    def best_lab(self) -> Lab | None:
        """The colour to mix by: a reader's before the photo's; None when neither is to be had."""
        return self.reader_lab or self.lab


LINE_ROLES = frozenset({Role.VEIN, Role.CRACK, Role.GRAIN, Role.THREAD, Role.GROOVE, Role.BRUSH})


def lined(layers: Sequence[Layer]) -> list[bool]:
    """Whether each layer shows as lines: by its role, or as the ground in the cracks of a net."""
    net = any(layer.role is Role.CELL for layer in layers[1:])
    return [layer.role in LINE_ROLES or (net and n == 0) for n, layer in enumerate(layers)]


class Edge(StrEnum):
    """How two layers meet; it decides how they are painted."""

    CLEAR = "clear"
    BLENDED = "blended"  # wet in wet
    FILM = "film"  # thin over the other


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerEdge:
    """How two layers that touch meet.

    Attributes
    ----------
    upper, lower : their ids
    share : of all edges between layers, 0..1
    width_mm : mean width of the passage from one to the other; None without a scale
    """

    upper: str
    lower: str
    edge: Edge
    share: float
    width_mm: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Texture:
    """Grain, relief and dirt within the layers: what is no colour of its own.

    Attributes
    ----------
    contrast_L : standard deviation of L* within the layers, finer than the eye parts from where
        the piece is judged
    size_mm : where its autocorrelation falls to 1/e
    direction_deg : the way it runs, axial; with the reason where it runs no way
    light_share : how much of it follows one light, 0..1: relief as against grain and dirt
    mottle_L : standard deviation of L* within the layers as it is judged: what is coarser, but too
        little for a layer of its own; None in readings that were made before it was measured
    """

    contrast_L: Measured
    size_mm: Measured
    direction_deg: Measured
    light_share: Measured
    mottle_L: Measured | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Relief:
    """The relief's light and shade, as far as the photo tells it from paint.

    Attributes
    ----------
    strength : standard deviation of the light it throws back, share of the mean light
    light_deg : where the light comes from, counter-clockwise from the right
    """

    strength: Measured
    light_deg: Measured


@dataclass(frozen=True, slots=True, kw_only=True)
class ZoneReading:
    """One zone of the piece read by itself.

    `coverages` are those of the whole piece's layers, in their order, when the zone
    belongs to the same finish; a zone of another family has its own `layers` instead.
    """

    name: str
    kind: str
    family: str
    share: float
    coverages: tuple[Measured, ...]
    layers: tuple[Layer, ...]
    pattern: Pattern


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """All that one picture tells. Immutable; readings of one algorithm can be compared.

    Attributes
    ----------
    photo_size : (width, height) of the upright original, pixels
    photo_mm_per_px : scale of the original; the mean one where it was tilted
    width_px, height_px, mm_per_px : of the flat picture that was read
    sheen : one of the seven words, None when nobody said
    metal : its colour must be checked by eye
    photos : how many photos were read together
    relief : None where the photo does not tell it from paint
    zones : parts of the piece that were read by themselves
    family_confidence : how sure the family is, 0..1, where the picture itself told it;
        None where it was said
    colours : how often each colour is seen; two readings are counted by the same palette
    edges : how layers that touch meet
    texture : grain, relief and dirt within the layers; None where they can't be told
    common_de00 : the part of every layer's `lab_de00` that the photo's correction leaves unsure in
        all of them alike, CIEDE2000, 90 % radius
    foretold_de00 : by how much its colours may be off where they were foretold for another state
        of its surface, CIEDE2000, 90 % radius; 0 where they are as they were read
    surface_state : wet, dry or sealed, as it is shown here; None where nobody said
    samples : what was read tile by tile; None of several photos together
    """

    algorithm: str
    photo_size: tuple[int, int]
    photo_mm_per_px: float | None
    width_px: int
    height_px: int
    mm_per_px: float | None
    balance_known: bool
    exposure_known: bool
    family: str
    layers: tuple[Layer, ...]
    pattern: Pattern
    warnings: tuple[tuple[str, Message], ...]
    sheen: str | None = None
    metal: bool = False
    photos: int = 1
    relief: Relief | None = None
    zones: tuple[ZoneReading, ...] = ()
    family_confidence: float | None = None
    colours: ColourShares | None = None
    edges: tuple[LayerEdge, ...] = ()
    texture: Texture | None = None
    common_de00: float = 0.0
    foretold_de00: float = 0.0
    surface_state: str | None = None
    samples: Samples | None = None

    @property
    def size_mm(self) -> tuple[float, float] | None:
        """(width, height) of the surface read, or None without a scale."""
        if self.mm_per_px is None:
            return None
        return self.width_px * self.mm_per_px, self.height_px * self.mm_per_px
