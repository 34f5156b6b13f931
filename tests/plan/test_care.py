"""Care and touch-up by coat and by person, asserted from what the craft says of each."""

from __future__ import annotations

from jartide.plan.care import Who, care_of
from jartide.plan.propose import propose
from jartide.plan.site import Site, Wear, Where
from jartide.wording import english

from .conftest import piece, reading_of, step

DAYS = (1.0, 7.0, 21.0)


def told(steps, pieces=(), days=DAYS):
    found = {who: [] for who in Who}
    for advice in care_of(steps, pieces or (piece(),), days):
        found[advice.who].append(english(advice.text))
    return found


def test_each_person_is_told_and_in_days():
    found = told((step("base_roller"), step("cloud_sponge"), step("clear_matt")))
    assert all(found.values())
    assert "1 day" in " ".join(found[Who.INSTALLER])
    assert "7 days" in found[Who.CLIENT][0] and "21 days" in found[Who.CLIENT][0]


def test_coats_are_touched_up_from_the_last_one_down_each_in_its_way():
    found = told(
        (step("texture_paint"), step("base_roller"), step("cloud_sponge"), step("veil"),
         step("clear_matt"), step("wax_last"))
    )  # fmt: skip
    words = " ".join(found[Who.PAINTER])
    places = [
        words.index(one) for one in ("Wax:", "Clear coat:", "Veil:", "Pattern:", "Relief:")
    ]  # fmt: skip
    assert places == sorted(places) and "Ground:" in words
    # Paint does not hold on wax, and a dabbed clear coat shows its rim.
    assert "solvent" in words and "joint or edge" in words


def test_a_reaction_is_never_painted_over():
    steps = (step("metal_coat"), step("oxidiser"), step("stop_rinse"))
    found = told(steps)
    assert "never paint" in " ".join(found[Who.PAINTER]).lower()
    assert "solution" in " ".join(found[Who.INSTALLER])
    # Unsealed it goes on changing, and the client is told.
    assert any("changing" in words for words in found[Who.CLIENT])
    sealed = told((*steps, step("clear_gloss")))
    assert not any("changing" in words for words in sealed[Who.CLIENT])


def test_place_wear_and_parts_add_their_sentences():
    out = piece(site=Site(place=Where.OUTSIDE, conditions=("parts",), overhead=True))
    found = told((step("base_roller"), step("clear_outside")), (out,))
    assert any("spring" in words for words in found[Who.CLIENT])
    assert any("marks" in words for words in found[Who.INSTALLER])
    assert any("below" in words for words in found[Who.INSTALLER])
    floor = told((step("base_roller"), step("clear_floor")), (piece(site=Site(wear=Wear.FLOOR)),))
    assert any("felt" in words.lower() for words in floor[Who.CLIENT])


def test_every_family_has_its_care_without_a_gap():
    for family in ("marble", "verdigris", "plaster", "leather", "wood", "stone"):
        steps = propose(reading_of(family), (piece(),))
        found = told(steps)
        assert all("care." not in words for own in found.values() for words in own), family
        assert any(words.startswith("Ground:") for words in found[Who.PAINTER]), family


def test_nothing_laid_nothing_to_care_for():
    assert care_of((step("sand_key"),), (piece(),), DAYS) == ()
