"""Write the painter's guide from the texts the help shows.

python tools/make_guide.py docs
"""

from __future__ import annotations

import sys
from pathlib import Path

from jartide.help_texts import Section, help_sections
from jartide.wording import Message, languages, say

PICTURES = Path(__file__).parents[1] / "docs" / "screenshots"
# The steps of the guided first job, as the window takes them.
FIRST_JOB = ("photo", "measure", "reading", "paints", "mix", "plan", "board", "judge", "sheet")
_HEAD = {
    "en": (
        "# The painter's guide",
        "From a photo of the real thing to a finish that can't be told from it. The same texts are "
        "one key away on every screen: **F1**. The pictures show the demo job, the Hotel Vessary, "
        "which is made up (`make demo` opens it).",
        "## Your first job",
        "**Show me the way**, in an empty workspace or in the help, takes a first job with you on "
        "the real screens; it can be left and taken up again. This is its way:",
    ),
    "de": (
        "# Die Anleitung",
        "Vom Foto des Echten zu einer Imitation, die nicht davon zu unterscheiden ist. Dieselben "
        "Texte sind auf jeder Ansicht eine Taste weit weg: **F1**. Die Bilder zeigen den "
        "ausgedachten Beispielauftrag, das Hotel Vessary (`make demo` öffnet ihn).",
        "## Der erste Auftrag",
        "**Zeig mir den Weg**, in einem leeren Arbeitsordner oder in der Hilfe, geht einen ersten "
        "Auftrag auf den echten Ansichten mit; er lässt sich verlassen und wieder aufnehmen. So:",
    ),
}


def file_name(language: str) -> str:
    """Return the guide's name in docs/."""
    return "guide.md" if language == "en" else f"guide.{language}.md"


def guide(language: str) -> str:
    """Return the whole guide as Markdown."""
    title, about, first, way = _HEAD[language]
    lines = [title, "", about, "", first, "", way, ""]
    lines += [
        f"{number}. {say(Message(f'guide.{step}'), language)}"
        for number, step in enumerate(FIRST_JOB, 1)
    ]
    topic = ""
    for section in help_sections(language):
        if section.topic != topic:
            topic = section.topic
            lines += ["", f"## {topic}"]
        lines += ["", f"### {section.title}", "", *_pictures(section), section.text]
    return "\n".join(lines) + "\n"


def _pictures(section: Section) -> list[str]:
    found = []
    for name in section.picture.split():
        assert (PICTURES / f"{name}.png").exists(), name
        found += [f"![{section.title}](screenshots/{name}.png)", ""]
    return found


def main(folder: Path) -> None:
    for language in languages():
        (folder / file_name(language)).write_text(guide(language), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
