"""What a layer costs, and how long it can be lifted, worked by hand."""

from __future__ import annotations

import pytest

from jartide.plan.drying import Air
from jartide.plan.lifting import lifting_left_min, lifting_min
from jartide.plan.worth import costs

from .conftest import piece, step


def test_a_layer_costs_its_hours_on_all_pieces_and_not_on_boards():
    veins = step("vein_brush", speed_m2_h=2.0, laid_share=0.2, coats=1, dry_h=2.0)
    veil = step("veil", speed_m2_h=10.0, laid_share=1.0, coats=3, dry_h=1.5)
    pieces = (
        piece(2000, 1000, count=2, name="Front"),  # 4 m2
        piece(1000, 1000, name="Board", board=True),
    )
    found = costs((step("base_roller"), veins, veil, step("clear_gloss")), pieces)
    assert [cost.step.technique for cost in found] == ["vein_brush", "veil"]
    # Hands go over half the surface at least: 4 m2 x 0.5 / 2 m2/h = 1 h.
    assert found[0].hours == pytest.approx(1.0) and found[0].dry_h == 2.0
    # 4 m2 x 3 coats / 10 m2/h = 1.2 h; three waits of an hour and a half.
    assert found[1].hours == pytest.approx(1.2) and found[1].dry_h == 4.5


def test_a_step_of_one_piece_costs_only_there():
    own = step("veil", speed_m2_h=10.0, laid_share=1.0, only=("Door",))
    found = costs((own,), (piece(2000, 1000, name="Wall"), piece(1000, 1000, name="Door")))
    assert found[0].hours == pytest.approx(0.1)


def test_the_part_that_closes_first_says_how_long_a_chain_can_be_lifted():
    glaze = step("veil", open_min=20.0)
    quick = step("cloud_sponge", open_min=8.0, wet=True)
    assert lifting_min([glaze], Air()) == pytest.approx(20)
    assert lifting_min([glaze, quick], Air()) == pytest.approx(8)
    # Twice as fast ten degrees warmer: half as long.
    assert lifting_min([glaze], Air(temperature_c=30.0)) < 12
    assert lifting_min([step("sand_key")], Air()) == 0


def test_what_is_left_of_it_runs_down_to_nothing():
    glaze = step("veil", open_min=20.0)
    assert lifting_left_min([glaze], Air(), 5) == pytest.approx(15)
    assert lifting_left_min([glaze], Air(), -3) == pytest.approx(20)
    assert lifting_left_min([glaze], Air(), 90) == 0
