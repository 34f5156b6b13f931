"""The hourly weather table as CSV; its columns are those of `COLUMNS`."""

from __future__ import annotations

from datetime import datetime

from jartide.errors import PlanError
from jartide.plan.weather import WeatherHour
from jartide.store.csv_rows import csv_rows
from jartide.wording import tr

COLUMNS = ("time", "temperature_c", "humidity_percent", "rain_mm", "cloud_percent")
_MOST_HOURS = 24 * 366


def read_weather(text: str, name: str) -> tuple[WeatherHour, ...]:
    """Return the hours of a table, in the order of time; of one hour the last line counts.

    Raises
    ------
    PaintError : the line and column that can't be read.
    PlanError : when nothing is in it, or it is longer than a year.
    """
    hours: dict[str, WeatherHour] = {}
    for row in csv_rows(text, name, COLUMNS[:3]):
        at = row.needed("time")
        try:
            when = datetime.fromisoformat(at).replace(tzinfo=None, minute=0, second=0)
        except ValueError as error:
            raise row.wrong("time", tr("csv.expected.time")) from error
        key = when.isoformat(timespec="minutes")
        hours[key] = WeatherHour(
            at=key,
            temperature_c=row.number("temperature_c", least=-60, most=60),
            humidity_percent=row.number("humidity_percent", least=0, most=100),
            rain_mm=row.number("rain_mm", least=0, most=499, usual=0.0),
            cloud_percent=row.number("cloud_percent", least=0, most=100, usual=50.0),
        )
        if len(hours) > _MOST_HOURS:
            raise PlanError("error.weather.long", name=name)
    if not hours:
        raise PlanError("error.weather.empty", name=name)
    return tuple(hours[key] for key in sorted(hours))


def write_weather(hours: tuple[WeatherHour, ...]) -> str:
    """Return a weather table as CSV."""
    lines = [",".join(COLUMNS)]
    lines += [
        f"{h.at},{h.temperature_c:g},{h.humidity_percent:g},{h.rain_mm:g},{h.cloud_percent:g}"
        for h in hours
    ]
    return "\n".join(lines) + "\n"
