"""Command lines and batch lines nobody meant: an answer, or one sentence and exit 2."""

from __future__ import annotations

import argparse
import contextlib
import io
import json
import os
import shutil
from functools import partial
from importlib.resources import files
from pathlib import Path
from typing import Any

import numpy as np

from campaigns.attempt import fault_of
from campaigns.campaign import Campaign
from campaigns.made import a_photo, fill
from campaigns.mutations import VALUES
from jartide.cli import main
from jartide.cli.parser import make_parser
from jartide.store.workspace import Workspace

_WORDS = (
    "", "-1", "0", "1", "3", "1e-300", "1e300", "nan", "inf", "-inf", "1e9", "1000000", "99999",
    "x", "10,10", "1,2,3", "50,3,9", "10,10,20,20", "0,0,60,0,60,40,0,40", "400x300", "0x0",
    "1e300x1", "\0", "\u202e", "9999-12-31", "0001-01-01", "2026-05-04", "marble", "auto", "a=1",
    "White=3", "White=-1", "{}", "[" * 2000, "é", "x" * 3000, "satin", "wet", "oak", "--", "@a",
)  # fmt: skip


_WHOLE = ("-1", "0", "1", "2", "3", "12", "1000000", "1000000000", str(2**63), "9" * 40)
_NUMBERS = ("nan", "inf", "-inf", "1e300", "1e-300", "-1", "0", "0.5", "3", "1e9", "20")
# What makes a command work at all, most of the time.
_NEEDED = {
    "read": ["0.jpg", "--mm-per-px", "0.5"],
    "prepare": ["0.jpg", "--mm-per-px", "0.5"],
    "compare": ["0.jpg", "1.jpg", "--mm-per-px-target", "0.5", "--mm-per-px-board", "0.5"],
    "plan": ["0.jpg", "--mm-per-px", "0.5", "--piece", "2400x1100"],
    "mix": ["--shelf", "shelf.csv", "--target", "52,3,9"],
    "glaze": ["--shelf", "shelf.csv", "--target", "42,3,9", "--base", "70,1,5"],
    "card": ["--out", "card.pdf"],
    "check": ["w"],
}
_IN_BATCH = {
    "read": {"photo": "0.jpg", "mm_per_px": 0.5},
    "prepare": {"photo": "0.jpg", "mm_per_px": 0.5},
    "compare": {"target": "0.jpg", "board": "1.jpg", "mm_per_px_target": 0.5},
    "plan": {"photo": "0.jpg", "mm_per_px": 0.5, "piece": "2400x1100"},
    "mix": {"shelf": "shelf.csv", "target": [52, 3, 9]},
    "glaze": {"shelf": "shelf.csv", "target": [42, 3, 9], "base": [70, 1, 5]},
}

_Options = dict[str, dict[str, argparse.Action]]


def _seeds(place: Path) -> tuple[Path, _Options]:
    for number in range(2):
        (place / f"{number}.jpg").write_bytes(a_photo(number))
    shelf = files("jartide").joinpath("data/demo/shelf.csv").read_bytes()
    (place / "shelf.csv").write_bytes(shelf)
    workspace = Workspace.open(place / "w")
    fill(workspace)
    workspace.close()
    choices: Any = next(a.choices for a in make_parser()._actions if a.choices)
    return place, {
        name: {
            action.option_strings[-1]: action
            for action in own._actions
            if action.option_strings and action.option_strings[-1] not in ("--help", "--batch")
        }
        for name, own in choices.items()
        if name in _NEEDED
    }


def _attack(seeds: tuple[Path, _Options], own: Path, rng: np.random.Generator) -> str | None:
    place, commands = seeds
    command = _one(list(_NEEDED), rng)
    for file in ("0.jpg", "1.jpg", "shelf.csv"):
        (own / file).write_bytes((place / file).read_bytes())
    shutil.copytree(place / "w", own / "w")
    if command in _IN_BATCH and rng.random() < 0.35:
        path = own / "lines.jsonl"
        lines = _lines(commands[command], _IN_BATCH[command], rng)
        path.write_text(lines, encoding="utf-8", errors="surrogatepass")
        return fault_of(partial(_answered, [command, "--batch", str(path)], own))
    given = [command, *_NEEDED[command]]
    if rng.random() < 0.15:
        given[int(rng.integers(1, len(given)))] = _one(_WORDS, rng)
    for _ in range(int(rng.integers(0, 4))):
        option = _one(list(commands[command]), rng)
        given.append(option)
        if commands[command][option].nargs != 0:
            given.append(_value(commands[command][option], rng))
    return fault_of(partial(_answered, given, own))


def _one(values: Any, rng: np.random.Generator) -> Any:
    return values[int(rng.integers(0, len(values)))]


def _value(action: argparse.Action, rng: np.random.Generator) -> str:
    """A value for an option: mostly of its kind, and mostly out of all proportion."""
    kinds = {int: _WHOLE, float: _NUMBERS}
    usual = kinds.get(action.type, _WORDS)  # type: ignore[call-overload]
    return _one(usual if rng.random() < 0.9 else _WORDS, rng)


def _lines(
    options: dict[str, argparse.Action], needed: dict[str, Any], rng: np.random.Generator
) -> str:
    """Lines of a batch, each with a few of its values out of proportion or of another kind."""
    lines = []
    for _ in range(3):
        line = dict(needed)
        for option in rng.choice(list(options), size=2, replace=False):
            key, action = str(option)[2:].replace("-", "_"), options[str(option)]
            if key == "json":
                continue
            told: Any = _one(VALUES, rng)
            if rng.random() < 0.7 and action.nargs != 0:
                told = _value(action, rng)
                with contextlib.suppress(ValueError):
                    told = told if action.type is None else float(told)
            line[key] = told
        lines.append("[" * 50_000 if rng.random() < 0.05 else json.dumps(line))
    return "\n".join(lines) + "\n"


def _answered(given: list[str], own: Path) -> None:
    os.chdir(own)
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            status = main(given)
        except SystemExit as error:
            status = error.code
    said = err.getvalue().strip()
    if status not in (0, 1, 2):
        raise AssertionError(f"exit {status} of {given}")
    if status == 2 and (not said or "\n" in said.replace("\\n", "")):
        raise AssertionError(f"not one sentence of {given}: {said!r}")
    if "Traceback" in said:
        raise AssertionError(f"traceback of {given}: {said}")
    if "Something went wrong" in said + out.getvalue():
        raise AssertionError(f"nobody foresaw {given}: {said}{out.getvalue()[-600:]}")
    if "--batch" in given and status == 0:
        lines = Path(given[-1]).read_text("utf-8", "replace").splitlines()
        answers = out.getvalue().splitlines()
        if len(answers) != sum(bool(line.strip()) for line in lines):
            raise AssertionError(f"{len(answers)} answers to {given}")


CAMPAIGN = Campaign(
    name="commands",
    promise="any command line is answered, or ends with one sentence and exit 2",
    made=_seeds,
    attack=_attack,
    slice_count=30,
)
