"""What is known of a row: differs, looks different, the same, or neither; and what is said then."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jartide.boards.compare import compare
from jartide.boards.headline import headline, worst_row
from jartide.boards.result import State, Verdict
from jartide.boards.row import Raw
from jartide.boards.state import (
    FALSE_ALARM,
    bar,
    chance_of,
    settled_by,
    state_of,
    sure_rows,
    tolerated,
)
from jartide.measures.key import Key
from jartide.reading.trust.measured import Measured
from jartide.wording import Message, say
from tests.boards.test_compare import changed_lines


def row(jnd, noise, path="lines.width_mm", **more):
    return Raw(
        quantity=Key(path),
        name=Message("word.left"),
        target=1.0,
        board=1.0,
        ratio=1.0,
        delta=0.0,
        interval=None,
        difference_jnd=jnd,
        noise_jnd=noise,
        size_mm=None,
        **more,
    )


@pytest.mark.parametrize(
    ("jnd", "noise", "sure", "state"),
    [
        (5.0, 0.5, True, State.DIFFERS),
        (-5.0, 0.5, True, State.DIFFERS),
        (0.8, 0.05, True, State.SAME),
        (0.0, 1.0, False, State.SAME),
        (2.5, 1.1, False, State.LOOKS_DIFFERENT),
        (0.5, 4.0, False, State.UNTOLD),
        (2.5, 3.0, False, State.UNTOLD),
    ],
)
def test_each_state_has_its_case(jnd, noise, sure, state):
    assert state_of(row(jnd, noise), sure, 1.0) is state


@given(st.floats(-20, 20), st.floats(0.01, 20), st.floats(0.0, 1.0))
def test_the_same_is_shown_and_never_the_absence_of_evidence(jnd, noise, left):
    found = state_of(row(jnd, noise), False, left)
    shown = (abs(jnd) + 1.645 * noise) * left <= tolerated(row(0.0, 1.0))
    assert (found is State.SAME) == shown


def test_more_of_the_same_photos_settles_what_chance_leaves_open():
    seen = row(2.5, 1.1)
    times = settled_by(seen, State.LOOKS_DIFFERENT, 1.0, 20)
    assert times is not None and times > 1
    larger = replace(seen, noise_jnd=seen.noise_jnd / (times * 1.01) ** 0.5)
    assert sure_rows([larger, *[row(0.0, 1.0) for _ in range(19)]])[0]
    assert settled_by(seen, State.SAME, 1.0, 20) is None


def test_a_factor_that_is_sure_opens_the_gate_for_what_it_explains():
    common = row(6.0, 1.0, "common.scale")
    member = row(2.6, 1.0, common=Key("common.scale"))
    others = [row(0.0, 1.0, "lines.contrast_L") for _ in range(30)]
    assert sure_rows([common, member, *others])[:2] == [True, True]
    assert not sure_rows([replace(member, common=None), *others])[0]


def sized(value, factor):
    """A measure with both of its intervals so many times as large."""
    if not isinstance(value, Measured) or value.value is None:
        return value
    pairs = {
        name: None if pair is None else (pair[0] * factor, pair[1] * factor)
        for name in ("measurement", "sampling")
        for pair in (getattr(value, name),)
    }
    return replace(value, value=value.value * factor, **pairs)


def scaled(reading, times):
    """The reading as if all of its lines and clouds were so many times as large."""

    def lines(one):
        width = one.width_mm
        spread = replace(
            width,
            median=sized(width.median, times),
            geometric_mean=sized(width.geometric_mean, times),
        )
        return replace(
            one, width_mm=spread, length_mm_per_cm2=sized(one.length_mm_per_cm2, times**-1),
            junctions_per_dm2=sized(one.junctions_per_dm2, times**-2),
        )  # fmt: skip

    def areas(one):
        size = one.size_by_area_mm
        spread = replace(
            size,
            median=sized(size.median, times),
            geometric_mean=sized(size.geometric_mean, times),
        )
        count = sized(one.count_per_dm2, times**-2)
        return replace(one, size_by_area_mm=spread, count_per_dm2=count)

    pattern = reading.pattern
    clouds = pattern.clouds
    return replace(
        reading,
        pattern=replace(
            pattern,
            lines=lines(pattern.lines),
            lines_by_layer=tuple((i, lines(one)) for i, one in pattern.lines_by_layer),
            clouds=None if clouds is None else areas(clouds),
            clouds_by_layer=tuple((i, areas(one)) for i, one in pattern.clouds_by_layer),
            correlation_mm=sized(pattern.correlation_mm, times),
            edges_mm_per_cm2=sized(pattern.edges_mm_per_cm2, times**-0.65),
        ),
    )


def test_all_sizes_changed_together_are_one_factor_said_once(marble_reading):
    found = compare(marble_reading, scaled(marble_reading, 1.5))
    first = found.differences[0]
    assert first.quantity == "common.scale"
    assert first.significant
    assert first.ratio == pytest.approx(1.5, rel=0.03)
    assert "Everything: 1.5 times too big" in say(first.words)
    assert "made anew" in say(first.advice).lower()
    low, high = first.interval
    width = next(d for d in found.differences if d.quantity == "lines.width_mm")
    assert high - low < width.interval[1] - width.interval[0]


def test_one_thing_changed_is_no_common_factor(marble_reading, wide_reading):
    found = compare(marble_reading, wide_reading)
    assert not any(d.quantity == "common.scale" and d.significant for d in found.differences)


def test_nothing_is_said_to_differ_nowhere_while_something_looks_different(marble_reading):
    length = sized(marble_reading.pattern.lines.length_mm_per_cm2, 1.6)
    board = changed_lines(marble_reading, length_mm_per_cm2=length)
    found = compare(marble_reading, board)
    looks = found.of_state(State.LOOKS_DIFFERENT)
    assert [d.quantity for d in looks] == ["lines.length_mm_per_cm2"]
    assert found.verdict is Verdict.OPEN
    assert worst_row(found) == found.differences[0] == looks[0]
    assert "it seems" in say(headline(found)) and "would tell" in say(headline(found))
    assert found.distance == 0 < found.likely_distance
    alike = compare(marble_reading, marble_reading)
    assert worst_row(alike) is None and "Nothing differs" in say(headline(alike))


def test_colours_without_a_grey_are_open_and_never_a_match(marble_reading):
    other = replace(marble_reading, photo_size=(801, 800))
    found = compare(marble_reading, other, same_spot=True)
    colours = [d for d in found.differences if d.quantity.path == "lab"]
    assert colours and all(d.state is State.UNTOLD for d in colours)
    assert found.verdict is Verdict.OPEN and "card" in say(colours[0].words)
    known = [replace(r, balance_known=True, exposure_known=True) for r in (marble_reading, other)]
    assert compare(*known, same_spot=True).verdict is Verdict.MATCH


def test_what_all_sizes_moved_by_is_mended_once(marble_reading):
    found = compare(marble_reading, scaled(marble_reading, 1.5))
    told = [d for d in found.differences if d.advice is not None]
    assert [d.quantity.path for d in told] == ["common.scale"]


@pytest.mark.parametrize("count", [1, 8, 40])
@pytest.mark.parametrize("dimensions", [1, 2, 3])
def test_the_bar_spends_the_false_alarms_on_all_rows_evenly(dimensions, count):
    at_the_bar = row(bar(dimensions, count), 1.0, dimensions=dimensions)
    assert chance_of(at_the_bar) == pytest.approx(FALSE_ALARM / count)
    # Twice as unsure, twice as much is needed.
    assert chance_of(replace(at_the_bar, noise_jnd=2.0)) > FALSE_ALARM / count
