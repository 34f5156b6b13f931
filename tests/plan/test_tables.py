"""The tables of the craft: what ships is whole, what is broken is refused with one sentence."""

from __future__ import annotations

import pytest

from jartide.errors import PlanError
from jartide.families import families
from jartide.plan.cautions import caution_table
from jartide.plan.layup_table import check_table, layup_table
from jartide.plan.rule_table import Grade, rule_table
from jartide.plan.school import chosen, schools
from jartide.plan.site import Site, ground_of, substrates
from jartide.plan.technique import Kind, techniques

OWN = """
[[technique]]
id = "comb_arc"
name = "Combed arcs"
kind = "pattern"
product = "glaze"
binder = "water"
tool = "rubber comb"
how = ["Arcs at {degrees}°."]
speed_m2_h = 5
spreading_m2_per_l = 15
"""


@pytest.mark.parametrize("family", list(families()))
def test_every_family_has_a_whole_lay_up(family):
    table = layup_table(family)
    check_table(table)
    assert any("ground" in line.roles for line in table.layer)
    assert table.schools


def test_what_techniques_name_is_there():
    cautions, questions = caution_table()
    for one in techniques().values():
        assert all(caution in cautions for caution in one.cautions)
        assert all(other in techniques() for other in one.on_fail)
        # A test that can fail says what mends it; what lays a coat says when it is ready.
        assert one.ready
        assert one.on_fail or one.kind is not Kind.TEST or one.id == "hidden_spot"
    assert all(asked.caution in cautions for asked in questions)


def test_every_substrate_and_condition_prepares_with_known_techniques():
    made, conditions, strength = substrates()
    known = techniques()
    for part in (*made.values(), *conditions.values()):
        assert all(step.technique in known for step in part.steps)
        assert part.primer in strength
        assert not part.primer or known[part.primer].kind is Kind.PRIME


def test_the_stronger_primer_wins():
    plain = ground_of(Site(substrate="bare_wood"))
    stained = ground_of(Site(substrate="bare_wood", conditions=("bleeding",)))
    assert (plain.primer, stained.primer) == ("primer_acrylic", "primer_blocking")


def test_rules_come_in_three_grades_each_with_a_reason():
    rules = rule_table()
    assert {rule.grade for rule in rules} == set(Grade)
    assert all(rule.reason.endswith(".") for rule in rules)
    assert len({rule.id for rule in rules}) == len(rules)


def test_a_choice_nobody_made_is_the_usual_one():
    assert chosen({})["veins"] == schools()["veins"].choices[0].id
    assert chosen({"veins": "brush"})["veins"] == "brush"
    with pytest.raises(PlanError, match=r"no choice “veins=spoon”; use one of feather, brush"):
        chosen({"veins": "spoon"})
    with pytest.raises(PlanError, match=r"no choice “viens”"):
        chosen({"viens": "brush"})


def test_a_painters_own_technique_is_added_and_may_stand_for_a_shipped_one():
    known = techniques(OWN)
    assert known["comb_arc"].tool == "rubber comb"
    assert set(techniques()) < set(known)
    mine = OWN.replace("comb_arc", "veil").replace("Combed arcs", "My veil")
    assert techniques(mine)["veil"].name == "My veil"
    assert techniques()["veil"].name == "Veil"


@pytest.mark.parametrize(
    ("broken", "said"),
    [
        ("[[technique]\nid = 1", r"“techniques.toml” is not a valid table: .*line 1"),
        (OWN.replace('tool = "rubber comb"', "tool = 3"), r"“comb_arc”: 3 is no text in quotes"),
        (OWN.replace("speed_m2_h = 5", 'speed_m2_h = "fast"'), r"“comb_arc”: 'fast' is no number"),
        (OWN.replace("speed_m2_h = 5", "speed_m2_h = 0"), r"comb_arc: the value of “speed_m2_h”"),
        (OWN.replace("speed_m2_h = 5", ""), r"“comb_arc”: required field missing.*speed_m2_h"),
        (OWN.replace('binder = "water"', 'binder = "glue"'), r"comb_arc: the value of “binder”"),
        (OWN.replace('kind = "pattern"', 'kind = "magic"'), r"“comb_arc”: "),
        (OWN.replace("{degrees}", "{degree}"), r"names the measure “degree”, which there is not"),
        (OWN.replace("{degrees}", "{degrees"), r"“techniques.toml”, comb_arc: "),
        (OWN + OWN, r"“comb_arc” appears twice"),
        (OWN.replace("[[technique]]", "[[techniques]]"), r"holds “techniques”, which nobody reads"),
        (OWN + 'tools = "comb"\n', r"“comb_arc”: extra fields found \(tools\)"),
        (OWN + 'laid = "half"\n', r"comb_arc: the value of “laid”"),
        (OWN + 'on_fail = ["prayer"]\n', r"comb_arc names the technique “prayer”"),
        (OWN.replace("spreading_m2_per_l = 15", ""), r"the value of “spreading_m2_per_l”"),
        (OWN + "dry_h = 1e400\n", r"“comb_arc”: inf is no number"),
        ("technique = 3", r"technique: \[\[technique\]\] is no list"),
    ],
)
def test_a_broken_technique_table_is_refused_in_one_sentence(broken, said):
    with pytest.raises(PlanError, match=said) as error:
        techniques(broken)
    assert str(error.value).endswith(".")
    assert "\n" not in str(error.value)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ('technique = "spell"\nroles = ["vein"]', r"names the technique “spell”"),
        ('technique = "veil"\nroles = ["vine"]', r"veil names the role “vine”, which no layer has"),
        ('technique = "veil"', r"veil: the value of “roles”"),
        ('technique = "veil"\nroles = ["vein"]\nwhy = "{depth}"', r"names the measure “depth”"),
    ],
)
def test_a_broken_lay_up_is_refused_in_one_sentence(line, said):
    with pytest.raises(PlanError, match=said):
        check_table(layup_table("marble", f'schools = ["veins"]\n[[layer]]\n{line}\n'))


def test_unknown_substrates_are_answered_with_the_known_ones():
    with pytest.raises(PlanError, match=r"no surface “ice”; use one of primed_board, bare_wood"):
        ground_of(Site(substrate="ice"))
    with pytest.raises(PlanError, match=r"no condition “haunted”; use one of greasy"):
        ground_of(Site(conditions=("haunted",)))


def test_a_rule_with_a_slip_of_the_pen_is_refused():
    rule = '[[rule]]\nid = "x"\ngrade = "stop"\nreason = "No."\nstep = {tecnique = ["veil"]}\n'
    with pytest.raises(PlanError, match=r"x: the value of “tecnique”"):
        rule_table(rule)
    right = rule.replace("tecnique", "technique")
    assert rule_table(right)[-1].id == "x"
