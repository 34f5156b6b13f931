"""Readings and comparisons in the words and units of the screens."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PySide6.QtWidgets import QLineEdit

from jartide.app.widgets.control_column import number, put_text
from jartide.app.widgets.distance_rail import distance_words
from jartide.boards.closeness import closeness
from jartide.boards.compare import compare
from jartide.figures import plain_figure
from jartide.job.words.number_rows import number_groups
from jartide.job.words.numbers import (
    lay_words,
    layer_words,
    mm_words,
    percent_words,
    quantity_words,
    size_words,
)
from jartide.job.words.scales import step_word, word_ids
from jartide.measures.key import Key
from jartide.reading.trust.measured import Measured, unknown
from jartide.wording import choose_language, tr


@pytest.mark.parametrize(
    ("value", "words"), [(0.94, "0.9 mm"), (2.34, "2.3 mm"), (9.96, "10 mm"), (27.4, "27 mm")]
)
def test_millimetres_to_a_tenth_below_ten(value, words):
    assert mm_words(value) == words


@pytest.mark.parametrize(
    ("share", "words"), [(0.274, "27%"), (0.004, "under 1%"), (0.0, "0%"), (1.0, "100%")]
)
def test_shares_in_percent(share, words):
    assert percent_words(share) == words


@pytest.mark.parametrize(
    ("degrees", "words"),
    [
        (0.4, "0°, level"),
        (176.0, "176°, level"),
        (65.2, "65° from level, leaning right"),
        (90.0, "90°, upright"),
        (118.0, "118° from level, leaning left"),
        (179.8, "0°, level"),
    ],
)
def test_direction_in_words(marble_reading, degrees, words):
    pattern = replace(marble_reading.pattern, direction_deg=Measured(value=degrees))
    assert lay_words(pattern) == words


def test_no_direction_is_said_so(marble_reading):
    pattern = replace(marble_reading.pattern, direction_deg=unknown("reason.no_lay"))
    assert lay_words(pattern) == "no clear direction"


def test_sizes_in_words(marble_reading):
    shares = tuple(Measured(value=v) for v in (0.1, 0.1, 0.3, 0.3, 0.1, 0.0))
    pattern = replace(marble_reading.pattern, spectrum=shares)
    assert size_words(pattern) == "most of it 4 to 8 mm"
    nothing = tuple(unknown("reason.no_scale") for _ in range(6))
    assert size_words(replace(pattern, spectrum=nothing)) == "no size stands out"


def test_layers_say_cover_and_width(marble_reading):
    ground, *_, top = marble_reading.layers
    assert layer_words(ground, marble_reading)[0].startswith("covers ")
    assert len(layer_words(ground, marble_reading)) == 1
    assert layer_words(top, marble_reading)[1].endswith("mm wide")


@pytest.mark.parametrize(
    ("quantity", "value", "words"),
    [
        (Key("coverage", 2), 0.27, "27%"),
        (Key("lines.width_mm"), 2.31, "2.3 mm"),
        (Key("lines.direction_deg"), 65.4, "65°"),
        (Key("lines.contrast_L"), 21.7, "22"),
        (Key("lines.length_mm_per_cm2"), 3.14, "3.1 mm in a cm²"),
        (Key("lab", 0), (1, 2, 3), ""),
    ],
)
def test_compared_values_have_their_units(quantity, value, words):
    assert quantity_words(quantity, value) == words


@pytest.mark.parametrize(
    ("typed", "value"),
    [("400", 400), (" 12,5 mm", 12.5), ("0.8", 0.8), ("wide", None), ("", None)],
)
def test_numbers_as_people_type_them(typed, value):
    assert number(typed) == value


def test_the_tide_rises_as_the_distance_falls(marble_reading, wide_reading):
    comparison = compare(marble_reading, wide_reading)
    places = []
    for factor in (8, 4, 2, 1, 0.5, 0.25, 0.1, 0.02, 0):
        scaled = tuple((m, 5 * factor) for m, _ in comparison.likely_by_m)
        places.append(closeness(replace(comparison, likely_by_m=scaled)))
    assert places == sorted(places)
    assert 0 < places[0] < 0.1
    assert places[-1] > 0.95


def test_numbers_of_a_marble_stand_with_their_words(marble_reading):
    groups = number_groups(marble_reading)
    assert groups[0].title == "Veins"
    rows = {row.path: row for group in groups for row in group.rows}
    width = rows["lines.width_mm"]
    assert width.value.endswith(" mm")
    assert "most " in width.words
    assert width.detail.startswith("Here between ")
    assert rows["correlation_mm"].name == "Size of mottle"


def test_every_word_of_a_scale_is_worded():
    for id in word_ids():
        assert tr(id) != id
    assert step_word("contrast", 5) == "word.faint"
    assert step_word("contrast", 8) == "word.gentle"
    assert step_word("contrast", 99) == "word.stark"


def test_another_language_writes_figures_its_way_and_leaves_codes_alone(qapp):
    choose_language("de")
    try:
        field = QLineEdit()
        put_text(field, plain_figure(2.5))
        assert (field.text(), number(field.text())) == ("2,5", 2.5)
        put_text(field, "10.25")  # a colour's code, typed by the painter
        assert field.text() == "10.25"
        assert distance_words(2.0) == "2 m"
        assert distance_words(4.5) == "4,5 m"
    finally:
        choose_language("en")
