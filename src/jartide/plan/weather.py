"""Hours of weather for work outside: where it dries, where a step may start, sun on the face."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from jartide.errors import PlanError
from jartide.plan.drying import LEAST_C, Moving, dew_point_c, hourly_rates, moved
from jartide.plan.site import Facing

# A surface this much warmer than its dew point stays dry while it is worked.
DEW_MARGIN_C = 3.0
# What full sun adds to a surface, degrees C, and the hours it stands on each face.
_SUN_C = 10.0
_SUN_HOURS = {
    Facing.NORTH: (0, 0),
    Facing.EAST: (6, 12),
    Facing.SOUTH: (9, 17),
    Facing.WEST: (13, 20),
    Facing.LEVEL: (8, 18),
}
_BRIGHT_CLOUD = 50.0
_RAIN_MM = 0.05
# A clear night takes heat from a surface: below the air, degrees C.
_NIGHT_C = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class WeatherHour:
    """One hour of weather, local time. `cloud_percent` covers the sky."""

    at: str
    temperature_c: float
    humidity_percent: float
    rain_mm: float = 0.0
    cloud_percent: float = 50.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Daylight:
    """Between which hours one can see to work, 0..24."""

    from_h: float = 7.0
    to_h: float = 18.0


@dataclass(frozen=True, slots=True)
class Outside:
    """Weather hour by hour from a midnight on, all (hours,) arrays; unknown hours are not fit.

    Attributes
    ----------
    dries : nothing of the hour spoils a wet coat: no rain, no dew, warm enough
    works : a coat may be begun: dries, daylight, and the dew point well below the surface
    sun : the sun stands on the face
    """

    temperature_c: np.ndarray
    humidity_percent: np.ndarray
    dries: np.ndarray
    works: np.ndarray
    sun: np.ndarray

    def rates(self, binder: str, film_um: float) -> np.ndarray:
        """Return the rate of drying hour by hour, (hours,), 1 as on the label."""
        faster = np.where(self.sun, moved(binder, film_um, Moving.SUN), 1.0)
        rate = hourly_rates(binder, film_um, self.temperature_c, self.humidity_percent, faster)
        return np.where(self.dries, rate, 0.0)

    def warm_enough(self, binder: str) -> np.ndarray:
        """Return the hours in which a binder films, (hours,) bool."""
        return self.temperature_c >= LEAST_C.get(binder, 0.0)


def outside(
    hours: tuple[WeatherHour, ...],
    midnight: datetime,
    days: int,
    facing: Facing,
    daylight: Daylight | None = None,
) -> Outside:
    """Lay a weather table on the hours from a midnight on.

    Raises
    ------
    PlanError : when a time can't be read or a value makes no sense.
    """
    daylight = daylight or Daylight()
    number = 24 * days
    temperature = np.full(number, np.nan)
    humidity, rain, cloud = np.full(number, 100.0), np.zeros(number), np.full(number, 50.0)
    for one in hours:
        place = _place(one, midnight)
        if 0 <= place < number:
            temperature[place], humidity[place] = one.temperature_c, one.humidity_percent
            rain[place], cloud[place] = one.rain_mm, one.cloud_percent
    known = ~np.isnan(temperature)
    air = np.where(known, temperature, 0.0)
    clock = np.arange(number) % 24
    first, last = _SUN_HOURS[facing]
    sun = known & (clock >= first) & (clock < last) & (cloud < _BRIGHT_CLOUD) & (rain < _RAIN_MM)
    night = (clock < daylight.from_h) | (clock >= daylight.to_h)
    surface = (
        air + np.where(sun, _SUN_C, 0.0) - np.where(night & (cloud < _BRIGHT_CLOUD), _NIGHT_C, 0)
    )
    margin = surface - dew_point_c(air, humidity)
    dries = known & (rain < _RAIN_MM) & (surface > 0) & (margin > 0)
    by_light = (clock >= daylight.from_h) & (clock + 1 <= daylight.to_h)
    return Outside(
        temperature_c=np.where(known, surface, 0.0),
        humidity_percent=humidity,
        dries=dries,
        works=dries & by_light & (margin >= DEW_MARGIN_C),
        sun=sun,
    )


def _place(one: WeatherHour, midnight: datetime) -> int:
    try:
        at = datetime.fromisoformat(one.at)
    except ValueError as error:
        raise PlanError("error.weather.time", name=one.at) from error
    right = (
        -60 <= one.temperature_c <= 60
        and 0 <= one.humidity_percent <= 100
        and 0 <= one.rain_mm < 500
        and 0 <= one.cloud_percent <= 100
    )
    if not right:
        raise PlanError("error.weather.value", name=one.at)
    return int((at.replace(tzinfo=None) - midnight) // timedelta(hours=1))
