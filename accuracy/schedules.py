"""Schedules against their own lower bound, on made-up jobs of 12 surfaces, 15 steps, 3 people."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import datetime

import numpy as np

from accuracy.rows import Row
from jartide.plan.bound import gap, lower_bound
from jartide.plan.propose import Piece
from jartide.plan.schedule import Problem, first_schedule, improve
from jartide.plan.step import made_step
from jartide.plan.tasks import lanes_of
from jartide.plan.technique import techniques
from jartide.plan.timeline import Hours, Timeline

SURFACES, STEPS, PEOPLE = 12, 15, 3
_MONDAY = datetime(2026, 5, 11)
_FULL, _QUICK = 24, 4
# Schedules tried for each job; the window tries a little fewer, again at every change.
_TRIES = {False: 300, True: 60}
_NEAR = 0.10


def made_problem(seed: int) -> Problem:
    """Return a job drawn at random: coats of every kind on surfaces of 0.5 to 8 square metres."""
    rng = np.random.default_rng(seed)
    known = techniques()
    kinds = ("base", "texture", "pattern", "veil", "protect")
    names = [name for name, one in known.items() if one.lays and one.kind in kinds]
    steps = tuple(
        replace(made_step(known[str(rng.choice(names))], {}), coats=1) for _ in range(STEPS)
    )
    pieces = tuple(
        Piece(
            id=f"P{number}",
            name=f"Surface {number}",
            width_mm=float(rng.uniform(600, 3000)),
            height_mm=float(rng.uniform(900, 2600)),
        )
        for number in range(SURFACES)
    )
    time = Timeline(Hours(), _MONDAY, 60)
    return Problem(lanes=lanes_of(steps, pieces), timeline=time, workers=PEOPLE, now=8 * 12)


def gap_of(seed: int, tries: int) -> float:
    """Return how far the schedule found is from its bound, as a share of the bound."""
    problem = made_problem(seed)
    first = first_schedule(problem)
    bound = lower_bound(problem, first.finish)
    best = improve(problem, first, tries=tries, seed=seed, stop_at=bound)
    return gap(best.finish, bound, problem.now)


def schedule_rows(quick: bool) -> Iterator[Row]:
    """Yield how many jobs end farther than a tenth from their bound, and the middle gap."""
    seeds = range(_QUICK if quick else _FULL)
    gaps = np.array([gap_of(seed, _TRIES[quick]) for seed in seeds])
    yield Row(
        name=f"schedules: a tenth and more from their bound, % of {len(seeds)}",
        error=float(100 * (gaps >= _NEAR).mean()),
        goal=25.0,
    )
    yield Row(
        name=f"schedules: middle gap to the bound, % ({len(seeds)} jobs)",
        error=float(100 * np.median(gaps)),
        goal=10.0,
    )
