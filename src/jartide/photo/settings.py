"""What the painter has said about one photo: shape, scale, colour, light, what to leave out.

Coordinates are pixels of the upright original, (0, 0) at the corner of its top
left pixel. All of it is saved beside the untouched file; what is worked out
from it is not.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jartide.colour.words import Lab
from jartide.devices.source import Source

# What the made-up reader was called, in either language, before its values were marked.
_READER_ONCE = ("Colour reader", "Farbmessgerät")
Point = tuple[float, float]
Segment = tuple[Point, Point]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rect:
    """An upright rectangle in the original, pixels."""

    x: float
    y: float
    w: float
    h: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Polygon:
    """A closed outline of three or more points."""

    points: tuple[Point, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Stroke:
    """A stroke of a round brush of `radius_px` through one or more points."""

    points: tuple[Point, ...]
    radius_px: float


Shape = Rect | Polygon | Stroke


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownLength:
    """Two points of the original and the true length between them on the surface.

    `name` is the entry of the painter's own list it came from, or says which
    earlier photo gave the length.
    """

    start: Point
    end: Point
    length_mm: float
    name: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownPatch:
    """A patch whose colour is known: a grey, or any paint that was read before.

    `lightness` is its L*; None when only its tint is known, so that the tint
    of the light is taken out but the exposure is left. `a` and `b` are 0 for a
    grey. `source` says where the values came from: empty for typed in, a word of
    `devices.source.Source`, or the name of another photo of the same wall.
    `sure` says that the painter was asked whether it is grey, and it is.
    """

    rect: Rect
    lightness: float | None = None
    a: float = 0.0
    b: float = 0.0
    source: str = ""
    sure: bool = False

    def is_made_up(self) -> bool:
        """Whether a stand-in told its colour."""
        return self.source in (Source.STAND_IN, *_READER_ONCE)


@dataclass(frozen=True, slots=True, kw_only=True)
class Chart:
    """A chart of known patches in rows and columns, by its outer corners, clockwise.

    `labs` run along the rows, from the patch at the first corner.
    """

    corners: tuple[Point, Point, Point, Point]
    columns: int
    rows: int
    labs: tuple[Lab, ...]
    name: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class VanishingLines:
    """Two level lines and two upright ones, each pair parallel on the surface."""

    level: tuple[Segment, Segment]
    upright: tuple[Segment, Segment]


@dataclass(frozen=True, slots=True, kw_only=True)
class Column:
    """The two edges of a column or pot as seen, each from top to bottom, and its size.

    One of `diameter_mm` and `height_mm` (between the edges' ends) sets the scale.
    """

    left: Segment
    right: Segment
    diameter_mm: float | None = None
    height_mm: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CardUse:
    """How a photo card in the picture is to be used.

    Attributes
    ----------
    ignore : the card is left out of the reading but otherwise not used
    height_mm : how far the card's face lies above (+) or below (-) the measured face
    check_mm : length of the card's ruler as printed, by the painter's rule; None when it is right
    measured : (patch id, Lab) of patches a colour reader has read; empty for a card as printed
    """

    ignore: bool = False
    height_mm: float = 0.0
    check_mm: float | None = None
    measured: tuple[tuple[str, Lab], ...] = ()


class LightSource(StrEnum):
    """What the falloff of the light is estimated from, if it is taken out at all."""

    PICTURE = "picture"
    BLANK = "blank"
    NOT = "not"


@dataclass(frozen=True, slots=True, kw_only=True)
class EvenLight:
    """Even the light out, from the picture itself or from a photo of a blank board, or not."""

    source: LightSource = LightSource.PICTURE
    blank_sha256: str | None = None


class SheenWord(StrEnum):
    """How shiny, from a blackboard to a mirror."""

    DEAD_MATT = "dead matt"
    MATT = "matt"
    EGGSHELL = "eggshell"
    SATIN = "satin"
    SEMI_GLOSS = "semi-gloss"
    GLOSS = "gloss"
    MIRROR = "mirror"


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheen:
    """The sheen of the surface; `gloss` is the estimate behind the word, None when entered."""

    word: SheenWord
    gloss: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PhotoSettings:
    """Everything needed to prepare one photo, beside the untouched file.

    Attributes
    ----------
    corners : four points or None
        Corners of a known rectangle, clockwise from its top left.
    size_mm : (width, height) or None
        Of that rectangle; without it the photo is squared but not scaled by it.
    lines : VanishingLines or None
        Square the photo where no rectangle is known.
    column : Column or None
        Unroll a round surface.
    carved : bool
        The piece is turned, ribbed or carved: only `region` is near enough to flat.
    known_length : KnownLength or None
        Sets the scale where the rectangle's size is unknown or there is none.
    mm_per_px : float or None
        Scale of the original, typed in; only for a photo without corners.
    neutrals : patches of known colour; with one, white balance and exposure
    chart : Chart or None
    card : CardUse
    light : EvenLight or None
        None evens a photo with the card from the picture where that is sure, and no other.
    leave_out : shapes not to be read
    region : Rect, Polygon or None
        The part to read; everything when None.
    whole_plane : bool
        Read all that is seen, not only the piece that was found in the photo.
    scan : bool
        A flatbed scan: its dpi and its colour profile are true, it lies flat and evenly lit.
    joints_as_lines : bool
        Joints of boards, bricks or tiles are read as lines of the finish, not left out.
    sheen : Sheen or None
    metal : bool
        Whether the surface is metal, whose colour must be checked by eye.
    stand_ins : patches of the card, by id, whose colours a stand-in made up
    """

    corners: tuple[Point, Point, Point, Point] | None = None
    size_mm: tuple[float, float] | None = None
    lines: VanishingLines | None = None
    column: Column | None = None
    carved: bool = False
    known_length: KnownLength | None = None
    mm_per_px: float | None = None
    neutrals: tuple[KnownPatch, ...] = ()
    chart: Chart | None = None
    card: CardUse = CardUse()
    light: EvenLight | None = None
    leave_out: tuple[Shape, ...] = ()
    region: Rect | Polygon | None = None
    whole_plane: bool = False
    scan: bool = False
    joints_as_lines: bool = False
    sheen: Sheen | None = None
    metal: bool = False
    stand_ins: tuple[str, ...] = ()

    def rest_on_stand_ins(self) -> bool:
        """Whether any colour that the photo is corrected by was made up by a stand-in."""
        read = {patch for patch, _ in self.card.measured}
        made_up = any(patch.is_made_up() for patch in self.neutrals)
        return made_up or not read.isdisjoint(self.stand_ins)
