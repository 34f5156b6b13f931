"""Soft surfaces of the studio: what is said of them is what was drawn."""

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import linear_to_lab
from jartide.studio.soft import SOFT_LOOKS, draw_soft


@pytest.mark.parametrize("family", sorted(SOFT_LOOKS))
def test_truth_is_what_was_drawn(family):
    surface = draw_soft(family, (60, 60), 0.5, 2, falloff=0.0)
    layers = surface.truth.layers
    assert sum(layer.coverage for layer in layers) == pytest.approx(1, abs=1e-3)
    assert all(0.02 < layer.coverage < 0.95 for layer in layers)
    lab = linear_to_lab(surface.rgb_linear.reshape(-1, 3))
    shares = np.bincount(surface.labels.ravel(), minlength=len(layers))
    for number, layer in enumerate(layers):
        if not layer.whole or shares[number] < 400:
            continue
        own = lab.reshape(*surface.labels.shape, 3)[surface.labels == number]
        # Somewhere it is seen as it is, grain and relief aside.
        assert np.percentile(delta_e_2000(own, np.array(layer.lab)), 5) < 3


def test_a_seed_draws_the_same_again_and_another_another():
    one, same, other = (draw_soft("rust", (40, 40), 0.5, seed).rgb_linear for seed in (1, 1, 2))
    np.testing.assert_array_equal(one, same)
    assert np.abs(one - other).mean() > 0.005


def test_most_of_it_is_blended():
    soft = draw_soft("plaster", (80, 80), 0.5, 1)
    lab = linear_to_lab(soft.rgb_linear.reshape(-1, 3)[::7])
    tones = np.array([layer.lab for layer in soft.truth.layers])
    nearest = delta_e_2000(lab[:, None], tones[None]).min(axis=1)
    assert (nearest > 1.5).mean() > 0.3
