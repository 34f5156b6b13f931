"""What one measure is."""

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


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """One measure of the pattern, the texture or a layer.

    Attributes
    ----------
    path : where it stands in a reading, below `pattern`; without numbers of layers or zones
    unit : what it counts in
    length_power : the power of length in it: 2 of an area, -2 of a number per area
    digits : after the decimal mark; None for as many as sizes are read with
    axial : a direction that is the same turned by half
    words : the scale its word at the bench is on; None where the number says it all
    listed : it is read out as a row of its own, named `measure.<path>`
    """

    path: str
    unit: Unit = Unit.PLAIN
    length_power: int = 0
    digits: int | None = 0
    axial: bool = False
    words: str | None = None
    listed: bool = True

    @property
    def block(self) -> str:
        """The block of the reading it stands in: "lines" of "lines.width_mm"."""
        return self.path.partition(".")[0]

    @property
    def field(self) -> str:
        """Its name in its block."""
        return self.path.rpartition(".")[2]
