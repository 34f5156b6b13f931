"""Kubelka-Munk, Saunderson and the observer, against published values and a second route."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

with warnings.catch_warnings():
    # It misses a drawing library that is of no use here.
    warnings.simplefilter("ignore")
    import colour

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import BANDS_NM, lab_of_reflectance, lab_slopes, smoothest_reflectance
from jartide.paint.kubelka_munk import absorption_ratio, film_reflectance, hiding_reflectance
from jartide.paint.surface import Surface, inside, seen

# R of a hiding layer and K/S = (1 - R)^2 / 2R, as Judd & Wyszecki 1975, "Color in Business,
# Science and Industry", appendix C tabulate it.
HIDING = [(0.10, 4.05), (0.20, 1.6), (0.30, 0.81667), (0.50, 0.25), (0.80, 0.025), (0.90, 0.00556)]


@pytest.mark.parametrize(("reflectance", "ratio"), HIDING)
def test_a_hiding_layer_reflects_as_tabulated(reflectance, ratio):
    assert hiding_reflectance(np.array(ratio), np.array(1.0)) == pytest.approx(
        reflectance, abs=6e-5
    )
    assert absorption_ratio(np.array(reflectance)) == pytest.approx(ratio, abs=6e-5)


def test_a_film_without_absorption_follows_its_own_closed_form():
    # Kubelka 1948: with K = 0, R = [Rg + SX (1 - Rg)] / [1 + SX (1 - Rg)].
    s, ground = np.array([0.3, 1.0, 4.0]), 0.1
    expected = (ground + s * (1 - ground)) / (1 + s * (1 - ground))
    found = film_reflectance(np.full(3, 1e-7), s, np.full(3, ground))
    assert found == pytest.approx(expected, abs=1e-4)


def test_a_film_that_only_absorbs_follows_bouguer():
    k, ground = np.array([0.1, 0.5, 2.0]), 0.8
    found = film_reflectance(k, np.full(3, 1e-7), np.full(3, ground))
    assert found == pytest.approx(ground * np.exp(-2 * k), rel=1e-4)


@given(st.floats(0.001, 30), st.floats(0.001, 30), st.floats(0.01, 0.98), st.floats(0.05, 0.95))
def test_two_films_are_one_of_both_thicknesses(k, s, ground, share):
    whole = film_reflectance(np.array(k), np.array(s), np.array(ground))
    below = film_reflectance(np.array(k * share), np.array(s * share), np.array(ground))
    above = film_reflectance(np.array(k * (1 - share)), np.array(s * (1 - share)), below)
    assert above == pytest.approx(whole, abs=2e-6)


@given(st.floats(0.01, 5), st.floats(0.1, 5))
def test_a_thick_film_hides(k, s):
    over = [
        film_reflectance(np.array(400 * k), np.array(400 * s), np.array(g)) for g in (0.02, 0.9)
    ]
    hiding = hiding_reflectance(np.array(k), np.array(s))
    assert over[0] == pytest.approx(hiding, abs=1e-3)
    assert over[1] == pytest.approx(hiding, abs=1e-3)


def test_the_surface_is_as_saunderson_wrote_it_and_is_undone():
    surface = Surface(mirrored=1.0, k2=0.6)
    inner = np.array([0.05, 0.3, 0.7, 0.95])
    shown = seen(inner, surface)
    assert shown == pytest.approx(0.04 + 0.96 * 0.4 * inner / (1 - 0.6 * inner), abs=1e-12)
    assert inside(shown, surface) == pytest.approx(inner, abs=1e-9)


def test_the_observer_agrees_with_a_reference_library():
    rng = np.random.default_rng(3)
    domain = colour.SpectralShape(380, 730, 10)
    for _ in range(4):
        curve = 0.1 + 0.8 / (1 + np.exp(-(BANDS_NM - rng.uniform(450, 620)) / rng.uniform(8, 60)))
        spectrum = colour.SpectralDistribution(curve, domain)
        with warnings.catch_warnings():  # it says that it aligns its own tables
            warnings.simplefilter("ignore")
            xyz = colour.sd_to_XYZ(spectrum, illuminant=colour.SDS_ILLUMINANTS["D65"]) / 100
        white = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]
        expected = colour.XYZ_to_Lab(xyz, white)
        assert delta_e_2000(lab_of_reflectance(curve), expected) < 0.15


def test_slopes_of_lab_are_those_of_small_changes():
    curve = 0.2 + 0.5 * np.exp(-(((BANDS_NM - 560) / 60) ** 2))
    slopes = lab_slopes(curve)
    for band in (3, 15, 24):
        step = np.zeros(36)
        step[band] = 1e-6
        found = (lab_of_reflectance(curve + step) - lab_of_reflectance(curve - step)) / 2e-6
        assert slopes[:, band] == pytest.approx(found, abs=1e-3)


@pytest.mark.parametrize(
    "lab", [(95, 0, 2), (30, 10, -45), (50, 65, 40), (80, 0, 90), (15, 3, -10), (40, -40, 10)]
)
def test_the_smoothest_reflectance_shows_its_colour_and_is_a_reflectance(lab):
    curve = smoothest_reflectance(np.array(lab, float))[0]
    assert lab_of_reflectance(curve) == pytest.approx(lab, abs=0.01)
    assert curve.min() > 0
    assert curve.max() < 1


def test_a_colour_no_surface_shows_is_met_as_nearly_as_can_be():
    curve = smoothest_reflectance(np.array([60.0, 120.0, -120.0]))[0]
    assert np.isfinite(curve).all()
    assert curve.min() >= 0
    assert curve.max() <= 1
