"""What a painter's own boards say of the painter: how many it takes, what goes wrong again.

Finishes that are not matched yet count for as long as they were followed (Kaplan & Meier 1958,
"Nonparametric estimation from incomplete observations"): leaving them out would flatter.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from jartide.boards.headline import worst_row
from jartide.boards.result import Comparison, Difference
from jartide.wording import Message

# Fewer boards than this say nothing about a habit.
_LEAST_BOARDS = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Course:
    """The boards of one finish in their order, as far as they are read.

    Attributes
    ----------
    approved : which of them was signed off, counted from 1; None while none is
    faults : kinds of fault the painter named on them, once for each board it was on
    """

    finish: str
    family: str
    comparisons: tuple[Comparison, ...]
    approved: int | None = None
    faults: tuple[str, ...] = ()

    @property
    def matched(self) -> int | None:
        """Which board was the first that would do, counted from 1; None while none does."""
        first = next((n for n, c in enumerate(self.comparisons, 1) if worst_row(c) is None), None)
        found = [n for n in (first, self.approved) if n is not None]
        return min(found, default=None)


@dataclass(frozen=True, slots=True, kw_only=True)
class Habit:
    """What was the first thing to mend on several boards.

    `over` is the share of them on which the board had too much of it; None for colours.
    """

    quantity: str
    name: Message
    boards: int
    finishes: int
    over: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Learning:
    """The statistics; medians are None where nothing can be said.

    Attributes
    ----------
    boards_to_match : median number of boards to one that would do
    first_distance, last_distance : medians over the finishes, just visible differences
    faults : kinds of fault and on how many boards each was named, the most frequent first
    """

    finishes: int
    boards: int
    matched: int
    boards_to_match: int | None
    first_distance: float | None
    last_distance: float | None
    habits: tuple[Habit, ...]
    faults: tuple[tuple[str, int], ...]


def learn(courses: Sequence[Course]) -> Learning:
    """Return what finishes with boards show; those without are passed over."""
    told = [course for course in courses if course.comparisons]
    several = [course for course in told if len(course.comparisons) >= _LEAST_BOARDS]
    faults = Counter(kind for course in told for kind in course.faults)
    return Learning(
        finishes=len(told),
        boards=sum(len(course.comparisons) for course in told),
        matched=sum(course.matched is not None for course in told),
        boards_to_match=_median_to_match(told),
        first_distance=_middle_distance(several, 0),
        last_distance=_middle_distance(several, -1),
        habits=_habits(told),
        faults=tuple(faults.most_common()),
    )


def _median_to_match(courses: Sequence[Course]) -> int | None:
    """The number of boards by which half the finishes are matched; None before it comes to that."""
    followed = [(c.matched or len(c.comparisons), c.matched is not None) for c in courses]
    left = 1.0
    for number in sorted({n for n, matched in followed if matched}):
        at_risk = sum(n >= number for n, _ in followed)
        left *= 1 - sum(n == number and matched for n, matched in followed) / at_risk
        if left <= 0.5:
            return number
    return None


def _middle_distance(courses: Sequence[Course], place: int) -> float | None:
    """The median of how far off the first boards were, or the last ones."""
    if not courses:
        return None
    return median(course.comparisons[place].likely_distance for course in courses)


def _habits(courses: Sequence[Course]) -> tuple[Habit, ...]:
    """What stood first on at least two boards, the most frequent first."""
    found: dict[str, list[tuple[str, Difference]]] = {}
    for course in courses:
        for comparison in course.comparisons:
            first = next((d for d in comparison.differences if d.significant), None)
            if first is not None:
                kind = first.quantity.kind
                found.setdefault(kind, []).append((course.finish, first))
    habits = [
        Habit(
            quantity=kind,
            name=_name(kind, seen[-1][1]),
            boards=len(seen),
            finishes=len({finish for finish, _ in seen}),
            over=_over([d for _, d in seen]),
        )
        for kind, seen in found.items()
        if len(seen) >= _LEAST_BOARDS
    ]
    return tuple(sorted(habits, key=lambda habit: (-habit.boards, habit.quantity)))


def _name(kind: str, difference: Difference) -> Message:
    """What a habit is called: a layer's own name would hide that it is the same thing again."""
    return Message(f"learning.{kind}") if kind.startswith("layers.") else difference.name


def _over(differences: Sequence[Difference]) -> float | None:
    ratios = [d.ratio for d in differences if d.ratio is not None]
    return sum(ratio > 1 for ratio in ratios) / len(ratios) if ratios else None
