"""How busy a surface is: the density of edges between its layers."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.reading.layers.covers import Covers
from jartide.reading.pattern.edges import edge_density


def discs(mm_per_px, radius_mm=10.0, apart_mm=50.0, side_mm=200.0):
    side = round(side_mm / mm_per_px)
    down, across = np.mgrid[:side, :side] * mm_per_px
    half = apart_mm / 2
    off = np.hypot((down % apart_mm) - half, (across % apart_mm) - half)
    labels = (off < radius_mm).astype(np.uint8)
    return Covers(labels=labels, beside=labels, share=np.ones(labels.shape, np.float32))


@pytest.mark.parametrize("mm_per_px", [0.2, 0.4, 0.6])
def test_the_length_of_edges_is_that_of_the_circles_at_any_resolution(mm_per_px):
    covers = discs(mm_per_px)
    found = edge_density(covers, 2, np.ones(covers.labels.shape, bool), mm_per_px)
    true = 16 * 2 * np.pi * 10.0 / 400.0
    assert found.value == pytest.approx(true, rel=0.02)
    low, high = found.sampling
    assert low < true < high


def test_half_as_large_is_twice_as_busy():
    valid = np.ones((500, 500), bool)
    large = edge_density(discs(0.4), 2, valid, 0.4).value
    small = edge_density(discs(0.4, radius_mm=5.0, apart_mm=25.0), 2, valid, 0.4).value
    assert small / large == pytest.approx(2.0, rel=0.03)


def test_what_was_not_read_has_no_edges_and_no_area():
    covers = discs(0.4)
    valid = np.ones(covers.labels.shape, bool)
    whole = edge_density(covers, 2, valid, 0.4).value
    valid[:, :250] = False
    assert edge_density(covers, 2, valid, 0.4).value == pytest.approx(whole, rel=0.03)


def test_without_a_scale_or_too_coarse_it_is_not_told():
    covers = discs(0.4)
    valid = np.ones(covers.labels.shape, bool)
    assert edge_density(covers, 2, valid, None).value is None
    assert edge_density(covers, 2, valid, 1.5).value is None


def test_a_second_layer_shares_its_edges_with_the_first():
    covers = discs(0.4)
    labels = covers.labels.copy()
    labels[:, 250:][labels[:, 250:] == 1] = 2
    three = replace(covers, labels=labels, beside=labels)
    valid = np.ones(labels.shape, bool)
    assert edge_density(three, 3, valid, 0.4).value == pytest.approx(
        edge_density(covers, 2, valid, 0.4).value, rel=0.01
    )
