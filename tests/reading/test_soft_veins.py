"""Veins over soft clouds keep a colour of their own."""

from __future__ import annotations

import pytest

from jartide.reading.result import Role
from jartide.studio.families import draw_family
from tests.conftest import read_surface

PALE = {
    "ground": (82.0, 1.0, 7.0),
    "cloud": (75.0, 0.5, 5.0),
    "drift": (68.0, 0.0, 3.0),
    "hair": (56.0, 0.0, 2.0),
    "vein": (46.0, 0.0, 1.0),
}


@pytest.mark.parametrize("seed", [1, 2])
def test_dark_veins_on_pale_clouds_are_a_layer_of_their_own(seed):
    surface = draw_family("marble", (240.0, 240.0), 0.25, 7, patch=1, **PALE)
    reading = read_surface(surface, seed)
    veins = [x for x in reading.layers if x.role is Role.VEIN]
    darkest = min(veins, key=lambda x: x.shown_lab[0])
    assert darkest.shown_lab[0] == pytest.approx(46.0, abs=3.0)
    assert sum(x.coverage.value for x in veins) < 0.1
