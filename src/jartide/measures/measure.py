"""What one measure is: where it stands, what it counts in, how it is judged and mended."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Unit(StrEnum):
    """What a measure counts in; the words of a unit are `unit.<value>` in the catalogue."""

    MM = "mm"
    MM2 = "mm2"
    DENSITY = "density"
    SHARE = "share"
    DEGREES = "degrees"
    PLAIN = "plain"
    COLOUR = "colour"
    WORD = "word"


class Scale(StrEnum):
    """How a difference between two boards is counted; ratios are natural logarithms."""

    RATIO = "ratio"
    PLAIN = "plain"
    DEGREES = "degrees"
    # By formulas of their own (docs/measures.md): colours, covers, the sheen.
    OWN = "own"


class Way(StrEnum):
    """What kind of thing mends a measure; `boards/mends.py` has a function for each."""

    SIZE = "size"  # another size of tool
    NUMBER = "number"  # more of it, or less
    CONTRAST = "contrast"  # a veil, or strengthened
    TURN = "turn"
    HAND = "hand"  # laid more evenly, or more wildly
    COVER = "cover"
    TONE = "tone"
    SHEEN = "sheen"


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
    """How a difference of one measure between a board and its target is judged and said.

    Attributes
    ----------
    scale, jnd : how it is counted, and one just visible difference (working values, as in
        docs/measures.md); None where the formula is its own
    more, less : adjectives of a board with more or less of it, `adjective.<word>`
    seen_by : path of the size that has to be seen at a distance; "" for what covers areas
    strays : patches of one finish stray farther from each other than one patch tells of itself,
        since it can't see what is larger than it is; so many times wider than stated were the
        differences between pieces drawn by the same parameters
    wanders_jnd : what is known to a hair of many fine lines, and yet wanders by so much at least
    by_layer : judged layer by layer; what is shown is the measure of all together
    with_lines : seen for as long as the lines are: how they run, lie and branch
    as_ratio : grows by a factor a painter would say, "1.6 times too wide"
    of_layer : of each layer by itself, not of the pattern
    tolerated_jnd : what an eye tolerates where it does not compare side by side
    by_hand : a hand is practised for it; boards are not judged by it
    """

    scale: Scale
    jnd: float | None = None
    more: str = ""
    less: str = ""
    seen_by: str = ""
    strays: float = 1.0
    wanders_jnd: float = 0.0
    by_layer: bool = False
    with_lines: bool = False
    as_ratio: bool = False
    of_layer: bool = False
    tolerated_jnd: float = 3.0
    by_hand: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Mended:
    """What mends a difference.

    Attributes
    ----------
    way : the kind of thing
    power : takes the ratio of the measure to that of the tool, where the way is a size
    """

    way: Way
    power: float = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """One measure of the pattern, the texture, a layer or the whole surface.

    Attributes
    ----------
    path : where it stands in a reading, below `pattern`; without numbers of layers or zones
    unit : what it counts in
    length_power : the power of length in it: 2 of an area, -2 of a number per area
    digits : after the decimal mark; None for as many as sizes are read with
    axial : a direction that is the same turned by half
    words : the scale its word at the bench is on; None where the number says it all
    listed : it is read out as a row of its own, named `measure.<path>`
    own_error : the measurement's own 90 % half width, an absolute part and one relative to the
        value; None where it is worked out from the picture itself
    tiles_wider : by how much the jackknife over tiles is widened: neighbours share what is large
    judged : how two boards' difference is judged; None where it is not
    mended : what mends a difference; None where nothing is judged
    """

    path: str
    unit: Unit = Unit.PLAIN
    length_power: int = 0
    digits: int | None = 0
    axial: bool = False
    words: str | None = None
    listed: bool = True
    own_error: tuple[float, float] | None = None
    tiles_wider: float = 1.0
    judged: Judged | None = None
    mended: Mended | None = None

    @property
    def block(self) -> str:
        """The block of the reading it stands in: "lines" of "lines.width_mm"; "" for none."""
        return self.path.rpartition(".")[0]

    @property
    def field(self) -> str:
        """Its name in its block."""
        return self.path.rpartition(".")[2]

    @property
    def column(self) -> str:
        """What its column is called in tables that go out."""
        return self.path
