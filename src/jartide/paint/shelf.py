"""The colour side of a shelf: paints and the swatches that teach how they behave."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.errors import PaintError

# A good reader's own scatter joined with how evenly a swatch is painted; CIEDE2000.
READER_NOISE = 0.3
# The same through a photo with the card as printed.
PHOTO_NOISE = 2.0


class Opacity(StrEnum):
    """How much one neat coat hides, as tins say it."""

    TRANSPARENT = "transparent"
    SEMI = "semi"
    OPAQUE = "opaque"


class SwatchKind(StrEnum):
    """How a swatch was painted."""

    MASSTONE = "masstone"
    MIX = "mix"
    GLAZE = "glaze"


class Card(StrEnum):
    """What a glaze swatch lies on."""

    WHITE = "white"
    BLACK = "black"


@dataclass(frozen=True, slots=True, kw_only=True)
class Swatch:
    """One painted swatch as it reads, dry.

    Attributes
    ----------
    lab : CIELAB D65, 2 degree
    other : the paint mixed in, or the clear carrier of a glaze ("" is the shelf's own)
    over : the card under a glaze
    paint_parts, other_parts, water_parts : by volume, wet
    coats : films of a glaze
    noise : standard deviation of the reading, CIEDE2000
    left_out : kept, but the painter doubts it
    source : where the colour came from; a stand-in's is made up
    spectrum : reflectances from 380 to 730 nm, every 10, as a spectrophotometer read them; ()
        when only its colour is known
    """

    kind: SwatchKind
    lab: Lab
    other: str = ""
    over: Card | None = None
    paint_parts: float = 1.0
    other_parts: float = 0.0
    water_parts: float = 0.0
    coats: int = 1
    noise: float = READER_NOISE
    left_out: bool = False
    source: Source = Source.UNKNOWN
    spectrum: tuple[float, ...] = ()

    def paint_share(self) -> float:
        """Return the paint's share of what dries, water apart."""
        return self.paint_parts / (self.paint_parts + self.other_parts)


@dataclass(frozen=True, slots=True, kw_only=True)
class ShelfPaint:
    """A paint as its swatches know it; the first swatch is the masstone."""

    name: str
    opacity: Opacity = Opacity.SEMI
    swatches: tuple[Swatch, ...]

    @property
    def masstone(self) -> Lab:
        """The colour of a hiding film of the paint alone."""
        return next(s.lab for s in self.swatches if s.kind is SwatchKind.MASSTONE)


# Darker and greyer than this a paint counts as a black.
_BLACK_L, _BLACK_CHROMA = 32.0, 8.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Shelf:
    """Paints that may be mixed, and the bare cards their glazes were painted on."""

    paints: tuple[ShelfPaint, ...]
    white_card: Lab = (94.0, 0.0, 2.0)
    black_card: Lab = (20.0, 0.0, 0.0)

    def names(self) -> tuple[str, ...]:
        """Return the paints' names in order."""
        return tuple(paint.name for paint in self.paints)

    def number_of(self, name: str) -> int:
        """Return a paint's place on the shelf.

        Raises
        ------
        PaintError : when there is none of that name.
        """
        wanted = name.strip().casefold()
        for number, paint in enumerate(self.paints):
            if paint.name.casefold() == wanted:
                return number
        raise PaintError("error.paint.unknown", name=name, known=", ".join(self.names()[:12]))

    def only(self, numbers: list[int]) -> Shelf:
        """Return a shelf of some paints; swatches with paints left behind go, too."""
        names = {self.paints[n].name for n in numbers}

        def known(swatch: Swatch) -> bool:
            return swatch.kind is not SwatchKind.MIX or swatch.other in names

        kept = tuple(
            replace(self.paints[n], swatches=tuple(filter(known, self.paints[n].swatches)))
            for n in numbers
        )
        return replace(self, paints=kept)


def black_paints(shelf: Shelf) -> frozenset[int]:
    """Return the blacks: left out where a painter mixes blacks from complements."""
    return frozenset(
        number
        for number, paint in enumerate(shelf.paints)
        if paint.masstone[0] < _BLACK_L and math.hypot(*paint.masstone[1:]) < _BLACK_CHROMA
    )
