"""A strong paint let down first: measured against the pigments' own spectra, not the fit's."""

from __future__ import annotations

import pytest

from jartide.colour.difference import delta_e_2000
from jartide.errors import PaintError
from jartide.paint.batch import Needed, least_batch_ml, measurable
from jartide.paint.let_down import BODIES, LEAST_GAIN, counted, find_let_down
from jartide.paint.recipe import LetDown, Part, Wishes
from jartide.paint.search import find_mixes
from jartide.paint.units import least_part_ml
from jartide.studio.pigments import hiding
from tests.paint.conftest import BENCH

WHITE, BLACK = 0, 3


def tinted(paints, shares):
    """The true colour of white with traces of others, by their places."""
    parts = {WHITE: 1 - sum(shares.values()), **shares}
    return tuple(float(v) for v in hiding(paints, parts, BENCH))


# One in fifty to one in ninety of black, sienna or umber in white.
TRACES = ({BLACK: 1 / 60}, {BLACK: 1 / 90}, {7: 1 / 50}, {BLACK: 1 / 80, 6: 1 / 40})


@pytest.mark.parametrize("shares", TRACES)
def test_a_trace_of_a_strong_paint_is_met_that_whole_parts_miss(paints, fitted, index, shares):
    target = tinted(paints, shares)
    plain = find_mixes(fitted, target, Wishes(), index)
    found = find_let_down(fitted, target, plain, Wishes())
    if plain[0].de00 <= 1.0:
        assert found is None
        return
    assert found is not None and found.de00 <= plain[0].de00 - LEAST_GAIN
    # What is poured together comes out nearer in truth, too.
    true = [
        float(delta_e_2000(hiding(paints, {p.paint: p.parts for p in one.parts}, BENCH), target))
        for one in (plain[0], found)
    ]
    assert true[1] < true[0]


def test_at_least_two_of_the_traces_need_a_small_jar(paints, fitted, index):
    needed = 0
    for shares in TRACES:
        target = tinted(paints, shares)
        plain = find_mixes(fitted, target, Wishes(), index)
        needed += find_let_down(fitted, target, plain, Wishes()) is not None
    assert needed >= 2


def test_measured_parts_are_whole_and_come_to_what_is_really_in_it(paints, fitted, index):
    target = tinted(paints, {BLACK: 1 / 60})
    found = find_let_down(fitted, target, find_mixes(fitted, target, Wishes(), index), Wishes())
    jar = found.let_down
    assert jar.parts in BODIES
    measured = counted(found.parts, jar)
    assert all(part.parts == pytest.approx(round(part.parts)) for part in measured)
    assert sum(p.parts for p in measured) == pytest.approx(found.total)
    assert found.total <= 12
    # The strong paint is less than a part of a dozen; nothing else would need a small jar.
    strong = next(p.parts for p in found.parts if p.paint == jar.paint)
    assert strong / found.total < 1 / 13


def test_parts_worked_by_hand():
    # Two of a jar of 1 black in 9 white, with eight white: 0.2 black, 9.8 white.
    parts = (Part(paint=0, parts=9.8), Part(paint=3, parts=0.2))
    measured = counted(parts, LetDown(paint=3, body=0, parts=9.0))
    assert [(p.paint, round(p.parts, 6)) for p in measured] == [(0, 8.0), (3, 2.0)]
    assert counted(parts, None) == parts


def test_no_small_jar_where_whole_parts_do_or_only_one_paint_is_wanted(paints, fitted, index):
    near = tinted(paints, {BLACK: 1 / 6})
    assert find_let_down(fitted, near, find_mixes(fitted, near, Wishes(), index), Wishes()) is None
    target = tinted(paints, {BLACK: 1 / 60})
    one = Wishes(most_paints=1)
    assert find_let_down(fitted, target, find_mixes(fitted, target, one, index), one) is None
    only = Wishes(paints=frozenset({WHITE, 5, 7}))
    found = find_let_down(fitted, target, find_mixes(fitted, target, only, index), only)
    assert found is None or found.paints() <= only.paints


def test_the_least_batch_holds_its_smallest_part():
    # 8 : 3 : 1 with a millilitre for the one part.
    assert least_batch_ml([8, 3, 1], 1.0) == 12
    assert least_batch_ml([7, 2, 0], 1.25) == pytest.approx(9 * 1.25 / 2)
    assert least_batch_ml([], 1.0) == 0
    assert least_part_ml("ml") == 1.0 and least_part_ml("grams") == 1.0
    assert least_part_ml("metric") == 1.25
    assert least_part_ml("imperial") == pytest.approx(5.91939 / 4)
    with pytest.raises(ValueError, match="pinch"):
        least_part_ml("pinch")


def test_a_batch_is_raised_to_what_can_be_measured_and_the_rest_is_put_by():
    little = Needed(laid_ml=2.0, waste_ml=0.3, touch_up_ml=1.0)
    raised = measurable(little, 36.0)
    assert raised.total_ml == 40 and raised.laid_ml == 2.0 and raised.waste_ml == 0.3
    assert sum(raised.shown_ml) == 40
    enough = Needed(laid_ml=200.0, waste_ml=30.0, touch_up_ml=20.0)
    assert measurable(enough, 36.0) is enough
    nothing = Needed(laid_ml=0.0, waste_ml=0.0, touch_up_ml=0.0)
    assert measurable(nothing, 36.0) is nothing


def test_a_shelf_without_paint_is_refused(fitted):
    with pytest.raises(PaintError):
        find_mixes(fitted, (90.0, 0.0, 0.0), Wishes(paints=frozenset()))
