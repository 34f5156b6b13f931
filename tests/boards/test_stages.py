"""Stages, the worth of passes, fields, the wall, and when to stop."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.compare import compare
from jartide.boards.fields import field_reading, judge_fields
from jartide.boards.log import PassDone
from jartide.boards.sign_off import By, Panel, compare_wall
from jartide.boards.stages import Course, judge_stage, layer_worth, worth_by_leaving_out
from jartide.boards.stop import USUAL_HAND, hand_spread, when_to_stop
from jartide.errors import ReadingError
from jartide.reading.zones import Zone, ZoneKind


def lighter(reading, by, layer=0):
    """The same reading with one layer's colour moved in lightness."""
    layers = list(reading.layers)
    L, a, b = layers[layer].shown_lab
    layers[layer] = replace(layers[layer], lab=(L + by, a, b), shown_lab=(L + by, a, b))
    return replace(
        reading, layers=tuple(layers), colours=None, balance_known=True, exposure_known=True
    )


@pytest.fixture(scope="module")
def known(marble_reading):
    """A target photographed with a known grey."""
    return lighter(marble_reading, 0)


VEINS = PassDone(name="Veins", minutes=40)
VEIL = PassDone(name="Veil", minutes=10)


def test_a_stage_like_the_earlier_one_is_on_course(known):
    told = judge_stage(known, known, 2.0, 4.0, minutes_since=5, open_min=15)
    assert told.course is Course.ON_COURSE
    assert told.take_back_min == 10
    late = judge_stage(known, known, 2.0, 4.0, minutes_since=60, open_min=15)
    assert late.take_back_min == 0
    oil = judge_stage(known, known, 2.0, 4.0, minutes_since=60, open_min=180)
    assert oil.take_back_min == 120


def test_a_stage_that_went_astray_is_to_be_mended_first(known):
    told = judge_stage(known, lighter(known, 14), 2.0, 4.0, minutes_since=5, open_min=15)
    assert told.course is Course.MEND_FIRST


def test_each_pass_is_worth_what_it_brought_the_board_nearer(known):
    bare = lighter(known, 20)
    after_veins = lighter(known, 8)
    worth = layer_worth(known, [(VEINS, after_veins), (VEIL, lighter(known, 8.1))], bare, 2.0)
    veins, veil = worth
    assert veins.gain > 5 and not veins.could_skip
    assert veins.per_minute == pytest.approx(veins.gain / 40)
    assert veil.could_skip and abs(veil.gain) < 0.5
    # Without the bare board nothing is known of the first pass.
    assert [
        w.name for w in layer_worth(known, [(VEINS, after_veins), (VEIL, known)], None, 2.0)
    ] == ["Veil"]


def test_a_board_left_without_a_pass_tells_its_worth(known):
    told = worth_by_leaving_out(known, known, lighter(known, 10), "Veil", 0, 2.0)
    assert told.gain > 3 and told.per_minute is None and not told.could_skip


def test_fields_are_judged_one_by_one(known, read_with_zones):
    assert [zone.name for zone in read_with_zones.zones] == ["left", "right"]
    left = field_reading(read_with_zones, read_with_zones.zones[0])
    assert sum(layer.coverage.value for layer in left.layers) == pytest.approx(1, abs=0.03)
    verdicts = judge_fields(known, read_with_zones, 2.0, 4.0)
    assert {field.name for field in verdicts} == {"left", "right"}
    distances = [field.comparison.distance for field in verdicts]
    assert distances == sorted(distances)
    assert [field.share for field in verdicts] == pytest.approx([0.5, 0.5], abs=0.02)


def test_stop_when_what_is_left_is_less_than_the_hand_differs_by(known, wide_reading):
    same = compare(known, known)
    assert when_to_stop(same, None).stop
    assert when_to_stop(same, None).hand == USUAL_HAND
    far = compare(known, lighter(known, 12))
    assert not when_to_stop(far, None).stop
    recipe = (VEINS, VEIL)
    spread = hand_spread([known, lighter(known, 3)], [recipe, recipe], 2.0)
    assert spread is not None and spread > 1
    assert hand_spread([known, wide_reading], [recipe, (VEINS,)], 2.0) is None
    assert when_to_stop(same, spread).measured


def panels(reading, steps, who):
    return [
        Panel(name=f"P{n}", who=person, section="A", jar="1", reading=lighter(reading, step))
        for n, (step, person) in enumerate(zip(steps, who, strict=True))
    ]


def test_a_drift_goes_with_the_person_who_painted(known):
    steps = (0.1, 0.2, 0.0, 0.3, 0.1, 4.1, 4.2, 4.0, 4.3, 4.1)
    wall = compare_wall(known, panels(known, steps, ["Ines"] * 5 + ["Tom"] * 5), 2.0, 4.0)
    drift = wall.drifts[0]
    assert (drift.by, drift.low, drift.high) == (By.PERSON, "Ines", "Tom")
    assert drift.quantity == "layers[0].lab" and drift.size_jnd > 2
    assert np.allclose(wall.apart, np.transpose(wall.apart))


def test_without_a_drift_none_is_told_and_the_odd_panel_is(known):
    steps = (0.0, 0.3, 0.1, 0.2, 0.1, 0.0, 0.3, 0.2, 14.0, 0.1)
    wall = compare_wall(known, panels(known, steps, ["Ines", "Tom"] * 5), 2.0, 4.0)
    assert wall.drifts == ()
    assert wall.odd == 8
    with pytest.raises(ReadingError, match="no panel"):
        compare_wall(known, [], 2.0, 4.0)


@pytest.fixture(scope="module")
def read_with_zones():
    from jartide.photo.picture import Picture
    from jartide.reading.read import find_basis, read_basis
    from jartide.studio.marble import draw_marble

    surface = draw_marble((180.0, 180.0), 0.4, 3)
    picture = Picture(
        rgb_linear=surface.rgb_linear,
        photo_size=surface.rgb_linear.shape[1::-1],
        mm_per_px=0.4,
        balance_known=True,
        exposure_known=True,
    )
    halves = tuple(
        Zone(kind=ZoneKind.FIELD, name=name, outlines=(((a, 0), (b, 0), (b, 1), (a, 1)),))
        for name, a, b in (("left", 0.0, 0.5), ("right", 0.5, 1.0))
    )
    return read_basis(find_basis(picture, "marble"), zones=halves)[0]
