"""Metric and US customary units: exact factors, and what is sold in which sizes."""

from __future__ import annotations

from enum import StrEnum

# Exact by definition: the inch is 25.4 mm, the US gallon 231 cubic inches.
MM_PER_INCH = 25.4
ML_PER_GALLON = 3785.411784
M2_PER_SQFT = (12 * MM_PER_INCH / 1000) ** 2


class Units(StrEnum):
    """Which units the painter works in."""

    METRIC = "metric"
    US = "us"


# What tins are commonly sold in, millilitres; US: half pint, pint, quart, gallon, five gallons.
SOLD_ML = {
    Units.METRIC: (250.0, 500.0, 1000.0, 2500.0, 5000.0, 10000.0),
    Units.US: tuple(ML_PER_GALLON * part for part in (1 / 16, 1 / 8, 1 / 4, 1, 5)),
}


def area_in(m2: float, units: Units) -> float:
    """Return square metres in the painter's unit: square metres or square feet."""
    return m2 if units is Units.METRIC else m2 / M2_PER_SQFT


def area_from(value: float, units: Units) -> float:
    """Return square metres of an area in the painter's unit."""
    return value if units is Units.METRIC else value * M2_PER_SQFT


def volume_in(ml: float, units: Units) -> float:
    """Return millilitres in the painter's unit: litres or gallons."""
    return ml / 1000 if units is Units.METRIC else ml / ML_PER_GALLON


def volume_from(value: float, units: Units) -> float:
    """Return millilitres of a volume in the painter's unit."""
    return value * (1000 if units is Units.METRIC else ML_PER_GALLON)


def small_in(ml: float, units: Units) -> float:
    """Return millilitres in the painter's small unit: millilitres or US fluid ounces."""
    return ml if units is Units.METRIC else 128 * ml / ML_PER_GALLON


def small_from(value: float, units: Units) -> float:
    """Return millilitres of an amount in the painter's small unit."""
    return value if units is Units.METRIC else value * ML_PER_GALLON / 128


def length_in(mm: float, units: Units) -> float:
    """Return millimetres in the painter's unit: millimetres or inches."""
    return mm if units is Units.METRIC else mm / MM_PER_INCH


def length_from(value: float, units: Units) -> float:
    """Return millimetres of a length in the painter's unit."""
    return value if units is Units.METRIC else value * MM_PER_INCH


def warmth_in(celsius: float, units: Units) -> float:
    """Return degrees Celsius in the painter's unit: Celsius or Fahrenheit."""
    return celsius if units is Units.METRIC else celsius * 9 / 5 + 32


def warmth_from(value: float, units: Units) -> float:
    """Return degrees Celsius of a temperature in the painter's unit."""
    return value if units is Units.METRIC else (value - 32) * 5 / 9


def rate_in(m2_per_l: float, units: Units) -> float:
    """Return a spreading rate in the painter's unit: m2 per litre or square feet per gallon."""
    if units is Units.METRIC:
        return m2_per_l
    return m2_per_l / M2_PER_SQFT * ML_PER_GALLON / 1000


def rate_from(value: float, units: Units) -> float:
    """Return m2 per litre of a spreading rate in the painter's unit."""
    return value if units is Units.METRIC else value * M2_PER_SQFT / ML_PER_GALLON * 1000
