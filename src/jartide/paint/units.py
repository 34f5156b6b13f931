"""Amounts as painters measure them: millilitres, spoons, cups, grams; metric, US, imperial."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class UnitSystem(StrEnum):
    """Whose cups, ounces and gallons."""

    METRIC = "metric"
    US = "us"
    IMPERIAL = "imperial"


class Measure(StrEnum):
    """What an amount is measured with."""

    TEASPOON = "teaspoon"
    TABLESPOON = "tablespoon"
    CUP = "cup"
    FLUID_OUNCE = "fluid_ounce"
    LITRE = "litre"
    QUART = "quart"
    GALLON = "gallon"


# Millilitres. Metric spoons and cup are the usual kitchen ones; US customary after NIST
# Handbook 44 (2024) appendix C; imperial after the Units of Measurement Regulations 1995.
ML: dict[UnitSystem, dict[Measure, float]] = {
    UnitSystem.METRIC: {
        Measure.TEASPOON: 5.0,
        Measure.TABLESPOON: 15.0,
        Measure.CUP: 250.0,
        Measure.LITRE: 1000.0,
    },
    UnitSystem.US: {
        Measure.TEASPOON: 4.92892,
        Measure.TABLESPOON: 14.7868,
        Measure.FLUID_OUNCE: 29.5735,
        Measure.CUP: 236.588,
        Measure.QUART: 946.353,
        Measure.GALLON: 3785.41,
    },
    UnitSystem.IMPERIAL: {
        Measure.TEASPOON: 5.91939,
        Measure.TABLESPOON: 17.7582,
        Measure.FLUID_OUNCE: 28.4131,
        Measure.CUP: 284.131,
        Measure.QUART: 1136.52,
        Measure.GALLON: 4546.09,
    },
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Spooned:
    """An amount as so many of one measure, to the nearest quarter.

    `off_fraction` is by how much the rounding is off, of the amount.
    """

    count: float
    measure: Measure
    off_fraction: float


def spooned(ml: float, system: UnitSystem = UnitSystem.METRIC) -> Spooned:
    """Return an amount in the largest measure that is filled at least once, or in teaspoons."""
    by_size = sorted(ML[system].items(), key=lambda item: -item[1])
    measure, size = next(
        ((m, s) for m, s in by_size if ml >= s), (Measure.TEASPOON, ML[system][Measure.TEASPOON])
    )
    count = max(round(4 * ml / size) / 4, 0.25)
    return Spooned(count=count, measure=measure, off_fraction=count * size / ml - 1 if ml else 0.0)


def least_part_ml(measure: str) -> float:
    """Return the least that a measure can tell: a millilitre, a quarter teaspoon, a gram.

    `measure` is "ml", "grams" or one of the systems of spoons.
    """
    if measure in ("ml", "grams"):
        return 1.0
    return ML[UnitSystem(measure)][Measure.TEASPOON] / 4


def grams(ml: float, density_g_per_ml: float) -> float:
    """Return the weight of an amount."""
    return ml * density_g_per_ml
