"""How much to mix: from areas and coats to millilitres of every paint, and what is missing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from jartide.errors import PaintError
from jartide.figures import largest_remainder

# Lost on tools, in trays and in the bottom of the jar; rule of thumb.
WASTE = 0.15
# Kept for touch-ups: this share of what is laid, and no less than so much of it, but never more
# than half of a small mix.
TOUCH_UP_SHARE, TOUCH_UP_ML = 0.10, 20.0
_MOST_PUT_BY = 0.5
# Rules of thumb for a coat, square metres by litre, where a tin states none.
SPREADING_M2_PER_L = {"paint": 10.0, "glaze": 15.0}


@dataclass(frozen=True, slots=True, kw_only=True)
class Use:
    """One pass a mix serves.

    Attributes
    ----------
    area_m2 : of the surface
    laid_share : how much of it the pass goes onto; not the cover left to be seen
    coats : laid
    spreading_m2_per_l : of what is laid, wet
    relief_factor : how much more surface texture makes
    share_of_wet : how much of what is laid is this mix; less than 1 in a glaze
    """

    area_m2: float
    laid_share: float = 1.0
    coats: float = 1.0
    spreading_m2_per_l: float = SPREADING_M2_PER_L["paint"]
    relief_factor: float = 1.0
    share_of_wet: float = 1.0

    def ml(self) -> float:
        """Return the millilitres of the mix that the pass takes, without waste."""
        wet = self.area_m2 * self.laid_share * self.relief_factor * self.coats
        return 1000 * wet / self.spreading_m2_per_l * self.share_of_wet


@dataclass(frozen=True, slots=True, kw_only=True)
class Needed:
    """How much of a mix a job takes, millilitres.

    On the wall, lost, left in the tools, kept for touch-ups.
    """

    laid_ml: float
    waste_ml: float
    touch_up_ml: float
    tools_ml: float = 0.0

    @property
    def total_ml(self) -> float:
        """All of it, rounded up to ten."""
        return up_to_ten(self.laid_ml + self.waste_ml + self.tools_ml + self.touch_up_ml)

    @property
    def shown_ml(self) -> tuple[int, ...]:
        """Laid, lost, in the tools, kept, as whole millilitres that add up to all of it.

        What is mixed more than needed is kept; where nothing is, it is lost.
        """
        more = self.total_ml - (self.laid_ml + self.waste_ml + self.tools_ml + self.touch_up_ml)
        kept, lost = (more, 0.0) if self.touch_up_ml else (0.0, more)
        parts = (self.laid_ml, self.waste_ml + lost, self.tools_ml, self.touch_up_ml + kept)
        return largest_remainder(parts, round(self.total_ml))


def up_to_ten(ml: float) -> float:
    """Return an amount as it is mixed: up to the next ten millilitres."""
    return 10 * math.ceil(ml / 10 - 1e-9)


def put_by_ml(
    laid_ml: float, share: float = TOUCH_UP_SHARE, least_ml: float = TOUCH_UP_ML
) -> float:
    """Return how much of a mix is kept for touch-ups."""
    return max(share * laid_ml, min(least_ml, _MOST_PUT_BY * laid_ml))


def needed(
    uses: tuple[Use, ...],
    *,
    waste: float = WASTE,
    touch_up_share: float = TOUCH_UP_SHARE,
    touch_up_ml: float = TOUCH_UP_ML,
    tools_ml: float = 0.0,
) -> Needed:
    """Return how much of one mix all its passes take together.

    `tools_ml` is what stays in the tools: no more than is laid counts.

    Raises
    ------
    PaintError : when an area, share, rate or waste makes no sense.
    """
    for use in uses:
        if use.area_m2 < 0 or not 0 <= use.laid_share <= 1 or use.spreading_m2_per_l <= 0:
            raise PaintError("error.batch.use")
    if min(waste, touch_up_share, touch_up_ml, tools_ml) < 0:
        raise PaintError("error.batch.waste")
    laid = sum(use.ml() for use in uses)
    return Needed(
        laid_ml=laid,
        waste_ml=waste * laid,
        touch_up_ml=put_by_ml(laid, touch_up_share, touch_up_ml),
        tools_ml=min(tools_ml, laid),
    )


def least_batch_ml(counts: Sequence[float], least_part_ml: float) -> float:
    """Return the smallest batch whose smallest part can still be measured.

    Parameters
    ----------
    counts : parts as they are measured
    least_part_ml : the least the measure in hand can tell
    """
    there = [count for count in counts if count > 0]
    return least_part_ml * sum(there) / min(there) if there else 0.0


def measurable(needed: Needed, least_ml: float) -> Needed:
    """Return an amount that is no smaller than can be mixed; what is more is put by."""
    if needed.total_ml >= least_ml or needed.laid_ml <= 0:
        return needed
    whole = needed.laid_ml + needed.waste_ml + needed.tools_ml + needed.touch_up_ml
    more = least_ml - whole
    return replace(needed, touch_up_ml=needed.touch_up_ml + more)


@dataclass(frozen=True, slots=True, kw_only=True)
class Amount:
    """How much of one paint goes into a batch, and whether it is there.

    Attributes
    ----------
    ml : into this batch
    left_ml : on the shelf; None when unknown
    missing_ml : to be bought; 0 when there is enough or the stock is unknown
    tins : tins to buy, where the tin's size is known
    price : of what goes in; None when unknown
    """

    name: str
    ml: float
    left_ml: float | None = None
    missing_ml: float = 0.0
    tins: int | None = None
    price: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """What the shelf knows of one paint's stock; None is unknown."""

    left_ml: float | None = None
    tin_ml: float | None = None
    tin_price: float | None = None


def amounts(
    parts: tuple[tuple[str, float], ...], total_ml: float, held: dict[str, Held]
) -> tuple[Amount, ...]:
    """Return how much of every paint, carrier and water a batch takes."""
    whole = sum(count for _, count in parts)
    if whole <= 0:
        raise PaintError("error.batch.parts")
    found = []
    for name, count in parts:
        ml = total_ml * count / whole
        stock = held.get(name, Held())
        missing = 0.0 if stock.left_ml is None else max(ml - stock.left_ml, 0.0)
        tins = math.ceil(missing / stock.tin_ml - 1e-9) if missing and stock.tin_ml else None
        price = (
            stock.tin_price / stock.tin_ml * ml
            if stock.tin_price is not None and stock.tin_ml
            else None
        )
        found.append(
            Amount(
                name=name, ml=ml, left_ml=stock.left_ml, missing_ml=missing, tins=tins, price=price
            )
        )
    return tuple(found)


def shopping(batches: tuple[tuple[Amount, ...], ...], held: dict[str, Held]) -> tuple[Amount, ...]:
    """Return what must be bought for several batches together, most first."""
    wanted: dict[str, float] = {}
    for batch in batches:
        for amount in batch:
            wanted[amount.name] = wanted.get(amount.name, 0.0) + amount.ml
    together = [amounts(((name, 1.0),), ml, held)[0] for name, ml in wanted.items() if name in held]
    return tuple(sorted((a for a in together if a.missing_ml > 0), key=lambda a: -a.missing_ml))
