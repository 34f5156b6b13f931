"""Schedules: nobody in two places, nothing on a wet coat, nothing out of hours, and how good."""

from __future__ import annotations

import itertools
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jartide.errors import PlanError
from jartide.plan.bound import gap, lower_bound
from jartide.plan.drying import Air, drying_h
from jartide.plan.progress import Done, State, fixed_blocks, state_of
from jartide.plan.schedule import Problem, first_schedule, improve
from jartide.plan.site import Facing, Site, Where
from jartide.plan.tasks import lanes_of
from jartide.plan.timeline import SLOT_MIN, Hours, Timeline, slots_of
from jartide.plan.weather import Daylight, WeatherHour, outside

from .conftest import piece, step

MONDAY = datetime(2026, 5, 11)
NAMES = ("base_roller", "cloud_sponge", "vein_brush", "veil", "clear_gloss", "sand_key", "wash")


def problem(steps, pieces, workers=2, hours=None, days=35, now=8 * 12, **parts):
    return Problem(
        lanes=lanes_of(steps, pieces, panels_a_lane=parts.pop("panels_a_lane", 3)),
        timeline=Timeline(hours or Hours(), MONDAY, days),
        workers=workers,
        now=now,
        **parts,
    )


@st.composite
def problems(draw):
    steps = tuple(step(draw(st.sampled_from(NAMES))) for _ in range(draw(st.integers(1, 8))))
    pieces = tuple(
        piece(
            width=draw(st.floats(300, 4000)), height=draw(st.floats(300, 2600)),
            count=draw(st.integers(1, 5)), name=f"P{n}",
        )
        for n in range(draw(st.integers(1, 4)))
    )  # fmt: skip
    hours = Hours(
        from_min=draw(st.sampled_from([6 * 60, 8 * 60, 9 * 60 + 30])),
        to_min=draw(st.sampled_from([15 * 60, 17 * 60, 20 * 60])),
        weekdays=tuple(draw(st.sets(st.integers(0, 6), min_size=2))),
    )
    air = Air(temperature_c=draw(st.floats(12, 30)), humidity_percent=draw(st.floats(20, 70)))
    return steps, pieces, hours, draw(st.integers(1, 3)), air


def kept(found, own):
    """Everything a schedule must keep, checked from outside of it."""
    tasks = {task.id: task for lane in own.lanes for task in lane.tasks}
    placed = {one.task_id: one for one in found.placed}
    assert set(placed) == set(tasks)
    works = own.timeline.works
    for id, one in placed.items():
        task = tasks[id]
        # Brush in hand only in working time, for as long as it takes.
        worked = works[one.start : one.end].sum()
        assert works[one.start] and works[one.end - 1]
        assert worked >= slots_of(task.minutes)
        if slots_of(task.minutes) <= own.timeline.longest and not task.pauses:
            assert one.end - one.start == slots_of(task.minutes)
        # Its tail is as long as the model says for the air.
        if task.dries is not None:
            said = drying_h(task.dries.label_h, task.dries.binder, own.air,
                            film_um=task.dries.film_um)  # fmt: skip
            assert one.ready - one.end == slots_of(60 * said)
        assert len(set(one.workers)) == task.hands
    for lane in own.lanes:
        for before, after in zip(lane.tasks, lane.tasks[1:], strict=False):
            assert placed[after.id].start >= placed[before.id].ready
        for task in lane.tasks:
            if task.after:
                assert placed[task.id].start >= placed[task.after].ready
    for worker in range(own.workers):
        spans = sorted((p.start, p.end) for p in found.placed if worker in p.workers)
        assert all(a[1] <= b[0] for a, b in itertools.pairwise(spans))


@given(problems())
@settings(max_examples=40, deadline=None, derandomize=True)
def test_every_schedule_keeps_hours_hands_and_drying(drawn):
    steps, pieces, hours, workers, air = drawn
    own = problem(steps, pieces, workers, hours, days=140, air=air)
    first = first_schedule(own)
    kept(first, own)
    bound = lower_bound(own, first.finish)
    better = improve(own, first, tries=20, stop_at=bound)
    kept(better, own)
    assert bound <= better.finish <= first.finish + 60 * first.late


def test_the_bound_is_reached_where_there_is_only_one_order():
    own = problem((step("base_roller"), step("veil")), (piece(),), workers=1)
    found = first_schedule(own)
    assert lower_bound(own) == found.finish
    assert gap(found.finish, lower_bound(own), own.now) == 0


def test_the_bound_sees_that_hands_are_few():
    # Ten pieces, no drying to speak of: one person can't be done sooner than the work takes.
    pieces = tuple(piece(width=4000, height=2500, name=f"W{n}") for n in range(10))
    own = problem((step("sand_key"),), pieces, workers=1)
    minutes = sum(task.minutes for lane in own.lanes for task in lane.tasks)
    bound = lower_bound(own)
    worked = own.timeline.before[bound] - own.timeline.before[own.now]
    assert worked >= minutes / SLOT_MIN - 10
    assert bound <= first_schedule(own).finish


def test_hands_are_busy_while_things_dry():
    """Two panels dry by turns: together they take hardly longer than one."""
    one = first_schedule(problem((step("base_roller"),), (piece(),), workers=1)).finish
    both = problem((step("base_roller"),), (piece(name="A"), piece(name="B")), workers=1)
    assert first_schedule(both).finish - one <= 6


def test_the_same_seed_gives_the_same_order():
    pieces = tuple(piece(width=700 + 400 * n, name=f"P{n}") for n in range(5))
    own = problem(tuple(step(n) for n in NAMES), pieces)
    first = first_schedule(own)
    assert improve(own, first, tries=30, seed=3) == improve(own, first, tries=30, seed=3)


def test_a_wet_chain_is_one_block_and_is_never_split_over_a_break():
    chain = (step("wet_ground"), step("cloud_sponge", wet=True), step("soften", wet=True))
    own = problem(chain, (piece(width=2000, height=1500, count=9),), workers=1, panels_a_lane=9)
    (lane,) = own.lanes
    (task,) = lane.tasks
    assert len(task.step_ids) == 3
    found = first_schedule(own)
    time = own.timeline
    (block,) = found.placed
    # It goes on over the pause, panel by panel: what is worked before a break is whole panels.
    at = block.start
    done = 0
    while done < slots_of(task.minutes):
        room = int(time.window_end[at]) - at
        step_done = min(room, slots_of(task.minutes) - done)
        if step_done < slots_of(task.minutes) - done:
            step_done -= step_done % slots_of(task.unit_min)
        assert step_done % slots_of(task.unit_min) == 0 or done + step_done == slots_of(
            task.minutes
        )
        done += step_done
        later = np.flatnonzero(time.works[int(time.window_end[at]) :])
        at = int(time.window_end[at]) + int(later[0])


def test_sanding_goes_on_over_the_pause_and_painting_does_not():
    wall = (piece(width=4000, height=2500),)
    sand = first_schedule(problem((step("sand_key"),), wall, workers=1, now=11 * 12)).placed[0]
    coat = (step("base_roller", coats=1),)
    paint = first_schedule(problem(coat, wall, workers=1, now=11 * 12 + 6)).placed[0]
    assert sand.start == 11 * 12
    assert sand.end - sand.start == slots_of(10 + 60 * 10 / 8) + 6  # the half hour of the pause
    assert paint.start == 12 * 12 + 6


def test_a_chain_too_long_for_any_stretch_is_refused():
    slow = (step("wet_ground", speed_m2_h=0.4), step("cloud_sponge", wet=True, speed_m2_h=0.4))
    with pytest.raises(PlanError, match=r"wet chain takes .* h and no stretch of work is so long"):
        first_schedule(problem(slow, (piece(width=3000, height=3000),)))


def test_outside_what_takes_longer_than_the_dry_daylight_is_refused_in_those_words():
    wet = {24 * day + hour for day in range(10) for hour in (10, 12, 14, 16)}
    slow = step("wet_ground", speed_m2_h=0.8), step("cloud_sponge", wet=True, speed_m2_h=0.8)
    dry, _ = outdoors(weather(), slow)
    assert first_schedule(dry).placed
    between, _ = outdoors(weather(rain=wet), slow)
    with pytest.raises(PlanError, match="longest dry stretch of daylight is"):
        first_schedule(between)


def test_coats_of_one_step_are_blocks_of_their_own():
    own = problem((step("clear_floor"),), (piece(),))
    assert [task.coat for task in own.lanes[0].tasks] == [1, 2, 3]


def test_a_test_is_done_once_and_the_other_lanes_wait_for_it():
    own = problem((step("bleed_test"), step("primer_acrylic")), (piece(count=4),), panels_a_lane=1)
    kinds = [[task.coat for task in lane.tasks] for lane in own.lanes]
    assert [len(tasks) for tasks in kinds] == [2, 1, 1, 1]
    kept(first_schedule(own), own)


def test_what_was_done_stays_and_a_late_finish_moves_the_rest():
    own = problem((step("base_roller"), step("veil")), (piece(),), workers=1)
    before = first_schedule(own)
    first, second = own.lanes[0].tasks[0], own.lanes[0].tasks[1]

    def utc(hours):
        return (MONDAY + timedelta(hours=hours)).astimezone(UTC).isoformat()

    late = Done(task_id=first.id, begun=utc(8), ended=utc(11))
    now = own.timeline.slot(MONDAY + timedelta(hours=11, minutes=10))
    own = replace(own, now=now)
    own = replace(own, fixed=fixed_blocks(own, (late,)))
    after = first_schedule(own)
    kept_block = after.of(first.id)
    assert own.timeline.at(kept_block.start) == MONDAY + timedelta(hours=8)
    assert own.timeline.at(kept_block.end) == MONDAY + timedelta(hours=11)
    assert after.of(second.id).start > before.of(second.id).start
    assert after.of(second.id).start >= kept_block.ready
    assert state_of(late, kept_block, now) is State.DRYING
    assert state_of(late, kept_block, kept_block.ready + 1) is State.LOOK
    # "Not yet" keeps it wet until it is looked at again.
    wet = replace(late, waits_until=utc(16))
    again = replace(own, fixed=())
    (placed,) = fixed_blocks(again, (wet,))
    assert own.timeline.at(placed.ready) == MONDAY + timedelta(hours=16)


def test_a_running_block_ends_no_sooner_than_now():
    own = problem((step("base_roller"),), (piece(),), workers=1, now=8 * 12)
    first = own.lanes[0].tasks[0]
    begun = (MONDAY + timedelta(hours=8)).astimezone(UTC).isoformat()
    later = replace(own, now=13 * 12)
    (placed,) = fixed_blocks(later, (Done(task_id=first.id, begun=begun),))
    assert placed.end == 13 * 12 + 1
    assert state_of(Done(task_id=first.id, begun=begun), placed, 13 * 12) is State.RUNNING


def test_a_block_moved_by_the_painter_is_not_begun_sooner():
    own = problem((step("base_roller"),), (piece(),))
    first = own.lanes[0].tasks[0].id
    wanted = own.timeline.slot_after(MONDAY + timedelta(days=1, hours=14))
    found = first_schedule(replace(own, not_before={first: wanted}))
    assert found.of(first).start == wanted


def test_a_missed_recoat_window_is_told():
    # Bright metal must be primed within 8 h of being dry; nobody works for two days after.
    own = (step("remove_rust", dry_h=2.0), step("primer_metal"))
    hours = Hours(weekdays=(0, 3))
    found = first_schedule(problem(own, (piece(),), workers=1, hours=hours, now=15 * 12))
    assert found.late == 1
    assert [one.late for one in sorted(found.placed, key=lambda p: p.start)] == [False, True]
    daily = first_schedule(problem(own, (piece(),), workers=1, now=8 * 12))
    assert daily.late == 0


@pytest.mark.parametrize(
    ("hours", "said"),
    [
        (Hours(from_min=600, to_min=600), "No hour is worked"),
        (Hours(weekdays=()), "No hour is worked"),
        (Hours(from_min=480, to_min=540, pause_from_min=480, pause_to_min=540), "No hour is work"),
        (Hours(free=("soon",)), "“soon” is not a date"),
    ],
)
def test_hours_that_hold_no_work_are_refused(hours, said):
    with pytest.raises(PlanError, match=said):
        Timeline(hours, MONDAY, 7)


def test_impossible_work_is_refused_in_one_sentence():
    coat = (step("base_roller"),)
    with pytest.raises(PlanError, match="nobody to work"):
        first_schedule(problem(coat, (piece(),), workers=0))
    with pytest.raises(PlanError, match="a coat does not dry at all"):
        first_schedule(problem(coat, (piece(),), air=Air(temperature_c=4)))
    with pytest.raises(PlanError, match=r"“Hall” is not done by 17\.05\."):
        first_schedule(problem(coat, (piece(width=9e4, height=9e3, name="Hall"),), days=7))


# ---- outside


def weather(days=10, rain=(), celsius=18.0, percent=55.0, cloud=80.0):
    """Hours from Monday on; `rain` are the wet ones, counted from the first midnight."""
    return tuple(
        WeatherHour(
            at=(MONDAY + timedelta(hours=n)).isoformat(timespec="minutes"),
            temperature_c=celsius, humidity_percent=percent,
            rain_mm=1.0 if n in rain else 0.0, cloud_percent=cloud,
        )
        for n in range(24 * days)
    )  # fmt: skip


def outdoors(hours, steps=None, facing=Facing.NORTH, **parts):
    wall = piece(name="Terrace", site=Site(place=Where.OUTSIDE, facing=facing))
    own = problem(steps or (step("base_roller"),), (wall,), **parts)
    out = outside(hours, MONDAY, own.timeline.days, facing, Daylight())
    return replace(own, weather={"Terrace": out}), out


def test_no_step_starts_where_rain_would_fall_on_it_wet():
    rain = {13, 14, 36, 37}
    own, out = outdoors(weather(rain=rain))
    for block in first_schedule(own).placed:
        wet = range(block.start // 12, -(-block.ready // 12))
        assert not rain & set(wet)
        assert out.works[block.start // 12]


def test_it_dries_by_the_hour_and_the_night_is_slower():
    warm, _ = outdoors(weather())
    cold, _ = outdoors(weather(celsius=11.0))
    a, b = first_schedule(warm).placed[0], first_schedule(cold).placed[0]
    assert b.ready - b.end > a.ready - a.end


def test_the_sun_on_a_face_is_waited_out():
    bright = weather(cloud=10.0)
    north, _ = outdoors(bright, facing=Facing.NORTH)
    south, out = outdoors(bright, facing=Facing.SOUTH)
    assert first_schedule(north).placed[0].start == 8 * 12
    start = first_schedule(south).placed[0].start
    assert not out.sun[start // 12]
    # Before it comes or after it has gone, never at noon.
    assert out.sun[12] and start // 12 % 24 not in range(11, 14)


def test_where_only_sunny_hours_are_left_it_is_done_in_the_sun():
    own, out = outdoors(weather(cloud=0.0), facing=Facing.SOUTH)
    noon = np.isin(np.arange(len(out.works)) % 24, (11, 12, 13))
    short = replace(out, works=out.works & noon)
    assert short.sun[11:14].all()
    placed = first_schedule(replace(own, weather={"Terrace": short})).placed[0]
    assert short.sun[placed.start // 12]


def test_dew_and_frost_keep_the_brush_down():
    _, damp = outdoors(weather(percent=90.0))
    assert not damp.works.any()
    _, frost = outdoors(weather(celsius=-4.0))
    assert not frost.dries.any()


def test_rain_all_week_is_refused_and_says_which_piece():
    own, _ = outdoors(weather(days=7, rain=set(range(24 * 7))))
    with pytest.raises(PlanError, match="“Terrace” finds no hours in the weather table"):
        first_schedule(own)


def test_a_weather_table_that_makes_no_sense_is_refused():
    hot = (WeatherHour(at="2026-05-11T09:00", temperature_c=400, humidity_percent=50),)
    with pytest.raises(PlanError, match="weather at 2026-05-11T09:00 makes no sense"):
        outside(hot, MONDAY, 3, Facing.NORTH)
    odd = (WeatherHour(at="noon", temperature_c=20, humidity_percent=50),)
    with pytest.raises(PlanError, match="“noon” is not a time"):
        outside(odd, MONDAY, 3, Facing.NORTH)
