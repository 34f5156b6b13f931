"""Lists, palettes, calendars and the painter's own tables that are nearly right."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from importlib.resources import files
from pathlib import Path
from typing import Any

import numpy as np

from campaigns.attempt import fault_of
from campaigns.campaign import Campaign
from campaigns.mutations import mutated
from jartide.cli.options import text
from jartide.store.calendar_ics import PlannedEvent, read_calendar, write_calendar
from jartide.store.colour_lists import read_card_values, read_chart
from jartide.store.lab_lists import columns_of, read_lab_list, usual_columns
from jartide.store.own_tables import own_tables
from jartide.store.palettes import Swatch, read_palette, write_ase, write_gpl
from jartide.store.shelf_csv import read_shelf, read_stock
from jartide.store.weather_csv import read_weather

_DATA = files("jartide").joinpath("data")
_NAME = "list.csv"

# What a file holds when it is right, and what reads it.
_Reader = Callable[[Path], Any]
_Seeds = list[tuple[str, bytes, _Reader]]


def _of_text(read: Callable[[str, str], Any]) -> _Reader:
    return lambda path: read(text(str(path)), path.name)


def _of_bytes(read: Callable[[bytes, str], Any]) -> _Reader:
    return lambda path: read(path.read_bytes(), path.name)


def _lab_list(told: str, name: str) -> Any:
    return read_lab_list(told, name, usual_columns(columns_of(told)))


def _own_table(path: Path) -> Any:
    folder = path.parent / "tables"
    folder.mkdir(exist_ok=True)
    path.rename(folder / path.name)
    return own_tables(path.parent)


def _seeds(_: Path) -> _Seeds:
    swatches = [Swatch(name=f"Grey {n}", lab=(20.0 + 9 * n, 1.0, -2.0)) for n in range(6)]
    at = datetime(2026, 5, 4, 8, 0)
    event = PlannedEvent(
        task_id="a", title="Ground", note="Thin", place="Bar", begins=at, ends=at.replace(hour=10)
    )
    weather = "at,temperature_c,humidity_percent,rain_mm,cloud_percent\n" + "".join(
        f"2026-05-04T{hour:02}:00,15.5,60,0.2,40\n" for hour in range(8)
    )
    chart = "row,column,L,a,b\n1,1,90,0,0\n1,2,50,1,2\n2,1,30,3,4\n2,2,20,0,0\n"
    labs = "Name;L*;a*;b*\nOak;50,2;3;9\nStone;70;1;8\n"
    tables = _DATA.joinpath("plan/techniques.toml").read_bytes()
    return [
        (_NAME, _DATA.joinpath("demo/shelf.csv").read_bytes(), _of_text(read_shelf)),
        (_NAME, _DATA.joinpath("demo/stock.csv").read_bytes(), _of_text(read_stock)),
        (_NAME, weather.encode(), _of_text(read_weather)),
        (_NAME, chart.encode(), _of_text(read_chart)),
        (_NAME, b"patch,L,a,b\nA1,90,0,0\nA2,50,1,2\n", _of_text(read_card_values)),
        (_NAME, labs.encode(), _of_text(_lab_list)),
        ("grey.gpl", write_gpl(swatches, "Greys").encode(), _of_bytes(read_palette)),
        ("grey.ase", write_ase(swatches), _of_bytes(read_palette)),
        ("plan.ics", write_calendar([event], "Bar"), _of_bytes(read_calendar)),
        ("techniques.toml", tables, _own_table),
    ]


def _attack(seeds: _Seeds, own: Path, rng: np.random.Generator) -> str | None:
    name, data, read = seeds[int(rng.integers(0, len(seeds)))]
    path = own / name
    path.write_bytes(mutated(data, rng))
    return fault_of(partial(read, path))


CAMPAIGN = Campaign(
    name="texts",
    promise="a wrong list, palette, calendar or table is read or refused in one sentence",
    made=_seeds,
    attack=_attack,
    slice_count=150,
)
