"""Every decision of a plan (steps, findings, cautions, care, setting out, ratios), as it was."""

from __future__ import annotations

from dataclasses import fields, replace
from datetime import datetime
from functools import lru_cache, partial
from pathlib import Path

import pytest

from jartide.plan.binder import in_oil, is_over_thinned, thinned_with_carrier, water_limit
from jartide.plan.care import care_of
from jartide.plan.cautions import cautions_at, questions
from jartide.plan.edit import added, moved, removed, repeated, with_outcome
from jartide.plan.overrides import overridden
from jartide.plan.progress import Done, learned, seen_h
from jartide.plan.propose import propose
from jartide.plan.ratios import (
    amounts_ml,
    by_weight,
    diluted,
    drops,
    from_levels,
    percents,
    scoops,
    shared_out,
    whole_parts,
)
from jartide.plan.rules import check as findings_of
from jartide.plan.rules import let_stand, mended, set_aside
from jartide.plan.setting_out import Axis, motif_spacing, set_out
from jartide.plan.site import Facing, Site, Wear, Where
from jartide.plan.step import Outcome
from jartide.plan.step_facts import Beside, Label, piece_facts, step_facts
from jartide.plan.technique import Product, techniques
from jartide.plan.worth import costs
from tests.kept_values import check, demo_readings

from .conftest import piece

FOLDER = Path(__file__).parent / "kept_decisions"
TARGETS = ("bar-front-slab", "lift-lobby-door", "library-panel", "terrace-wall")
SITES = {
    "inside": Site(),
    "floor": Site(substrate="old_floor", wear=Wear.FLOOR, conditions=("greasy",)),
    "outside": Site(substrate="masonry", place=Where.OUTSIDE, facing=Facing.SOUTH),
    "glass": Site(substrate="glass", behind_glass=True),
    "overhead": Site(substrate="plaster_wall", overhead=True, beside="White tiles"),
    "bath": Site(substrate="bare_wood", wear=Wear.WET, conditions=("bleeding", "damp")),
}
_USUAL = (None, "", (), False)
SCHOOLS = (
    {},
    {
        "last": "wax",
        "thinning": "carrier_water",
        "waxing": "between",
        "reveal": "sand",
        "ground": "ragged",
    },
    {"glaze_binder": "oil", "veins": "drift_first", "bloom": "reaction", "wood": "pores_first"},
)


def as_told(steps):
    """Steps without their ids, which are made anew each time, and without what says nothing."""
    return [
        {
            field.name: value
            for field in fields(step)
            if field.name != "id" and (value := getattr(step, field.name)) not in _USUAL
        }
        for step in steps
    ]


@lru_cache(maxsize=64)
def planned(target, site, school=0):
    wall = piece(1800, 2400, count=2, site=SITES[site])
    return propose(demo_readings()[target], (wall,), SCHOOLS[school]), (wall,)


def _family(target):
    return demo_readings()[target].family


def _found(steps, pieces, target, **more):
    numbers = {step.id: n for n, step in enumerate(steps, 1)}
    return [
        (one.rule, one.grade, numbers.get(one.step_id), numbers.get(one.below_id), one.reason,
         one.pieces, one.mend, one.primer)
        for one in findings_of(steps, pieces, _family(target), **more)
    ]  # fmt: skip


def _proposed(target):
    kept = {}
    for n, site in enumerate(SITES):
        for school in (n % 3, (n + 1) % 3):
            steps, pieces = planned(target, site, school)
            kept[f"{site} {school}"] = (
                as_told(steps), _found(steps, pieces, target, dark=school == 1),
            )  # fmt: skip
    return kept


def _spoilt(target):
    """What is found when each step in turn is left out, or stands one place too early."""
    steps, pieces = planned(target, "inside")
    label = Label(thinner_limit=0.05, cure_days=30.0, rewets="yes", stands_wear=False)
    marked = replace(pieces[0], site=SITES["floor"])
    told = {"hurried": _found(steps, pieces, target, use_in_days=2.0)}
    told["labelled"] = _found(
        steps, (marked,), target, labels={step.product_name: label for step in steps}
    )
    told["facts"] = step_facts(steps, marked, _family(target), techniques(), {}, 3.0)
    told["piece"] = piece_facts(
        marked, _family(target), True, [Beside(name="Tiles", relation="clashes")]
    )
    for n, step in enumerate(steps):
        without = removed(steps, step.id)
        told[f"without {n + 1}"] = _found(without, pieces, target)
        early = moved(steps, step.id, -1)
        told[f"early {n + 1}"] = _found(early, pieces, target)
        for one in findings_of(without, pieces, _family(target))[:2]:
            told[f"mended {n + 1} {one.rule}"] = as_told(mended(without, one))
            aside = set_aside(without, one, "Seen on the board")
            told[f"aside {n + 1} {one.rule}"] = [let_stand(step) for step in aside]
    return told


def _asked(target):
    kept = {}
    for site in SITES:
        steps, pieces = planned(target, site)
        asked = questions(pieces)
        answers = {one.id: "yes" for one in asked}
        kept[site] = {
            "care": care_of(steps, pieces, (1.2, 6.0, 21.4)),
            "asked": asked,
            "cautions": [cautions_at(step, pieces, answers) for step in steps],
            "unasked": [cautions_at(step, pieces) for step in steps],
            "worth": [(one.step.technique, one.hours, one.dry_h) for one in costs(steps, pieces)],
        }
    return kept


def _edited():
    steps, _ = planned("bar-front-slab", "inside")
    layer = next(step for step in steps if step.lays)
    text = f"S{steps.index(layer) + 1}.coats=3; S{len(steps)}.note=Two thin ones; S2.wet=no"
    kept = {
        "added": [as_told(added(steps, name, layer.id)) for name in list(techniques())[::9]],
        "repeated": as_told(repeated(steps, layer.id)),
        "up": as_told(moved(steps, layer.id, 1)),
        "overridden": as_told(overridden(steps, text, [one.layer for one in steps])[0]),
        "oil": as_told([in_oil(step) for step in steps]),
        "carrier": as_told([thinned_with_carrier(step, 0.02) for step in steps]),
        "over": [is_over_thinned(step, label) for step in steps for label in (None, 0.01, 0.4)],
        "limits": [water_limit(product, at) for product in Product for at in (None, 0.1)],
    }
    tests = [step for step in steps if step.kind == "test"]
    kept["tested"] = [
        as_told(with_outcome(steps, step.id, outcome)) for step in tests for outcome in Outcome
    ]
    return kept


def _learned():
    def at(hour, minute=0):
        return datetime(2026, 5, 11, hour, minute).isoformat()

    dones = [
        Done(task_id=f"wall:{n}", begun=at(8), ended=at(8 + n, 20), ready=at(12 + n, 10 * n),
             foreseen_h=3.0, binder=binder)
        for n, binder in enumerate(("water", "water", "oil", "lime", "water"))
    ]  # fmt: skip
    return {"seen": [seen_h(one) for one in dones], "learned": learned(dones)}


def _set_out():
    return {
        "panels": [
            set_out(4, 610.0, 2400.0, joint_mm=3.0, axis_deg=deg, axis=axis, spacing_mm=180.0,
                    evenness=even, seed=5)
            for axis in Axis for deg in (None, 28.0, 171.0) for even in (None, 0.4)
        ],
        "plain": set_out(3, 900.0, 700.0),
        "motifs": [
            motif_spacing(width, 140.0, gap) for width in (300.0, 1810.0) for gap in (5.0, 60.0)
        ],
    }  # fmt: skip


def _ratios():
    parts = ((1, 2, 4), (3, 1), (7.0, 0.0, 2.5), (1,))
    return {
        "percents": [percents(one) for one in parts],
        "whole": [whole_parts(percents(one), 9, within) for one in parts for within in (0.2, 3.0)],
        "ml": [amounts_ml(one, 350.0) for one in parts],
        "shared": [shared_out(one, total) for one in parts for total in (7, 20)],
        "weight": by_weight((3, 1, 2), (1.3, 1.1, 1.9)),
        "diluted": [diluted(((1, 3), (1, 1))), diluted(((2, 5),))],
        "levels": from_levels((80.0, 52.0, 61.0), (40.0, 40.0, 52.0)),
        "drops": [drops(ml) for ml in (0.1, 0.26, 1.0)],
        "scoops": scoops(5.0, 40.0, 750.0),
    }


CASES = {f"{target} {name}": partial(make, target) for target in TARGETS for name, make in
         (("proposed", _proposed), ("spoilt", _spoilt), ("asked", _asked))}  # fmt: skip
CASES |= {"edited": _edited, "learned": _learned, "set out": _set_out, "ratios": _ratios}


@pytest.mark.parametrize("case", CASES)
def test_no_decision_of_a_plan_has_changed(case):
    check(FOLDER, case, CASES[case]())
