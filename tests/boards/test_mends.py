"""Mends in amounts, what else they move, and when a fresh board is better."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.compare import compare
from jartide.boards.mends import Action, Means, mending
from jartide.boards.paint_mends import glaze_for, jar_for, paint_mends, veil_for
from jartide.boards.surroundings import Relation, mean_colour, neighbours, relation
from jartide.paint.hiding import parts_row
from jartide.paint.predict import predict
from jartide.paint.recipe import Part
from jartide.paint.rows import hiding_layers
from jartide.reading.trust.measured import Measured
from tests.boards.test_stages import known, lighter

__all__ = ["known"]


def with_lines(reading, **values):
    """The same reading with some measures of its lines set."""
    lines = reading.pattern.lines

    def sure(value):
        near = (value * 0.99, value * 1.01)
        return Measured(value=value, measurement=near, sampling=near)

    changes = {name: sure(value) for name, value in values.items() if name != "width_mm"}
    if "width_mm" in values:
        width = sure(values["width_mm"])
        changes["width_mm"] = replace(lines.width_mm, median=width, geometric_mean=width)
    new = replace(lines, **changes)
    return replace(
        reading, pattern=replace(reading.pattern, lines=new, lines_by_layer=()), colours=None
    )


def mends_of(target, board):
    comparison = compare(target, board, same_spot=True)
    found = mending(comparison, target)
    return {m.quantity: m for m in found.mends}, found.fresh


def test_wide_lines_are_cut_in_and_cover_less_then(known):
    a = with_lines(known, width_mm=2.0)
    mends, fresh = mends_of(a, with_lines(known, width_mm=4.0))
    width = mends["lines.width_mm"]
    assert (width.action, width.means) == (Action.TOOL, Means.REPAIR)
    assert width.amount == pytest.approx(0.5, rel=0.01)
    assert fresh is None
    assert "cut in one side" in str(width.words)


def test_contrast_is_brought_down_by_a_veil_and_up_by_a_second_pass(known):
    a = with_lines(known, contrast_L=22.0)
    mends, _ = mends_of(a, with_lines(known, contrast_L=34.0))
    veil = mends["lines.contrast_L"]
    assert (veil.action, veil.means) == (Action.VEIL, Means.REPAIR)
    assert veil.amount == pytest.approx(22 / 34, rel=0.01)
    back, _ = mends_of(with_lines(known, contrast_L=34.0), a)
    assert back["lines.contrast_L"].action is Action.STRENGTHEN


def test_a_turn_is_told_with_its_way_and_too_much_of_it_wants_a_fresh_board(known):
    a = with_lines(known, direction_deg=60.0)
    mends, fresh = mends_of(a, with_lines(known, direction_deg=70.0))
    assert mends["lines.direction_deg"].amount == pytest.approx(-10, abs=0.1)
    assert mends["lines.direction_deg"].means is Means.REPAIR and fresh is None
    mends, fresh = mends_of(a, with_lines(known, direction_deg=90.0))
    assert mends["lines.direction_deg"].means is Means.FRESH and fresh is not None


def test_a_colour_is_moved_by_what_it_is_off(known):
    mends, _ = mends_of(known, lighter(known, 5, layer=1))
    tone = mends["layers[1].lab"]
    assert tone.action is Action.TONE and tone.layer == 1
    assert tone.lab_change == pytest.approx((-5, 0, 0), abs=1e-6)


def test_paints_of_the_shelf_make_the_mend(fitted, known):
    shelf = fitted
    target = (55.0, 4.0, 10.0)
    off = (62.0, 2.0, 14.0)
    glaze = glaze_for(shelf, off, target)
    assert glaze is not None and glaze.left_de00 < 3
    used = (Part(paint=0, parts=4.0), Part(paint=1, parts=1.0))
    # A jar that came out lighter than is wanted is brought down by what the shelf has.
    predicted = predict(shelf, hiding_layers(parts_row(shelf, used) / 5))
    mixed = tuple(float(v) for v in predicted.lab[0])
    wanted = (mixed[0] - 8, mixed[1], mixed[2])
    jar = jar_for(shelf, used, mixed, wanted)
    assert jar is not None and jar.added and jar.left_de00 < 4
    assert jar_for(shelf, (), mixed, wanted) is None
    veil = veil_for(shelf, used, known, 0.6)
    assert veil is not None and veil.veil.coats >= 1
    # A share of one is no veil at all.
    assert veil_for(shelf, used, known, 1.0) is None
    mends, _ = mends_of(known, lighter(known, 6, layer=1))
    ways = paint_mends(mends["layers[1].lab"], shelf, known, {1: used}, (off, target))
    assert ways and all(way.left_de00 is not None for way in ways)


def test_neighbours_melt_clash_or_sit_well(known):
    green = (30.0, -12.0, 3.0)
    assert relation(green, green) is Relation.SAME
    assert relation((32.0, -1.0, -6.0), green) is Relation.MELTS
    assert relation((40.0, 14.0, 20.0), green) is Relation.CLASHES
    assert relation((85.0, 1.0, 6.0), green) is Relation.STANDS_OFF
    assert relation((50.0, -6.0, -2.0), green) is Relation.SITS_WELL
    target = mean_colour(known)
    room = [("floor", target), ("cloth", (40.0, 16.0, 20.0))]
    floor, cloth = neighbours(room, target, (target[0] + 20, target[1], target[2]))
    assert floor.to_target is Relation.SAME and floor.moves_board
    assert cloth.shift is not None and cloth.lightness_gap == pytest.approx(target[0] - 40)
