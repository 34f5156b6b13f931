"""S-CIELAB: uniform fields keep their colours, fine gratings vanish with distance."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.boards.eye import as_seen, px_per_degree, seen_difference
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import RGB_TO_XYZ, lab_to_xyz, linear_to_lab, xyz_to_linear

PLAIN = [(50.0, 0.0, 0.0), (60.0, 12.0, 20.0), (30.0, -12.0, 4.0)]


def field(lab, shape=(120, 160)):
    rgb = xyz_to_linear(lab_to_xyz(np.array(lab)))
    return np.broadcast_to(rgb, (*shape, 3)).astype(np.float32)


def grating(period_px, low=35.0, high=65.0, shape=(200, 200)):
    wave = np.where(np.arange(shape[1]) // (period_px // 2) % 2, high, low)
    labs = np.zeros((*shape, 3))
    labs[..., 0] = wave
    return xyz_to_linear(lab_to_xyz(labs)).astype(np.float32)


@pytest.mark.parametrize("lab", PLAIN)
@pytest.mark.parametrize("viewing_m", [0.3, 2.0, 8.0])
def test_a_uniform_field_is_seen_as_it_is(lab, viewing_m):
    seen = as_seen(field(lab), 0.5, viewing_m)
    assert linear_to_lab(seen) == pytest.approx(np.array(lab) * np.ones(seen.shape), abs=0.02)


def test_uniform_fields_differ_by_plain_ciede2000():
    a, b = (field(lab) for lab in PLAIN[:2])
    found = seen_difference(a, b, 0.5, 2.0)
    assert found == pytest.approx(float(delta_e_2000(*PLAIN[:2])), abs=0.05)


def test_a_fine_grating_fades_with_distance_and_is_gone_beyond_what_an_eye_resolves():
    stripes = grating(4)
    spread = [
        float(np.ptp(linear_to_lab(as_seen(stripes, 0.5, m))[60:140, 60:140, 0]))
        for m in (0.3, 1.0, 2.0, 6.0)
    ]
    assert spread == sorted(spread, reverse=True)
    assert spread[0] > 20
    # Two millimetres at six metres are 52 cycles in a degree: nothing is left.
    assert spread[-1] < 0.5


def test_what_is_left_follows_the_published_kernel():
    # Of a sine of f cycles per degree the luminance plane keeps the sum of its
    # Gaussians' transforms, exp(-(pi f spread)^2), over the sum of the weights.
    mm, metres = 0.5, 1.0
    degree = px_per_degree(mm, metres)
    period = 12
    f = degree / period
    x = np.arange(360)
    sine = 0.2 + 0.05 * np.sin(2 * np.pi * x / period)
    rgb = np.repeat(np.tile(sine, (360, 1))[..., None], 3, axis=2).astype(np.float32)
    luminance = np.array([0.279, 0.720, -0.107]) @ RGB_TO_XYZ
    seen = (as_seen(rgb, mm, metres) @ luminance)[120:240, 120:240]
    kept = float(np.ptp(seen) / np.ptp(rgb @ luminance))
    weights = ((0.921, 0.0283), (0.105, 0.133), (-0.108, 4.336))
    expected = sum(w * np.exp(-((np.pi * f * s) ** 2)) for w, s in weights) / 0.918
    assert kept == pytest.approx(expected, rel=0.03)


def test_grey_stripes_stay_grey():
    seen = linear_to_lab(as_seen(grating(8), 0.5, 1.5))
    assert np.abs(seen[..., 1:]).max() < 0.5


def test_colour_fades_before_lightness():
    shape = (160, 160)
    wave = np.where(np.arange(shape[1]) // 6 % 2, 1, -1)
    labs = np.zeros((*shape, 3))
    labs[..., 0], labs[..., 1] = 55.0, 18.0 * wave
    coloured = xyz_to_linear(lab_to_xyz(labs)).astype(np.float32)
    seen = linear_to_lab(as_seen(coloured, 0.5, 2.0))[50:110, 50:110]
    light = linear_to_lab(as_seen(grating(12, 46.0, 64.0, shape), 0.5, 2.0))[50:110, 50:110]
    assert np.ptp(seen[..., 1]) / 36 < np.ptp(light[..., 0]) / 18


def test_it_takes_no_impossible_distance_and_changes_no_input():
    plain = field(PLAIN[0]).copy()
    before = plain.copy()
    as_seen(plain, 0.5, 2.0)
    assert (plain == before).all()
    with pytest.raises(ValueError, match="must be > 0"):
        as_seen(plain, 0.0, 2.0)
