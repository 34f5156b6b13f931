"""Where on a board there is too much or too little of a layer."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.where_layers import where_layers
from jartide.wording import say


def moved(reading, layer, change):
    """The same reading with a layer's cover of its tiles changed, the ground giving way."""
    samples = reading.samples
    covers = np.array(samples.covers_px).reshape(-1, *samples.grid)
    before = covers[layer].copy()
    change(covers[layer])
    covers[0] -= covers[layer] - before
    tiles = tuple(tuple(float(v) for v in one.ravel()) for one in covers)
    return replace(reading, samples=replace(samples, covers_px=tiles))


def test_the_same_piece_differs_nowhere(marble_reading):
    assert where_layers(marble_reading, marble_reading) == ()


def test_too_much_of_a_layer_is_found_in_its_corner(marble_reading):
    tile = marble_reading.samples.area[0]

    def crowd(cover):
        cover[:2, :2] = 0.9 * tile

    (spot,) = where_layers(marble_reading, moved(marble_reading, 1, crowd))
    assert spot.layer == 1 and spot.points > 0.1
    assert (spot.left, spot.top) == (0.0, 0.0)
    assert spot.width <= 0.5 and spot.height <= 0.5
    assert say(spot.words) == f"{say(marble_reading.layers[1].name)}: too much here"


def test_what_is_missing_all_over_is_said_of_everywhere(marble_reading):
    def bare(cover):
        cover[:] = 0.0

    spots = where_layers(marble_reading, moved(marble_reading, 1, bare))
    own = [s for s in spots if s.layer == 1]
    assert len(own) == 1
    assert say(own[0].words).endswith("too little everywhere")
    assert own[0].points < 0


@pytest.mark.parametrize("without", ["samples", "mm_per_px"])
def test_without_tiles_or_scale_nothing_is_said(marble_reading, without):
    assert where_layers(marble_reading, replace(marble_reading, **{without: None})) == ()
