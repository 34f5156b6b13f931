"""Boards mended as advised, on the dry board: does the advice bring them nearer?

    python -m accuracy.mending [--keep-in DIR]

Boards painted afresh with one large change each (accuracy/fresh.py) are compared with their
target, all mends for the dry board are carried out on them (accuracy/repainted.py), and they are
photographed in another light and read again.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context
from pathlib import Path

import numpy as np

from accuracy.fresh import Task, draw, read_piece
from accuracy.layers import one_thread
from accuracy.pairs import read_surface
from accuracy.repainted import mended
from accuracy.rows import Row
from jartide.boards.compare import compare
from jartide.boards.mends import mending
from jartide.studio.families import SURFACES

KINDS = ("colour", "share", "contrast", "width", "number")
SEED = 41


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """How a board stood to its target before and after it was mended, and what was told first."""

    family: str
    kind: str
    quantity: str
    before: float
    after: float


def mend_one(task: Task) -> Told | None:
    """Mend one board; None where nothing is sure, or nothing can be mended on it."""
    read = read_piece(task)
    target_task = replace(task, patch=0, kind="")
    own = read_piece(target_task)
    if read is None or own is None:
        return None
    target, board = own[0], read[0]
    before = compare(target, board, made="painted")
    mends = mending(before, target).mends
    if before.distance < 1 or not mends:
        return None
    surface = draw(task.family, task.seed, False, task.patch, task.kind, task.half)
    clean = draw(task.family, task.seed, False, task.patch, "", False)
    assert surface is not None and clean is not None
    again = mended(surface, clean, target, before, mends, task.seed)
    if again is None:
        return None
    after = compare(target, read_surface(again, task.seed, 4, tilted=True), made="painted")
    return Told(
        family=task.family,
        kind=task.kind,
        quantity=str(mends[0].quantity),
        before=before.distance,
        after=after.distance,
    )


def mend_all(kept_in: str = "") -> list[Told]:
    """Return all boards that were mended."""
    tasks = [
        Task(family=family, second=False, seed=SEED, patch=1, kind=kind, kept_in=kept_in)
        for family in SURFACES
        for kind in KINDS
    ]
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        return [told for told in pool.map(mend_one, tasks) if told is not None]


def rows_of(told: list[Told]) -> Iterator[Row]:
    """Yield how often the distance is halved, and how often raised."""
    halved = [t.after <= t.before / 2 for t in told]
    risen = [t.after > t.before for t in told]
    yield Row(
        name=f"mends done on the dry board: distance not halved, % of {len(told)}",
        error=100 * (1 - float(np.mean(halved))),
        goal=15,
    )
    yield Row(
        name="mends done on the dry board: distance risen, %",
        error=100 * float(np.mean(risen)),
        goal=3,
    )


def mending_rows(quick: bool) -> Iterator[Row]:
    """Yield how often the advised mends bring a board nearer."""
    if not quick:
        yield from rows_of(mend_all())


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="python -m accuracy.mending", description=__doc__)
    parser.add_argument("--keep-in", default="")
    given = parser.parse_args(arguments)
    if given.keep_in:
        Path(given.keep_in).mkdir(parents=True, exist_ok=True)
    told = mend_all(given.keep_in)
    for t in told:
        print(f"{t.family:10} {t.kind:9} {t.quantity:34} {t.before:6.2f} {t.after:6.2f}")
    rows = list(rows_of(told))
    for row in rows:
        print(f"{row.name:66} {row.error:8.2f} {row.goal:8.2f}")
    return int(any(row.error > row.goal for row in rows))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
