"""Every measure of a reading has one entry, and is shown in one way everywhere."""

from __future__ import annotations

import pickle
from dataclasses import fields, is_dataclass
from typing import get_args, get_type_hints

import pytest

from jartide.boards.mends import _ORDERS as ORDERS
from jartide.job.words.numbers import quantity_words
from jartide.job.words.scales import step_word, word_ids
from jartide.measures.entries import BY_PATH, MEASURES
from jartide.measures.key import Key
from jartide.measures.measure import Scale, Unit, Way
from jartide.measures.shown import share_shown, words
from jartide.reading.pattern import records as kinds
from jartide.reading.pattern.records import Pattern, Spread
from jartide.reading.result import Position, Texture
from jartide.reading.trust.measured import Measured
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


# What the end of a field's name says of lengths; the longest that fits counts.
_POWERS = {
    "_mm": 1, "_mm2": 2, "_mm_per_cm2": -1, "_per_cm": -1, "_per_cm2": -2, "_per_dm2": -2,
}  # fmt: skip


def power_by_name(field):
    fitting = [ending for ending in _POWERS if field.endswith(ending)]
    return _POWERS[max(fitting, key=len)] if fitting else 0


def test_every_measure_of_a_reading_has_an_entry():
    found = {*measured_fields(Pattern), *measured_fields(Texture, "texture.")}
    found |= set(measured_fields(Position, "position."))
    assert found - set(BY_PATH) == set()
    told_otherwise = {"repeat.period_mm", "brush.directions", "lab", "coverage", "sheen"}
    told_otherwise |= {"common.scale", "common.lab"}  # stands between two readings, and in none
    assert set(BY_PATH) - found - told_otherwise == set()


@pytest.mark.parametrize("measure", MEASURES, ids=lambda m: m.path)
def test_every_entry_is_complete(measure):
    ids = known_ids()
    assert f"measure.{measure.path}" in ids or not measure.listed
    assert measure.length_power == power_by_name(measure.field)
    assert measure.axial is (
        measure.unit is Unit.DEGREES and not measure.path.endswith("_spread_deg")
    )
    assert say(share_shown(0.001)) in words(measure, 0.001) or measure.unit is not Unit.SHARE
    if measure.words is not None:
        assert step_word(measure.words, 0.5) in word_ids()


JUDGED = [measure for measure in MEASURES if measure.judged is not None]


@pytest.mark.parametrize("measure", JUDGED, ids=lambda m: m.path)
def test_what_is_judged_has_its_words_and_its_mend(measure):
    """A new measure needs its entry, its function and its mend, and says here what it lacks."""
    ids, judged = known_ids(), measure.judged
    assert (judged.jnd is None) is (judged.scale is Scale.OWN)
    named = {"lab": "quantity.colour"}.get(measure.path, f"quantity.{measure.path}")
    assert named in ids
    if not measure.axial and measure.unit is not Unit.COLOUR:
        assert {f"adjective.{judged.more}", f"adjective.{judged.less}"} <= ids
    assert judged.seen_by == "" or BY_PATH[judged.seen_by].unit is Unit.MM
    assert (measure.mended is None) is judged.by_hand
    if measure.mended is not None and measure.mended.way in (
        Way.SIZE, Way.NUMBER, Way.CONTRAST, Way.HAND
    ):  # fmt: skip
        assert {f"advice.{measure.path}.more", f"advice.{measure.path}.less"} <= ids


def test_every_way_of_mending_is_carried_out_and_used():
    assert set(ORDERS) == set(Way)
    assert {m.mended.way for m in MEASURES if m.mended is not None} == set(Way)


def test_a_key_is_its_text_and_knows_what_it_was_made_of():
    lab, extra = Key("lab", 2), Key("coverage", 1, is_extra=True)
    assert lab == "layers[2].lab" and lab.layer == 2 and lab.measure.unit is Unit.COLOUR
    assert extra == "extra_layers[1].coverage" and extra.is_extra
    assert (lab.kind, extra.kind) == ("layers.lab", "extra_layers.coverage")
    assert Key("lines.width_mm").measure is BY_PATH["lines.width_mm"]
    again = pickle.loads(pickle.dumps(lab))
    assert (again, again.path, again.layer) == (lab, "lab", 2)


def test_an_area_reads_the_same_in_the_list_and_between_boards():
    assert quantity_words(Key("patches.area_mm2"), 34.0) == "34 mm²"
    assert words(BY_PATH["patches.area_mm2"], 34.0) == "34 mm²"
    assert quantity_words(Key("lines.tortuosity"), 1.084) == "1.08"
    assert quantity_words(Key("grain.contrast_L"), 2.6) == "3"
    assert quantity_words(Key("grain.straightness"), 0.874) == "87%"
