"""What follows from another difference is not mended by itself."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.compare import compare
from jartide.boards.crossed import missing_way
from jartide.boards.row import Raw
from jartide.boards.state import sure_rows, weight_of
from jartide.measures.key import Key
from jartide.reading.pattern.records import Brush, Peak
from jartide.reading.trust.measured import unknown
from jartide.wording import Message, say
from tests.boards.test_advice import cover, known, with_layers


def rows(target, board):
    return {str(d.quantity): d for d in compare(target, board).differences}


def test_lines_too_wide_are_mended_and_not_painted_out_as_well(marble_reading, wide_reading):
    found = rows(known(marble_reading), known(wide_reading))
    width = found["lines.width_mm"]
    covers = [d for q, d in found.items() if q.endswith("coverage") and "veins" in say(d.name)]
    assert width.significant and width.rank == 1
    assert covers and all(d.advice is None for d in covers)


def test_the_ground_follows_from_what_lies_on_it(marble_reading):
    target = with_layers(marble_reading, lambda n, x: x)
    cloud = next(n for n, x in enumerate(target.layers) if n and x.role == "cloud")

    def more(n, layer):
        share = layer.coverage.value + {cloud: 0.25, 0: -0.25}.get(n, 0.0)
        return replace(layer, coverage=cover(share))

    found = {
        str(d.quantity): d
        for d in compare(target, with_layers(marble_reading, more), same_spot=True).differences
    }
    assert found[f"layers[{cloud}].coverage"].advice is not None
    assert found["layers[0].coverage"].significant
    assert found["layers[0].coverage"].advice is None
    assert found[f"layers[{cloud}].coverage"].rank < found["layers[0].coverage"].rank


def brushed(reading, *ways):
    peaks = tuple(Peak(deg=deg, share=1 / len(ways)) for deg in ways)
    own = Brush(
        directions=peaks, direction_error_deg=2.0, ridge_spacing_mm=unknown("reason.no_scale")
    )
    return replace(reading, pattern=replace(reading.pattern, brush=own))


def test_a_way_of_strokes_that_is_missing_is_named_and_no_mean_compared(marble_reading):
    target, board = brushed(marble_reading, 80.0, 10.0), brushed(marble_reading, 80.0)
    assert missing_way(target, board) == 10.0
    assert missing_way(board, target) is None
    assert missing_way(target, target) is None
    assert "lines.direction_deg" not in rows(target, board)


def raw(path, jnd):
    return Raw(
        quantity=Key(path), name=Message("word.left"), target=1.0, board=1.0, ratio=1.0, delta=0.0,
        interval=None, difference_jnd=jnd, noise_jnd=1.0, size_mm=None,
    )  # fmt: skip


@pytest.mark.parametrize("jnd", [2.7])
def test_what_makes_a_finish_is_asked_before_how_a_hand_varies(jnd):
    hand = [raw("lines.width_variation", 0.0) for _ in range(11)]
    assert weight_of(raw("common.scale", 1.0)) > weight_of(raw("lines.width_mm", 1.0))
    assert sure_rows([raw("common.scale", jnd), *hand])[0]
    assert not sure_rows([raw("lines.width_variation", jnd), *hand])[0]
