"""Colours in painters' words."""

from __future__ import annotations

import pytest

from jartide.colour.gamut import at_gamut_edge
from jartide.colour.words import Cast, Shift, Strength, Undertone, beside, undertone


@pytest.mark.parametrize(
    ("lab", "words"),
    [
        ((60, 0.3, 0.4), (Undertone.EVEN, Cast.NEUTRAL, Strength.HINT)),
        ((60, 0.6, 5.0), (Undertone.WARM, Cast.YELLOWISH, Strength.CLEAR)),
        ((60, -0.5, -4.0), (Undertone.COOL, Cast.BLUISH, Strength.HINT)),
        ((50, 28, 40), (Undertone.WARM, Cast.ORANGE, Strength.FULL)),
        ((57, -18, -1), (Undertone.COOL, Cast.BLUE_GREEN, Strength.FULL)),
        ((57, -9, 5), (Undertone.EVEN, Cast.GREENISH, Strength.CLEAR)),
    ],
)
def test_undertone_against_the_true_grey(lab, words):
    assert undertone(lab) == words


def test_casts_are_named_beside_a_neighbour():
    assert beside((70, 1, 6), (60, 1, 6.5)) is None
    assert beside((70, 2, 12), (60, 0, 3)) in (Shift.WARMER, Shift.STRONGER)
    assert beside((40, -12, 3), (27, 8, 14)) is Shift.COOLER  # not merely greyer
    assert beside((40, 4, 6), (40, 10, 15)) is Shift.GREYER


def test_colours_at_the_edge_of_the_file_are_told():
    assert at_gamut_edge((45, -38, -12))  # a deep blue-green
    assert at_gamut_edge((60, 70, 60))
    assert not at_gamut_edge((57, -18, -1))
    assert not at_gamut_edge((12, -3, 1))  # dark, but no strong colour
