"""The help has a text for every screen and every number, and the docs made of it are current."""

from __future__ import annotations

from dataclasses import fields
from importlib.resources import files
from pathlib import Path

import make_guide
import pytest

from accuracy.kept import PAGE, page, read_kept
from jartide.boards.compare import compare
from jartide.help_texts import help_sections, section_of
from jartide.job.words.number_rows import number_groups
from jartide.wording import languages

ROOT = Path(__file__).parents[1]

SCREENS = ("jobs", "photos", "reading", "jars", "steps", "boards", "sheet", "settings", "learning",
           "paints", "colours")  # fmt: skip


@pytest.mark.parametrize("language", languages())
@pytest.mark.parametrize("screen", SCREENS)
def test_every_screen_is_explained(screen, language):
    assert len(section_of(screen, language).text) > 100


@pytest.mark.parametrize("language", languages())
def test_every_number_that_is_shown_is_explained(marble_reading, language):
    shown = [row.path for group in number_groups(marble_reading) for row in group.rows]
    assert len(shown) > 12
    for path in shown:
        assert section_of(path, language) is not None, path


def test_every_measure_there_is_is_explained():
    from jartide.reading.pattern import records as pattern

    kinds = {
        "lines": pattern.Lines, "patches": pattern.Patches, "cells": pattern.Cells,
        "weave": pattern.Weave, "grain": pattern.Grain, "specks": pattern.Specks,
    }  # fmt: skip
    unexplained = [
        f"{name}.{field.name}"
        for name, kind in kinds.items()
        for field in fields(kind)
        if "Measured" in str(field.type) and section_of(f"pattern.{name}.{field.name}") is None
    ]
    assert unexplained == []


def test_what_a_board_differs_in_is_explained(marble_reading, wide_reading):
    for difference in compare(marble_reading, wide_reading).differences:
        assert section_of(difference.quantity) is not None, difference.quantity


def test_other_languages_have_the_same_sections():
    english = [(one.keys, one.picture) for one in help_sections("en")]
    for language in languages():
        assert [(one.keys, one.picture) for one in help_sections(language)] == english


def test_a_language_without_help_is_answered_in_english():
    assert help_sections("xx") == help_sections("en")
    assert section_of("no such thing") is None


@pytest.mark.parametrize("language", languages())
def test_the_guide_is_made_of_these_texts(language):
    written = (ROOT / "docs" / make_guide.file_name(language)).read_text(encoding="utf-8")
    assert written == make_guide.guide(language), "make guide writes it anew"


def test_the_figures_are_those_that_were_kept():
    kept = read_kept()
    assert PAGE.read_text(encoding="utf-8") == page(kept)
    assert all(one.day and one.part for one in kept.values())


def test_every_number_says_what_it_is_how_it_is_measured_and_how_far_to_trust_it():
    asked = ("*What it is.*", "*How it is measured.*", "*How far to trust it.*")
    numbers = [one for one in help_sections("en") if one.topic == "The numbers"]
    assert len(numbers) > 15
    for section in numbers:
        if section.keys[0] not in ("interval", "closeness"):
            assert all(words in section.text for words in asked), section.title


def test_every_picture_that_is_named_ships():
    folder = files("jartide").joinpath("data/help/pictures")
    named = {name for section in help_sections() for name in section.pictures}
    assert {one.name.removesuffix(".jpg") for one in folder.iterdir()} == named
