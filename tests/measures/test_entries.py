"""Every measure of a reading has one entry, and is shown in one way everywhere."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from typing import get_args, get_type_hints

import pytest

from jartide.job.words.numbers import quantity_words
from jartide.job.words.scales import step_word, word_ids
from jartide.measures.entries import BY_PATH, MEASURES, measure_at
from jartide.measures.measure import Unit
from jartide.measures.shown import share_shown, words
from jartide.reading.pattern import records as kinds
from jartide.reading.pattern.records import Pattern, Spread
from jartide.reading.result import Texture
from jartide.reading.trust.measured import Measured
from jartide.reading.trust.paths import length_power
from jartide.wording import known_ids, say

# Measured, but told in other ways than one by one.
_ELSEWHERE = {"spectrum", "directions"}


def measured_fields(record, before=""):
    """The paths of all measures a record can hold."""
    hints = get_type_hints(record, vars(kinds))
    for field in fields(record):
        kind = hints[field.name]
        inner = [one for one in (kind, *get_args(kind)) if isinstance(one, type)]
        path = f"{before}{field.name}"
        if field.name.endswith("_by_layer") or field.name in _ELSEWHERE:
            continue
        if Measured in inner or Spread in inner:
            yield path
        for one in inner:
            if is_dataclass(one) and one not in (Measured, Spread):
                yield from measured_fields(one, f"{path}.")


def test_every_measure_of_a_reading_has_an_entry():
    found = {*measured_fields(Pattern), *measured_fields(Texture, "texture.")}
    assert found - set(BY_PATH) == set()
    told_as_pairs = {"repeat.period_mm"}
    assert set(BY_PATH) - found - told_as_pairs == set()


@pytest.mark.parametrize("measure", MEASURES, ids=lambda m: m.path)
def test_every_entry_is_complete(measure):
    ids = known_ids()
    assert f"measure.{measure.path}" in ids or not measure.listed
    assert measure.length_power == length_power(measure.field)
    assert measure.axial is (
        measure.unit is Unit.DEGREES and not measure.path.endswith("_spread_deg")
    )
    assert say(share_shown(0.001)) in words(measure, 0.001) or measure.unit is not Unit.SHARE
    if measure.words is not None:
        assert step_word(measure.words, 0.5) in word_ids()


def test_paths_of_layers_and_distributions_lead_to_their_measure():
    for path in (
        "pattern.lines.width_mm.median", "lines.width_mm", "pattern.lines.by_layer.v1.width_mm.p90",
        "layers[2].lines.width_mm",
    ):  # fmt: skip
        assert measure_at(path).path == "lines.width_mm"
    assert measure_at("pattern.direction_deg").path == "direction_deg"
    assert measure_at("lines.direction_deg").path == "lines.direction_deg"
    assert measure_at("layers[0].lab") is None


def test_an_area_reads_the_same_in_the_list_and_between_boards():
    assert quantity_words("patches.area_mm2", 34.0) == "34 mm²"
    assert words(BY_PATH["patches.area_mm2"], 34.0) == "34 mm²"
    assert quantity_words("lines.tortuosity", 1.084) == "1.08"
    assert quantity_words("grain.contrast_L", 2.6) == "3"
    assert quantity_words("grain.straightness", 0.874) == "87%"
