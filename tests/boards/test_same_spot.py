"""What of two readings' intervals counts between them: in every measure, however deep it lies."""

from __future__ import annotations

import pytest

from jartide.boards.same_spot import at_another_spot, at_one_spot


def _measures(reading):
    """Some measures of each depth, by name."""
    own = {f"coverage {layer.id}": layer.coverage for layer in reading.layers}
    own["lines"] = reading.pattern.lines.length_mm_per_cm2
    own |= {f"lines {layer}": lines.length_mm_per_cm2 for layer, lines in reading.pattern.lines_by_layer}
    known = {name: one for name, one in own.items() if one.value is not None}
    assert any(name.startswith("lines l") for name in known), "nothing is listed by layer"
    return known


def test_of_one_spot_no_measure_has_a_sampling_interval(marble_reading):
    before, after = _measures(marble_reading), _measures(at_one_spot(marble_reading))
    assert before.keys() == after.keys()
    assert any(one.sampling is not None for one in before.values())
    assert all(one.sampling is None for one in after.values())
    assert all(after[name].measurement == one.measurement for name, one in before.items())


def test_of_two_spots_what_is_off_in_both_alike_is_left_out(marble_reading):
    before, after = _measures(marble_reading), _measures(at_another_spot(marble_reading))
    for name, one in before.items():
        if one.measurement is None:
            continue
        was, now = (m[1] - m[0] for m in (one.measurement, after[name].measurement))
        assert now == pytest.approx(0.4 * was), name
        assert after[name].sampling == one.sampling


def test_what_holds_no_measure_stays_the_same_object(marble_reading):
    assert at_another_spot(marble_reading).photo_size is marble_reading.photo_size
