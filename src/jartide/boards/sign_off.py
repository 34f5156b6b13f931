"""The wall against the board that was signed off: panels, and what makes them drift apart.

Panels are compared with the approved board and with each other. A drift is a quantity that
goes with the section's place, the person or the jar more than chance would have it
(permutation test; Fisher 1935), over all quantities and all three held at 5 % (Holm 1979).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.boards.compare import compare
from jartide.boards.result import Comparison, Difference, Verdict
from jartide.boards.state import FALSE_ALARM
from jartide.errors import ReadingError
from jartide.reading.result import Reading
from jartide.wording import Message

_SHUFFLES = 2000
_LEAST_PANELS = 4
# A drift that nobody sees is none.
_LEAST_JND = 1.0


class By(StrEnum):
    """What a drift goes with."""

    SECTION = "section"
    PERSON = "person"
    JAR = "jar"


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """One panel of the wall, in the order of the work."""

    name: str
    section: str = ""
    who: str = ""
    jar: str = ""
    reading: Reading


@dataclass(frozen=True, slots=True, kw_only=True)
class Drift:
    """A quantity that goes with something.

    Attributes
    ----------
    size_jnd : between the lowest and the highest group, just visible differences
    low, high : those groups, by their names
    chance : of as much when nothing goes with it
    """

    by: By
    quantity: str
    name: Message
    size_jnd: float
    low: str
    high: str
    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Wall:
    """All panels against the approved board.

    Attributes
    ----------
    comparisons : of each panel with the approved board, in the panels' order
    apart : (N, N) distances between panels, just visible differences, rows as tuples
    odd : number of the panel farthest from the others, where it is off; None when none is
    drifts : strongest first
    """

    comparisons: tuple[Comparison, ...]
    apart: tuple[tuple[float, ...], ...]
    odd: int | None
    drifts: tuple[Drift, ...]


def compare_wall(
    approved: Reading, panels: Sequence[Panel], viewing_m: float, tolerance: float, *, seed: int = 0
) -> Wall:
    """Compare panels with the approved board and with each other.

    Raises
    ------
    ReadingError : without a panel.
    """
    if not panels:
        raise ReadingError("error.wall.none")
    comparisons = tuple(compare(approved, p.reading, viewing_m, tolerance) for p in panels)
    count = len(panels)
    apart = np.zeros((count, count))
    for i in range(count):
        for j in range(i + 1, count):
            pair = compare(panels[i].reading, panels[j].reading, viewing_m, tolerance)
            apart[i, j] = apart[j, i] = pair.likely_distance
    odd = None
    if count >= 3:
        middle = np.nanmedian(np.where(np.eye(count) > 0, np.nan, apart), axis=1)
        worst = int(middle.argmax())
        if middle[worst] > tolerance and comparisons[worst].verdict is not Verdict.MATCH:
            odd = worst
    return Wall(
        comparisons=comparisons,
        apart=tuple(tuple(float(v) for v in row) for row in apart),
        odd=odd,
        drifts=_drifts(panels, comparisons, seed),
    )


def _drifts(
    panels: Sequence[Panel], comparisons: Sequence[Comparison], seed: int
) -> tuple[Drift, ...]:
    if len(panels) < _LEAST_PANELS:
        return ()
    rng = np.random.default_rng([seed, 7])
    tables = [{d.quantity: d for d in c.differences} for c in comparisons]
    common = [q for q in tables[0] if all(q in table for table in tables)]
    found: list[Drift] = []
    tests = 0
    for by, labels in _groupings(panels):
        order = np.array([rng.permutation(len(panels)) for _ in range(_SHUFFLES)])
        names = sorted(set(labels), key=labels.index)
        group = np.array([names.index(label) for label in labels])
        for quantity in common:
            values = np.array([_signed(table[quantity]) for table in tables])
            if np.ptp(values) < _LEAST_JND:
                # Panels that all look the same in this have no drift in it, whoever painted them.
                continue
            tests += 1
            size, low, high = _between(values, group, len(names))
            shuffled = np.array([_between(values[o], group, len(names))[0] for o in order])
            chance = (1 + int((shuffled >= size - 1e-12).sum())) / (_SHUFFLES + 1)
            found.append(
                Drift(
                    by=by,
                    quantity=quantity,
                    name=tables[0][quantity].name,
                    size_jnd=size,
                    low=names[low],
                    high=names[high],
                    chance=chance,
                )
            )
    kept = []
    for place, drift in enumerate(sorted(found, key=lambda d: d.chance)):
        if drift.chance > FALSE_ALARM / max(tests - place, 1):
            break
        if drift.size_jnd >= _LEAST_JND:
            kept.append(drift)
    return tuple(sorted(kept, key=lambda d: -d.size_jnd))


def _groupings(panels: Sequence[Panel]) -> Iterator[tuple[By, list[str]]]:
    """Person, jar and section, as far as there are groups of at least two panels."""
    for by, labels in (
        (By.PERSON, [p.who for p in panels]),
        (By.JAR, [p.jar for p in panels]),
        (By.SECTION, [p.section for p in panels]),
    ):
        known = {label for label in labels if label}
        counts = [labels.count(label) for label in known]
        if "" not in labels and len(known) >= 2 and min(counts) >= 2:
            yield by, labels


def _signed(difference: Difference) -> float:
    """A difference as a number with a sign: a colour counts by its lightness."""
    if isinstance(difference.target, tuple) and isinstance(difference.board, tuple):
        lighter = difference.board[0] >= difference.target[0]
        return difference.jnd if lighter else -difference.jnd
    return difference.jnd


def _between(values: np.ndarray, group: np.ndarray, count: int) -> tuple[float, int, int]:
    """The largest gap between two groups' means, and which they are."""
    means = np.bincount(group, values, minlength=count) / np.bincount(group, minlength=count)
    low, high = int(means.argmin()), int(means.argmax())
    return float(means[high] - means[low]), low, high
