"""How long a coat takes until it takes the next one: by binder, thickness, air.

The time of the label or table holds at 20 degrees C, 50 % relative humidity, in still air, at
the film the technique lays. From there:

- temperature: twice as fast for every 10 degrees (van 't Hoff's rule for the reactions of
  oil and lime; evaporation of water follows its vapour pressure, which doubles in about 11);
  no faster above 35 degrees, where skins form;
- humidity: water leaves in proportion to how far the air is from saturated (Dalton's law of
  evaporation): (100 - RH) / 50, for lime likewise; oil, spirit and wax feel it little
  (exponents 0.3, 0.2, 0.1);
- thickness: time rises with its power 1.5, between evaporation from the face (1) and
  diffusion through the film (2);
- moving air: a fan 1.5 times, warm air 2, sun 1.6 as fast; thick films only 1.1 (they skin
  over), oil at most 1.2 (it wrinkles), and warm air never on spirit (fire).

It is a rule for planning and is corrected by what the painter sees (`learned_factor`).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np

from jartide.errors import PlanError


class Moving(StrEnum):
    """What the air does."""

    STILL = "still"
    FAN = "fan"
    WARM = "warm"
    SUN = "sun"


@dataclass(frozen=True, slots=True, kw_only=True)
class Air:
    """The air at the work: degrees C, percent relative humidity, and how it moves."""

    temperature_c: float = 20.0
    humidity_percent: float = 50.0
    moving: Moving = Moving.STILL


REFERENCE = Air()
# Below this a binder does not film, whatever time it is given, degrees C.
LEAST_C = {"water": 8.0, "oil": 5.0, "spirit": 0.0, "lime": 5.0, "wax": 5.0, "": -50.0}
# From here on nothing of water leaves in a useful time, percent.
MOST_PERCENT = {"water": 90.0, "lime": 95.0}
_HUMIDITY_POWER = {"water": 1.0, "lime": 1.0, "oil": 0.3, "spirit": 0.2, "wax": 0.1}
_THICKNESS_POWER = 1.5
_FASTER = {Moving.STILL: 1.0, Moving.FAN: 1.5, Moving.WARM: 2.0, Moving.SUN: 1.6}
_THICK_UM, _THICK_MOST = 400.0, 1.1
_OIL_MOST = 1.2
_SKIN_C = 35.0
# How many times what was seen must be told until it outweighs the table.
_PRIOR = 1.0
_LEAST_FACTOR, _MOST_FACTOR = 0.25, 6.0


def air_rate(binder: str, film_um: float, air: Air) -> float:
    """Return how many times faster than on the label a coat dries; 0 where it does not dry.

    Raises
    ------
    PlanError : when humidity or temperature is out of reach.
    """
    if not (-40 <= air.temperature_c <= 60 and 0 <= air.humidity_percent <= 100):
        raise PlanError("error.plan.air")
    rates = hourly_rates(
        binder,
        film_um,
        np.array([air.temperature_c]),
        np.array([air.humidity_percent]),
        np.array([moved(binder, film_um, air.moving)]),
    )
    return float(rates[0])


def moved(binder: str, film_um: float, moving: Moving) -> float:
    """Return how many times faster moving air dries a coat, within what the coat stands."""
    faster = _FASTER[moving]
    if moving is Moving.WARM and binder == "spirit":
        return 1.0
    if film_um > _THICK_UM:
        faster = min(faster, _THICK_MOST)
    if binder == "oil":
        faster = min(faster, _OIL_MOST)
    return faster


def hourly_rates(
    binder: str,
    film_um: float,
    temperature_c: np.ndarray,
    humidity_percent: np.ndarray,
    faster: np.ndarray | float,
) -> np.ndarray:
    """Return the rate of drying, (N,), 1 as on the label and 0 where it does not dry.

    Parameters
    ----------
    temperature_c, humidity_percent : (N,) hour by hour
    faster : from `moved`
    """
    warm = np.minimum(temperature_c, _SKIN_C)
    by_warmth = 2.0 ** ((warm - REFERENCE.temperature_c) / 10)
    power = _HUMIDITY_POWER.get(binder, 0.0)
    apart = np.clip(100 - humidity_percent, 0, None) / (100 - REFERENCE.humidity_percent)
    by_damp = np.where(apart > 0, apart, 1e-9) ** power if power else np.ones_like(apart)
    rate = by_warmth * by_damp * faster
    stands = (temperature_c >= LEAST_C.get(binder, 0.0)) & (
        humidity_percent < MOST_PERCENT.get(binder, 101.0)
    )
    return np.where(stands, rate, 0.0)


def drying_h(
    label_h: float,
    binder: str,
    air: Air,
    *,
    film_um: float = 100.0,
    label_film_um: float | None = None,
    factor: float = 1.0,
) -> float | None:
    """Return hours until the next coat; None where it does not dry in this air.

    Parameters
    ----------
    label_h : hours at 20 degrees C, 50 %, still air and `label_film_um`
    film_um : wet film really laid; label_film_um None: the same
    factor : learned from this painter's own times
    """
    if label_h <= 0:
        return 0.0
    rate = air_rate(binder, film_um, air)
    if rate <= 0:
        return None
    return label_h * factor * thickness_factor(film_um, label_film_um) / rate


def thickness_factor(film_um: float, label_film_um: float | None) -> float:
    """Return how many times longer a film takes than the one its time was given for."""
    if not label_film_um or film_um <= 0:
        return 1.0
    return float((film_um / label_film_um) ** _THICKNESS_POWER)


def open_min_in(open_min: float, binder: str, air: Air) -> float:
    """Return the working time in this air: it shortens as drying quickens, never under 3 min."""
    if open_min <= 0:
        return 0.0
    rate = air_rate(binder, 50.0, air)
    return max(open_min / rate, 3.0) if rate > 0 else open_min


def learned_factor(pairs: Sequence[tuple[float, float]]) -> float:
    """Return how many times longer than foreseen this painter's coats really take.

    The geometric mean of seen over foreseen, drawn towards 1 as if one more coat had dried
    just as foreseen, and kept within a quarter to six times.

    Parameters
    ----------
    pairs : (hours seen, hours foreseen) of each coat
    """
    ratios = [math.log(seen / said) for seen, said in pairs if seen > 0 and said > 0]
    mean = math.fsum(ratios) / (len(ratios) + _PRIOR)
    return min(max(math.exp(mean), _LEAST_FACTOR), _MOST_FACTOR)


def dew_point_c(temperature_c: Any, humidity_percent: Any) -> Any:
    """Return the dew point, degrees C (Magnus form; Alduchov & Eskridge 1996); arrays too."""
    a, b = 17.625, 243.04
    wet = np.log(np.clip(humidity_percent, 0.1, 100) / 100)
    wet = wet + a * temperature_c / (b + temperature_c)
    return b * wet / (a - wet)


def cure_days(binder: str, label_days: float, air: Air, nonporous: bool) -> tuple[float, ...]:
    """Return days until it can be touched, washed and used; longer on what does not breathe."""
    rate = max(air_rate(binder, 80.0, air), 0.25)
    whole = label_days / min(rate, 2.0) * (1.5 if nonporous else 1.0)
    return whole * 0.05, whole / 3, whole
