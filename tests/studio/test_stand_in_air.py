"""The simulated thermo-hygrometer and the growing patina keep to what is known of air and rust."""

from __future__ import annotations

from datetime import datetime

import numpy as np
import pytest

from jartide.studio.patina import Reaction, draw_patina
from jartide.studio.thermo_hygrometer import SimulatedThermoHygrometer, Workshop


def at(hour, seed=1, workshop=None):
    clock = lambda: datetime(2026, 11, 26, hour, 0)  # noqa: E731 a clock that stands still
    return SimulatedThermoHygrometer(seed, clock, workshop).read()


def test_the_afternoon_is_warmer_and_drier_than_the_night():
    noon, night = at(15), at(3)
    assert noon.temperature_c > night.temperature_c + 3
    assert noon.humidity_percent < night.humidity_percent - 5


def test_the_device_reads_the_air_with_its_own_small_error():
    shop = Workshop()
    readings = [at(10, seed, shop) for seed in range(200)]
    truth = shop.air(10.0)
    celsius = [r.temperature_c for r in readings]
    assert np.mean(celsius) == pytest.approx(truth.temperature_c, abs=0.05)
    assert 0.1 < np.std(celsius) < 0.25
    assert at(10, 5) == at(10, 5)


def test_air_at_its_dew_point_is_full_and_never_fuller():
    damp = Workshop(mean_c=9.0, swing_c=3.0, dew_point_c=9.0)
    assert damp.air(3.0).humidity_percent == 100
    # Magnus: 9.5 degrees of dew point in air of 20 degrees are 51 %.
    assert Workshop(mean_c=20.0, swing_c=0.0, dew_point_c=9.5).air(
        12.0
    ).humidity_percent == pytest.approx(50.8, abs=0.5)


def test_a_patina_grows_slows_and_can_be_wetted_again():
    once = Reaction(rate_per_min=0.1, dries_min=30)
    times = np.linspace(0, 200, 60).tolist()
    covers = once.covers(times)
    assert (np.diff(covers) >= -1e-12).all() and covers[-1] < once.most
    again = Reaction(rate_per_min=0.1, dries_min=30, wetted_min=(60.0, 120.0))
    assert again.covers([200.0])[0] > covers[-1] + 0.05
    assert once.minutes_to(0.9) is None
    reached = again.minutes_to(0.3)
    assert again.covers([reached])[0] == pytest.approx(0.3, abs=0.02)


def test_what_has_bloomed_stays_where_it_bloomed():
    reaction = Reaction()
    early, late = (
        draw_patina(reaction, minutes, (80.0, 80.0), 0.5, 3) for minutes in (30.0, 120.0)
    )
    bloomed = early.labels > 0
    assert bloomed.mean() < (late.labels > 0).mean()
    assert ((late.labels > 0) & bloomed).sum() > 0.97 * bloomed.sum()
