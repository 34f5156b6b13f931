"""Boards with one fault each: what is said of them, read as a master would.

    python -m accuracy.cases [--keep-in DIR] [NAME ...]

Target and board are drawn 300 mm wide, the board another piece of the same finish, each
photographed at an angle in a light of its own, a grey known. What must be said stands among the
first rows that differ or look different, sentence and mend together; what must never be said
stands nowhere. The readings may be kept, so that the sentences can be read again by themselves.
"""

from __future__ import annotations

import argparse
import hashlib
import pickle
import re
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, fields, replace
from multiprocessing import get_context
from pathlib import Path
from typing import Any

from accuracy.layers import one_thread
from accuracy.pairs import read_surface
from accuracy.rows import Row
from jartide.boards.compare import compare
from jartide.boards.headline import headline
from jartide.boards.result import Comparison, State
from jartide.paint.dry_down import Finish, shifted
from jartide.reading.read import ALGORITHM
from jartide.reading.result import Reading
from jartide.studio.families import SURFACES, draw_family
from jartide.wording import say

SIZE_MM, MM_PER_PX, SEED = 300.0, 0.25, 7
# How many of the first rows are read for what must be said.
_AMONG = 3
# Nobody talks like this to a colleague.
_NEVER = (r"\btake (it )?back\b", r"\badd about\b", r"\d{3,} ?%", r"\bpoints? of\b")

Look = dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """One fault.

    Attributes
    ----------
    target, board : what is changed of the family's usual look
    says : patterns of which each must be found
    never : patterns of which none may be found
    made : how it was made, where the mend depends on it
    """

    name: str
    family: str
    target: Look = field(default_factory=dict)
    board: Look = field(default_factory=dict)
    says: tuple[str, ...] = ()
    never: tuple[str, ...] = ()
    made: str | None = None


def _look(family: str) -> Any:
    return SURFACES[family][1]()


def _hands(family: str, **changes: float) -> Look:
    look = _look(family)
    return {
        name: replace(
            getattr(look, name),
            **{k: getattr(getattr(look, name), k) * v for k, v in changes.items()},
        )
        for name in ("veins", "hairs")
    }


def _sealed(family: str) -> Look:
    look = _look(family)
    values = {f.name: getattr(look, f.name) for f in fields(look)}
    return {
        name: shifted(value, Finish.MATT, Finish.SATIN)
        for name, value in values.items()
        if isinstance(value, tuple) and len(value) == 3
    }


_PALE = {
    "ground": (82.0, 1.0, 7.0),
    "cloud": (75.0, 0.5, 5.0),
    "drift": (68.0, 0.0, 3.0),
    "hair": (56.0, 0.0, 2.0),
    "vein": (46.0, 0.0, 1.0),
}


def cases() -> tuple[Case, ...]:
    """Return all faults."""
    anew = (r"[Mm]ade anew",)
    no_rubbing = (r"\bsand", r"\bwip")
    return (
        Case(
            name="veins 1.6 times wide", family="marble",
            board=_hands("marble", width_mm=1.6),
            says=(r"wide", r"[Cc]ut in", r"finer"), never=(r"new lines over", r"once more"),
        ),
        Case(
            name="dark veins too dark", family="marble",
            target=_PALE, board={**_PALE, "vein": (34.0, 0.0, 1.0), "hair": (44.0, 0.0, 2.0)},
            says=(r"veil", r"dark|strong|stark"), never=(r"once more", r"made stronger"),
        ),
        Case(
            name="veins 10 L* too pale", family="marble",
            board={"vein": (86.0, -8.0, 6.0), "hair": (65.0, -14.0, 6.0)},
            says=(r"transparent|clear", r"veil"), never=(r"once more", r"pale veil over"),
        ),
        Case(
            name="clouds half size", family="marble", board={"cloud_mm": 13.0},
            says=(r"[Kk]nock", r"larger"), never=(),
        ),
        Case(
            name="rust too orange by 26 points", family="rust", board={"orange_share": 0.54},
            says=(r"[Oo]range|[Oo]chre|[Rr]ust", r"go over|[Cc]over", r"half|third|quarter"),
            never=(r"while (it is )?open",),
        ),
        Case(
            name="bright rust missing", family="rust", board={"bright_share": 0.0},
            says=(r"missing", r"lay the pass|[Aa]dd the pass"),
        ),
        Case(
            name="patina 31 points too much, by reaction", family="verdigris", made="reaction",
            target={"fringe_share": 0.45, "bloom_share": 0.24},
            board={"fringe_share": 0.76, "bloom_share": 0.5},
            says=(r"[Rr]ub", r"fine paper", r"mask"), never=(r"go over about",),
        ),
        Case(
            name="patina 31 points too much, painted", family="verdigris", made="painted",
            target={"fringe_share": 0.45, "bloom_share": 0.24},
            board={"fringe_share": 0.76, "bloom_share": 0.5},
            says=(r"go over|over it", r"half|third|quarter|two thirds|all|fifth"), never=(r"mask",),
        ),
        Case(
            name="grain 1.6 times coarse", family="wood", board={"ring_mm": 12.0},
            says=(*anew, r"comb"), never=no_rubbing,
        ),
        Case(
            name="grain too dark", family="wood", board={"late": (44.0, 9.5, 25.0)},
            says=(r"[Rr]ub (it )?down|dry-brush", r"toning glaze|glaze"), never=(r"once more",),
        ),
        Case(
            name="linen too fine", family="linen", board={"warp_per_cm": 5.4, "weft_per_cm": 4.5},
            says=(*anew, r"comb|brush|tool"), never=no_rubbing,
        ),
        Case(
            name="leather cells 5.5 for 9 mm", family="leather",
            target={"cell_mm": 9.0}, board={"cell_mm": 5.5},
            says=(*anew, r"fold|stamp|cell"), never=no_rubbing,
        ),
        Case(
            name="crackle too large", family="crackle", board={"cell_mm": 20.0},
            says=(*anew, r"thin"), never=no_rubbing,
        ),
        Case(
            name="dry-brush too heavy", family="brushed",
            target={"mid_share": 0.23}, board={"mid_share": 0.48},
            says=(r"(three|3|two|2|four|4) light passes",), never=(r"while (it is )?open",),
        ),
        Case(
            name="crossed, one direction missing", family="brushed", board={"light_deg": 80.0},
            says=(r"1\d?°|[89]°", r"lightly"), never=(r"4[0-9]°",),
        ),
        Case(
            name="too many flakes", family="plaster", board={"flake_share": 0.22},
            says=(r"[Pp]are",), never=(r"while (it is )?open",),
        ),
        Case(
            name="too many specks by 4 points", family="stone", board={"speck_share": 0.062},
            says=(r"[Ss]tippl", r"touch"), never=(),
        ),
        Case(
            name="no runs", family="verdigris", board={"runs": 0.15},
            says=(r"upright", r"water leaves|run"), never=(),
        ),
        Case(
            name="ridges not rubbed", family="bronze", board={"ridge_share": 0.03},
            says=(r"[Rr]ub", r"ridge|high|top"), never=(),
        ),
        Case(
            name="lime half", family="wood", board={"pore_cover": 0.07},
            says=(r"[Ll]im|pore",), never=(),
        ),
        Case(
            name="ground too pink", family="stone", board={"ground": (72.0, 7.0, 8.0)},
            says=(r"pink", r"veil|anew"), never=(r"too grey",),
        ),
        Case(
            name="unsealed against sealed", family="marble", target=_sealed("marble"),
            says=(r"sealed", r"corner"), never=(r"one step darker",),
        ),
        Case(name="the same finish afresh", family="marble"),
        Case(name="the same finish afresh", family="rust"),
        Case(name="the same finish afresh", family="wood"),
    )  # fmt: skip


def read_case(case: Case, kept_in: str = "") -> tuple[Reading, Reading]:
    """Draw and read a case's target and board, or take what was kept of them."""
    told = repr((ALGORITHM, case.family, case.target, case.board, SIZE_MM, MM_PER_PX, SEED))
    key = hashlib.sha256(told.encode()).hexdigest()[:20]
    path = Path(kept_in) / f"case-{key}.pickle" if kept_in else None
    if path is not None and path.exists():
        return pickle.loads(path.read_bytes())
    readings = []
    for patch, changes in enumerate((case.target, case.board)):
        surface = draw_family(
            case.family, (SIZE_MM, SIZE_MM), MM_PER_PX, SEED, patch=patch, **changes
        )
        readings.append(read_surface(surface, SEED, patch, tilted=True))
    found = readings[0], readings[1]
    if path is not None:
        path.write_bytes(pickle.dumps(found))
    return found


def compared(case: Case, readings: tuple[Reading, Reading]) -> Comparison:
    """Return the comparison of a case."""
    return compare(*readings, made=case.made)


def faults_of(case: Case, comparison: Comparison) -> list[str]:
    """Return what is wrong with what is said; nothing where a master would say the same."""
    told = (State.DIFFERS, State.LOOKS_DIFFERENT)
    rows = [d for d in comparison.differences if d.state in told]
    sentences = [f"{say(d.words)} {say(d.advice) if d.advice else ''}" for d in rows]
    found = []
    if not case.says:
        if comparison.of_state(State.DIFFERS):
            found.append(f"calls a difference sure: {sentences[0]}")
        return found
    if not comparison.of_state(State.DIFFERS):
        found.append("is sure of nothing")
    first = " ".join(sentences[:_AMONG])
    found += [f"does not say /{one}/" for one in case.says if not re.search(one, first)]
    everything = " ".join([*sentences, say(headline(comparison))])
    found += [f"says /{one}/" for one in (*case.never, *_NEVER) if re.search(one, everything)]
    return found


def _one(task: tuple[int, str]) -> tuple[Reading, Reading]:
    number, kept_in = task
    return read_case(cases()[number], kept_in)


def told_cases(names: list[str], kept_in: str = "") -> Iterator[tuple[Case, Comparison, list[str]]]:
    """Yield each case with its comparison and what is wrong with it; all without names."""
    wanted = [n for n, case in enumerate(cases()) if not names or case.name in names]
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        for number, readings in zip(
            wanted, pool.map(_one, [(n, kept_in) for n in wanted]), strict=True
        ):
            case = cases()[number]
            comparison = compared(case, readings)
            yield case, comparison, faults_of(case, comparison)


def case_rows(quick: bool) -> Iterator[Row]:
    """Yield how many cases are told otherwise than a master would."""
    if quick:
        return
    told = list(told_cases([]))
    wrong = sum(1 for _, _, faults in told if faults)
    yield Row(name=f"cases told otherwise than by the craft, of {len(told)}", error=wrong, goal=0)


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="python -m accuracy.cases", description=__doc__)
    parser.add_argument("--keep-in", default="")
    parser.add_argument("names", nargs="*")
    given = parser.parse_args(arguments)
    if given.keep_in:
        Path(given.keep_in).mkdir(parents=True, exist_ok=True)
    wrong = 0
    for case, comparison, faults in told_cases(given.names, given.keep_in):
        wrong += bool(faults)
        print(f"{'WRONG' if faults else 'right'}  {case.name} ({case.family})")
        for fault in faults:
            print(f"       {fault}")
        for d in comparison.differences[:_AMONG]:
            if d.state in (State.DIFFERS, State.LOOKS_DIFFERENT):
                advice = "" if d.advice is None else f" -> {say(d.advice)}"
                print(f"       {d.quantity} [{d.state.value}] {say(d.words)}{advice}")
    print(f"{wrong} of {len(cases()) if not given.names else 'those'} told otherwise")
    return int(wrong > 0)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
