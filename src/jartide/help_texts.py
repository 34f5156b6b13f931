"""The help: short texts by topic, the same ones that docs/guide.md is built from.

`data/help/<language>/N_topic.md`: "# Topic", then sections "## Title" with a line
"key: words it is found by" and perhaps "picture: names in docs/screenshots"; what the window
shows of them lies reduced in `data/help/pictures`.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """One text of the help, Markdown; `keys` are screens or paths of numbers it explains."""

    topic: str
    title: str
    keys: tuple[str, ...]
    picture: str
    text: str

    @property
    def pictures(self) -> tuple[str, ...]:
        """The names of its pictures."""
        return tuple(self.picture.split())


@lru_cache(maxsize=4)
def help_sections(language: str = "en") -> tuple[Section, ...]:
    """Return all sections in their order; English where a language has none."""
    folder = files("jartide").joinpath(f"data/help/{language}")
    if not folder.is_dir():
        return help_sections("en")
    found: list[Section] = []
    for file in sorted(folder.iterdir(), key=lambda one: one.name):
        if file.name.endswith(".md"):
            found += _sections(file.read_text(encoding="utf-8"))
    return tuple(found)


def _sections(text: str) -> list[Section]:
    head, *parts = text.split("\n## ")
    topic = head.strip().removeprefix("# ").strip()
    return [_section(topic, part) for part in parts]


def _section(topic: str, part: str) -> Section:
    title, _, body = part.partition("\n")
    told = {"key": "", "picture": ""}
    lines = body.split("\n")
    while lines and lines[0].partition(":")[0] in told:
        name, _, value = lines.pop(0).partition(":")
        told[name] = value.strip()
    return Section(
        topic=topic,
        title=title.strip(),
        keys=tuple(told["key"].split()),
        picture=told["picture"],
        text="\n".join(lines).strip(),
    )


def section_of(key: str, language: str = "en") -> Section | None:
    """Return the section that explains a screen or a number, by its path; None without one."""
    plain = re.sub(r"\[\d+\]|\.by_layer\.\w+", "", key)
    plain = plain.removeprefix("pattern.").removesuffix(".median")
    for section in help_sections(language):
        if plain in section.keys:
            return section
    return None
