"""Kinds of real work, each planned from end to end as the trade does it."""

from __future__ import annotations

from pathlib import Path

import pytest

from jartide.plan.technique import Kind, Product, techniques
from jartide.wording import say

from .pieces import PIECES, as_text, findings_of, planned

GOLDEN = Path(__file__).with_name("golden")


def steps_of(name):
    return planned(name)[2]


def names(name):
    return [step.technique for step in steps_of(name)]


def in_order(name, *wanted):
    left = iter(names(name))
    return all(one in left for one in wanted)


def step(name, technique):
    return next(s for s in steps_of(name) if s.technique == technique)


def words(name, technique):
    return " ".join(say(m) for m in step(name, technique).how)


@pytest.mark.parametrize("name", PIECES)
def test_the_whole_plan_reads_as_it_was_approved(name):
    file = GOLDEN / f"{name.replace(' ', '-').replace(',', '')}.txt"
    assert as_text(name) == file.read_text("utf-8")


@pytest.mark.parametrize("name", [name for name in PIECES if not name.startswith("29")])
def test_nothing_is_left_to_think_over_twice(name):
    assert [f.rule for f in findings_of(name)] == []


@pytest.mark.parametrize("name", PIECES)
def test_no_step_is_nonsense(name):
    known = techniques()
    steps = steps_of(name)
    for number, one in enumerate(steps):
        least, most = known[one.technique].tool_range_mm or (0.5, 400.0)
        assert one.tool_mm is None or least <= one.tool_mm <= most
        assert one.speed_m2_h > 0 and 0 < one.laid_share <= 1
        if number and not one.only:
            before = steps[number - 1]
            same = (one.technique, one.layer) == (before.technique, before.layer)
            assert not same or one.only != before.only, one.technique
        # What is worked wet finds something wet.
        assert not one.wet or any(s.open_min > 0 for s in steps[max(number - 3, 0) : number])


def test_1_soft_coat_rubbed_back_stamped_sealed_lightly_stencilled_and_aged():
    name = "01 motif cupboard"
    assert in_order(
        name, "mark_parts", "base_roller", "blend_ground", "soft_coat", "rub_damp", "stamp",
        "barrier", "stencil", "age_glaze", "clear_matt",
    )  # fmt: skip
    assert step(name, "blend_ground").wet
    assert "spray" in step(name, "barrier").tool and "one light pass" in words(name, "barrier")
    assert "nearly emptied" in step(name, "stencil").tool
    assert step(name, "age_glaze").carrier > 0 and "second coat is a choice" in words(
        name, "age_glaze"
    )
    # Nothing wet is brushed over the soft coat before it is sealed.
    own = names(name)
    between = own[own.index("soft_coat") + 1 : own.index("barrier")]
    assert set(between) <= {"rub_damp", "stamp"}


def test_3_dull_furniture_is_dry_brushed_two_ways():
    name = "03 dry-brushed dresser"
    assert in_order(name, "mark_parts", "primer_bonding", "base_brush", "dry_brush")
    assert in_order(name, "dry_brush", "dry_brush_cross")
    assert "ridges" in words(name, "base_brush")
    first, across = step(name, "dry_brush"), step(name, "dry_brush_cross")
    assert abs((first.direction_deg - across.direction_deg + 90) % 180 - 90) >= 40
    said = words(name, "dry_brush")
    assert "as it empties" in said and "corners" in said and "same weight" in said
    assert "ground" in techniques()["dry_brush"].back


def test_5_plaster_in_part_metal_and_a_fast_glaze():
    name = "05 bar wall"
    assert in_order(
        name, "plaster_part", "nibs_off", "dust_off", "metal_coat", "drag_blot", "ridge_wipe"
    )
    assert step(name, "plaster_part").laid_share < 1
    assert step(name, "ridge_wipe").wet
    said = words(name, "drag_blot")
    assert "arm's reach" in said and "drag" in said and "blot" in said
    assert step(name, "drag_blot").open_min <= 10


def test_6_crackle_on_a_rigid_ground():
    name = "06 crackled tray"
    assert in_order(name, "ratio_chart", "base_roller", "crackle_paste", "crack_tone", "gel_relief")
    assert "thicker for larger" in words(name, "crackle_paste")
    glaze = step(name, "crack_tone")
    assert glaze.water == 0  # a glaze without water
    assert "wipe the face clean at once" in words(name, "crack_tone")
    assert names(name)[names(name).index("gel_relief") + 1] == "keep_base"


def test_7_marble_on_a_counter():
    name = "07 bar counter"
    assert in_order(
        name, "sand_smooth", "base_roller", "wet_ground", "drift", "vein_brush", "veil",
        "clear_floor",
    )  # fmt: skip
    # Ground, drift and line: three values shade into each other.
    assert step(name, "drift").layer == step(name, "vein_brush").layer
    assert step(name, "veil").layer == planned(name)[0].layers[0].id
    assert step(name, "clear_floor").coats >= 2 and "wax_last" not in names(name)


def test_9_wood_grain_on_shutters_outside():
    name = "09 shutters"
    assert in_order(name, "mark_parts", "bleed_test", "primer_acrylic", "base_roller")
    assert in_order(name, "set_out", "grain_drag", "clear_outside", "keep_base")
    assert step(name, "grain_drag").joins  # a section is no longer than one pull
    lay = {round(s.direction_deg) for s in steps_of(name) if s.direction_deg is not None}
    assert len(lay) == 1
    assert not {"clear_gloss", "clear_matt", "wax_last"} & {*names(name)}


def test_11_metal_trowelled_thin():
    name = "11 lobby panel"
    assert in_order(name, "sand_smooth", "dust_off", "sample_board", "metal_trowelled")
    coat = step(name, "metal_trowelled")
    said = words(name, "metal_trowelled")
    assert coat.coats >= 2 and coat.dry_h >= 4
    assert "thinner than the last" in said and "scratches" in said and "Sand lightly" in said
    assert "one more" in said and 80 <= coat.tool_mm <= 240


def test_12_a_figure_in_concrete():
    name = "12 garden figure"
    assert in_order(name, "texture_paint", "base_brush", "metal_wax", "wax_last")
    assert {"dry_brush", "hollow_tone"} <= {*names(name)}
    assert step(name, "metal_wax").laid_share <= 0.1
    waxes = [s for s in steps_of(name) if s.product is Product.WAX]
    assert all(s.product is not Product.CLEAR for s in steps_of(name)) and len(waxes) == 2


def test_14_worn_layers():
    name = "14 worn bench"
    assert in_order(
        name, "texture_paint", "base_brush", "dry_brush", "scuff", "dust_off", "hollow_tone",
        "half_board", "wax_clear", "tinted_wax", "tinted_wax",
    )  # fmt: skip
    dark, white = [s for s in steps_of(name) if s.technique == "tinted_wax"]
    tones = {layer.id: layer.shown_lab[0] for layer in planned(name)[0].layers}
    assert tones[dark.layer] < tones[white.layer]
    assert step(name, "half_board").kind is Kind.TEST


def test_16_two_crossed_tones_and_a_metal_accent():
    name = "16 crossed cabinet"
    assert in_order(name, "dry_brush", "dry_brush_cross", "smooth_soft", "metal_ridges")
    assert "never coarse" in step(name, "smooth_soft").tool
    assert step(name, "metal_ridges").laid_share <= 0.15
    assert names(name)[-2].startswith("clear_")


def test_17_runny_colour_lifted_over_wax():
    name = "17 lifted wall"
    assert in_order(name, "wax_between", "runny_coat", "lift_paper", "strip_wax", "clear_matt")
    assert "until the cloth glides" in words(name, "wax_between")
    said = words(name, "lift_paper")
    assert "never smooth" in said and "lift it once" in said and "within minutes" in said
    assert "only when it is dry" in techniques()["runny_coat"].ready


def test_18_stone_on_a_vase():
    name = "18 stone vase"
    assert in_order(name, "primer_bonding", "base_roller", "pounce_stiff", "stipple", "draw_out")
    said = words(name, "pounce_stiff")
    assert "keep its marks" in said and "base showing" in said
    assert step(name, "pounce_stiff").laid_share < 1 and step(name, "draw_out").wet


def test_damp_and_lime_get_a_coat_open_to_vapour_and_outside_no_wax():
    for name in ("22 damp cellar", "23 limewashed hall"):
        assert "clear_open" in names(name) and not {"clear_matt", "gel_relief"} & {*names(name)}
    for name, case in PIECES.items():
        if case.site.place == "outside":
            assert "wax_last" not in names(name) and "clear_outside" in names(name)


def test_reactions_are_stopped_as_their_label_says_before_anything_seals_them():
    for name in ("04 cast door", "10 lift door, iron"):
        assert in_order(name, "metal_coat", "oxidiser", "stop_rinse")
        assert "as the label says" in words(name, "stop_rinse")
        own = names(name)
        after = own[own.index("oxidiser") + 1 : own.index("stop_rinse")]
        assert not [t for t in after if techniques()[t].lays]


def test_oil_cures_before_it_is_waxed():
    oil = [s for s in steps_of("25 oil marble") if s.lays and s.binder == "oil"]
    assert oil[-1].dry_h >= 168 and names("25 oil marble")[-2] == "wax_last"
