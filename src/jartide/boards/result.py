"""What a comparison is: plain frozen records, in the terms of docs/measures.md."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jartide.measures.key import Key
from jartide.reading.result import Lab
from jartide.wording import Message

# Distances below this many just visible differences pass as close, at the viewing distance.
TOLERANCE = 4.0
# Where a finish is usually seen from, metres.
USUAL_VIEWING_M = 2.0


class Verdict(StrEnum):
    """MATCH: all an eye would see is shown to be the same. OPEN: something that an eye would see
    can't be told. CLOSE: what surely differs is within tolerance. OFF: beyond it.
    """

    MATCH = "match"
    OPEN = "open"
    CLOSE = "close"
    OFF = "off"


class State(StrEnum):
    """What is known of one row.

    DIFFERS: surely, and an eye sees it. LOOKS_DIFFERENT: it is seen, but may be chance. SAME: shown
    to lie within what an eye tolerates. UNTOLD: neither seen nor ruled out.
    """

    DIFFERS = "differs"
    LOOKS_DIFFERENT = "looks different"
    SAME = "same"
    UNTOLD = "untold"


class Amount(StrEnum):
    """How much, in words."""

    SAME = "same"
    HAIR = "hair"
    LITTLE = "little"
    MUCH = "much"


@dataclass(frozen=True, slots=True, kw_only=True)
class SeenDifference:
    """How two pictures differ as seen from a distance, by their statistics.

    Attributes
    ----------
    colour_jnd : of the distributions of colour
    pattern_jnd : of the contrast in each size, pooled
    by_size : (size in mm, signed JND) of each size that is seen
    chance_jnd : what parts of one picture differ by among themselves
    distance : both together, with what chance explains taken off
    """

    viewing_m: float
    colour_jnd: float
    pattern_jnd: float
    by_size: tuple[tuple[float, float], ...]
    chance_jnd: float
    distance: float


Value = float | str | Lab | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """One quantity of target and board.

    Attributes
    ----------
    quantity : `lines.width_mm`, or `layers[2].lab` in the target's order
    ratio : board over target; None for angles and colours
    delta : degrees turned, CIEDE2000, or board minus target, as the quantity has it
    interval : 90 % interval of `ratio`, or of `delta` where there is no ratio
    jnd : signed, just visible differences at the viewing distance
    noise_jnd : the part of it that chance explains, one standard deviation
    least_jnd : the least difference, just visible differences up close, that would be found
        nine times in ten
    settled_by : how many times what both photos show would settle it, at the same difference; None
        where more of the same would not, or where it is settled
    rank : 1 is what an eye notices first
    """

    quantity: Key
    name: Message
    target: Value
    board: Value
    ratio: float | None
    delta: float | None
    interval: tuple[float, float] | None
    jnd: float
    noise_jnd: float
    least_jnd: float
    state: State
    settled_by: float | None
    rank: int
    amount: Amount
    short: Message
    words: Message
    advice: Message | None

    @property
    def significant(self) -> bool:
        """Whether it surely differs, and an eye sees it."""
        return self.state is State.DIFFERS


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """A board against its target.

    Attributes
    ----------
    distance : just visible differences at `viewing_m`, all sure ones together
    likely_distance : the same of all rows, what chance explains taken off: by it boards are
        ranked
    likely_by_m : (viewing distance, likely distance) from near to far
    same_from_m : from where on the board reads as the same; None if nowhere to 8 m
    expected_distance : what is left of `distance` once the first difference is mended
    expected_by_m : (viewing distance, what is left of the likely distance then)
    tolerance : the painter's, in the unit of `distance`
    light_change_L : how much lighter the board's photo is; None when both have a known grey
    seen : both pictures as an eye sees them from each distance; empty without the pictures
    """

    viewing_m: float
    verdict: Verdict
    distance: float
    likely_distance: float
    likely_by_m: tuple[tuple[float, float], ...]
    same_from_m: float | None
    expected_distance: float
    expected_by_m: tuple[tuple[float, float], ...]
    tolerance: float
    light_change_L: float | None
    differences: tuple[Difference, ...]
    seen: tuple[SeenDifference, ...] = ()

    def likely_at(self, viewing_m: float) -> float:
        """Return the likely distance at one of the computed viewing distances, the nearest."""
        return _nearest(self.likely_by_m, viewing_m)

    def expected_at(self, viewing_m: float) -> float:
        """Return what is expected to be left at one of the computed viewing distances."""
        return _nearest(self.expected_by_m, viewing_m)

    def of_state(self, state: State) -> tuple[Difference, ...]:
        """Return the rows of one state, in their order."""
        return tuple(d for d in self.differences if d.state is state)


def _nearest(table: tuple[tuple[float, float], ...], viewing_m: float) -> float:
    return min(table, key=lambda row: abs(row[0] - viewing_m))[1]
