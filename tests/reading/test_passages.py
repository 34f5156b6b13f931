"""How wide the passages between colours are: of the surface, whatever the file."""

import numpy as np
import pytest
from scipy.special import ndtr

from jartide.colour.spaces import lab_to_linear
from jartide.reading.layers.passages import passage_width
from jartide.studio.noise import fractal

DARK, LIGHT = lab_to_linear(np.array([(30.0, 4.0, 8.0), (62.0, 2.0, 14.0)]))
SIDE = 400


def blotches(soft, side=SIDE, grain=0.0, seed=5):
    """Islands of one colour in another, `soft` of the side from 10 to 90 % of the way."""
    y, x = (np.mgrid[:side, :side] + 0.5) / side
    cover = np.zeros((side, side))
    for row in (0.2, 0.5, 0.8):
        for column in (0.2, 0.5, 0.8):
            away = np.hypot(y - row, x - column) - 0.09
            cover = np.maximum(cover, ndtr(-away / max(soft / 2.563, 1e-4)))
    light = DARK * (1 - cover[..., None]) + LIGHT * cover[..., None]
    noise = np.random.default_rng(seed).normal(0, 1, (side, side, 1))
    return (light * np.exp(grain * noise)).astype(np.float32)


def width(light):
    return passage_width(light, np.ones(light.shape[:2], bool))


def test_softer_passages_are_wider():
    widths = [width(blotches(soft)) for soft in (0.0, 0.01, 0.02, 0.03)]
    assert widths == sorted(widths)
    # An edge has 2.5 times the blur it is looked at through.
    assert widths[0] == pytest.approx(2.507 * 0.003, rel=0.12)
    assert widths[3] > 3 * widths[0]


@pytest.mark.parametrize("soft", [0.005, 0.02])
def test_file_noise_and_margin_have_no_say(soft):
    usual = width(blotches(soft, 800))
    assert width(blotches(soft)) == pytest.approx(usual, rel=0.06)
    assert width(blotches(soft, 800, grain=0.05)) == pytest.approx(usual, rel=0.06)
    light = blotches(soft, 800)
    assert width(np.ascontiguousarray(np.rot90(light))) == pytest.approx(usual, rel=0.02)
    assert width(light * 1.26) == pytest.approx(usual, rel=0.1)


def test_what_is_not_read_has_no_passage():
    light, valid = blotches(0.02, 800), np.ones((800, 800), bool)
    light[:, :200] = 0.9
    light[::2, :150] = 0.01
    valid[:, :200] = False
    assert passage_width(light, valid) == pytest.approx(
        width(np.ascontiguousarray(light[:, 200:])), rel=0.05
    )


def test_one_colour_has_none():
    grain = fractal((SIDE, SIDE), 0.3, np.random.default_rng(2), largest_mm=1.0, slope=0.5)
    light = (DARK * np.exp(0.02 * grain)[..., None]).astype(np.float32)
    assert width(light) == 0.0
