"""Practice strokes against the target's own hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.practice import Spoils, score_sheet
from jartide.photo.picture import Picture
from jartide.reading.read import find_basis, read_basis
from jartide.studio.marble import Marble, draw_marble

SIZE, SCALE = (180.0, 180.0), 0.3


def read(look, seed=5):
    surface = draw_marble(SIZE, SCALE, seed, look)
    picture = Picture(
        rgb_linear=surface.rgb_linear,
        photo_size=surface.rgb_linear.shape[1::-1],
        mm_per_px=SCALE,
    )
    basis = find_basis(picture, "marble")
    return (*read_basis(basis), basis)


@pytest.fixture(scope="module")
def target():
    return read(Marble())[0]


def hands(**changes):
    look = Marble()
    return replace(look, veins=replace(look.veins, **changes), hairs=replace(look.hairs, **changes))


def test_the_targets_own_strokes_score_near_a_hundred(target):
    sheet = score_sheet(target, target)
    assert sheet.score == pytest.approx(100)
    assert all(row.jnd == 0 for row in sheet.measures)
    another = score_sheet(target, *another_sheet())
    assert another.score > 80


def another_sheet():
    reading, layers, basis = read(Marble(), seed=9)
    return reading, basis, layers


def test_a_wild_hand_scores_far_less_and_is_told_why(target):
    wild = hands(direction_deg=120.0, spread_deg=55.0, wander_deg=45.0)
    reading, layers, basis = read(wild)
    sheet = score_sheet(target, reading, basis, layers)
    assert sheet.score < score_sheet(target, *another_sheet()).score - 25
    scores = [row.score for row in sheet.measures]
    assert scores == sorted(scores)
    # No direction at all is as wild as strokes can be, and no measure that is left out.
    assert sheet.measures[0].quantity == "lines.direction_spread_deg"
    assert len(sheet.faults) > 0.6 * sheet.strokes > 4
    assert {fault.spoils for fault in sheet.faults} >= {Spoils.ASTRAY, Spoils.TOO_WILD}
    for fault in sheet.faults:
        left, top, right, bottom = fault.ring
        assert 0 <= left < right <= 1 and 0 <= top < bottom <= 1
        assert fault.times > 1


def test_strokes_far_too_wide_are_named(target):
    reading, layers, basis = read(Marble().wider(3.5))
    named = {fault.spoils for fault in score_sheet(target, reading, basis, layers).faults}
    assert Spoils.TOO_WIDE in named
    assert Spoils.TOO_NARROW not in named


def test_colour_and_cover_are_no_part_of_the_hand(target):
    paler = score_sheet(target, read(replace(Marble(), ground=(30.0, -6.0, 2.0)))[0])
    assert paler.score > 80
    assert not [row for row in paler.measures if "contrast" in row.quantity]
