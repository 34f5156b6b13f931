"""What of two readings' intervals counts between them: in every measure, however deep it lies."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.same_spot import at_another_spot, at_one_spot


@pytest.fixture
def by_layer(marble_reading):
    """A reading whose lines are listed by layer, too."""
    pattern = marble_reading.pattern
    listed = replace(pattern, lines_by_layer=(("l1", pattern.lines),))
    return replace(marble_reading, pattern=listed)


def _measures(reading):
    """Some measures of each depth, by name."""
    own = {f"coverage {layer.id}": layer.coverage for layer in reading.layers}
    own["lines"] = reading.pattern.lines.direction_deg
    own |= {
        f"lines of {layer}": lines.direction_deg for layer, lines in reading.pattern.lines_by_layer
    }
    known = {name: one for name, one in own.items() if one.value is not None}
    assert "lines of l1" in known
    return known


def test_of_one_spot_no_measure_has_a_sampling_interval(by_layer):
    before, after = _measures(by_layer), _measures(at_one_spot(by_layer))
    assert before.keys() == after.keys()
    assert any(one.sampling is not None for one in before.values())
    assert all(one.sampling is None for one in after.values())
    assert all(after[name].measurement == one.measurement for name, one in before.items())


def test_of_two_spots_what_is_off_in_both_alike_is_left_out(by_layer):
    before, after = _measures(by_layer), _measures(at_another_spot(by_layer))
    for name, one in before.items():
        if one.measurement is None:
            continue
        was, now = (m[1] - m[0] for m in (one.measurement, after[name].measurement))
        assert now == pytest.approx(0.4 * was), name
        assert after[name].sampling == one.sampling


def test_what_holds_no_measure_stays_the_same_object(marble_reading):
    assert at_another_spot(marble_reading).photo_size is marble_reading.photo_size
