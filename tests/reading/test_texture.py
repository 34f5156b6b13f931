"""Grain within one layer: how strong, how large, which way, and how much follows a light."""

import numpy as np
import pytest

from jartide.reading.layers.covers import Covers
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.pattern.texture import measure_texture
from jartide.studio.noise import fractal
from jartide.studio.relief import shade

SIDE, MM = 360, 0.25


def texture_of(lightness, whole=True):
    lab = np.dstack([lightness, np.zeros_like(lightness), np.zeros_like(lightness)])
    flat = np.zeros(lightness.shape, np.uint8)
    layers = LayerMap(
        layers=(),
        covers=Covers(labels=flat, beside=flat, share=np.ones(lightness.shape, np.float32)),
        whole=np.full(lightness.shape, whole),
        valid=np.ones(lightness.shape, bool),
    )
    return measure_texture(lab.astype(np.float32), layers, MM)


def grain(**how):
    rng = np.random.default_rng(4)
    return fractal((SIDE, SIDE), MM, rng, largest_mm=0.6, smallest_mm=0.2, slope=0.5, **how)


@pytest.mark.parametrize("strength", [1.0, 3.0])
def test_strength_of_grain_on_clouds(strength):
    clouds = fractal((SIDE, SIDE), MM, np.random.default_rng(1), largest_mm=60, slope=3.0)
    found = texture_of(60 + 6 * clouds + strength * grain())
    assert found.contrast_L.value == pytest.approx(strength, rel=0.2)
    low, high = found.contrast_L.measurement
    assert low < strength < high


def test_coarser_grain_is_larger():
    fine, coarse = (
        texture_of(
            60
            + 2
            * fractal(
                (SIDE, SIDE),
                MM,
                np.random.default_rng(4),
                largest_mm=size,
                smallest_mm=size,
                slope=2.0,
            )
        ).size_mm.value
        for size in (0.8, 1.6)
    )
    assert 1.3 < coarse / fine < 3


def test_grain_that_runs_one_way_has_a_direction():
    rng = np.random.default_rng(4)
    lying = {"direction_deg": 30.0, "stretch": 4.0}
    strokes = fractal((SIDE, SIDE), MM, rng, largest_mm=2.0, smallest_mm=0.8, slope=1.0, **lying)
    found = texture_of(60 + 2 * strokes)
    assert found.direction_deg.value == pytest.approx(30, abs=4)
    assert texture_of(60 + 2 * grain()).direction_deg.value is None


def test_relief_follows_its_light_and_grain_does_not():
    bumps = fractal((SIDE, SIDE), MM, np.random.default_rng(9), largest_mm=2, smallest_mm=0.6)
    lit = shade(0.08 * bumps, MM, 1.0)
    relief = texture_of(60 * (lit / lit.mean()) ** (1 / 3)).light_share.value
    assert relief > 0.5
    assert texture_of(60 + 2 * grain()).light_share.value < 0.2


def test_where_nothing_is_whole_there_is_no_texture():
    assert texture_of(60 + grain(), whole=False) is None
