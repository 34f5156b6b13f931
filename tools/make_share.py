"""Write the manual page and the shell completions, made from the command line's own parser.

python tools/make_share.py src/jartide/data/share
"""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

import shtab
from argparse_manpage.manpage import Manpage

from jartide import __version__
from jartide.cli import make_parser

MADE = ("jar-tide.1", "jar-tide.bash", "jar-tide.zsh")
# The day of the version, not of the making: the same parser gives the same page.
DATE = "2026-11-26"


def made(name: str) -> str:
    """Return the text of one of MADE."""
    if name.endswith(".1"):
        return _manual_page()
    told = make_parser()
    _mark_files(told)
    return _tidy(_without_head(shtab.complete(told, shell=name.rpartition(".")[2])))


def _manual_page() -> str:
    page = Manpage(
        make_parser(),
        format="pretty",
        _data={
            "project_name": "Jar Tide",
            "version": __version__,
            "date": DATE,
            "manual_title": "Jar Tide",
            "description": "read reference photos and bring test boards closer to them",
        },
    )
    return _tidy(str(page))


def _without_head(script: str) -> str:
    """A completion without its maker's advice on where to put it: it is installed already."""
    lines = script.splitlines()
    first = next(n for n, line in enumerate(lines) if line and not line.startswith("#"))
    kept = [line for line in lines[:first] if line.startswith("#compdef")]
    return "\n".join([*kept, "# Completion for jar-tide.", *lines[first:]])


def _tidy(text: str) -> str:
    return "\n".join(line.rstrip() for line in text.splitlines()).rstrip() + "\n"


def _mark_files(told: argparse.ArgumentParser) -> None:
    """Say which values are files, so that a shell offers them."""
    for action in told._actions:
        if isinstance(action, argparse._SubParsersAction):
            for below in action.choices.values():
                _mark_files(below)
        elif action.dest == "workspace":
            action.complete = shtab.DIRECTORY  # type: ignore[attr-defined]
        elif action.metavar in ("PHOTO", "TARGET", "BOARD") or "." in str(action.metavar or ""):
            action.complete = shtab.FILE  # type: ignore[attr-defined]


def main(folder: Path) -> None:
    for name in MADE:
        (folder / name).write_text(made(name), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
