"""Which tests reach which line, and how long each takes: measured once, for many mutants."""

from __future__ import annotations

import os
import subprocess
import sys
import xml.etree.ElementTree as Xml
from collections import defaultdict
from dataclasses import dataclass
from itertools import accumulate
from pathlib import Path

from coverage import CoverageData

_WORKERS = "2"
# Seconds of tests run against one mutant.
LONGEST_S = 150.0


@dataclass(frozen=True, slots=True)
class Reached:
    """Tests by line of a file, and the seconds each takes."""

    by_line: dict[str, dict[int, frozenset[str]]]
    seconds: dict[str, float]

    def tests_of(self, file: str, line: int, folder: str) -> list[str]:
        """Return the tests under a folder that reach a line, the quickest first.

        A line that runs as its module is imported (a constant) is seen by whatever runs any line
        of the file. As many as take `LONGEST_S` together: what only a slower one would notice
        counts as not noticed.
        """
        lines = self.by_line.get(file, {})
        tests = lines.get(line, frozenset()) or frozenset().union(*lines.values())
        own = [test for test in tests if test.startswith(folder)]
        own.sort(key=lambda test: (self.seconds.get(test, 0.0), test))
        spent = accumulate(self.seconds.get(test, 0.0) for test in own)
        return [test for test, upto in zip(own, spent, strict=True) if upto <= LONGEST_S]


def environment(place: Path) -> dict[str, str]:
    """What tests of the copy in a place run under."""
    return {
        **os.environ,
        "PYTHONPATH": f"{place / 'src'}:{place}",
        "PYTHONDONTWRITEBYTECODE": "1",
        "QT_QPA_PLATFORM": "offscreen",
    }


def reached(place: Path, folders: list[str]) -> Reached:
    """Run the tests in folders of a copy once, and tell which lines each reaches.

    Raises:
        RuntimeError: when the tests fail as they are: nothing could be learnt from mutants then.
    """
    told = place / "told.xml"
    ended = subprocess.run(
        [
            sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider",
            "--numprocesses", _WORKERS, "--dist", "worksteal", "--cov", str(place / "src/jartide"),
            "--cov-context", "test", "--cov-report", "", f"--junitxml={told}", *folders,
        ],
        cwd=place, env=environment(place), stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    if ended.returncode != 0:
        raise RuntimeError(f"The tests of {', '.join(folders)} fail before anything is changed.")
    data = CoverageData(str(place / ".coverage"))
    data.read()
    by_line: dict[str, dict[int, frozenset[str]]] = {}
    for path in data.measured_files():
        lines = data.contexts_by_lineno(path)
        by_line[Path(path).relative_to(place).as_posix()] = {
            line: frozenset(context.rsplit("|", 1)[0] for context in contexts if context)
            for line, contexts in lines.items()
        }
    return Reached(by_line, _seconds(told))


def _seconds(told: Path) -> dict[str, float]:
    """Return seconds by the name pytest takes a test under."""
    found: dict[str, float] = defaultdict(float)
    for case in Xml.parse(told).iter("testcase"):
        module = case.get("classname", "").replace(".", "/")
        found[f"{module}.py::{case.get('name')}"] += float(case.get("time", 0.0))
    return dict(found)
