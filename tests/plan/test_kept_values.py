"""Every figure of amounts, hours, air, sun and setting out, as it was."""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import partial
from pathlib import Path

import pytest

from jartide.plan.bound import lower_bound
from jartide.plan.cure import cure_of
from jartide.plan.drying import Air, Moving, dew_point_c, drying_h, open_min_in
from jartide.plan.facts import read_facts
from jartide.plan.open_time import sections
from jartide.plan.propose import for_piece, propose
from jartide.plan.quantities import step_amounts, ware_amounts
from jartide.plan.schedule import Problem, first_schedule, improve
from jartide.plan.site import Facing, Site
from jartide.plan.step import chains
from jartide.plan.tasks import lanes_of
from jartide.plan.timeline import Hours, Timeline
from jartide.plan.weather import WeatherHour, outside
from tests.kept_values import check, demo_readings

from .conftest import piece

FOLDER = Path(__file__).parent / "kept"
TARGETS = ("bar-front-slab", "lift-lobby-door", "library-panel", "terrace-wall")


def _plan(target):
    reading = demo_readings()[target]
    wall = piece(2400, 1100, count=3, site=Site(relief_factor=1.2))
    steps = propose(reading, (wall,))
    lanes = lanes_of(steps, (wall,))
    problem = Problem(
        lanes=lanes, timeline=Timeline(Hours(), datetime(2026, 5, 11), 40), workers=2,
        air=Air(temperature_c=16.0, humidity_percent=62.0),
    )  # fmt: skip
    first = first_schedule(problem)
    names = {step.id: f"S{n}" for n, step in enumerate(steps, 1)}

    def told(schedule):
        return [
            (names[one.task_id.split(":")[1]], one.start, one.end, one.ready, one.late)
            for one in schedule.placed
        ]

    return {
        "steps": [
            (s.technique, s.tool_mm, s.direction_deg, s.laid_share, s.cover_left, s.speed_m2_h,
             s.open_min, s.dry_h, s.coats, s.carrier, s.water, s.film_um)
            for s in steps
        ],
        "amounts": [
            (one.area_m2, one.wet_ml, one.mix_ml, one.carrier_ml)
            for one in step_amounts(steps, (wall,))
        ],
        "wares": [
            (one.laid_ml, one.waste_ml, one.tools_ml, one.touch_up_ml, one.shown_ml)
            for one in ware_amounts(steps, (wall,))
        ],
        "first": told(first),
        "better": told(improve(problem, first, tries=20)),
        "bound": lower_bound(problem, first.finish),
        "sections": [
            sections([for_piece(steps, wall)[n] for n in chain], wall, Air(temperature_c=24.0))
            for chain in chains(for_piece(steps, wall))
        ],
        "cure": cure_of(steps[-2], (wall,), Air(humidity_percent=70.0)),
        "facts": read_facts(reading).measures,
    }  # fmt: skip


def _air():
    airs = [
        Air(temperature_c=t, humidity_percent=h, moving=m)
        for t in (6.0, 12.0, 21.0, 34.0) for h in (35.0, 60.0, 88.0) for m in Moving
    ]  # fmt: skip
    return {
        "hours": [
            drying_h(3.0, binder, air, film_um=film)
            for binder in ("water", "oil", "spirit", "lime", "wax")
            for air in airs for film in (60.0, 600.0)
        ],
        "open": [open_min_in(20.0, binder, air) for binder in ("water", "oil") for air in airs],
        "dew": [dew_point_c(t, h) for t in (5.0, 18.0, 30.0) for h in (40.0, 80.0)],
    }  # fmt: skip


def _weather():
    hours = tuple(
        WeatherHour(
            at=(datetime(2026, 4, 3) + timedelta(hours=n)).isoformat(timespec="minutes"),
            temperature_c=8.0 + 7 * ((n % 24) / 24), humidity_percent=50.0 + 2 * (n % 20),
            rain_mm=1.0 if n % 31 == 0 else 0.0, cloud_percent=float(n * 7 % 100),
        )
        for n in range(24 * 6)
    )  # fmt: skip
    return [outside(hours, datetime(2026, 4, 3), 6, facing, latitude_deg=47.0) for facing in Facing]


CASES = {target: partial(_plan, target) for target in TARGETS}
CASES |= {"air": _air, "weather": _weather}


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_plan_has_changed(case):
    check(FOLDER, case, CASES[case]())
