"""CIEDE2000 against the published test pairs and against an independent library."""

from __future__ import annotations

import csv
import warnings
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

with warnings.catch_warnings():  # it asks for a plotting library we have no use for
    warnings.simplefilter("ignore")
    import colour

from jartide.colour.difference import delta_e_2000

PAIRS = Path(__file__).with_name("ciede2000_sharma2005.csv")


def pairs():
    with PAIRS.open(encoding="utf-8") as file:
        rows = csv.reader(line for line in file if not line.startswith("#"))
        return [[float(v) for v in row] for row in rows]


@pytest.mark.parametrize("row", pairs())
def test_matches_published_pair(row):
    found = delta_e_2000(np.array(row[:3]), np.array(row[3:6]))
    assert found == pytest.approx(row[6], abs=5e-5)  # four decimals are printed


labs = st.tuples(st.floats(0, 100), st.floats(-80, 80), st.floats(-80, 80))


@given(labs, labs)
def test_agrees_with_an_independent_implementation(a, b):
    expected = colour.difference.delta_E_CIE2000(np.array(a), np.array(b))
    assert delta_e_2000(np.array(a), np.array(b)) == pytest.approx(expected, abs=1e-6)


@given(labs, labs)
def test_order_does_not_matter(a, b):
    assert delta_e_2000(a, b) == pytest.approx(delta_e_2000(b, a), abs=1e-9)


def test_opposite_hues_are_as_far_apart_both_ways():
    a, b = (
        (0.0, 57.39678526380635, 57.39678526380635),
        (0.0, -75.75918949368744, -75.75918949368744),
    )
    assert delta_e_2000(a, b) == pytest.approx(delta_e_2000(b, a), abs=1e-9)


def test_broadcasts():
    tones = np.array([[50, 0, 0], [60, 0, 0.0]])
    assert delta_e_2000(tones[:, None], tones[None]).shape == (2, 2)
