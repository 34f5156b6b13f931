"""Words come from the catalogue, with their parameters, in one place."""

from __future__ import annotations

import re
import string
import tomllib
from importlib.resources import files

import pytest

from jartide.errors import FamilyError, JarTideError, PhotoError
from jartide.families import families, family_named
from jartide.reading.result import Role
from jartide.wording import (
    Message,
    choose_language,
    chosen_language,
    known_ids,
    languages,
    say,
    tr,
)


def test_parameters_are_filled_in_and_may_be_messages_themselves():
    inner = Message("layer.tone_role", tone=Message("tone.pale"), role=Message("role.vein"))
    assert say(inner) == "Pale veins"
    assert tr("quantity.coverage", layer=inner) == "Pale veins, share showing"


@pytest.mark.parametrize(("count", "words"), [(1, "1 board"), (3, "3 boards")])
def test_numbers_pick_their_form(count, words):
    assert tr("jobs.boards", count=count) == words


def test_messages_are_equal_by_what_they_say():
    a, b = Message("unit.mm", value="2.3"), Message("unit.mm", value="2.3")
    assert a == b
    assert hash(a) == hash(b)
    assert a != Message("unit.mm", value="2.4")
    assert "unit.mm" in repr(a)
    assert str(a) == "2.3 mm"


def test_errors_speak_from_the_catalogue():
    error = PhotoError("error.photo.empty", name="a.jpg")
    assert isinstance(error, JarTideError)
    assert str(error) == "“a.jpg” is empty; copy it again from the camera or phone."
    assert error.message.id == "error.photo.empty"


def test_every_error_is_one_sentence_that_says_what_to_do():
    catalogue = [i for i in known_ids() if i.startswith("error.")]
    filled = {
        "name": "a",
        "why": "b",
        "megapixels": 1,
        "width": 2,
        "height": 3,
        "gb": 4,
        "seconds": 5,
        "year": 6,
        "most": 2,
        "what": "c",
        "pixels": 1,
        "least": 2,
        "known": "d",
        "option": "e",
        "amount": 4,
        "example": "f",
        "given": "g",
        "rule": "a",
        "key": "h",
        "kind": "i",
        "line": 5,
        "patch": "j",
        "missing": "k",
        "wanted": "l",
        "length": 6,
        "dpi": 7,
        "number": 8,
        "pages": 9,
        "paint": "m",
        "other": "n",
        "column": "o",
        "expected": "p",
        "now": 9,
        "hours": "10",
        "light": "4",
        "place": "q",
    }
    for id in catalogue:
        words = tr(id, **filled)
        assert words[-1] == "."
        if not id.startswith("error.command"):  # those may begin with an option's name
            assert words[0].isupper() or not words[0].isalpha()
        assert "!" not in words


def test_every_role_and_family_has_words():
    known = known_ids()
    for role in Role:
        assert f"role.{role}" in known
    for family in families().values():
        assert f"family.{family.name}" in known
        assert f"line.{family.lines_role}" in known
        assert Role(family.lines_role)
        assert Role(family.patches_role)
        assert family.ground in ("dark", "light", "broad", "net")
        assert all(Role(role) for role in family.order)
        assert 0 < family.lines_most <= 1


def test_all_families_of_the_contract_are_there():
    assert set(families()) == {
        "marble",
        "stone",
        "concrete",
        "rust",
        "verdigris",
        "bronze",
        "plaster",
        "crackle",
        "wood",
        "linen",
        "leather",
        "brushed",
        "auto",
    }


def test_an_unknown_family_is_answered_with_the_known_ones():
    with pytest.raises(FamilyError, match=r"“granite”; use one of auto, marble"):
        family_named("granite")


@pytest.mark.parametrize("language", languages())
def test_screens_use_none_of_the_words_painters_do_not(language):
    folder = files("jartide").joinpath("data/locale", language, "LC_MESSAGES")
    text = folder.joinpath("jartide.po").read_text("utf-8")
    shown = [line for line in text.splitlines() if line.startswith("msgstr")]
    forbidden = re.compile(
        r"\b(algorithm|channel|cluster|confidence|ΔE|delta|histogram|gamma|Algorithmus|Kanal)\b",
        re.IGNORECASE,
    )
    assert not [line for line in shown if forbidden.search(line)]


def test_every_word_of_the_boards_lists_has_its_words():
    """Ids put together from a list's own words are not seen by looking through the code."""
    from jartide.boards import faults, light, log, practice, series, sign_off, stages
    from jartide.boards.surroundings import Relation
    from jartide.store.records import PhotoUse

    ids = [f"use.{use}" for use in PhotoUse]
    ids += [f"fault.{kind}" for kind in faults.FaultKind]
    ids += [f"fault.mend.{kind}" for kind in faults.FaultKind]
    ids += [f"stroke.{spoils}" for spoils in practice.Spoils]
    ids += [f"room.{relation}" for relation in Relation]
    ids += [f"light.{lamp}" for lamp in light.Lamp]
    ids += [f"light.risk.{risk}" for risk in light.Risk]
    ids += [f"stages.{course}" for course in stages.Course]
    ids += [f"wall.by.{by}" for by in sign_off.By]
    ids += [f"state.{state}" for state in log.State]
    ids += [f"watch.{ahead}" for ahead in series.Ahead]
    ids += [f"photos.is_{use}" for use in ("mood", "surroundings", "watched")]
    assert set(ids) <= set(known_ids())


def test_every_word_of_the_steps_lists_has_its_words():
    from jartide.plan import drying, progress, rule_table, site, technique, units
    from jartide.plan.technique import techniques

    ids = [f"steps.state.{state}" for state in progress.State]
    ids += [f"steps.header.{state}" for state in ("look", "running", "drying")]
    ids += [f"grade.{grade}" for grade in rule_table.Grade]
    ids += [f"detail.grade_{grade}" for grade in rule_table.Grade]
    ids += [f"{name}.{word}" for name, words in (
        ("shape", site.Shape), ("place", site.Where), ("wear", site.Wear),
        ("facing", site.Facing), ("moving", drying.Moving), ("amounts", units.Units),
        ("area", units.Units),
    ) for word in words]  # fmt: skip
    ids += [f"weekday.{day}" for day in range(7)] + [f"weekday.name.{day}" for day in range(7)]
    ids += [f"month.{month}" for month in range(1, 13)]
    ids += [f"binder.{binder}" for binder in technique.BINDERS if binder]
    ids += [f"steps.mend.{way}" for way in rule_table.WAYS]
    ids += [f"answer.{answer}" for answer in ("open", "yes", "no")]
    ids += [f"plan.wear.{wear}" for wear in (*site.Wear, "outside")]
    ids += [f"undo.test.{outcome}" for outcome in ("passed", "failed")]
    ids += [f"undo.step.{what}" for what in ("moved", "repeated", "removed")]
    kinds = {one.product for one in techniques().values()} - {technique.Product.NONE}
    ids += [f"ware.{product}" for product in kinds]
    named = ("primer", "clear", "cleaner")
    ids += [f"ware.{one.id}" for one in techniques().values() if one.product in named]
    for one in techniques().values():
        for change in one.changes:
            path, _, way = change.partition(" ")
            ids += [f"change.{path}"] + ([f"change.way.{way}"] if way else [])
    assert sorted(set(ids) - set(known_ids())) == []


def patterns(language):
    """Every message's words by its id; plural forms by id and number."""
    from jartide.wording import _catalogue

    return {key: words for key, words in _catalogue(language)._catalog.items() if key}


def fields(pattern):
    return sorted({field for _, field, _, _ in string.Formatter().parse(pattern) if field})


SAID = {"text", "reason", "name", "serves", "how", "tool", "ready", "faults", "back"}
SAID |= {"photo", "why", "again"}


def table_texts():
    """The sentences of the shipped tables, which are their own message ids in English."""
    found = set()

    def walk(value, key):
        if isinstance(value, dict):
            for below, one in value.items():
                walk(one, below)
        elif isinstance(value, list):
            for one in value:
                walk(one, key)
        elif key in SAID and isinstance(value, str) and value:
            found.add(value)

    for file in files("jartide").joinpath("data/plan").rglob("*.toml"):
        walk(tomllib.loads(file.read_text(encoding="utf-8")), "")
    return found


@pytest.mark.parametrize("language", languages()[1:])
def test_another_language_says_everything_with_the_same_parameters(language):
    english, other = patterns("en"), patterns(language)
    said_in_english_on_purpose = {key for key in english if str(key).startswith("cli.")} - {
        "cli.shown"
    }
    assert english.keys() - other.keys() == said_in_english_on_purpose
    texts = table_texts()
    assert len(texts) > 400
    assert not texts - other.keys()
    for text in texts:
        assert fields(other[text]) == fields(text), text
    for key, words in english.items():
        if key in other:
            assert fields(other[key]) == fields(words), key
    same = [key for key, words in english.items() if other.get(key) == words]
    assert len(same) < 0.04 * len(english)


@pytest.mark.parametrize("language", languages()[1:])
def test_a_language_chosen_speaks_and_english_stands_behind_it(language):
    choose_language(language)
    try:
        assert tr("jobs.boards", count=3) != "3 boards"
        assert tr("cli.commands") == "commands"
        assert say(Message("jobs.boards", count=3), "en") == "3 boards"
        assert str(PhotoError("error.photo.empty", name="a.jpg")).endswith(".")
    finally:
        choose_language("en")


def test_a_language_there_is_not_changes_nothing():
    with pytest.raises(FileNotFoundError):
        choose_language("xx")
    assert chosen_language() == "en"
    assert tr("jobs.boards", count=1) == "1 board"
