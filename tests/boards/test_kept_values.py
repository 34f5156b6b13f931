"""Every figure of comparisons, mends, series, walls and lights, as it was."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest

from jartide.boards.compare import compare
from jartide.boards.fields import judge_fields
from jartide.boards.light import light_risk
from jartide.boards.mends import mending
from jartide.boards.pieces import Piece, pair_pieces
from jartide.boards.practice import score_sheet
from jartide.boards.same_spot import at_another_spot, at_one_spot
from jartide.boards.seen import view_of
from jartide.boards.series import Frame, dried_pairs, forecast, prior_from
from jartide.boards.set_of_parts import compare_parts
from jartide.boards.sign_off import Panel, compare_wall
from jartide.boards.stop import hand_spread, when_to_stop
from jartide.boards.surroundings import mean_colour, neighbours
from jartide.boards.together import read_together
from jartide.boards.where_layers import where_layers
from tests.kept_values import check, demo_readings
from tests.reading.test_kept_measures import cloud, rgb_of

FOLDER = Path(__file__).parent / "kept"
PAIRS = {
    "marble 1": ("bar-front-slab", "bar-front-board-1"),
    "marble 2": ("bar-front-slab", "bar-front-board-2"),
    "marble 3": ("bar-front-slab", "bar-front-board-3"),
    "verdigris": ("lift-lobby-door", "lift-lobby-board-1"),
    "wood": ("library-panel", "library-board-1"),
    "concrete": ("terrace-wall", "terrace-board-1"),
}


def _pair(pair):
    """A board of the demo, as it is and a little darker and warmer."""
    target, board = (demo_readings()[name] for name in pair)
    pictures = [rgb_of(cloud(sigma=(s, s), seed=30)) for s in (3.0, 4.0)]
    views = [view_of(one, 0.5) for one in pictures]
    seen = pair_pieces(
        Piece(reading=target, view=views[0]), Piece(reading=board, view=views[1])
    ).judged(2.0, 4.0)
    off = replace(
        board,
        layers=tuple(
            replace(ly, shown_lab=(ly.shown_lab[0] - 6, ly.shown_lab[1] + 2, ly.shown_lab[2] + 4))
            for ly in board.layers
        ),
        colours=None,
    )
    compared = compare(target, off, 1.0)
    return {
        "seen": seen,
        "near": compare(target, board, 0.3, same_spot=True),
        "off": compared,
        "mends": mending(compared, target),
        "spots": where_layers(target, board),
        "practice": score_sheet(target, board),
        "stop": when_to_stop(compared, hand_spread([target, board], ["a", "a"], 2.0)),
        "spot": (at_one_spot(board).pattern, at_another_spot(board).layers),
    }


def _together():
    readings = [demo_readings()[f"bar-front-board-{n}"] for n in (1, 2, 3)]
    panels = [
        Panel(name=str(n), section="Left", who="Ines", jar="A", reading=reading)
        for n, reading in enumerate(readings)
    ]
    return {
        "together": read_together(readings),
        "parts": compare_parts(readings, 2.0, 4.0),
        "wall": compare_wall(readings[0], panels, 2.0, 4.0),
        "fields": judge_fields(readings[0], readings[1], 2.0, 4.0),
        "neighbours": neighbours(
            [("Floor", (40.0, 8.0, 20.0)), ("Door", (70.0, -2.0, -6.0))],
            mean_colour(readings[0]), mean_colour(readings[1]),
        ),
    }  # fmt: skip


def _series():
    def grown(rate, top, noise):
        rng = np.random.default_rng(int(100 * rate))
        return tuple(
            Frame(
                minutes=float(m),
                cover=float(top * (1 - np.exp(-rate * m)) + noise * rng.normal()),
                lab=(60 - 12 * (1 - np.exp(-rate * m)), -4.0, 3.0),
            )
            for m in range(0, 40, 4)
        )

    old = [grown(0.05, 0.7, 0.004), grown(0.08, 0.8, 0.004)]
    prior = prior_from(old)
    return {
        "prior": prior,
        "few": forecast(grown(0.06, 0.75, 0.003)[:3], 0.5, prior),
        "many": forecast(grown(0.06, 0.75, 0.003)[:7], 0.6, prior),
        "alone": forecast(grown(0.06, 0.75, 0.003)[:6], 0.55),
        "dried": dried_pairs(old[0]),
    }


def _lights():
    pairs = (((52.0, 3.0, 9.0), (53.0, 2.0, 8.0)), ((30.0, -10.0, 4.0), (34.0, -8.0, 9.0)))
    return [light_risk(a, b) for a, b in pairs]


CASES = {name: partial(_pair, pair) for name, pair in PAIRS.items()}
CASES |= {"together": _together, "series": _series, "lights": _lights}


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_comparison_has_changed(case):
    check(FOLDER, case, CASES[case]())
