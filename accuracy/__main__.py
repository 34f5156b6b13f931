"""Measure surfaces whose truth is known and print the errors beside their goals.

    python -m accuracy [--quick] [--keep] [--only PART]

`--quick` measures one seed of each surface and compares with the last kept
results, so that a regression is seen; `--keep` writes accuracy/results.json; `--only` measures
one part, such as layers or mixes.
Exit status 1 when an error has grown or a goal is missed; a quick run passes over misses that
are on record, since so few photos jump about their goal.
"""

from __future__ import annotations

import argparse
import sys
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context

from accuracy.kept import Kept, read_kept, today, write_kept
from accuracy.layers import one_thread
from accuracy.parts import LONG, PARTS, quick_rows
from accuracy.rows import Row

# Other processors round differently, and a search may settle a little elsewhere (0.07 of a goal was
# seen on a second machine): growth below a quarter of the last error, or below this share of the
# goal, is none.
_SLACK = 1.25
_SHARE_OF_GOAL = 0.15


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="python -m accuracy", description=__doc__)
    parser.add_argument("--quick", action="store_true")
    parser.add_argument("--keep", action="store_true")
    parser.add_argument("--only", choices=PARTS, metavar="PART")
    given = parser.parse_args(arguments)
    quick: bool = given.quick
    wanted = [name for name in PARTS if given.only in (None, name)]
    if quick and len(wanted) > 1:
        # The longest parts first, two side by side.
        wanted.sort(key=lambda name: name not in LONG)
        with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
            measured = list(zip(wanted, pool.map(quick_rows, wanted), strict=True))
    else:
        measured = [(name, list(PARTS[name](quick))) for name in wanted]
    rows = [row for _, part in measured for row in part]
    kept = read_kept()
    failed = False
    print(f"{'measure':60} {'error':>9} {'goal':>9} {'last kept':>10}")
    for row in rows:
        last = kept[row.name].error if row.name in kept else None
        missed = row.error > row.goal
        grown = last is not None and row.error > max(
            _SLACK * last, last + _SHARE_OF_GOAL * row.goal
        )
        # A miss that is on record already is printed, but only its growth fails a quick run.
        on_record = quick and last is not None and last > row.goal
        failed |= grown or (missed and not on_record)
        note = "MISSED" if missed else "GROWN" if grown else ""
        shown = "" if last is None else f"{last:.3f}"
        print(f"{row.name:60} {row.error:9.3f} {row.goal:9.3f} {shown:>10} {note}")
    if given.keep:
        day = today()
        for name, part in measured:
            for row in part:
                error = round(row.error, 4)
                kept[row.name] = Kept(part=name, error=error, goal=row.goal, day=day, quick=quick)
        write_kept(kept)
    print(Row.summary(rows))
    return int(failed)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
