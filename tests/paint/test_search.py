"""The search gives what full enumeration gives, within the painter's limits."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jartide.colour.difference import delta_e_2000
from jartide.errors import PaintError
from jartide.paint.colour_cells import least_de00
from jartide.paint.enumeration import count_mixes, numbering, whole_parts
from jartide.paint.fit import fit_shelf
from jartide.paint.forward import lab_of
from jartide.paint.missing import Missing, missing_paint
from jartide.paint.recipe import Wishes
from jartide.paint.rows import hiding_layers
from jartide.paint.search import find_mixes
from jartide.paint.shelf import black_paints
from jartide.studio.pigments import hiding, painted_shelf, pigments
from tests.paint.conftest import BENCH, SEED

lightness = st.floats(1, 99)
axis = st.floats(-90, 90)


@settings(max_examples=300)
@given(lightness, axis, axis, lightness, axis, axis, st.floats(0.1, 8))
def test_nothing_in_a_box_is_nearer_than_its_bound(l_1, a_1, b_1, l_2, a_2, b_2, size):
    target, low = np.array([l_1, a_1, b_1]), np.array([l_2, a_2, b_2])
    bound = float(least_de00(target, low[None], low[None] + size)[0])
    inside = low + size * np.random.default_rng(0).random((60, 3))
    corners = low + size * np.array(np.meshgrid([0, 1], [0, 1], [0, 1])).T.reshape(-1, 3)
    nearest = float(delta_e_2000(np.vstack([inside, corners]), target).min())
    assert bound <= nearest + 1e-9


def test_nearest_in_lab_is_not_nearest_by_ciede2000():
    target = np.array([30.0, 25.0, -60.0])
    by_lab, by_eye = np.array([30.0, 25.0, -54.5]), np.array([30.0, 17.0, -54.0])
    assert np.linalg.norm(by_lab - target) < np.linalg.norm(by_eye - target)
    apart = delta_e_2000(np.array([by_lab, by_eye]), target)
    boxes = np.array([by_lab, by_eye])
    assert (least_de00(target, boxes, boxes) <= apart + 1e-9).all()


def test_whole_parts_have_no_common_divisor_and_are_all_there():
    ways = whole_parts(3, 12)
    assert (np.gcd.reduce(ways, axis=1) == 1).all()
    assert ways.sum(axis=1).max() == 12
    assert len({tuple(way) for way in ways.tolist()}) == len(ways)
    assert count_mixes(60, 3, 12) == 6_786_830
    assert whole_parts(3, 2).shape == (0, 3)


def enumerated(fitted, target, most=3, parts=12):
    """The least CIEDE2000 of all mixes, computed in full."""
    numbered = numbering(tuple(range(12)), most, parts)
    least = np.inf
    for sets, ways in zip(numbered.sets, numbered.ways, strict=True):
        for own in sets:
            rows = np.zeros((len(ways), 12))
            rows[:, own] = ways / ways.sum(axis=1, keepdims=True)
            labs = lab_of(hiding_layers(rows), fitted.parameters)
            least = min(least, float(delta_e_2000(labs, target).min()))
    return least


@pytest.mark.parametrize("target", [(52, 3, 9), (30, 10, 20), (85, 0, 5), (20, -60, 40)])
def test_three_paints_are_found_exactly(fitted, index, target):
    best = find_mixes(fitted, target, Wishes(), index)[0]
    assert best.de00 == pytest.approx(enumerated(fitted, np.array(target)), abs=1e-9)


def test_a_fourth_paint_is_never_worse(fitted, index):
    target = (47.0, 6.0, 14.0)
    three = find_mixes(fitted, target, Wishes(), index)[0]
    four = find_mixes(fitted, target, Wishes(most_paints=4), index)[0]
    assert four.de00 <= three.de00
    assert len(four.parts) <= 4
    assert four.total <= 12


def test_mixes_are_of_different_paints_and_say_what_they_predict(fitted, index):
    found = find_mixes(fitted, (52.0, 3.0, 9.0), Wishes(top=8), index)
    assert len({recipe.paints() for recipe in found}) == 8
    assert [r.de00 for r in found] == sorted(r.de00 for r in found)
    for recipe in found:
        row = np.zeros((1, 12))
        for part in recipe.parts:
            row[0, part.paint] = part.parts
        again = lab_of(hiding_layers(row / row.sum()), fitted.parameters)[0]
        assert again == pytest.approx(recipe.lab, abs=1e-6)
        assert delta_e_2000(again, (52.0, 3.0, 9.0)) == pytest.approx(recipe.de00)


@pytest.mark.parametrize("with_index", [True, False])
def test_wishes_are_kept(fitted, index, with_index):
    index = index if with_index else None
    target = (45.0, 8.0, 15.0)
    kept = find_mixes(fitted, target, Wishes(keep=frozenset({8})), index)
    assert all(8 in recipe.paints() for recipe in kept)
    only = frozenset({0, 3, 5, 7})
    allowed = find_mixes(fitted, target, Wishes(paints=only, most_paints=2), index)
    assert all(recipe.paints() <= only and len(recipe.parts) <= 2 for recipe in allowed)
    spoon = find_mixes(fitted, target, Wishes(least_share=0.2), index)
    assert all(min(p.parts for p in r.parts) >= 0.2 * r.total for r in spoon)
    few = find_mixes(fitted, target, Wishes(most_parts=5), index)
    assert all(recipe.total <= 5 for recipe in few)


def test_no_tin_black_leaves_blacks_out(fitted, index):
    blacks = black_paints(fitted.shelf)
    names = {fitted.shelf.paints[n].name for n in blacks}
    assert "Lamp black" in names
    assert "Burnt sienna" not in names
    paints = frozenset(range(12)) - blacks
    found = find_mixes(fitted, (30.0, 2.0, 4.0), Wishes(paints=paints), index)
    assert not any(recipe.paints() & blacks for recipe in found)


def test_a_colour_out_of_reach_gets_the_nearest_and_what_is_missing(fitted, index):
    best = find_mixes(fitted, (60.0, -70.0, 50.0), Wishes(), index)[0]
    assert best.de00 > 5
    assert missing_paint((60.0, -70.0, 50.0), best.lab) is Missing.PURER_GREEN
    assert missing_paint((99.0, 0.0, 0.0), (85.0, 0.0, 2.0)) is Missing.LIGHTER
    assert missing_paint((50.0, 0.0, 0.0), (50.0, 0.5, 0.5)) is None


def test_a_large_shelf_is_searched_by_steps():
    many = sum((pigments(seed)[:10] for seed in range(1, 8)), ())
    many = tuple(replace(p, name=f"{p.name} {n}") for n, p in enumerate(many))
    fitted = fit_shelf(painted_shelf(many, BENCH, "masstone", SEED))
    target = tuple(hiding(many, {0: 3, 15: 2, 47: 1}, BENCH))
    found = find_mixes(fitted, target, Wishes())
    assert found[0].de00 < 0.6
    assert len(found) == 5


@pytest.mark.parametrize(
    ("wishes", "said"),
    [
        (Wishes(paints=frozenset()), "No paint is left"),
        (Wishes(keep=frozenset({1}), paints=frozenset({0})), "not among those allowed"),
        (Wishes(keep=frozenset({1, 2, 3}), most_parts=2), "at least 3 parts"),
    ],
)
def test_wishes_that_leave_nothing_are_refused_in_a_sentence(fitted, wishes, said):
    with pytest.raises(PaintError, match=said):
        find_mixes(fitted, (50.0, 0.0, 0.0), wishes)
