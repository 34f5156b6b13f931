"""One word for one thing: docs/words.md says which, and no message, table or help says another."""

from __future__ import annotations

import re
import tomllib
from importlib.resources import files
from pathlib import Path

import pytest
from babel.messages.pofile import read_po

from jartide.help_texts import help_sections

PAGE = Path(__file__).parents[1] / "docs/words.md"
DATA = files("jartide") / "data"
HEADINGS = {"en": "## English", "de": "## Deutsch"}


def shunned(language: str) -> list[str]:
    """The phrases that the page says are not used."""
    part = PAGE.read_text("utf-8").split(HEADINGS[language])[1].split("\n## ")[0]
    rows = [line.strip("| ").split(" | ") for line in part.splitlines() if line.startswith("| ")]
    return [phrase for row in rows[1:] for phrase in row[2].split(" / ")]


def strings(value: object) -> list[str]:
    if isinstance(value, str):
        return [value]
    if isinstance(value, dict):
        return [text for inner in value.values() for text in strings(inner)]
    if isinstance(value, list):
        return [text for inner in value for text in strings(inner)]
    return []


def texts(language: str) -> list[tuple[str, str]]:
    """(where, text) of everything the program says in a language."""
    po = DATA / f"locale/{language}/LC_MESSAGES/jartide.po"
    with po.open("rb") as file:
        catalogue = read_po(file)
    found = []
    for message in catalogue:
        ids = message.id if isinstance(message.id, tuple) else (message.id,)
        says = message.string if isinstance(message.string, tuple) else (message.string,)
        found += [(str(ids[0]), text) for text in says if ids[0] and text]
    found += [(one.title, one.text) for one in help_sections(language)]
    if language == "en":
        for path in sorted(Path(str(DATA / "plan")).rglob("*.toml")):
            table = tomllib.loads(path.read_text("utf-8"))
            # What has a space in it is read by people; ids have none.
            found += [
                (path.name, text) for text in strings(table) if " " in text and "=" not in text
            ]
    return found


def as_said(text: str, phrase: str) -> str:
    """A text without the names of what is filled in, which nobody reads."""
    return text if "{" in phrase else re.sub(r"\{\w+\}", "", text)


@pytest.mark.parametrize("language", HEADINGS)
def test_no_other_word_is_used(language):
    everything = texts(language)
    assert len(everything) > 1500
    wrong = [
        f"{where}: {text}"
        for phrase in shunned(language)
        for where, text in everything
        if re.search(rf"(?<!\w){re.escape(phrase)}(?!\w)", as_said(text, phrase), re.IGNORECASE)
    ]
    assert wrong == []


def test_the_page_is_read_as_it_is_written():
    assert {"foretold", "carrier", "bloom", "hard laps", "{layer}, cover", "damp, %"} <= set(
        shunned("en")
    )
    assert "Ausblühung" in shunned("de")
