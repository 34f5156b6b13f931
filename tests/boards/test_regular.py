"""Too regular: told where a board surely varies less than its target, and only there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.regular import too_regular
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
from jartide.reading.trust.measured import measured
from jartide.studio.camera import photograph
from jartide.studio.families import draw_family
from jartide.wording import say

MM_PER_PX = 0.3


def read(rgb_linear, family):
    photo = decode_photo(photograph(rgb_linear, 1), "drawn.jpg")
    return read_picture(prepare(photo, PhotoSettings(mm_per_px=MM_PER_PX)), family)[0]


@pytest.fixture(scope="module")
def stone():
    return draw_family("stone", (150.0, 150.0), MM_PER_PX, 5).rgb_linear


def with_evenness(reading, value, half):
    lines = replace(reading.pattern.lines, spacing_evenness=measured(value, half / 2, half))
    return replace(reading, pattern=replace(reading.pattern, lines=lines))


def test_another_piece_of_the_same_surface_is_not_too_regular(stone):
    half = stone.shape[1] // 2
    one, other = read(stone[:, :half], "stone"), read(stone[:, half:], "stone")
    assert too_regular(one, other) == () and too_regular(other, one) == ()


def test_one_dab_stamped_all_over_is_too_regular(stone):
    dab = stone[100:184, 100:184]
    stamped = np.tile(dab, (6, 6, 1))[: stone.shape[0], : stone.shape[1]]
    target, board = read(stone, "stone"), read(stamped, "stone")
    told = too_regular(target, board)
    assert "repeat.strength" in [one.path for one in told]
    assert [one.sure for one in told] == sorted((one.sure for one in told), reverse=True)
    assert all("{" not in say(one.words) for one in told)
    # The other way round nothing is too regular.
    assert not [one for one in too_regular(board, target) if one.path == "repeat.strength"]


@pytest.mark.parametrize(
    ("was", "now", "half", "told"),
    [
        (1.0, 1.6, 0.1, True),
        (1.0, 1.6, 0.5, False),  # chance could do as much
        (1.0, 1.12, 0.01, False),  # sure, and nobody sees it
        (1.6, 1.0, 0.1, False),  # less even
    ],
)
def test_a_change_counts_where_it_is_sure_and_seen(marble_reading, was, now, half, told):
    target = with_evenness(marble_reading, was, half)
    board = with_evenness(marble_reading, now, half)
    found = [one for one in too_regular(target, board) if one.path == "lines.spacing_evenness"]
    assert bool(found) is told
    if told:
        assert (found[0].target, found[0].board) == (was, now)
        assert found[0].sure == pytest.approx(
            (now - was) / np.hypot(*[np.hypot(half, half / 2)] * 2)
        )
