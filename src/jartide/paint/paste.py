"""How stiff a paste is, from how far a level spoonful spreads, and what to add to it.

A pat of paste stops spreading when its own weight no longer overcomes its yield stress. Of a thin
pat of radius R and volume V that is 225 rho g V^2 / (128 pi^2 R^5) (Roussel & Coussot 2005,
"Fifty-cent rheometer"); of one that stands up higher it is still in the right order. Powder makes
it stiffer by a factor for each part of powder to the paint, which is learned from the batch.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from jartide.errors import PaintError

_G = 9.81
# Of a filled water-borne paste, kg to the cubic metre: rule of thumb.
DENSITY = 1500.0
# Fifty millilitres of powder to the litre make it twice as stiff, until the batch says otherwise;
# that counts as much as one step of the painter's own.
_USUAL_SLOPE = math.log(2.0) / 0.05
_LEAST_SLOPE, _MOST_SLOPE = 2.0, 60.0
# Pa, from below: runs off a slope, levels, holds a drawn ridge and still spreads, only crumbles.
_WORDS = ((4.0, "runs"), (20.0, "levels"), (120.0, "stands"))
# What a knife spreads and what keeps a drawn ridge.
STANDS_PA = 50.0


class Stiffness(StrEnum):
    """What a paste does when a ridge is drawn in it."""

    RUNS = "runs"
    LEVELS = "levels"
    STANDS = "stands"
    CRUMBLES = "crumbles"


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """One look at a batch of paste.

    Attributes
    ----------
    at : when, ISO 8601
    spoon_ml : of the level spoonful that was put down
    diameter_mm : how far it has spread after a minute
    powder_ml, paint_ml : in the batch by then
    """

    at: str = ""
    spoon_ml: float
    diameter_mm: float
    powder_ml: float
    paint_ml: float

    @property
    def pa(self) -> float:
        """Its yield stress, pascals."""
        return yield_stress_pa(self.spoon_ml, self.diameter_mm)

    @property
    def powder_share(self) -> float:
        """Powder to one of paint, by volume."""
        return self.powder_ml / self.paint_ml


@dataclass(frozen=True, slots=True, kw_only=True)
class Addition:
    """What to stir in next, millilitres; at most one of the two is above zero."""

    powder_ml: float
    paint_ml: float


def yield_stress_pa(spoon_ml: float, diameter_mm: float) -> float:
    """Return the yield stress of a paste of which a spoonful spreads so far.

    Raises
    ------
    PaintError : when a volume or a width makes no sense.
    """
    if not 0.5 <= spoon_ml <= 500 or not 5 <= diameter_mm <= 1000:
        raise PaintError("error.paste.spread")
    volume, radius = spoon_ml * 1e-6, diameter_mm / 2000
    return 225 * DENSITY * _G * volume**2 / (128 * math.pi**2 * radius**5)


def spread_mm(spoon_ml: float, pa: float) -> float:
    """Return how far a spoonful of a paste of that yield stress spreads, its diameter."""
    volume = spoon_ml * 1e-6
    return 2000 * (225 * DENSITY * _G * volume**2 / (128 * math.pi**2 * pa)) ** 0.2


def stiffness(pa: float) -> Stiffness:
    """Return what a paste does, in a word."""
    return Stiffness(next((word for most, word in _WORDS if pa < most), "crumbles"))


def slope_of(spreads: Sequence[Spread]) -> float:
    """Return how much stiffer powder makes this batch: the logarithm for one of powder to one.

    The usual slope counts as much as one step of 0.05 of powder to one of paint.
    """
    weight, sum_ = 0.05**2, 0.05**2 * _USUAL_SLOPE
    for before, after in pairwise(spreads):
        step = after.powder_share - before.powder_share
        weight += step**2
        sum_ += step * math.log(after.pa / before.pa)
    return min(max(sum_ / weight, _LEAST_SLOPE), _MOST_SLOPE)


def next_addition(spreads: Sequence[Spread], wanted_pa: float = STANDS_PA) -> Addition:
    """Return what brings a batch to the stiffness wanted: powder, or paint where it is too stiff.

    Raises
    ------
    PaintError : when nothing was looked at yet, or the batch holds no paint.
    """
    if not spreads or any(one.paint_ml <= 0 or one.powder_ml < 0 for one in spreads):
        raise PaintError("error.paste.batch")
    last = spreads[-1]
    more = math.log(wanted_pa / last.pa) / slope_of(spreads)
    if more >= 0:
        return Addition(powder_ml=more * last.paint_ml, paint_ml=0.0)
    share = last.powder_share + more
    if last.powder_ml <= 0 or share <= 0.1 * last.powder_share:
        # More paint than ten times what holds the powder is another batch.
        return Addition(powder_ml=0.0, paint_ml=9 * last.paint_ml if last.powder_ml else 0.0)
    return Addition(powder_ml=0.0, paint_ml=last.powder_ml / share - last.paint_ml)
