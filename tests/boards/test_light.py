"""Other light: an ensemble of pigments for one colour, and what parts under a lamp."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.boards.light import Lamp, Risk, ensemble, lamp_weights, light_risk, seen_in
from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import lab_of_reflectance, smoothest_reflectance

COLOURS = [(50.0, 0.0, 0.0), (23.0, -13.0, 3.0), (57.0, -18.0, -1.0), (40.0, 20.0, -25.0)]


@pytest.mark.parametrize("lab", COLOURS)
def test_all_members_show_the_colour_by_day_and_differ_as_spectra(lab):
    members = ensemble(lab)
    assert members.shape == (60, 36)
    assert members.min() > 0 and members.max() < 1
    assert delta_e_2000(lab_of_reflectance(members), lab).max() < 0.4
    assert members.std(axis=0).max() > 0.01


@pytest.mark.parametrize("lamp", list(Lamp))
def test_white_stays_white_under_every_lamp(lamp):
    white = seen_in(np.ones((1, 36)), lamp)[0]
    assert white == pytest.approx((100, 0, 0), abs=0.05)
    assert lamp_weights(lamp).min() >= 0 or lamp is not Lamp.DAYLIGHT


def test_equal_spectra_never_part_but_equal_colours_may():
    lab = COLOURS[2]
    spectrum = smoothest_reflectance(np.array(lab))
    same = light_risk(lab, lab, target_spectra=spectrum, board_spectra=spectrum)
    assert same.risk is Risk.SMALL
    assert max(light.worst_de00 for light in same.lights) < 0.01
    unknown = light_risk(lab, lab)
    assert unknown.lights[0].de00 < 0.5 < unknown.lights[1].worst_de00


def test_a_metameric_pair_is_told():
    # Two members of one colour that part most under the warm lamp.
    lab = COLOURS[2]
    members = ensemble(lab)
    warm = seen_in(members, Lamp.WARM)
    far = np.unravel_index(
        delta_e_2000(warm[:, None], warm[None]).argmax(), (len(members), len(members))
    )
    told = light_risk(lab, lab, target_spectra=members[[far[0]]], board_spectra=members[[far[1]]])
    assert told.lights[0].de00 < 0.5
    assert told.lights[1].de00 > 2
    assert told.risk is Risk.LARGE
