"""What was read tile by tile."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.reading.layers.covers import Covers
from jartide.reading.trust.samples import PER_SIDE, sample


def test_the_tiles_add_up_to_the_whole(marble_reading):
    samples = marble_reading.samples
    assert samples.grid == (PER_SIDE, PER_SIDE)
    assert samples.area.sum() == pytest.approx(
        marble_reading.width_px * marble_reading.height_px, rel=1e-3
    )
    for layer, tiles in zip(marble_reading.layers, samples.covers_px, strict=True):
        share = sum(tiles) / samples.area.sum()
        assert share == pytest.approx(layer.coverage.value, abs=0.02)


def test_each_tile_tells_its_own_and_what_was_left_out_is_not_counted():
    labels = np.zeros((80, 160), np.uint8)
    labels[:, :20] = 1
    covers = Covers(labels=labels, beside=labels, share=np.ones((80, 160), np.float32))
    lab = np.zeros((80, 160, 3), np.float32)
    lab[..., 0] = 40.0
    valid = np.ones((80, 160), bool)
    valid[:, 150:] = False
    samples = sample(covers, 2, lab, valid)
    shares = samples.shares().reshape(2, *samples.grid)
    assert np.allclose(shares[1][:, 0], 1.0) and np.allclose(shares[1][:, 1:], 0.0)
    assert samples.area.sum() == pytest.approx(valid.sum())
    means = np.array(samples.lab_sums[0]) / samples.area
    assert np.allclose(means, 40.0, atol=0.05)
