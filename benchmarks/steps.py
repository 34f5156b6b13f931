"""What planning costs: laying out 12 surfaces of 15 steps for 3 people, and planning again."""

from __future__ import annotations

import statistics
import time
from collections.abc import Iterator
from dataclasses import replace

from accuracy.schedules import made_problem

RUNS = 7


def planning_rows() -> Iterator[tuple[str, float, float, str]]:
    """Yield the time until the first good plan, and of planning again when a block ends late."""
    from jartide.plan.bound import lower_bound
    from jartide.plan.schedule import Placed, Scheduler, first_schedule

    first, again = [], []
    for seed in range(RUNS):
        problem = made_problem(seed)
        start = time.perf_counter()
        schedule = first_schedule(problem)
        lower_bound(problem, schedule.finish)
        first.append(time.perf_counter() - start)
        # The first ten blocks are done, the last of them two hours late.
        done = sorted(schedule.placed, key=lambda placed: placed.start)[:10]
        late = [
            Placed(task_id=p.task_id, start=p.start, end=p.end + 24, ready=p.ready + 24)
            if number == 9
            else p
            for number, p in enumerate(done)
        ]
        start = time.perf_counter()
        now = late[-1].end
        late_problem = replace(problem, now=now, fixed=tuple(late))
        first_schedule(late_problem, Scheduler(late_problem))
        again.append(time.perf_counter() - start)
    yield "12 surfaces x 15 steps x 3 people: first plan and its bound", max(first), 2.0, "s"
    yield "the same planned again after a late finish", statistics.median(again), 0.3, "s"
