"""A mix in whole parts, and what the painter wishes of mixes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from jartide.colour.words import Lab


def as_lab(values: Iterable[float]) -> Lab:
    """Return three numbers, an array's row among them, as a colour."""
    lightness, a, b = values
    return float(lightness), float(a), float(b)


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """So many parts of one paint of the shelf."""

    paint: int
    parts: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LetDown:
    """A small jar mixed first: one part of a strong paint to so many of the mix's own body."""

    paint: int
    body: int
    parts: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """A mix and what it is predicted to look like, dry and hiding.

    Attributes
    ----------
    parts : most of all first; where a strong paint is let down, what of it is really in the mix
    let_down : the small jar that is mixed first; None where there is none
    de00 : CIEDE2000 from what was wanted
    uncertainty_de00 : nine of ten real mixes lie this near the prediction
    """

    parts: tuple[Part, ...]
    lab: Lab
    de00: float
    uncertainty_de00: float
    let_down: LetDown | None = None

    @property
    def total(self) -> float:
        """All parts together."""
        return sum(part.parts for part in self.parts)

    def paints(self) -> frozenset[int]:
        """Return the paints' places on the shelf."""
        return frozenset(part.paint for part in self.parts)


@dataclass(frozen=True, slots=True, kw_only=True)
class Wishes:
    """Limits to the mixes that are looked for.

    Attributes
    ----------
    most_paints, most_parts : of one mix; parts by wet volume
    top : how many mixes, all of different paints
    paints : only these; None for all
    keep : each mix holds all of these
    least_share : the smallest part's least share of the mix, so that it can be measured
    """

    most_paints: int = 3
    most_parts: int = 12
    top: int = 5
    paints: frozenset[int] | None = None
    keep: frozenset[int] = frozenset()
    least_share: float = 0.0
