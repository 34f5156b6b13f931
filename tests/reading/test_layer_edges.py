"""How layers meet: clear, blended, as a film."""

import numpy as np
import pytest

from jartide.reading.layers.covers import Covers
from jartide.reading.layers.layer_edges import layer_edges
from jartide.reading.result import Edge

SIDE = 400


def covers_of(upper):
    """Two layers, the upper one seen to `upper`, (H, W) 0..1."""
    labels = (upper > 0.5).astype(np.uint8)
    return Covers(
        labels=labels,
        beside=(1 - labels).astype(np.uint8),
        share=np.maximum(upper, 1 - upper).astype(np.float32),
    )


def bands(width_px, most=1.0, period=200):
    """Upright bands whose edges rise over a width, pixels."""
    x = np.arange(SIDE) % period
    rise = np.clip((period / 4 - np.abs(x - period / 2)) / max(width_px, 1e-6) + 0.5, 0, 1)
    return np.tile(most * rise, (SIDE, 1))


def edges_of(upper, mm_per_px=0.5):
    valid = np.ones(upper.shape, bool)
    return layer_edges(covers_of(upper), valid, ["L1", "L2"], mm_per_px)


def test_a_clear_edge():
    (found,) = edges_of(bands(1))
    assert (found.upper, found.lower, found.edge) == ("L2", "L1", Edge.CLEAR)
    assert found.share == pytest.approx(1)


@pytest.mark.parametrize("width_px", [12, 24])
def test_a_passage_and_its_width(width_px):
    (found,) = edges_of(bands(width_px))
    assert found.edge is Edge.BLENDED
    # From 10 to 90 % of an even rise is 0.8 of it.
    assert found.width_mm == pytest.approx(0.8 * width_px * 0.5, rel=0.25)


def test_grain_does_not_blur_an_edge():
    grain = np.random.default_rng(1).normal(0, 0.15, (SIDE, SIDE))
    (found,) = edges_of(np.clip(bands(1) + grain, 0, 1))
    assert found.edge is Edge.CLEAR


def test_a_film_is_nowhere_whole():
    (found,) = edges_of(bands(20, most=0.62))
    assert found.edge is Edge.FILM


def test_without_a_scale_there_is_no_width_and_one_layer_meets_none():
    (found,) = edges_of(bands(12), mm_per_px=None)
    assert found.width_mm is None
    assert edges_of(np.zeros((SIDE, SIDE))) == ()
