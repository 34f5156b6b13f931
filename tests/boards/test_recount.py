"""Counting both pictures by one palette."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.match import match_layers
from jartide.boards.recount import recount
from jartide.boards.same_spot import at_one_spot
from jartide.reading.layers.colours import CELL, colour_shares


def test_colours_are_kept_by_how_often_they_are_seen():
    lab = np.zeros((40, 50, 3))
    lab[:, :20] = (80.0, 1.0, 4.0)
    lab[:, 20:] = (20.0, -7.0, 1.0)
    valid = np.ones((40, 50), bool)
    kept = colour_shares(lab, valid)
    assert kept.shares == pytest.approx((0.6, 0.4))
    assert kept.labs == ((20.0, -7.0, 1.0), (80.0, 1.0, 4.0))
    valid[:, 20:] = False
    assert colour_shares(lab, valid).shares == (1.0,)


def test_a_spread_of_colours_keeps_its_mean_in_few_cells():
    rng = np.random.default_rng(3)
    lab = np.array([50.0, 5.0, 10.0]) + rng.normal(0, 4, (200, 200, 3))
    kept = colour_shares(lab, np.ones((200, 200), bool))
    assert len(kept.labs) <= 400
    assert sum(kept.shares) == pytest.approx(1, abs=1e-4)
    mean = np.array(kept.shares) @ np.array(kept.labs)
    assert mean == pytest.approx((50, 5, 10), abs=CELL / 6)


def test_the_same_picture_is_counted_the_same_however_it_was_parted(marble_reading):
    fewer = replace(marble_reading, layers=marble_reading.layers[:2] + marble_reading.layers[3:])
    match = match_layers(marble_reading, fewer)
    (missing,) = match.missing
    counted = recount(marble_reading, fewer, match)
    assert counted.shares[0] == pytest.approx(counted.shares[1], abs=1e-9)
    assert counted.shares.sum(axis=1) == pytest.approx((1, 1), abs=1e-4)
    place = counted.place_of_target[missing]
    assert counted.shares[1, place] > 0.05


def test_paint_that_is_gone_is_gone_from_the_recount(marble_reading, wide_reading):
    gone = np.array(marble_reading.layers[2].shown_lab)
    kept = [
        (lab, share)
        for lab, share in zip(
            marble_reading.colours.labs, marble_reading.colours.shares, strict=True
        )
        if np.linalg.norm(np.array(lab) - gone) > 8
    ]
    colours = replace(
        marble_reading.colours,
        labs=tuple(lab for lab, _ in kept),
        shares=tuple(share for _, share in kept),
    )
    board = replace(
        marble_reading,
        layers=marble_reading.layers[:2] + marble_reading.layers[3:],
        colours=colours,
    )
    match = match_layers(marble_reading, board)
    counted = recount(marble_reading, board, match)
    place = counted.place_of_target[match.missing[0]]
    assert counted.shares[1, place] < 0.5 * counted.shares[0, place]
    assert recount(marble_reading, replace(board, colours=None), match) is None


def test_of_one_spot_only_the_measurement_is_left(marble_reading):
    plain = at_one_spot(marble_reading)
    width = plain.pattern.lines.width_mm.median
    assert width.sampling is None
    assert width.measurement == marble_reading.pattern.lines.width_mm.median.measurement
    assert plain.layers[0].coverage.value == marble_reading.layers[0].coverage.value
    assert plain.colours is marble_reading.colours
