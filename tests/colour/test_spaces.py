"""Conversions against an independent library, and there and back."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

with warnings.catch_warnings():  # it asks for a plotting library we have no use for
    warnings.simplefilter("ignore")
    import colour

from jartide.colour import spaces
from jartide.colour.words import Cast, Shift, Tone, cast, shift, tone

unit = st.floats(0, 1)
rgbs = st.tuples(unit, unit, unit)


@given(rgbs)
def test_lab_agrees_with_an_independent_library(rgb):
    ours = spaces.linear_to_lab(np.array(rgb))
    # The library's own sRGB matrix is rounded to four digits: hence 0.06, not less.
    xyz = colour.RGB_to_XYZ(np.array(rgb), "sRGB")
    theirs = colour.XYZ_to_Lab(xyz, colour.CCS_ILLUMINANTS["cie_2_1931"]["D65"])
    assert ours == pytest.approx(theirs, abs=0.06)


@given(rgbs)
def test_lab_goes_there_and_back(rgb):
    back = spaces.lab_to_linear(spaces.linear_to_lab(np.array(rgb)))
    assert back == pytest.approx(np.array(rgb), abs=1e-9)


@given(rgbs)
def test_srgb_goes_there_and_back(rgb):
    assert spaces.decode_srgb(spaces.encode_srgb(np.array(rgb))) == pytest.approx(rgb, abs=1e-9)


def test_white_is_white():
    assert spaces.linear_to_lab(np.ones(3)) == pytest.approx([100, 0, 0], abs=1e-9)
    assert spaces.srgb_hex([100, 0, 0]) == "#ffffff"


def test_float32_stays_float32():
    assert spaces.linear_to_lab(np.zeros((2, 2, 3), np.float32)).dtype == np.float32


@pytest.mark.parametrize(
    ("lab", "light", "hue"),
    [
        ((13, -7, 1.5), Tone.DEEP, Cast.GREENISH),
        ((60, 0.6, 0.5), Tone.LIGHT, Cast.NEUTRAL),
        ((57, -18, -3), Tone.MID, Cast.BLUE_GREEN),
        ((66, 6, 21), Tone.LIGHT, Cast.YELLOWISH),
        ((98, 0, 0), Tone.NEAR_WHITE, Cast.NEUTRAL),
    ],
)
def test_words_of_a_colour(lab, light, hue):
    assert (tone(lab), cast(lab)) == (light, hue)


@pytest.mark.parametrize(
    ("target", "board", "word"),
    [
        ((50, 0, 0), (55, 1, 1), Shift.LIGHTER),
        ((50, 0, 0), (45, 0, 0), Shift.DARKER),
        ((60, 0.5, 5), (60, 3, 11), Shift.WARMER),
        ((60, 0, 0), (60, -1, -4), Shift.COOLER),
        ((60, 0, 0), (60, -4, 1), Shift.GREENER),
        ((60, 0, 0), (60, 4, -1), Shift.PINKER),
        ((50, 30, 10), (50, 20, 7), Shift.GREYER),
    ],
)
def test_words_of_a_shift(target, board, word):
    assert shift(target, board) is word
