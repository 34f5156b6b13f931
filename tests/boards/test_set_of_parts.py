"""Parts of one set against each other."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.result import State
from jartide.boards.set_of_parts import compare_parts
from jartide.errors import ReadingError
from tests.boards.test_compare import sure


def heavier(reading, points):
    """The same part with so many points less of its ground, known well."""
    ground, *others = reading.layers
    whole = sum(layer.coverage.value for layer in others)
    moved = [replace(x, coverage=sure(x.coverage.value * (1 + points / whole))) for x in others]
    first = replace(ground, coverage=sure(ground.coverage.value - points))
    return replace(reading, layers=(first, *moved), colours=None)


def test_the_heavier_part_is_named_and_by_how_much(marble_reading):
    plain = heavier(marble_reading, 0.0)
    found = compare_parts([plain, heavier(plain, 0.12), heavier(plain, -0.01)], 2.0, 4.0)
    assert found.nearest in (0, 2)
    assert found.heaviest == 1
    own = found.weights[1]
    assert own.state is State.DIFFERS
    against = found.weights[found.nearest]
    assert own.points - against.points == pytest.approx(0.12, abs=0.015)
    assert found.comparisons[found.nearest] is None
    assert found.apart[0][1] == found.apart[1][0] > found.apart[0][2]


def test_parts_that_are_alike_have_no_heaviest_one(marble_reading):
    plain = heavier(marble_reading, 0.0)
    found = compare_parts([plain, heavier(plain, 0.004)], 2.0, 4.0)
    assert found.heaviest is None


def test_a_part_alone_is_no_set(marble_reading):
    with pytest.raises(ReadingError, match="Two parts"):
        compare_parts([marble_reading], 2.0, 4.0)
