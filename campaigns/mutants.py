"""Do the tests notice? One line of the program is changed at a time, by chance.

    python -m campaigns.mutants [--seed N ...] [--count 80] [--minutes M]

Each mutant is a change of one token in one line of reading, paint, boards, plan or photo: a number,
a comparison, an operator, a constant, a condition. The tests of its package that reach the line run
against it, the quickest first, until one fails. Mutants that change nothing anybody could see are
listed in `equivalent.toml`, with the reason; of the rest at least 85 % are to be caught.
"""

from __future__ import annotations

import argparse
import ast
import shutil
import subprocess
import sys
import time
import tomllib
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from campaigns.reached import LONGEST_S, Reached, environment, reached

ROOT = Path(__file__).resolve().parents[1]
PACKAGES = ("reading", "paint", "boards", "plan", "photo")
GOAL = 0.85
# Far longer than its tests take: it never ends.
_MOST_S = 5 * LONGEST_S
_AT_ONCE = 2
_COMPARED = {
    ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "==",
    ast.Is: "is not", ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in",
}  # fmt: skip
_COMPUTED = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*", ast.Pow: "*"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Mutant:
    """One changed line: where, what stood there, what stands there now."""

    file: str
    line: int
    before: str
    after: str

    @property
    def key(self) -> str:
        """What it is known by, whatever moves above it."""
        return f"{self.file}: {self.before.strip()} -> {self.after.strip()}"


def mutants_of(path: Path) -> list[Mutant]:
    """Return every mutant of a file that this knows how to make."""
    source = path.read_text("utf-8")
    lines = source.split("\n")
    tree = ast.parse(source)
    parts = {id(part) for node in ast.walk(tree) for part in _untouched(node)}
    found = []
    for node in ast.walk(tree):
        if id(node) in parts or getattr(node, "lineno", None) != getattr(node, "end_lineno", 0):
            continue
        for start, end, new in _changes(node, lines):
            line = lines[node.lineno - 1]
            after = line[:start] + new + line[end:]
            if after != line:
                name = path.relative_to(ROOT).as_posix()
                found.append(Mutant(file=name, line=node.lineno, before=line, after=after))
    return found


def _untouched(node: ast.AST) -> list[ast.AST]:
    """Words, annotations and imports: no test is to notice those."""
    kept: list[ast.AST] = []
    if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
        kept += list(ast.walk(node))
    for name in ("annotation", "returns"):
        if getattr(node, name, None) is not None:
            kept += list(ast.walk(getattr(node, name)))
    if isinstance(node, ast.FunctionDef | ast.ClassDef):
        kept += [part for one in node.decorator_list for part in ast.walk(one)]
    return kept


def _changes(node: ast.AST, lines: list[str]) -> list[tuple[int, int, str]]:
    """(start, end, new) within the node's line."""
    found: list[tuple[int, int, str]] = []

    def between(left: ast.expr, right: ast.expr, new: str) -> None:
        if left.end_lineno == right.lineno and left.end_col_offset is not None:
            found.append((left.end_col_offset, right.col_offset, f" {new} "))

    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        new = _COMPARED.get(type(node.ops[0]))
        if new is not None:
            between(node.left, node.comparators[0], new)
    elif isinstance(node, ast.BinOp) and type(node.op) in _COMPUTED:
        if not isinstance(node.left, ast.Constant) or not isinstance(node.left.value, str):
            between(node.left, node.right, _COMPUTED[type(node.op)])
    elif isinstance(node, ast.BoolOp) and len(node.values) == 2:
        between(*node.values, "or" if isinstance(node.op, ast.And) else "and")
    elif isinstance(node, ast.Constant) and not isinstance(node.value, str | bytes):
        start, end = node.col_offset, node.end_col_offset or node.col_offset
        if isinstance(node.value, bool):
            found.append((start, end, str(not node.value)))
        elif isinstance(node.value, int):
            found.append((start, end, str(node.value + 1)))
        elif isinstance(node.value, float):
            found.append((start, end, repr(node.value * 1.5 if node.value else 0.5)))
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        found.append((node.col_offset, node.operand.col_offset, ""))
    elif isinstance(node, ast.Return) and node.value is not None:
        value = node.value
        if value.lineno == value.end_lineno and not isinstance(value, ast.Constant):
            found.append((value.col_offset, value.end_col_offset or value.col_offset, "None"))
    # Columns are counted in bytes: a line with other signs is left alone.
    line = lines[node.lineno - 1] if found else ""
    return found if line.isascii() else []


def chosen(seed: int, count: int) -> list[Mutant]:
    """Return mutants by chance, as many from each package as from the others."""
    rng = np.random.default_rng(seed)
    known = set(equivalent())
    found: list[Mutant] = []
    for number, package in enumerate(PACKAGES):
        own = [
            mutant
            for path in sorted((ROOT / "src/jartide" / package).rglob("*.py"))
            for mutant in mutants_of(path)
            if mutant.key not in known
        ]
        share = count // len(PACKAGES) + (number < count % len(PACKAGES))
        found += [own[i] for i in rng.choice(len(own), min(share, len(own)), replace=False)]
    return found


def equivalent() -> dict[str, str]:
    """Return the mutants that change nothing anybody could see, each with the reason."""
    path = Path(__file__).with_name("equivalent.toml")
    return tomllib.loads(path.read_text("utf-8"))["equivalent"] if path.exists() else {}


def is_caught(mutant: Mutant, place: Path, tests: list[str]) -> bool:
    """Whether one of the tests fails, or never ends, on a mutant in a copy of the project."""
    if not tests:
        return False
    path = place / mutant.file
    whole = path.read_text("utf-8")
    lines = whole.split("\n")
    lines[mutant.line - 1] = mutant.after
    path.write_text("\n".join(lines), "utf-8")
    try:
        ended = subprocess.run(
            [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests],
            cwd=place, env=environment(place), timeout=_MOST_S,
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(whole, "utf-8")
    return ended.returncode != 0


def copied(place: Path) -> Path:
    """Copy what the tests need to a place of its own, and return it."""
    for name in ("src", "tests", "accuracy", "campaigns", "tools", "docs", "pyproject.toml"):
        one = ROOT / name
        if one.is_dir():
            shutil.copytree(one, place / name, ignore=shutil.ignore_patterns("__pycache__"))
        else:
            place.mkdir(parents=True, exist_ok=True)
            shutil.copy(one, place / name)
    return place


def tried(
    mutants: list[Mutant], places: list[Path], tests: Reached, ends: float
) -> list[tuple[Mutant, bool]]:
    """Try mutants, one in each place at a time, until a time; (mutant, whether it was caught)."""
    free = list(places)

    def one(mutant: Mutant) -> tuple[Mutant, bool] | None:
        if time.monotonic() > ends:
            return None
        place = free.pop()
        package = Path(mutant.file).relative_to("src/jartide").parts[0]
        found = is_caught(
            mutant, place, tests.tests_of(mutant.file, mutant.line, f"tests/{package}/")
        )
        free.append(place)
        print(
            f"{'caught  ' if found else 'SURVIVED'} {mutant.file}:{mutant.line}\n"
            f"    {mutant.before.strip()}\n    {mutant.after.strip()}",
            flush=True,
        )
        return mutant, found

    with ThreadPoolExecutor(len(places)) as pool:
        return [told for told in pool.map(one, mutants) if told is not None]


def main(given: list[str]) -> int:
    """Try mutants; 1 when too few were caught."""
    parser = argparse.ArgumentParser(prog="python -m campaigns.mutants", description=__doc__)
    parser.add_argument("--seed", type=int, nargs="+", default=[int(time.time())])
    parser.add_argument("--count", type=int, default=80)
    parser.add_argument("--minutes", type=float, default=1e9)
    options = parser.parse_args(given)
    ends = time.monotonic() + 60 * options.minutes
    missed = False
    with TemporaryDirectory(prefix="jar-tide-mutants-") as folder:
        places = [copied(Path(folder) / str(number)) for number in range(_AT_ONCE)]
        tests = reached(places[0], [f"tests/{package}" for package in PACKAGES])
        for seed in options.seed:
            found = tried(chosen(seed, options.count), places, tests, ends)
            caught = sum(is_caught for _, is_caught in found)
            share = caught / max(len(found), 1)
            missed |= share < GOAL
            print(f"seed {seed}: {caught} of {len(found)} caught, {100 * share:.0f} % (goal 85)")
    return int(missed)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
