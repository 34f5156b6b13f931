"""Hours of weather for work outside: where it dries, where a step may start, sun on the face."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from jartide.errors import PlanError
from jartide.plan.drying import LEAST_C, Moving, dew_point_c, hourly_rates, moved
from jartide.plan.site import Facing
from jartide.plan.sun import USUAL_LATITUDE_DEG, sun_on_face

# A surface this much warmer than its dew point stays dry while it is worked.
DEW_MARGIN_C = 3.0
# What full sun adds to a surface, degrees C.
_SUN_C = 10.0
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
    latitude_deg: float = USUAL_LATITUDE_DEG,
) -> Outside:
    """Lay a weather table on the hours from a midnight on.

    `latitude_deg`, north positive, says with the season when the sun stands on the face.

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
    today = (midnight.timetuple().tm_yday + np.arange(number) // 24 - 1) % 365 + 1
    stands = sun_on_face(today, clock + 0.5, latitude_deg, facing)
    sun = known & stands & (cloud < _BRIGHT_CLOUD) & (rain < _RAIN_MM)
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Rain:
    """What a forecast says of the rain after a coat.

    Attributes
    ----------
    falls : when the first rain after the coat begins; None where the forecast has none
    spare_h : from when the coat is dry until then, below 0 when it is wet still; until the end
        of the forecast where it has no rain
    """

    falls: datetime | None
    spare_h: float


def rain_after(hours: tuple[WeatherHour, ...], begun: datetime, dry: datetime) -> Rain | None:
    """Return whether a coat is dry before the rain; None where the forecast does not reach it.

    Raises
    ------
    PlanError : when a time can't be read or a value makes no sense.
    """
    midnight = datetime.combine(begun.date(), datetime.min.time())
    known = sorted((_place(one, midnight), one.rain_mm) for one in hours)
    since = int((begun - midnight) // timedelta(hours=1))
    known = [(place, rain) for place, rain in known if place >= since]
    if not known or known[0][0] > since:
        return None
    wet = [place for place, rain in known if rain >= _RAIN_MM]
    until = midnight + timedelta(hours=wet[0] if wet else known[-1][0] + 1)
    if not wet and until < dry:
        return None
    spare_h = (until - dry) / timedelta(hours=1)
    return Rain(falls=until if wet else None, spare_h=spare_h)


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
