"""Logs tell how two boards' recipes differ."""

from __future__ import annotations

from dataclasses import replace

from jartide.boards.log import PassDone, recipe_changes
from jartide.wording import say

BASE = PassDone(name="Base", layer="L1", mix="j1", tool="Roller", minutes=20)
VEINS = PassDone(name="Veins", layer="L3", mix="j2", tool="Feather", carrier_parts=4, minutes=35)
VEIL = PassDone(name="Veil", mix="j1", tool="Soft brush", carrier_parts=6, coats=1, minutes=10)
JARS = {"j1": "Ground green", "j2": "Pale vein"}


def told(before, after):
    return [say(change.words()) for change in recipe_changes(before, after, JARS)]


def test_the_same_recipe_has_no_changes():
    assert told((BASE, VEINS), (BASE, VEINS)) == []


def test_what_was_added_left_out_and_changed_is_told():
    finer = replace(VEINS, tool="Fine liner", carrier_parts=6)
    assert told((BASE, VEINS), (BASE, finer, VEIL)) == [
        "Veins: Fine liner in place of Feather.",
        "Veins: 6 parts of glaze in place of 4.",
        "Veil: added.",
    ]
    assert told((BASE, VEINS, VEIL), (BASE, VEINS)) == ["Veil: left out."]


def test_another_jar_is_told_by_its_name_and_another_order_by_the_pass():
    assert told((VEIL,), (replace(VEIL, mix="j2"),)) == [
        "Veil: out of Pale vein in place of Ground green."
    ]
    assert told((BASE, VEINS, VEIL), (BASE, VEIL, VEINS)) == ["Veins: earlier than last time."]


def test_a_little_more_time_is_no_other_recipe_but_twice_is():
    assert told((VEIL,), (replace(VEIL, minutes=12),)) == []
    assert told((VEIL,), (replace(VEIL, minutes=25),)) == ["Veil: 25 min of work in place of 10."]


def test_a_renamed_pass_of_the_same_layer_and_jar_is_the_same_pass():
    renamed = replace(VEINS, name="Main veins", laid_share=0.5)
    assert told((VEINS,), (renamed,)) == ["Main veins: over 50% of the board in place of 100%."]
