"""Light and shade of relief are no paint."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.spaces import lab_to_linear
from jartide.photo.picture import Picture
from jartide.reading.pattern.relief import measure_relief
from jartide.reading.read import read_picture
from jartide.studio.noise import fractal
from jartide.studio.plaster import Plaster, draw_plaster
from jartide.studio.relief import LAMP_DEG, shade
from jartide.studio.stone import draw_stone


def read(rgb, family):
    height, width = rgb.shape[:2]
    noisy = rgb + np.random.default_rng(1).normal(0, 0.002, rgb.shape).astype(np.float32)
    picture = Picture(rgb_linear=noisy, photo_size=(width, height), mm_per_px=0.25)
    return read_picture(picture, family)[0]


def test_relief_is_told_with_its_light_and_makes_no_layer():
    found = []
    for strength in (0.0, 0.1, 0.2):
        surface = draw_plaster((150, 150), 0.25, 4, Plaster(relief=strength))
        reading = read(surface.rgb_linear, "plaster")
        assert len(reading.layers) == len(surface.truth.layers)
        found.append(reading.relief)
    assert found[0] is None
    assert found[1].light_deg.value == pytest.approx(LAMP_DEG, abs=12)
    assert found[2].strength.value > 1.5 * found[1].strength.value
    low, high = found[2].strength.measurement
    assert low < 0.096 < high  # the drawn light's own deviation


def test_flat_mottle_shows_no_relief():
    assert read(draw_stone((150, 150), 0.25, 4).rgb_linear, "stone").relief is None


def test_lit_and_shaded_flanks_are_one_paint():
    """Blobs with flat tops: their flanks face the lamp or turn away, and look like two tones."""
    field = fractal((360, 360), 0.25, np.random.default_rng(2), largest_mm=10, slope=3.0)
    factor = shade(np.clip(field, -1, 1), 0.25, 0.28)
    # Three levels of light, so that nothing but their places tells them from three paints.
    levels = np.where(factor > 1.13, 1.35, np.where(factor < 0.89, 0.7, 1.0))
    paint = lab_to_linear((62.0, 4.0, 12.0)).astype(np.float32)
    reading = read((paint * levels[..., None]).astype(np.float32), "plaster")
    assert len(reading.layers) == 1


@pytest.mark.parametrize("stretch", [1.0, 2.0])
def test_clouds_of_one_hue_stay_layers(stretch):
    rng = np.random.default_rng(5)
    field = fractal((360, 360), 0.25, rng, largest_mm=10, slope=3.0, stretch=stretch)
    paint = lab_to_linear((62.0, 4.0, 12.0)).astype(np.float32)
    factor = np.where(field > 0.7, 1.4, np.where(field < -0.7, 0.7, 1.0))
    reading = read((paint * factor[..., None]).astype(np.float32), "plaster")
    assert len(reading.layers) == 3


def _two_paints(size, relief):
    """Flat bands of two paints far apart, shaded as one relief; and which is where."""
    rng = np.random.default_rng(8)
    labels = (np.arange(size) // 60 % 2).astype(np.uint8)[None].repeat(size, axis=0)
    rgb = lab_to_linear(np.array([(85.0, 0.0, 4.0), (30.0, 0.0, 4.0)]))[labels]
    if relief:
        field = fractal((size, size), 0.25, rng, largest_mm=3, slope=2.0)
        rgb = rgb * shade(field, 0.25, relief)[..., None]
    return rgb.astype(np.float32), labels, np.ones((size, size), bool)


@pytest.mark.parametrize("size", [480, 900])
def test_of_a_large_picture_too_each_pixel_is_held_against_its_own_paint(size):
    assert measure_relief(*_two_paints(size, 0.0), 0.25) is None
    found = measure_relief(*_two_paints(size, 0.1), 0.25)
    assert found.light_deg.value == pytest.approx(LAMP_DEG, abs=12)


def test_relief_is_as_strong_in_a_large_picture_as_in_a_part_of_it():
    rgb, labels, whole = _two_paints(900, 0.1)
    large = measure_relief(rgb, labels, whole, 0.25).strength.value
    part = measure_relief(rgb[:480, :480], labels[:480, :480], whole[:480, :480], 0.25)
    assert large == pytest.approx(part.strength.value, rel=0.35)
