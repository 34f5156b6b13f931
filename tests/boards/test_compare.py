"""Comparisons whose answer is known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.compare import compare
from jartide.boards.eye import as_seen
from jartide.boards.match import match_layers
from jartide.boards.result import Amount, Verdict
from jartide.boards.visibility import contrast_left, visible_share
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.errors import ReadingError
from jartide.reading.result import LINE_ROLES
from jartide.reading.trust.measured import Measured
from jartide.studio.camera import COOL_LED, WARM_LAMP
from jartide.wording import say
from tests.conftest import read_surface


def sure(value, half=1e-3):
    around = (value - half, value + half)
    return Measured(value=value, measurement=around, sampling=around)


def changed_lines(reading, **values):
    lines = replace(reading.pattern.lines, **values)
    by_layer = tuple((i, replace(own, **values)) for i, own in reading.pattern.lines_by_layer)
    return replace(reading, pattern=replace(reading.pattern, lines=lines, lines_by_layer=by_layer))


def in_light(reading, gains):
    """The same reading as another light would give it."""
    layers = tuple(
        replace(
            x,
            **{
                k: tuple(
                    linear_to_lab(np.clip(lab_to_linear(getattr(x, k)), 0, None) * np.array(gains))
                )
                for k in ("lab", "shown_lab")
            },
        )
        for x in reading.layers
    )
    seen = np.array(reading.colours.labs)
    lit = linear_to_lab(np.clip(lab_to_linear(seen), 0, None) * np.array(gains))
    colours = replace(reading.colours, labs=tuple(tuple(lab) for lab in lit))
    return replace(reading, layers=layers, colours=colours)


def test_a_photo_compared_with_itself_differs_in_nothing(marble_reading):
    comparison = compare(marble_reading, marble_reading)
    assert comparison.verdict is Verdict.MATCH
    assert comparison.distance == pytest.approx(0, abs=1e-9)
    assert comparison.same_from_m == 0.3
    assert all(abs(d.jnd) < 1e-9 and d.amount is Amount.SAME for d in comparison.differences)


@pytest.mark.parametrize("light", [WARM_LAMP, COOL_LED])
def test_the_same_surface_in_another_light_has_no_pattern_difference(marble, marble_reading, light):
    comparison = compare(marble_reading, read_surface(marble, seed=9, light=light))
    assert comparison.verdict is not Verdict.OFF
    assert not [
        d for d in comparison.differences if d.significant and not d.quantity.endswith(".lab")
    ]
    assert comparison.light_change_L is not None


def test_veins_drawn_wider_come_first(marble_reading, wide_reading):
    comparison = compare(marble_reading, wide_reading)
    first = comparison.differences[0]
    assert first.quantity == "lines.width_mm"
    assert first.rank == 1
    assert first.significant
    assert first.jnd > 0
    assert first.ratio == pytest.approx(1.6, rel=0.25)
    assert "times too wide" in str(first.words)
    assert "finer tool" in str(first.advice)
    assert comparison.expected_distance < comparison.distance


def test_exchanging_target_and_board_turns_the_words(marble_reading, wide_reading):
    first = compare(wide_reading, marble_reading).differences[0]
    assert first.quantity == "lines.width_mm"
    assert "too narrow" in str(first.words)
    assert "fuller tool" in str(first.advice)


def test_ranks_count_from_one_and_significant_ones_come_first(marble_reading, wide_reading):
    differences = compare(marble_reading, wide_reading).differences
    assert [d.rank for d in differences] == list(range(1, len(differences) + 1))
    flags = [d.significant for d in differences]
    assert flags == sorted(flags, reverse=True)


@pytest.mark.parametrize(
    ("name", "target", "board", "words", "advice"),
    [
        ("contrast_L", 22.0, 34.0, "strong", "2 transparent veils"),
        ("contrast_L", 34.0, 22.0, "weak", "lighter where lines join"),
        ("length_mm_per_cm2", 3.0, 6.0, "2.0 times too crowded", "paint out about half"),
        ("softness_mm", 0.4, 1.6, "soft", "crisper"),
        ("direction_deg", 60.0, 85.0, "25° too far to the left", "60° from level"),
        ("direction_deg", 5.0, 175.0, "10° too far to the right", "5° from level"),
        ("direction_spread_deg", 10.0, 35.0, "wild", "Hold the hand"),
    ],
)
def test_each_measure_is_said_and_mended(marble_reading, name, target, board, words, advice):
    a = changed_lines(marble_reading, **{name: sure(target)})
    b = changed_lines(marble_reading, **{name: sure(board)})
    first = compare(a, b).differences[0]
    assert first.quantity == f"lines.{name}"
    assert first.significant
    assert words in str(first.words)
    assert advice in str(first.advice)


def test_uncertain_differences_are_never_significant(marble_reading):
    unsure = Measured(value=60.0, measurement=(50, 70), sampling=(10.0, 110.0))
    board = changed_lines(marble_reading, contrast_L=unsure)
    found = {d.quantity: d for d in compare(marble_reading, board).differences}
    assert not found["lines.contrast_L"].significant


def test_layers_without_a_partner_are_missing_or_extra(marble_reading):
    fewer = replace(marble_reading, layers=marble_reading.layers[:-1])
    last = len(marble_reading.layers) - 1
    match = match_layers(marble_reading, fewer)
    assert (match.missing, match.extra) == ((last,), ())
    match = match_layers(fewer, marble_reading)
    assert (match.missing, match.extra) == ((), (last,))
    assert all(i == j for i, j in match.pairs)
    found = {d.quantity: d for d in compare(fewer, marble_reading).differences}
    assert found[f"extra_layers[{last}].coverage"].target == 0


def test_a_missing_ground_layer_is_significant(marble_reading):
    """What covers a third of the surface can't be missed."""
    layers = tuple(x for x in marble_reading.layers if x.id != "L2")
    gone = np.array(next(x for x in marble_reading.layers if x.id == "L2").shown_lab)
    kept = [
        (lab, share)
        for lab, share in zip(
            marble_reading.colours.labs, marble_reading.colours.shares, strict=True
        )
        if np.linalg.norm(np.array(lab) - gone) > 7
    ]
    colours = replace(
        marble_reading.colours,
        labs=tuple(lab for lab, _ in kept),
        shares=tuple(share / sum(s for _, s in kept) for _, share in kept),
    )
    board = replace(marble_reading, layers=layers, colours=colours)
    found = compare(marble_reading, board).differences
    missing = [d for d in found if d.significant and d.quantity == "layers[1].coverage"]
    assert missing
    assert "missing" in str(missing[0].words)
    assert "lay the pass" in str(missing[0].advice)


def test_lightness_common_to_all_layers_is_reported_but_not_significant(marble_reading):
    board = in_light(marble_reading, (1.3, 1.3, 1.3))
    comparison = compare(marble_reading, board)
    assert not any(d.significant for d in comparison.differences)
    assert comparison.light_change_L == pytest.approx(5.6, abs=0.5)


def test_with_known_greys_the_same_change_counts(marble_reading):
    known = replace(marble_reading, balance_known=True, exposure_known=True)
    comparison = compare(known, in_light(known, (1.3, 1.3, 1.3)))
    assert comparison.light_change_L is None
    assert any(d.significant and d.quantity.endswith(".lab") for d in comparison.differences)


def test_with_known_tint_a_cast_is_paint_and_not_light(marble_reading):
    known = replace(marble_reading, balance_known=True)
    comparison = compare(known, in_light(known, (1.25, 1.0, 0.75)))
    assert any(d.significant and d.quantity.endswith(".lab") for d in comparison.differences)
    unknown = compare(marble_reading, in_light(marble_reading, (1.25, 1.0, 0.75)))
    assert not any(d.significant for d in unknown.differences)


def test_fine_differences_vanish_with_distance(marble_reading, wide_reading):
    comparison = compare(marble_reading, wide_reading)
    distances = [d for _, d in comparison.likely_by_m]
    assert distances == sorted(distances, reverse=True)
    assert comparison.likely_at(8.0) < comparison.likely_at(0.3)


def test_what_is_left_of_a_bar_is_what_the_filter_leaves_of_its_picture():
    metres, mm = 2.0, 0.1
    for width_mm in (1.0, 2.5, 8.0):
        picture = np.full((9, 1200, 3), 0.2, np.float32)
        half = round(width_mm / mm / 2)
        picture[:, 600 - half : 600 + half] = 0.22
        seen = as_seen(picture, mm, metres)
        left = (seen[4, 600, 1] - seen[4, 0, 1]) / 0.02
        # The widest Gaussian takes off what whole fields have in common, and is no part of it.
        assert contrast_left(width_mm, metres) == pytest.approx(left * 0.918 / 1.026, abs=0.04)
    assert visible_share(None, 8) == 1
    assert visible_share(0.2, 8) < 0.05 < visible_share(0.2, 0.3)


def test_sheen_is_a_row_of_its_own_where_both_are_known(marble_reading):
    unknown = compare(marble_reading, marble_reading)
    assert "sheen" not in {d.quantity for d in unknown.differences}
    satin, matt = (replace(marble_reading, sheen=word) for word in ("satin", "matt"))
    told = {d.quantity: d for d in compare(satin, matt).differences}["sheen"]
    assert told.significant and told.delta == -2 and told.jnd < 0
    assert (told.target, told.board) == ("satin", "matt")
    assert told.advice is not None and "satin" in say(told.advice)
    assert not {d.quantity: d for d in compare(satin, satin).differences}["sheen"].significant


def test_on_one_spot_only_the_measurement_counts_as_chance(marble_reading, wide_reading):
    apart = {d.quantity: d for d in compare(marble_reading, wide_reading).differences}
    same = compare(marble_reading, wide_reading, same_spot=True)
    for told in same.differences:
        assert told.noise_jnd <= apart[told.quantity].noise_jnd + 1e-9
    density = {d.quantity: d for d in same.differences}["lines.length_mm_per_cm2"]
    assert density.noise_jnd < 0.7 * apart[density.quantity].noise_jnd
    assert density.least_jnd < apart[density.quantity].least_jnd


def test_readings_of_two_algorithms_are_not_compared(marble_reading):
    with pytest.raises(ReadingError, match="read both photos again"):
        compare(marble_reading, replace(marble_reading, algorithm="old"))


@pytest.mark.parametrize("viewing_m", [0.0, -1.0, 1e6, float("nan")])
def test_impossible_viewing_distance(marble_reading, viewing_m):
    with pytest.raises(ReadingError, match="viewing distance"):
        compare(marble_reading, marble_reading, viewing_m)


def test_a_layer_parted_otherwise_is_not_missing(marble_reading):
    """One reading's two clouds are the other's one: the colours of both pictures are the same."""
    a, b = marble_reading.layers[1:3]
    share = a.coverage.value + b.coverage.value
    near = (share - 0.01, share + 0.01)
    cover = Measured(value=share, measurement=near, sampling=near)
    joined = replace(a, coverage=cover, coverage_painted=cover)
    board = replace(
        marble_reading, layers=(marble_reading.layers[0], joined, *marble_reading.layers[3:])
    )
    told = compare(marble_reading, board)
    assert not [d for d in told.differences if d.significant and d.quantity.startswith("layers[")]


def test_lines_that_are_not_there_at_all(marble_reading):
    without = replace(
        marble_reading,
        layers=tuple(x for x in marble_reading.layers if x.role not in LINE_ROLES),
        pattern=replace(marble_reading.pattern, lines=None, lines_by_layer=()),
    )
    found = {d.quantity: d for d in compare(marble_reading, without).differences}
    assert found["lines.length_mm_per_cm2"].board == 0
    assert found["lines.length_mm_per_cm2"].jnd < -3


def test_layers_of_one_colour_are_told_apart_by_how_much_they_cover(marble_reading):
    ground, cloud = marble_reading.layers[:2]
    alike = replace(cloud, role=ground.role, lab=ground.lab, shown_lab=ground.shown_lab)

    def of(first, second):
        covers = (replace(ground.coverage, value=first), replace(ground.coverage, value=second))
        layers = (replace(ground, coverage=covers[0]), replace(alike, coverage=covers[1]))
        return replace(marble_reading, layers=layers)

    assert match_layers(of(0.8, 0.2), of(0.2, 0.8)).pairs == ((0, 1), (1, 0))
    assert match_layers(of(0.8, 0.2), of(0.75, 0.25)).pairs == ((0, 0), (1, 1))
