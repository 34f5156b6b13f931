"""Pictures as seen from a distance: statistics, not pixels; and where a board differs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.compare import compare
from jartide.boards.result import SeenDifference, Verdict
from jartide.boards.seen import seen_differences, view_of, with_seen
from jartide.boards.where import where_differs
from jartide.studio.marble import Marble, draw_marble

SIZE, SCALE = (160.0, 160.0), 0.5


def view(seed=1, **changes):
    surface = draw_marble(SIZE, SCALE, seed, replace(Marble(), **changes))
    return view_of(surface.rgb_linear, SCALE)


def test_another_spot_is_the_same_and_another_colour_is_not():
    target = view(1)
    (other,) = seen_differences(target, view(2), [2.0])
    (bluer,) = seen_differences(target, view(2, ground=(24.0, -7.0, -9.0)), [2.0])
    assert other.distance < 1.5
    assert bluer.colour_jnd > 2 * other.colour_jnd
    assert bluer.distance > other.distance + 1


def test_the_pattern_fades_with_distance_and_the_colour_stays():
    target, starker = view(1), view(1, vein=(95.0, 0.0, 4.0), hair=(90.0, -2.0, 4.0))
    near, far = seen_differences(target, starker, [0.3, 8.0])
    assert near.pattern_jnd > far.pattern_jnd
    assert {size for size, _ in near.by_size} >= {0.625, 1.25, 2.5}


def test_the_light_between_both_photos_is_taken_out():
    target = view(1)
    lit = replace(target, rgb_linear=target.rgb_linear * np.float32([1.2, 1.0, 0.7]))
    gains = 1 / np.array([1.2, 1.0, 0.7])
    (told,) = seen_differences(target, lit, [1.0], gains)
    assert told.colour_jnd < 0.05 and told.distance == 0
    with pytest.raises(ValueError, match="mm_per_px"):
        view_of(target.rgb_linear, 0)


def seen(metres, distance):
    return SeenDifference(
        viewing_m=metres,
        colour_jnd=distance,
        pattern_jnd=0,
        by_size=(),
        chance_jnd=0,
        distance=distance,
    )


def test_what_only_the_pictures_show_keeps_a_board_from_being_a_match(marble_reading):
    alike = compare(marble_reading, marble_reading)
    assert alike.verdict is Verdict.MATCH and alike.same_from_m == 0.3
    told = with_seen(alike, [seen(0.3, 9), seen(2.0, 6), seen(4.0, 1), seen(8.0, 0)])
    assert told.verdict is Verdict.OPEN
    assert told.same_from_m == 4.0
    assert with_seen(alike, [seen(0.3, 1), seen(2.0, 0)]).verdict is Verdict.MATCH
    assert with_seen(alike, [seen(0.3, 9), seen(8.0, 7)]).same_from_m is None


def test_a_missed_spot_and_a_stained_one_are_found_where_they_are():
    target = view(1)
    board = view(2)
    spoilt = board.rgb_linear.copy()
    height, width = spoilt.shape[:2]
    spoilt[: height // 3, : width // 3] = spoilt.reshape(-1, 3).mean(axis=0)
    spoilt[-height // 3 :, -width // 3 :] *= np.float32([1.8, 0.9, 0.9])
    found = where_differs(target, replace(board, rgb_linear=spoilt), 0.7)
    assert found.missed[height // 6, width // 6]
    assert found.missed_share < 0.2
    assert found.jnd[-height // 6, -width // 6] > 2 > np.median(found.jnd)
    clean = where_differs(target, board, 0.7)
    assert clean.missed_share < 0.02
