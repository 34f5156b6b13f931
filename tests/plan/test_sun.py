"""The sun on a face, by latitude, season and aspect; and a coat before the rain."""

from __future__ import annotations

from datetime import datetime

import numpy as np
import pytest

from jartide.errors import PlanError
from jartide.plan.site import Facing
from jartide.plan.sun import sun_on_face
from jartide.plan.weather import Daylight, WeatherHour, outside, rain_after

JUNE, DECEMBER = 172, 355
HOURS = np.arange(24) + 0.5


def hours_of(day, latitude, facing):
    return [int(h) for h in np.flatnonzero(sun_on_face(np.array(day), HOURS, latitude, facing))]


def test_each_face_has_its_own_hours():
    east, west = hours_of(JUNE, 50, Facing.EAST), hours_of(JUNE, 50, Facing.WEST)
    assert max(east) <= 11 and min(west) >= 12
    # What the east has in the morning the west has in the afternoon.
    assert sorted(23 - hour for hour in east) == west
    assert 12 in hours_of(JUNE, 50, Facing.SOUTH) and 6 not in hours_of(JUNE, 50, Facing.SOUTH)
    assert 12 in hours_of(JUNE, 50, Facing.LEVEL)


def test_a_north_face_has_sun_only_early_and_late_in_summer():
    north = hours_of(JUNE, 50, Facing.NORTH)
    assert north and all(hour < 8 or hour >= 16 for hour in north)
    assert hours_of(DECEMBER, 50, Facing.NORTH) == []


def test_winter_days_are_short_and_the_far_north_has_none():
    summer, winter = (hours_of(day, 50, Facing.SOUTH) for day in (JUNE, DECEMBER))
    assert min(winter) >= 8 and max(winter) <= 15
    assert len(hours_of(DECEMBER, 50, Facing.LEVEL)) < len(hours_of(JUNE, 50, Facing.LEVEL))
    assert summer
    assert all(hours_of(DECEMBER, 75, facing) == [] for facing in Facing)


def test_south_of_the_equator_the_north_face_has_the_noon_sun():
    assert 12 in hours_of(DECEMBER, -35, Facing.NORTH) or 12 in hours_of(JUNE, -35, Facing.NORTH)
    assert 12 in hours_of(JUNE, -35, Facing.NORTH)
    assert hours_of(JUNE, -35, Facing.SOUTH) == []
    assert hours_of(JUNE, 50, Facing.NORTH) != hours_of(JUNE, -35, Facing.NORTH)


def test_the_weather_knows_season_and_latitude():
    def sunny(day, latitude):
        midnight = datetime.fromisoformat(day)
        hours = tuple(
            WeatherHour(at=f"{day}T{h:02}:00", temperature_c=18, humidity_percent=50,
                        cloud_percent=0)
            for h in range(24)
        )  # fmt: skip
        found = outside(hours, midnight, 1, Facing.NORTH, Daylight(), latitude)
        return found.sun

    assert sunny("2026-06-21", 50.0).any() and not sunny("2026-12-21", 50.0).any()
    assert sunny("2026-06-21", -35.0)[12]


def forecast(*rain, hours=24):
    return tuple(
        WeatherHour(
            at=f"2026-06-01T{h:02}:00", temperature_c=18, humidity_percent=50,
            rain_mm=1.0 if h in rain else 0.0,
        )
        for h in range(hours)
    )  # fmt: skip


BEGUN, DRY = datetime(2026, 6, 1, 9), datetime(2026, 6, 1, 13, 30)


def test_hours_to_spare_before_the_rain():
    found = rain_after(forecast(4, 16), BEGUN, DRY)
    assert found.falls == datetime(2026, 6, 1, 16) and found.spare_h == 2.5
    assert rain_after(forecast(12), BEGUN, DRY).spare_h == -1.5
    dry = rain_after(forecast(), BEGUN, DRY)
    assert dry.falls is None and dry.spare_h == 10.5


def test_a_forecast_that_does_not_reach_so_far_says_nothing():
    assert rain_after((), BEGUN, DRY) is None
    assert rain_after(forecast(hours=12), BEGUN, DRY) is None
    assert rain_after(forecast(), datetime(2026, 6, 3, 9), datetime(2026, 6, 3, 12)) is None
    with pytest.raises(PlanError):
        rain_after((WeatherHour(at="soon", temperature_c=1, humidity_percent=1),), BEGUN, DRY)
