"""Drying follows temperature, humidity, thickness and air, and learns from what was seen."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jartide.errors import PlanError
from jartide.plan.drying import (
    Air,
    Moving,
    cure_days,
    dew_point_c,
    drying_h,
    learned_factor,
    open_min_in,
    thickness_factor,
)
from jartide.plan.open_time import sections
from jartide.plan.progress import Done, learned, seen_h

from .conftest import piece, step

BINDERS = st.sampled_from(["water", "oil", "spirit", "lime", "wax"])
WARM = st.floats(9, 34)
DAMP = st.floats(5, 88)


def hours(binder="water", celsius=20.0, percent=50.0, film=100.0, moving=Moving.STILL):
    air = Air(temperature_c=celsius, humidity_percent=percent, moving=moving)
    return drying_h(3.0, binder, air, film_um=film, label_film_um=100.0)


@pytest.mark.parametrize("binder", ["water", "oil", "spirit", "lime", "wax"])
def test_at_the_labels_conditions_a_coat_takes_what_the_label_says(binder):
    assert hours(binder) == pytest.approx(3.0)


@given(BINDERS, WARM, WARM, DAMP, DAMP, st.floats(20, 1000), st.floats(20, 1000))
def test_colder_damper_and_thicker_is_never_faster(binder, t1, t2, h1, h2, f1, f2):
    cold, warm = sorted((t1, t2))
    dry, damp = sorted((h1, h2))
    thin, thick = sorted((f1, f2))
    best = hours(binder, warm, dry, thin)
    assert hours(binder, cold, dry, thin) >= best
    assert hours(binder, warm, damp, thin) >= best
    # Beyond 400 um moving air helps less, in still air nothing but thickness changes.
    assert hours(binder, warm, dry, thick) >= best


@given(BINDERS, st.sampled_from(list(Moving)), st.floats(20, 1500))
def test_moving_air_never_slows_and_keeps_its_limits(binder, moving, film):
    still = hours(binder, film=film)
    faster = still / hours(binder, film=film, moving=moving)
    assert 1 <= faster <= 2
    if film > 400:
        assert faster <= 1.1 + 1e-9
    if binder == "oil":
        assert faster <= 1.2 + 1e-9
    if binder == "spirit" and moving is Moving.WARM:
        assert faster == 1


def test_ten_degrees_double_and_half_the_dryness_doubles_again():
    assert hours(celsius=10) == pytest.approx(6)
    assert hours(percent=75) == pytest.approx(6)
    assert thickness_factor(200, 100) == pytest.approx(2**1.5)


@pytest.mark.parametrize(
    ("binder", "celsius", "percent"), [("water", 5, 50), ("water", 20, 95), ("oil", 2, 50)]
)
def test_where_a_coat_does_not_film_there_is_no_time_for_it(binder, celsius, percent):
    assert hours(binder, celsius, percent) is None


def test_air_out_of_reach_is_refused():
    with pytest.raises(PlanError, match="temperature or humidity can't be right"):
        hours(percent=140)
    with pytest.raises(PlanError, match="can't be right"):
        hours(celsius=300)


@pytest.mark.parametrize(
    # Psychrometric tables at 1013 hPa, to a tenth of a degree.
    ("celsius", "percent", "dew"),
    [(20, 50, 9.3), (25, 60, 16.7), (10, 80, 6.7), (30, 40, 14.9), (0, 100, 0.0)],
)
def test_the_dew_point_is_that_of_the_tables(celsius, percent, dew):
    assert float(dew_point_c(celsius, percent)) == pytest.approx(dew, abs=0.1)


def test_open_time_shortens_as_drying_quickens():
    assert open_min_in(20, "water", Air()) == pytest.approx(20)
    assert open_min_in(20, "water", Air(temperature_c=30)) == pytest.approx(10)
    assert open_min_in(4, "water", Air(temperature_c=34, humidity_percent=10)) == 3


def test_cure_is_touch_then_wash_then_use_and_longer_on_glass():
    touch, wash, use = cure_days("water", 21, Air(), nonporous=False)
    assert touch < wash < use == pytest.approx(21)
    assert cure_days("water", 21, Air(), nonporous=True)[2] == pytest.approx(31.5)
    assert cure_days("water", 21, Air(temperature_c=12), nonporous=False)[2] > use


def done(ended, ready, not_yet=(), foreseen=3.0):
    base = datetime(2026, 5, 14, 8, 0, tzinfo=UTC)

    def at(h):
        return (base + timedelta(hours=h)).isoformat()

    return Done(
        task_id="t", begun=at(0), ended=at(ended), ready=at(ended + ready),
        not_yet=tuple(at(ended + h) for h in not_yet), foreseen_h=foreseen, binder="water",
    )  # fmt: skip


def test_a_coat_seen_dry_next_morning_teaches_nothing_of_the_night():
    assert seen_h(done(1, 16)) == pytest.approx(3.0)
    assert learned([done(1, 16)] * 5)["water"] == pytest.approx(1.0)


def test_not_yet_and_sooner_teach():
    # Not yet at 4 h, ready at 5: some time between.
    assert seen_h(done(1, 5, not_yet=(3.5, 4))) == pytest.approx(4.5)
    assert seen_h(done(1, 20, not_yet=(4,))) == pytest.approx(5.0)
    assert seen_h(done(1, 2)) == pytest.approx(2.0)
    slow = learned([done(1, 5, not_yet=(4,))] * 4)["water"]
    assert 1.2 < slow < 1.5
    assert seen_h(done(1, 5, foreseen=0.0)) is None


def test_learning_starts_halfway_and_keeps_within_reason():
    assert learned_factor([]) == 1
    assert learned_factor([(6, 3)]) == pytest.approx(2**0.5)
    assert learned_factor([(6, 3)] * 100) == pytest.approx(2, rel=0.02)
    assert learned_factor([(1e6, 1)] * 50) == 6


def test_a_section_is_speed_times_open_time_less_the_reserve():
    veil = step("veil", speed_m2_h=12.0, open_min=20.0)
    found = sections((veil,), piece(width=4000, height=2500), Air())
    # 12 m2/h for 15 minutes.
    assert found.area_m2 == pytest.approx(3.0)
    assert (found.number, found.width_mm, found.fits) == (4, 1000, True)
    small = sections((veil,), piece(width=600, height=1000, count=9), Air())
    assert (small.number, small.panels) == (1, 5)
    two = sections((veil,), piece(width=4000, height=2500), Air(), hands=2)
    assert two.area_m2 == pytest.approx(6.0)


def test_one_pair_of_hands_is_warned_where_the_edge_would_set():
    slow = step("vein_feather", speed_m2_h=3.0, open_min=10.0)
    found = sections((slow,), piece(width=3000, height=2600), Air(temperature_c=28))
    assert not found.fits
    assert found.hands > 1
    assert sections((step("sand_key"),), piece(), Air()) is None


def test_a_chain_shares_the_shortest_open_time_and_all_its_work():
    chain = (step("wet_ground"), step("cloud_sponge", wet=True), step("soften", wet=True))
    together = sections(chain, piece(), Air())
    alone = sections(chain[:1], piece(), Air())
    assert together.area_m2 < alone.area_m2
    assert together.open_min == min(open_min_in(s.open_min, "water", Air()) for s in chain)
