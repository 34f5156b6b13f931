"""Weather, calendars, shopping lists and own tables: files go out and come back."""

from __future__ import annotations

import csv
import io
from datetime import datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from icalendar import Calendar

from jartide.errors import JarTideError, PlanError
from jartide.plan.quantities import Line
from jartide.store.calendar_ics import PlannedEvent, read_calendar, write_calendar
from jartide.store.own_tables import own_tables
from jartide.store.records import Plan, Surface
from jartide.store.serialise import converter
from jartide.store.shopping_csv import write_shopping
from jartide.store.weather_csv import read_weather, write_weather


def said_of(run):
    """Return the sentence a call was refused with, or "" where it was not."""
    try:
        run()
    except JarTideError as error:
        return str(error)
    return ""


WEEK = """time;temperature_c;humidity_percent;rain_mm
2026-05-14T10:00;18,5;55;0
2026-05-14 09:30;17;60;0,2
2026-05-14T10:00;19;54;
"""


def test_weather_is_read_in_order_with_commas_and_the_last_of_an_hour():
    hours = read_weather(WEEK, "week.csv")
    assert [hour.at for hour in hours] == ["2026-05-14T09:00", "2026-05-14T10:00"]
    assert hours[1].temperature_c == 19 and hours[0].rain_mm == 0.2
    assert hours[0].cloud_percent == 50
    assert read_weather(write_weather(hours), "again.csv") == hours


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "a.csv"),
        ("time,temperature_c\n2026-05-14T09:00,18\n", "humidity_percent"),
        (
            "time,temperature_c,humidity_percent\nnoon,18,50\n",
            "column time: expected a time",
        ),
        ("time,temperature_c,humidity_percent\n2026-05-14T09:00,hot,50\n", "line 2"),
        ("time,temperature_c,humidity_percent\n2026-05-14T09:00,18,500\n", "line 2"),
    ],
)
def test_a_broken_weather_table_is_one_sentence(text, said):
    with pytest.raises(JarTideError, match=said) as error:
        read_weather(text, "a.csv")
    assert str(error.value).count("\n") == 0


@given(st.text(max_size=300))
@settings(max_examples=150, deadline=None, derandomize=True)
def test_any_text_is_weather_or_one_sentence(text):
    assert said_of(lambda: read_weather(text, "any.csv"))[-1:] in ("", ".")


def event(number, begins):
    return PlannedEvent(
        task_id=f"lane/{number}:step:1", title=f"Panel {number}: Ground", note="dry at 13:00",
        place="Harbour Street", begins=begins, ends=begins + timedelta(minutes=40),
    )  # fmt: skip


def test_a_calendar_is_read_by_another_library_and_comes_back_moved():
    begins = datetime(2026, 5, 14, 8, 30)
    data = write_calendar([event(1, begins), event(2, begins)], "Bar front")
    calendar = Calendar.from_ical(data)
    first = calendar.walk("VEVENT")[0]
    assert str(first["summary"]) == "Panel 1: Ground"
    assert first["dtstart"].dt == begins  # floating, as the plan's own times are
    found = read_calendar(data.replace(b"DTSTART:20260514T083000", b"DTSTART:20260515T100000", 1),
                          "moved.ics")  # fmt: skip
    assert found == {"lane/1:step:1": datetime(2026, 5, 15, 10, 0), "lane/2:step:1": begins}


def test_a_calendar_of_others_is_answered_in_one_sentence():
    other = write_calendar([event(1, datetime(2026, 5, 14))], "x").replace(b"@jar-tide", b"@home")
    with pytest.raises(PlanError, match="came from this plan"):
        read_calendar(other, "home.ics")


@given(st.binary(max_size=200))
@settings(max_examples=200, deadline=None, derandomize=True)
def test_any_bytes_are_a_calendar_or_one_sentence(data):
    with pytest.raises(PlanError):
        read_calendar(data, "any.ics")


def test_a_mutated_calendar_never_stops_the_program():
    data = bytearray(write_calendar([event(1, datetime(2026, 5, 14, 8))], "x"))
    for place in range(0, len(data), 3):
        broken = bytes(data[:place]) + b"\x00" + bytes(data[place + 1 :])
        said = said_of(lambda b=broken: read_calendar(b, "broken.ics"))
        assert not said or "broken.ics" in said


def test_the_shopping_list_says_what_is_unknown_by_leaving_it_empty():
    line = Line(name='White, "warm"', needed_ml=900.4, left_ml=None, missing_ml=0, tins=(),
                price=None)  # fmt: skip
    tins = Line(name="Primer", needed_ml=3100, left_ml=0, missing_ml=3100,
                tins=((2500.0, 1), (1000.0, 1)), price=61.5)  # fmt: skip
    rows = list(csv.DictReader(io.StringIO(write_shopping((line, tins)))))
    assert rows[0]["product"] == 'White, "warm"' and rows[0]["left_ml"] == ""
    assert rows[1]["tins"] == "1 x 2500 ml + 1 x 1000 ml" and rows[1]["price"] == "61.50"


def test_own_tables_are_read_from_the_workspace_and_a_broken_one_named(tmp_path):
    assert own_tables(tmp_path).techniques == ""
    folder = tmp_path / "tables"
    folder.mkdir()
    shown = (
        '[[technique]]\nid = "comb"\nname = "Combed"\nkind = "pattern"\nproduct = "glaze"\n'
        'binder = "water"\nspeed_m2_h = 5\nspreading_m2_per_l = 15\nready = "Matt."\n'
    )
    (folder / "techniques.toml").write_text(shown, "utf-8")
    (folder / "linen.toml").write_text(
        'schools = ["last"]\n[[layer]]\nroles = ["ground"]\ntechnique = "comb"\n', "utf-8"
    )
    own = own_tables(tmp_path)
    assert "comb" in own.techniques and own.family("linen")
    (folder / "linen.toml").write_text("schools = [", "utf-8")
    with pytest.raises(PlanError, match=r"“linen.toml” is not a valid table"):
        own_tables(tmp_path)
    (folder / "linen.toml").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(PlanError, match=r"“linen.toml” can't be read"):
        own_tables(tmp_path)


def test_a_plan_and_a_surface_come_back_as_they_were(tmp_path, marble_reading):
    from jartide.plan.progress import Done
    from jartide.plan.propose import Piece, propose
    from jartide.plan.site import Site, Where
    from jartide.plan.work import Answer, Moved, PlannedBoard, Work
    from jartide.store.workspace import Workspace

    steps = propose(marble_reading, (Piece(id="a", name="A", width_mm=900, height_mm=900),))
    plan = Plan(
        finish_id="f", steps=steps, work=Work(workers=("Ines",), weather=read_weather(WEEK, "w")),
        boards=(PlannedBoard(board_id="b"),), moved=(Moved(task_id="t", at="2026-05-14T09:00"),),
        done=(Done(task_id="t", begun="2026-05-14T06:00:00+00:00", used_ml=12.5),),
        acknowledged=("lead",), answers=(Answer(question="q", answer="no"),),
    )  # fmt: skip
    surface = Surface(
        finish_id="f", name="A", width_mm=900, height_mm=900,
        site=Site(substrate="tile", conditions=("greasy",), place=Where.OUTSIDE),
    )  # fmt: skip
    workspace = Workspace.open(tmp_path / "w")
    workspace.put(plan, surface)
    workspace.close()
    again = Workspace.open(tmp_path / "w")
    assert again.plans(["f"]) == [plan]
    assert again.surfaces("f") == [surface]
    again.close()
    assert converter().structure(converter().unstructure(plan), Plan) == plan
