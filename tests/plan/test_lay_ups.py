"""Lay-ups that fit: tools that exist, no tone laid twice without a reason, the master's order."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.errors import PlanError
from jartide.families import families
from jartide.plan.facts import read_facts
from jartide.plan.layup_table import check_table, layup_table
from jartide.plan.propose import propose
from jartide.plan.rules import check
from jartide.plan.school import ways_of
from jartide.plan.site import Site, Wear, Where
from jartide.plan.technique import Kind, Product, techniques
from jartide.reading.result import Role
from jartide.wording import say

from .conftest import piece, reading_of
from .conftest import step as made

FAMILIES = sorted(set(families()) - {"auto"})
EVERY_WAY = [(family, way.id) for family in FAMILIES for way in ways_of(family)]


def plan(family, *, reading=None, board=False, pieces=None, **wanted):
    pieces = pieces or (piece(),)
    if board:
        pieces = (*pieces, piece(name="Board", board=True))
    return propose(reading or reading_of(family), pieces, wanted)


def names(steps):
    return [step.technique for step in steps]


def in_order(steps, *wanted):
    """Whether techniques follow each other, others between them or not."""
    left = iter(names(steps))
    return all(one in left for one in wanted)


@pytest.mark.parametrize(("family", "way"), EVERY_WAY)
def test_tools_are_within_the_range_of_their_technique(family, way):
    known = techniques()
    for step in plan(family, way=way):
        least, most = known[step.technique].tool_range_mm or (0.5, 400.0)
        assert step.tool_mm is None or least <= step.tool_mm <= most, step.technique


@pytest.mark.parametrize(("family", "way"), EVERY_WAY)
def test_a_tone_is_laid_twice_only_with_a_reason(family, way):
    reading = reading_of(family)
    steps = plan(family, way=way)
    for layer in reading.layers:
        own = [s for s in steps if s.layer == layer.id and s.lays]
        again = [s for s in own[1:] if s.technique != own[0].technique]
        assert all(step.why is not None for step in again), names(again)
        # What is laid by its cover adds up to what was read, however many passes it takes.
        by_cover = [s for s in own if s.cover_left is not None and s.kind is not Kind.BASE]
        by_cover = [s for s in by_cover if s.product is not Product.CRACKLE]
        total = sum({s.technique: s.cover_left for s in by_cover}.values())
        if layer is not reading.layers[0] and by_cover:
            assert total == pytest.approx(layer.coverage.value, rel=1e-6)


@pytest.mark.parametrize(("family", "way"), EVERY_WAY)
def test_every_way_keeps_the_rules_and_lays_every_layer(family, way):
    check_table(layup_table(family, way=way))
    reading = reading_of(family)
    for site in (Site(), Site(place=Where.OUTSIDE), Site(wear=Wear.WORKTOP)):
        one = piece(site=site)
        steps = plan(family, pieces=(one,), way=way)
        assert [f.rule for f in check(steps, (one,), family) if f.grade == "stop"] == []
    laid = {step.layer for step in plan(family, way=way)}
    assert {layer.id for layer in reading.layers} <= laid


def test_a_layer_that_runs_is_laid():
    reading = reading_of("rust")
    runs = replace(reading.layers[-1], role=Role.RUN)
    for family in FAMILIES:
        own = replace(reading, family=family, layers=(*reading.layers[:-1], runs))
        assert runs.id in {step.layer for step in plan(family, reading=own)}, family


def test_a_larger_tool_does_more_within_an_hour():
    concrete = [s for s in plan("concrete") if s.technique == "cloud_sponge"]
    by_size = sorted(concrete, key=lambda step: step.tool_mm)
    assert by_size[0].speed_m2_h < by_size[-1].speed_m2_h
    assert by_size[-1].tool_mm > 60  # large soft clouds are not dabbed with a thimble


def test_crossed_strokes_go_the_two_ways_that_were_read():
    reading = reading_of("brushed")
    first, *others = (peak.deg for peak in reading.pattern.brush.directions)
    steps = {s.technique: s for s in plan("brushed", crossing="crossed")}
    assert steps["dry_brush"].direction_deg == pytest.approx(first, abs=1)
    cross = steps["dry_brush_cross"].direction_deg
    apart = abs((cross - steps["dry_brush"].direction_deg + 90) % 180 - 90)
    assert apart >= 40
    assert not others or cross == pytest.approx(others[0], abs=1) or apart == pytest.approx(90)


def test_linen_hangs_plumb_and_is_crisp_or_soft():
    crisp = {s.technique: s for s in plan("linen", weave="crisp")}
    assert {crisp["weave_warp"].direction_deg, crisp["weave_weft"].direction_deg} == {90.0, 0.0}
    assert not crisp["weave_weft"].wet and "soften" not in crisp
    assert 50 <= crisp["weave_warp"].tool_mm <= 125
    reading = reading_of("linen")
    one = replace(reading, layers=reading.layers[:2])
    soft = plan("linen", reading=one, weave="soft")
    weft = next(s for s in soft if s.technique == "weave_weft")
    assert weft.wet and weft.layer == reading.layers[1].id and names(soft)[-3] == "soften"


def test_patina_lies_in_the_hollows_and_metal_on_the_ridges():
    steps = plan("bronze")
    assert in_order(steps, "metal_coat", "patina_hollows", "metal_ridges")
    ridges = next(s for s in steps if s.technique == "metal_ridges")
    assert ridges.product is Product.METAL and ridges.laid_share <= 0.15
    assert "roller" in next(s for s in steps if s.technique == "metal_coat").tool


def test_wood_is_built_by_its_species():
    assert in_order(plan("wood", wood="figure_first"), "grain_drag", "pores", "toning")
    close = plan("wood", wood="pores_first")
    assert in_order(close, "base_roller", "flog_pores", "grain_drag", "toning")
    assert "pores" not in names(close)


def test_wax_to_ease_lifting_is_followed_by_the_lifting():
    steps = plan("plaster", waxing="between")
    assert in_order(steps, "wax_between", "runny_coat", "lift_paper", "strip_wax", "clear_matt")
    lifted = [s for s in steps if s.technique == "lift_paper"]
    assert lifted and all(step.wet for step in lifted)
    words = " ".join(say(m) for m in lifted[0].how)
    assert "never smooth" in words and "within minutes" in words


@pytest.mark.parametrize("family", ["brushed", "leather", "plaster"])
def test_how_the_under_layer_comes_back_is_a_step(family):
    assert {"wipe_back", "ridge_wipe"} & {*names(plan(family, reveal="wipe"))}
    assert in_order(plan(family, reveal="sand"), "sand_back", "dust_off")


def test_a_trial_of_all_passes_takes_as_long_as_they_do():
    reading = replace(reading_of("brushed"), sheen="matt")
    steps = plan("brushed", reading=reading)
    trial = next(s for s in steps if s.technique == "hidden_spot")
    assert trial.dry_h >= sum(s.dry_h for s in steps if s.lays and s.kind is not Kind.PROTECT)
    on_board = plan("brushed", reading=reading, board=True)
    assert next(s for s in on_board if s.technique == "hidden_spot").dry_h == 0


def test_a_way_that_is_not_for_a_family_lays_it_as_usual():
    usual, other = plan("marble"), plan("marble", way="worn_layers")
    assert names(usual) == names(other)
    with pytest.raises(PlanError):
        plan("marble", way="nobody's")


def test_water_goes_into_a_glaze_only_where_it_is_chosen_and_offered():
    def watered(family, **wanted):
        return [s.technique for s in plan(family, **wanted) if s.water and s.product == "glaze"]

    assert watered("marble", thinning="carrier_water")
    assert watered("marble", thinning="carrier") == watered("marble") == []
    # Leather offers no such choice: one made for another family changes nothing.
    assert watered("leather", thinning="carrier_water") == []


def test_sizes_below_a_millimetre_are_sizes():
    sizes = read_facts(reading_of("plaster")).sizes
    assert 0 < min(sizes.values()) < 1


def test_grain_passes_that_cross_are_seen_whatever_way_they_run():
    for grain, across in ((30.0, 150.0), (10.0, 170.0), (80.0, 100.0)):
        own = (made("grain_drag", direction_deg=grain), made("pores", direction_deg=across))
        assert "grain_across" in {f.rule for f in check(own, (piece(),), "wood")}
    own = (made("grain_drag", direction_deg=178.0), made("pores", direction_deg=2.0))
    assert "grain_across" not in {f.rule for f in check(own, (piece(),), "wood")}
