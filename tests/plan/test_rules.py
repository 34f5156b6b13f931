"""Every rule finds what it is for, says nothing of a sound plan, and its mend mends it."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.errors import PlanError
from jartide.plan.beside import Beside
from jartide.plan.cautions import cautions_at, questions
from jartide.plan.edit import (
    added,
    changed,
    inserted,
    moved,
    open_trial,
    removed,
    repeated,
    with_outcome,
)
from jartide.plan.propose import propose
from jartide.plan.rule_table import Grade, rule_table
from jartide.plan.rules import check, let_stand, mended, set_aside
from jartide.plan.site import Site, Wear, Where
from jartide.plan.step import Outcome
from jartide.plan.step_facts import Label
from jartide.plan.technique import Product, techniques
from jartide.wording import say

from .conftest import piece, reading_of, step

CLEAR = ("base_roller", "clear_gloss", "keep_base")


def steps(*names):
    return tuple(step(name) if isinstance(name, str) else name for name in names)


WOOD = Site(substrate="wood_panel")
# Rule, its steps, its site, and what else is said.
CASES = {
    "oxidiser_with_cleaner": (("wash_mould", "metal_coat", "oxidiser", "stop_rinse"), Site(), {}),
    "interior_outside": (
        ("base_roller", step("clear_outside", product_name="Varnish")),
        Site(place=Where.OUTSIDE),
        {"labels": {"Varnish": Label(place="inside")}},
    ),
    "outside_coat": (("base_roller", "clear_gloss"), Site(place=Where.OUTSIDE), {}),
    "water_on_uncured_oil": (
        ("base_roller", step("veil", binder="oil"), "cloud_sponge", "clear_gloss"),
        Site(),
        {},
    ),
    "wax_on_wear": (("base_roller", "wax_last"), Site(wear=Wear.FLOOR), {}),
    "wax_outside": (("base_roller", "wax_last"), Site(place=Where.OUTSIDE), {}),
    "wax_on_fresh_oil": (("base_roller", step("veil", binder="oil"), "wax_last"), Site(), {}),
    "film_over_open_ground": (
        ("base_roller", "clear_outside"),
        Site(substrate="masonry", conditions=("damp",), place=Where.OUTSIDE),
        {},
    ),
    "film_over_lime": (("limewash", "clear_matt"), Site(substrate="plaster_wall"), {}),
    "unprotected_outside": (("base_roller", "keep_base"), Site(place=Where.OUTSIDE), {}),
    "unprotected": (("base_roller", "keep_base"), Site(wear=Wear.TOUCHED), {}),
    "soft_clear_on_wear": (CLEAR, Site(wear=Wear.WET), {}),
    "crackle_on_flexible": (("crackle_medium", "crackle_top"), Site(substrate="cloth"), {}),
    "sealed_live_reaction": (("metal_coat", "oxidiser", "clear_matt"), Site(), {}),
    "oxidiser_without_metal": (("base_roller", "oxidiser", "stop_rinse"), Site(), {}),
    "barrier_before_wet": (("base_roller", "wash", "veil", "clear_gloss"), Site(), {}),
    "rubbed_rewettable": (("base_roller", "wash", "tones_dab", "clear_gloss"), Site(), {}),
    "no_primer": (CLEAR, WOOD, {}),
    "no_bonding": (("primer_acrylic", "adhesion_test", *CLEAR), Site(substrate="tile"), {}),
    "no_adhesion_test": (("primer_bonding", *CLEAR), Site(substrate="tile"), {}),
    "over_wax": (("base_roller", "tinted_wax", "cloud_sponge", "clear_gloss"), Site(), {}),
    "sealed_over_lifting_wax": (
        ("base_roller", "wax_between", "cloud_sponge", "clear_gloss"),
        Site(),
        {},
    ),
    "untried": (
        (step("base_roller", product_name="Old green"), *CLEAR[1:]),
        Site(),
        {"labels": {"Old green": Label(doubt="lumpy")}},
    ),
    "waxed_ground": (
        ("primer_bonding", "adhesion_test", *CLEAR),
        Site(conditions=("waxed",)),
        {},
    ),
    "over_thinned": ((step("base_roller", water=1.0), "keep_base"), Site(), {}),
    "over_thinned_worn": (
        (step("base_roller", water=1.0), "clear_outside"),
        Site(place=Where.OUTSIDE),
        {},
    ),
    "matt_over_dark": (("base_roller", "clear_matt"), Site(), {"dark": True}),
    "dry_in_chain": (
        (step("texture_paint"), step("stipple", wet=True), "clear_gloss"),
        Site(),
        {},
    ),
    "wet_on_nothing": (
        ("base_roller", "spatter", step("soften", wet=True), "clear_gloss"),
        Site(),
        {},
    ),
    "short_cure": (CLEAR, Site(), {"use_in_days": 2.0}),
    "fragile_brushed": (("base_roller", "crackle_medium", "crackle_top", "clear_matt"), Site(), {}),
    "grain_across": (
        (step("grain_drag", direction_deg=90.0), step("pores", direction_deg=20.0)),
        Site(),
        {"family": "wood"},
    ),
    "veil_missing": (("base_roller", "vein_brush", "clear_gloss"), Site(), {"family": "marble"}),
    "veil_under_veins": (("base_roller", "veil", "vein_brush", "clear_gloss"), Site(), {}),
    "dust_before_coat": (("sand_key", *CLEAR), Site(), {}),
    "parts_unmarked": (CLEAR, Site(conditions=("parts",)), {}),
    "not_set_out": (("base_roller", "vein_brush", "veil"), Site(), {"count": 4}),
    "steel_wool": ((step("sand_key", tool="steel wool 000"), "dust_off", *CLEAR), Site(), {}),
    "base_not_kept": (("base_roller", "clear_gloss"), Site(), {}),
    "wax_between_passes": (
        ("base_roller", "wax_between", "cloud_sponge", "strip_wax", "clear_gloss", "keep_base"),
        Site(),
        {},
    ),
    "wax_last_school": (("base_roller", "wax_last", "keep_base"), Site(), {}),
    "mineral_untested": (
        ("primer_alkali", *CLEAR),
        Site(substrate="masonry"),
        {},
    ),
    "seen_from_below": (CLEAR, Site(overhead=True), {}),
    "beside_unread": (CLEAR, Site(beside="a brown floor"), {}),
    "beside_clashes": (CLEAR, Site(), {"beside": (Beside(name="Floor", relation="clashes"),)}),
    "beside_melts": (CLEAR, Site(), {"beside": (Beside(name="Door", relation="melts"),)}),
    "water_in_glaze": ((step("veil", carrier=4.0, water=1.0), "keep_base"), Site(), {}),
}


def findings_of(own, site, said):
    said = dict(said)
    one = piece(site=site, count=said.pop("count", 1))
    family = said.pop("family", "stone")
    return check(own, (one,), family, **said)


def test_every_rule_has_its_case():
    assert set(CASES) == {rule.id for rule in rule_table()}


@pytest.mark.parametrize("rule", CASES)
def test_a_rule_finds_what_it_is_for_and_its_mend_mends_it(rule):
    names, site, said = CASES[rule]
    own = steps(*names)
    found = [f for f in findings_of(own, site, said) if f.rule == rule]
    assert len(found) >= 1, findings_of(own, site, said)
    finding = found[0]
    words = say(finding.reason)
    assert words.endswith(".") and "{" not in words
    if finding.mend is None:
        return
    for _ in range(4):  # one for each step it was found at
        left = [f for f in findings_of(own, site, said) if f.rule == rule]
        if not left:
            break
        own = mended(own, left[0])
    assert not left or not [f for f in findings_of(own, site, said) if f.rule == rule]


@pytest.mark.parametrize("rule", CASES)
def test_a_rule_is_silent_on_a_sound_plan(rule):
    own = steps(
        "dust_off", "primer_acrylic", "base_roller", "set_out", "cloud_sponge", "vein_brush",
        step("soften", wet=True), "veil", "clear_gloss", "keep_base",
    )  # fmt: skip
    found = findings_of(own, WOOD, {"family": "marble", "count": 2})
    assert rule not in [finding.rule for finding in found]


def test_a_finding_that_was_thought_over_is_not_said_again_but_a_stop_is():
    own = steps("sand_key", *CLEAR)
    found = [f for f in findings_of(own, Site(), {}) if f.rule == "dust_before_coat"]
    quiet = own
    for finding in found:
        quiet = set_aside(quiet, finding)
    assert found and not [f for f in findings_of(quiet, Site(), {}) if f.rule == "dust_before_coat"]
    bare = steps(*CLEAR)
    stop = next(f for f in findings_of(bare, WOOD, {}) if f.grade is Grade.STOP)
    for nothing in ("", "  "):
        with pytest.raises(PlanError, match="why"):
            set_aside(bare, stop, nothing)
    # A stop stands until somebody says why it may.
    still = tuple(replace(s, quiet=(stop.rule,)) for s in bare)
    assert stop.rule in [f.rule for f in findings_of(still, WOOD, {})]
    told = set_aside(bare, stop, "The board was primed by its maker.")
    assert stop.rule not in [f.rule for f in findings_of(told, WOOD, {})]
    ((rule, why),) = [one for s in told for one in let_stand(s)]
    assert "primer" in say(rule) and why == "The board was primed by its maker."


def test_stops_come_first_and_name_their_pieces():
    one, two = piece(name="A", site=WOOD), piece(name="B", site=WOOD)
    found = check(steps("sand_key", *CLEAR), (one, two), "stone")
    assert [f.grade for f in found] == sorted((f.grade for f in found), key=list(Grade).index)
    assert found[0].pieces == ("A", "B")


def test_cautions_stand_at_the_steps_they_belong_to():
    old = piece(site=Site(substrate="painted"))
    at = {c.id for c in cautions_at(step("sand_key"), (old,))}
    assert at == {"dust", "lead"}
    assert {c.id for c in cautions_at(step("sand_key"), (piece(),))} == {"dust"}
    stone = piece(site=Site(substrate="masonry"))
    assert {c.id for c in cautions_at(step("brush_salts"), (stone,))} == {"dust", "silica"}
    assert {c.id for c in cautions_at(step("veil", binder="oil"), (old,))} == {"solvent", "rags"}


def test_trades_and_local_rules_are_asked_and_a_yes_brings_its_caution():
    tall = piece(height=3200, site=Site(conditions=("parts",)))
    asked = {question.id for question in questions((tall,))}
    assert {"work_at_height", "electric_off"} <= asked
    assert "work_at_height" not in {q.id for q in questions((piece(height=900),))}
    base = step("base_roller")
    assert not cautions_at(base, (tall,))
    said = cautions_at(base, (tall,), {"work_at_height": "yes", "electric_off": "no"})
    assert [caution.id for caution in said] == ["height"]


def test_a_failed_test_changes_the_plan_and_is_done_again():
    own = steps("primer_bonding", "adhesion_test", "base_roller")
    failed = with_outcome(own, own[1].id, Outcome.FAILED)
    names = [s.technique for s in failed]
    assert names == [
        "primer_bonding", "adhesion_test", "sand_key", "dust_off", "primer_bonding",
        "adhesion_test", "base_roller",
    ]  # fmt: skip
    assert failed[1].outcome is Outcome.FAILED and failed[5].outcome is Outcome.OPEN
    passed = with_outcome(failed, failed[5].id, Outcome.PASSED)
    assert [s.technique for s in passed] == names
    # Said twice it is one failure.
    assert with_outcome(failed, failed[1].id, Outcome.FAILED) == failed


def test_steps_are_added_moved_repeated_and_taken_out():
    own = steps("base_roller", "wet_ground", step("cloud_sponge", wet=True), "veil")
    more = added(own, "spatter", own[1].id)
    # Never between what is laid wet into each other.
    assert [s.technique for s in more][3] == "spatter"
    assert [s.technique for s in inserted(own, step("toning"))][-1] == "toning"
    assert moved(own, own[3].id, -3)[0].technique == "veil"
    assert moved(own, own[0].id, -1) == own
    twice = repeated(own, own[1].id)
    assert [s.technique for s in twice] == [
        "base_roller", "wet_ground", "cloud_sponge", "wet_ground", "veil"
    ]  # fmt: skip
    assert twice[3].id != own[1].id
    left = removed(own, own[1].id)
    assert [s.technique for s in left] == ["base_roller", "cloud_sponge", "veil"]
    assert not left[1].wet


@pytest.mark.parametrize(
    "wrong", [{"coats": 0}, {"laid_share": 0.0}, {"laid_share": 1.5}, {"speed_m2_h": 0.0},
              {"carrier": -1.0}, {"dry_h": -2.0}]
)  # fmt: skip
def test_numbers_that_make_no_sense_are_refused(wrong):
    from jartide.errors import PlanError

    own = steps("base_roller")
    with pytest.raises(PlanError, match="A number of the step makes no sense"):
        changed(own, replace(own[0], **wrong))
    with pytest.raises(PlanError, match="no longer in the plan"):
        changed(own, step("veil"))


def rules_of(own, site=None, **said):
    return {finding.rule for finding in findings_of(steps(*own), site or Site(), said)}


def test_wax_outside_is_mended_by_what_no_other_rule_forbids():
    terrace = Site(place=Where.OUTSIDE)
    own = steps("base_roller", "wax_last", "keep_base")
    stop = next(f for f in findings_of(own, terrace, {}) if f.rule == "wax_outside")
    mend = mended(own, stop)
    assert [s.technique for s in mend] == ["base_roller", "clear_outside", "keep_base"]
    assert [f for f in findings_of(mend, terrace, {}) if f.grade is Grade.STOP] == []
    # A hard-wax oil whose label says outside is another thing.
    oil = (step("wax_last", product_name="Deck oil"),)
    said = {"labels": {"Deck oil": Label(place="outside")}}
    assert "wax_outside" not in rules_of(("base_roller", *oil), terrace, **said)
    # Nor does the school's own mend offer an inside gloss there.
    assert "wax_last_school" not in rules_of(("base_roller", "wax_last"), terrace)


@pytest.mark.parametrize("coat", ["cloud_sponge", "base_roller", "veil", "clear_gloss", "barrier"])
def test_anything_wet_over_soft_wax_is_thought_over(coat):
    own = ("base_roller", "metal_wax", coat)
    assert "over_wax" in rules_of(own)
    assert "over_wax" not in rules_of(("base_roller", "metal_wax", "strip_wax", coat))
    assert "over_wax" not in rules_of(("base_roller", "metal_wax", "adhesion_test", coat))


def test_a_clear_coat_over_wax_does_not_make_it_sound():
    own = steps("base_roller", "tinted_wax", "clear_gloss", "keep_base")
    said = [f for f in findings_of(own, Site(), {}) if f.rule == "over_wax"]
    assert [own[1 + 1].id] == [f.step_id for f in said]
    assert mended(own, said[0])[2].technique == "strip_wax"


def test_lifting_over_wax_is_a_school_until_its_last_coat():
    lifted = ("base_roller", "wax_between", "bag_rub", step("lift_paper", wet=True))
    assert not {"over_wax", "sealed_over_lifting_wax"} & rules_of(lifted)
    assert "sealed_over_lifting_wax" in rules_of((*lifted, "clear_gloss"))
    assert "sealed_over_lifting_wax" not in rules_of((*lifted, "strip_wax", "clear_gloss"))


def test_oil_that_has_cured_may_be_waxed():
    cured = step("veil", binder="oil", dry_h=400.0)
    assert "wax_on_fresh_oil" not in rules_of(("base_roller", cured, "wax_last"))
    fresh = step("veil", binder="oil")
    assert "wax_on_fresh_oil" not in rules_of(("base_roller", fresh, "clear_gloss", "wax_last"))


def test_what_the_tin_says_is_used():
    soft = step("base_roller", product_name="Tempera")
    said = {"labels": {"Tempera": Label(rewets="water")}}
    assert "barrier_before_wet" in rules_of((soft, "veil", "clear_gloss"), **said)
    hard = step("wash", product_name="Wash")
    said = {"labels": {"Wash": Label(rewets="nothing")}}
    assert "barrier_before_wet" in rules_of(("base_roller", "wash", "veil", "clear_gloss"))
    assert "barrier_before_wet" not in rules_of(
        ("base_roller", hard, "veil", "clear_gloss"), **said
    )
    own = step("base_roller", product_name="All in one")
    primed = {"labels": {"All in one": Label(primer_in=True)}}
    assert "no_primer" in rules_of((own, *CLEAR[1:]), WOOD)
    assert "no_primer" not in rules_of((own, *CLEAR[1:]), WOOD, **primed)
    worn, sealed = Site(wear=Wear.TOUCHED), {"labels": {"All in one": Label(clear_in=True)}}
    assert "unprotected" in rules_of((own, "keep_base"), worn)
    assert "unprotected" not in rules_of((own, "keep_base"), worn, **sealed)


def test_a_hard_wax_oil_may_be_what_its_label_says():
    floor = Site(wear=Wear.FLOOR)
    oiled = steps("base_roller", step("wax_last", product_name="Hard wax"))
    plain = [f.rule for f in check(oiled, (piece(site=floor),), "stone")]
    assert "wax_on_wear" in plain
    for stands, said in ((True, False), (False, True), (None, True)):
        labels = {"Hard wax": Label(stands_wear=stands)}
        found = [f.rule for f in check(oiled, (piece(site=floor),), "stone", labels=labels)]
        assert ("wax_on_wear" in found) is said


def test_lime_and_damp_walls_stay_open_to_vapour():
    damp = Site(substrate="masonry", conditions=("damp",))
    for coat in ("clear_gloss", "clear_matt", "clear_floor", "clear_outside"):
        assert "film_over_open_ground" in rules_of(("base_roller", coat), damp)
        assert "film_over_lime" in rules_of(("limewash", coat))
    assert "film_over_open_ground" not in rules_of(("base_roller", "clear_open"), damp)
    assert "film_over_open_ground" not in rules_of(CLEAR, Site(substrate="masonry"))
    assert "film_over_lime" not in rules_of(("limewash", "clear_open"))


def test_a_patch_that_is_to_be_tried_first_holds_back_what_follows():
    old = step("base_roller", product_name="Old green")
    said = {"labels": {"Old green": Label(doubt="old")}}
    own = (old, *steps(*CLEAR[1:]))
    (finding,) = [f for f in findings_of(own, Site(), said) if f.rule == "untried"]
    own = mended(own, finding)
    assert own[0].technique == "trial_patch"
    assert "untried" not in {f.rule for f in findings_of(own, Site(), said)}
    assert open_trial(own, {old.id}) == own[0] and open_trial(own, {own[0].id}) is None
    failed = with_outcome(own, own[0].id, Outcome.FAILED)
    again = open_trial(failed, {old.id})
    assert again is not None and again.id != own[0].id
    passed = with_outcome(failed, again.id, Outcome.PASSED)
    assert open_trial(passed, {old.id}) is None
    # Inside paint on a terrace, set aside with a reason, is a trial as well.
    inside = {"labels": {"Old green": Label(place="inside")}}
    assert "untried" in rules_of((old, "clear_outside"), Site(place=Where.OUTSIDE), **inside)


def test_what_stays_beside_it_is_read_first_and_a_clash_is_named():
    site = Site(beside="a brown floor")
    first = propose(reading_of("stone"), (piece(site=site),))[0]
    assert first.technique == "read_beside" and "a brown floor" in say(first.why)
    assert all(s.technique != "read_beside" for s in propose(reading_of("stone"), (piece(),)))

    stays = (
        Beside(name="Floor", relation="sits_well"),
        Beside(name="Shutters", relation="clashes"),
    )
    found = check(steps(*CLEAR), (piece(site=site),), "stone", beside=stays)
    said = {finding.rule: say(finding.reason) for finding in found}
    assert "beside_unread" not in said
    assert "Shutters" in said["beside_clashes"] and "Floor" not in said["beside_clashes"]
    # What gets on well asks for nothing, and a board is tried away from the place.
    well = check(steps(*CLEAR), (piece(site=site),), "stone", beside=stays[:1])
    assert not [f for f in well if f.rule.startswith("beside")]
    on_board = check(steps(*CLEAR), (piece(site=site, board=True),), "stone", beside=stays)
    assert not [f for f in on_board if f.rule.startswith("beside")]


def test_what_lays_a_mix_takes_it_from_the_jar_of_its_layer():
    for name, technique in techniques().items():
        (step,) = added((), name, layer="layer-2")
        from_jar = technique.product in (Product.PAINT, Product.GLAZE, Product.STAIN)
        assert step.layer == ("layer-2" if from_jar else "")
