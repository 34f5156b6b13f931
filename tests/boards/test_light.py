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
    # What a lamp of that colour does to a mid grey leaves it grey.
    grey = seen_in(np.full((1, 36), 0.2), lamp)[0]
    assert np.abs(grey[1:]).max() < 0.05
    assert lamp_weights(lamp).shape == (36, 3)


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


def test_a_mix_of_measured_paints_has_a_spectrum_of_its_own(fitted, paints):
    from dataclasses import replace

    from jartide.paint.hiding import parts_row
    from jartide.paint.mix_spectrum import mix_spectrum
    from jartide.paint.predict import predict
    from jartide.paint.recipe import Part
    from jartide.paint.rows import hiding_layers

    parts = (Part(paint=0, parts=3.0), Part(paint=3, parts=1.0))
    assert mix_spectrum(fitted, parts) is None
    measured = []
    for paint in fitted.shelf.paints:
        spectrum = smoothest_reflectance(np.array(paint.masstone))[0]
        swatches = tuple(
            replace(s, spectrum=tuple(spectrum)) if s.lab == paint.masstone else s
            for s in paint.swatches
        )
        measured.append(replace(paint, swatches=swatches))
    known = replace(fitted, shelf=replace(fitted.shelf, paints=tuple(measured)))
    alone = mix_spectrum(known, (Part(paint=3, parts=1.0),))
    assert delta_e_2000(lab_of_reflectance(alone), fitted.shelf.paints[3].masstone) < 1.5
    row = parts_row(fitted, parts)
    mixed = predict(fitted, hiding_layers(row / row.sum())).lab[0]
    assert delta_e_2000(lab_of_reflectance(mix_spectrum(known, parts)), mixed) < 4
