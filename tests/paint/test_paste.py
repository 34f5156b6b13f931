"""A paste's stiffness from its spread, and what to add: by hand and against a known batch."""

from __future__ import annotations

import math

import pytest

from jartide.errors import PaintError
from jartide.paint.paste import (
    STANDS_PA,
    Spread,
    Stiffness,
    next_addition,
    slope_of,
    spread_mm,
    stiffness,
    yield_stress_pa,
)


def batch(powder_ml, slope, start_pa=2.0, paint_ml=1000.0):
    """What a batch whose law is known would show of a 15 ml spoon."""
    pa = start_pa * math.exp(slope * powder_ml / paint_ml)
    return Spread(
        spoon_ml=15.0,
        diameter_mm=spread_mm(15.0, pa),
        powder_ml=powder_ml,
        paint_ml=paint_ml,
    )


def test_the_yield_stress_follows_the_published_formula():
    # 15 ml, 90 mm across: 225 * 1500 * 9.81 * (15e-6)^2 / (128 * pi^2 * 0.045^5) = 3.196 Pa.
    assert yield_stress_pa(15.0, 90.0) == pytest.approx(3.196, abs=0.003)
    # Half as wide is 32 times as stiff; spread and stress are each other's inverse.
    assert yield_stress_pa(15.0, 45.0) == pytest.approx(32 * yield_stress_pa(15.0, 90.0))
    assert spread_mm(15.0, yield_stress_pa(15.0, 61.0)) == pytest.approx(61.0)
    # Another spoon of the same paste tells the same.
    assert yield_stress_pa(5.0, spread_mm(5.0, 33.0)) == pytest.approx(33.0)


@pytest.mark.parametrize(("spoon", "wide"), [(0.0, 50), (15, 0), (15, 4000), (-2, 50)])
def test_a_spread_that_makes_no_sense_is_refused(spoon, wide):
    with pytest.raises(PaintError):
        yield_stress_pa(spoon, wide)


def test_stiffness_is_said_in_words():
    words = [stiffness(pa) for pa in (1, 10, STANDS_PA, 400)]
    assert words == [Stiffness.RUNS, Stiffness.LEVELS, Stiffness.STANDS, Stiffness.CRUMBLES]


def test_the_first_addition_goes_by_the_rule_of_thumb():
    # From 2 to 50 Pa: ln 25 / ln 2 doublings of 50 ml to the litre each.
    added = next_addition((batch(0, 14.0),))
    assert added.paint_ml == 0
    assert added.powder_ml == pytest.approx(50 * math.log2(25), rel=0.001)


@pytest.mark.parametrize("slope", [8.0, 25.0])
def test_a_batch_teaches_how_its_powder_stiffens(slope):
    looked = [batch(0, slope)]
    for _ in range(4):
        more = next_addition(looked)
        powder = looked[-1].powder_ml + more.powder_ml
        paint = looked[-1].paint_ml + more.paint_ml
        pa = 2.0 * math.exp(slope * powder / paint)
        looked.append(
            Spread(spoon_ml=15.0, diameter_mm=spread_mm(15.0, pa), powder_ml=powder, paint_ml=paint)
        )
    assert slope_of(looked) == pytest.approx(slope, rel=0.15)
    assert looked[-1].pa == pytest.approx(STANDS_PA, rel=0.1)
    assert looked[-1].paint_ml >= 1000


def test_what_is_too_stiff_gets_paint():
    looked = (batch(0, 20.0), batch(300, 20.0))
    added = next_addition(looked)
    assert added.powder_ml == 0 and added.paint_ml > 0
    thinner = 300 / (1000 + added.paint_ml)
    assert 2.0 * math.exp(20.0 * thinner) == pytest.approx(STANDS_PA, rel=0.15)


def test_without_a_look_or_paint_nothing_is_said():
    with pytest.raises(PaintError):
        next_addition(())
    with pytest.raises(PaintError):
        next_addition((Spread(spoon_ml=15, diameter_mm=60, powder_ml=3, paint_ml=0),))
