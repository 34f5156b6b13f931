"""How soon any order of work could be done: a lower bound on the end of a schedule.

An end is refuted when it can't be met. With the lanes' calendar each block has a head (the
soonest it can begin, with nobody in its way) and, for an end that is tried, a deadline. An
end is refuted when a head lies after its deadline, or when for some head r and deadline d
the blocks that lie wholly between them take more working time than all people have there
(the energy of an interval; Lopez & Esquirol 1996, on a calendar). The bound is the soonest
end that is not refuted, found by halving.
"""

from __future__ import annotations

import numpy as np

from jartide.plan.schedule import Problem, Scheduler, first_schedule


def lower_bound(problem: Problem, at_most: int | None = None) -> int:
    """Return a slot before which no schedule of the problem can end.

    `at_most` is the end of a schedule that is known.

    Raises
    ------
    PlanError : when a block fits nowhere.
    """
    scheduler = Scheduler(problem)
    heads, alone = _heads(scheduler)
    fixed = max((one.ready for one in problem.fixed), default=problem.now)
    low = max(alone, fixed)
    if not heads:
        return low
    high = first_schedule(problem).finish if at_most is None else at_most
    flat = np.array([head for lane in heads for head in lane])
    work = np.array(
        [
            scheduler.kind[task.id].length * task.hands
            for tasks in scheduler.waiting
            for task in tasks
        ]
    )
    if not _refuted(scheduler, low, flat, work):
        return low
    while high - low > 1:
        middle = (low + high) // 2
        if _refuted(scheduler, middle, flat, work):
            low = middle
        else:
            high = middle
    return high


def _heads(scheduler: Scheduler) -> tuple[list[list[int]], int]:
    """The soonest start of every waiting block, and when the last lane would end by itself."""
    problem = scheduler.problem
    found: list[list[int]] = []
    alone = problem.now
    for number, lane in enumerate(problem.lanes):
        at = scheduler.lane_start(lane)
        own = []
        for task in scheduler.waiting[number]:
            kind = scheduler.kind[task.id]
            begin = kind.start_after(max(at, problem.not_before.get(task.id, 0)))
            own.append(begin)
            at = kind.ready_of(kind.end_of(begin))
        if own:
            found.append(own)
            alone = max(alone, at)
    return found, min(alone, problem.timeline.size)


def _refuted(scheduler: Scheduler, end: int, heads: np.ndarray, work: np.ndarray) -> bool:
    """Whether nothing can end by `end`; heads and work are (tasks,) in the lanes' order."""
    deadlines = np.array(
        [deadline for tasks in scheduler.waiting for deadline in _deadlines(scheduler, tasks, end)]
    )
    if np.any(deadlines <= heads):
        return True
    before = scheduler.problem.timeline.before
    starts, ends = np.unique(heads), np.unique(deadlines)
    inside = (heads[None, :] >= starts[:, None]) * work[None, :]
    load = inside @ (deadlines[:, None] <= ends[None, :])
    room = scheduler.problem.workers * (before[ends][None, :] - before[starts][:, None])
    return bool(np.any(load > np.maximum(room, 0)))


def _deadlines(scheduler: Scheduler, tasks: list, end: int) -> list[int]:
    """By when the work of each block must end, so that its lane is dry by `end`."""
    found: list[int] = []
    limit = end
    for task in reversed(tasks):
        kind = scheduler.kind[task.id]
        # Outside drying has no one speed: nothing is taken for its tail there.
        done = limit - kind.wait
        begin = kind.start_before(done)
        found.append(done if begin < 0 else min(done, kind.end_of(begin)))
        limit = begin
    return found[::-1]


def gap(schedule_end: int, bound: int, now: int) -> float:
    """Return how far a schedule is from its bound, as a share of the bound's own length."""
    length = max(bound - now, 1)
    return max(schedule_end - bound, 0) / length
