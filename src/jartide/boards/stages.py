"""Midway stages: on course or not, how much each pass moved the board, which could be skipped.

A stage looks wrong on purpose, so it is compared with the same stage of an earlier board, never
with the finished target.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from jartide.boards.compare import compare
from jartide.boards.log import PassDone
from jartide.boards.result import Comparison, Verdict
from jartide.reading.result import Reading

# A pass that moves the board by less than what two readings differ by has made no difference.
_LEAST_GAIN = 0.5


class Course(StrEnum):
    """What a stage says of the work so far."""

    ON_COURSE = "on_course"
    MEND_FIRST = "mend_first"


@dataclass(frozen=True, slots=True, kw_only=True)
class StageVerdict:
    """A midway photo against the same stage of an earlier board.

    `take_back_min` is how many minutes the pass can still be wiped back; 0 when it is too late.
    """

    course: Course
    comparison: Comparison
    take_back_min: float


def judge_stage(
    earlier: Reading,
    now: Reading,
    viewing_m: float,
    tolerance: float,
    *,
    minutes_since: float,
    open_min: float,
) -> StageVerdict:
    """Judge a stage by the same stage of the best earlier board.

    `minutes_since` the pass was ended, which stays open for `open_min`.

    Raises
    ------
    ReadingError : when the readings are of two algorithms.
    """
    comparison = compare(earlier, now, viewing_m, tolerance)
    course = Course.MEND_FIRST if comparison.verdict is Verdict.OFF else Course.ON_COURSE
    left = max(open_min - max(minutes_since, 0.0), 0.0)
    return StageVerdict(course=course, comparison=comparison, take_back_min=left)


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerWorth:
    """What one pass did for the board.

    Attributes
    ----------
    before, after : distance to the target, just visible differences
    gain : by how much it came nearer
    per_minute : the same for each minute of work; None when the minutes are not known
    could_skip : it moved the board by less than can be told
    """

    name: str
    before: float
    after: float
    gain: float
    per_minute: float | None
    could_skip: bool


def layer_worth(
    target: Reading,
    stages: Sequence[tuple[PassDone, Reading]],
    bare: Reading | None,
    viewing_m: float,
) -> tuple[LayerWorth, ...]:
    """Return what each pass was worth, from photos after the passes in the order of the work.

    `bare` is the board before the first of them. Without it the first pass is given as known
    only from there on, and is left out.
    """
    worth = []
    before = None if bare is None else compare(target, bare, viewing_m).likely_distance
    for done, reading in stages:
        after = compare(target, reading, viewing_m).likely_distance
        if before is not None:
            worth.append(_worth(done.name, before, after, done.minutes))
        before = after
    return tuple(worth)


def worth_by_leaving_out(
    target: Reading, whole: Reading, without: Reading, name: str, minutes: float, viewing_m: float
) -> LayerWorth:
    """Return what a pass is worth from a board, or a field of one, that was left without it."""
    before = compare(target, without, viewing_m).likely_distance
    after = compare(target, whole, viewing_m).likely_distance
    return _worth(name, before, after, minutes)


def _worth(name: str, before: float, after: float, minutes: float) -> LayerWorth:
    gain = before - after
    return LayerWorth(
        name=name,
        before=before,
        after=after,
        gain=gain,
        per_minute=gain / minutes if minutes > 0 else None,
        could_skip=gain < _LEAST_GAIN,
    )
