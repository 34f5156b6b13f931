"""The even space: there and back, and its distances beside CIEDE2000's."""

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.perceptual import even_to_lab, lab_to_even


def some_colours(count=400):
    rng = np.random.default_rng(5)
    return np.column_stack([rng.uniform(5, 97, count), rng.normal(0, 22, (count, 2))])


def test_there_and_back():
    lab = some_colours()
    np.testing.assert_allclose(even_to_lab(lab_to_even(lab)), lab, atol=1e-3)


def test_small_distances_are_those_of_ciede2000():
    lab = some_colours()
    # Blues aside, where CIEDE2000 turns its axes.
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360
    lab = lab[(np.abs(hue - 275) > 50) | (np.hypot(lab[:, 1], lab[:, 2]) < 8)]
    near = lab + np.random.default_rng(6).normal(0, 0.6, lab.shape)
    straight = np.linalg.norm(lab_to_even(lab) - lab_to_even(near), axis=1)
    ratio = straight / delta_e_2000(lab, near)
    assert 0.95 < np.median(ratio) < 1.1
    assert np.percentile(ratio, 5) > 0.75
    assert np.percentile(ratio, 95) < 1.4
