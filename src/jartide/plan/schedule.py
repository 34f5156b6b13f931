"""An order of work that keeps hands busy while things dry.

Every lane is a line of blocks, each followed by its drying tail; people are shared. A schedule
is built forwards: of the lanes whose next block could begin soonest (within a slack that is
searched over), the one with the most still to come goes first. That is parallel schedule
generation by priority rule (Kolisch 1996); `improve` searches the priorities by random keys
(Bean 1994) with a fixed seed. `bound` says how much better any order could be.

Times are slots of `SLOT_MIN` minutes on the timeline.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from jartide.errors import PlanError
from jartide.figures import figure
from jartide.plan.drying import Air, drying_h
from jartide.plan.tasks import Coat, Lane, Task
from jartide.plan.timeline import SLOT_MIN, Timeline, slots_of
from jartide.plan.weather import Outside

_SLOT_H = SLOT_MIN / 60
# More people than this stand in each other's way, and in the table's.
MOST_WORKERS = 50
# Slacks tried: how long a block may wait for the sake of a more urgent one, slots.
_SLACKS = (0, 6, 18, 36)
# A recoat window missed costs as much as this many slots.
_MISSED = 60
# A pass larger than any stretch of work may break so often, slots.
_BREAKS = 12
# Work that keeps no wet edge may be laid down after so many slots.
_PAUSES = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """One block on the timeline; `ready` is where its drying tail ends.

    `late` says that it begins after the coat below should have been keyed again.
    """

    task_id: str
    start: int
    end: int
    ready: int
    workers: tuple[int, ...] = ()
    late: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Schedule:
    """Every block in its place. `finish` is when the last tail ends, slots."""

    placed: tuple[Placed, ...]
    finish: int
    late: int

    def of(self, task_id: str) -> Placed | None:
        """Return one block."""
        return next((one for one in self.placed if one.task_id == task_id), None)


@dataclass(frozen=True, slots=True, kw_only=True)
class Problem:
    """What is to be scheduled.

    Attributes
    ----------
    now : no block that is not fixed begins before this slot
    fixed : blocks that are done, running or drying, as they really are
    not_before : slots by task id: moved by the painter
    weather : what is outside, by piece id; None for a piece that is inside
    air : where the rest is done
    """

    lanes: tuple[Lane, ...]
    timeline: Timeline
    workers: int
    now: int = 0
    fixed: tuple[Placed, ...] = ()
    not_before: Mapping[str, int] = field(default_factory=dict)
    weather: Mapping[str, Outside] = field(default_factory=dict)
    air: Air = field(default_factory=Air)


class _Kind:
    """All blocks of one length and coat at one place: when they may begin, when they are dry."""

    def __init__(self, problem: Problem, task: Task, outside: Outside | None) -> None:
        time = problem.timeline
        self.time, self.task = time, task
        self.length, self.unit = slots_of(task.minutes), slots_of(task.unit_min)
        if self.unit > time.longest:
            if len(task.step_ids) > 1:
                long = figure(self.unit * SLOT_MIN / 60, 1)
                raise PlanError("error.plan.chain_too_long", hours=long)
            # One pass over a piece larger than a day's work breaks at its corners.
            self.unit = min(_BREAKS, time.longest)
        self.whole = self.length <= time.longest and not task.pauses
        if task.pauses:
            self.unit = min(_PAUSES, self.length)
        index = np.arange(time.size)
        needed = self.length if self.whole else self.unit
        fits = time.works & (time.window_end - index >= needed)
        self._ends: dict[int, int] = {}
        self._rates: np.ndarray | None = None
        self.wait = 0
        coat = task.dries
        if outside is None:
            if coat is not None:
                hours = drying_h(coat.label_h, coat.binder, problem.air, film_um=coat.film_um)
                if hours is None:
                    raise PlanError("error.plan.cannot_dry")
                self.wait = slots_of(60 * hours * coat.factor)
        else:
            shaded = fits & self._fit_outside(outside, coat, index + needed, in_sun=False)
            if not shaded.any():
                # Where the sun leaves no hour it is done in the sun: shade can be hung.
                shaded = fits & self._fit_outside(outside, coat, index + needed)
            if not shaded.any():
                self._refuse_beyond_light(outside, needed)
            fits = shaded
        later = np.where(fits, index, time.size)
        self.next_start = np.append(np.minimum.accumulate(later[::-1])[::-1], time.size)
        self._last_start = np.maximum.accumulate(np.where(fits, index, -1))

    def _refuse_beyond_light(self, outside: Outside, needed: int) -> None:
        """Say so where no stretch of dry daylight is as long as what can't be interrupted.

        Raises
        ------
        PlanError : with how long it takes and how long the longest stretch is.
        """
        lit = self.time.works & np.repeat(outside.works, round(1 / _SLOT_H))
        edges = np.flatnonzero(np.diff(np.concatenate([[0], lit.astype(int), [0]])))
        longest = int((edges[1::2] - edges[::2]).max(initial=0))
        if 0 < longest < needed:
            raise PlanError(
                "error.plan.longer_than_light",
                hours=figure(needed * SLOT_MIN / 60, 1),
                light=figure(longest * SLOT_MIN / 60, 1),
            )

    def _fit_outside(
        self, outside: Outside, coat: Coat | None, ends: np.ndarray, *, in_sun: bool = True
    ) -> np.ndarray:
        """Where a block may begin outside: it is worked and dries before anything spoils it."""
        size = self.time.size
        per_hour = round(1 / _SLOT_H)
        works = np.repeat(outside.works, per_hour)
        if coat is not None:
            works &= np.repeat(outside.warm_enough(coat.binder), per_hour)
        if not in_sun and self.task.unit_min > 0 and coat is not None:
            # The sun on a face takes the open time away; drying tails may lie in it.
            works &= ~np.repeat(outside.sun, per_hour) | (coat.label_h <= 0)
        bad = np.concatenate([[0], np.cumsum(~np.repeat(outside.dries, per_hour))])
        ready = np.minimum(ends, size)
        if coat is not None:
            rate = np.repeat(outside.rates(coat.binder, coat.film_um), per_hour) * _SLOT_H
            self._rates = np.concatenate([[0.0], np.cumsum(rate)])
            need = coat.label_h * coat.factor
            ready = np.searchsorted(self._rates, self._rates[ready] + need - 1e-9)
        starts = np.arange(size)
        working = np.concatenate([[0], np.cumsum(~works)])
        end = np.minimum(ends, size)
        good = (working[end] - working[starts] == 0) & (ready <= size)
        ready = np.minimum(ready, size)
        return good & (bad[ready] - bad[starts] == 0)

    def start_after(self, slot: int) -> int:
        """Return the first slot from here on at which it may begin; the size for never."""
        return int(self.next_start[min(max(slot, 0), self.time.size)])

    def start_before(self, end: int) -> int:
        """Return the last slot at which it may begin to be done by `end`; below 0 for never.

        Of a block that goes on over breaks, no sooner than the last one that surely can't.
        """
        latest = end - (self.length if self.whole else self.unit)
        if latest < 0:
            return -1
        begin = int(self._last_start[min(latest, self.time.size - 1)])
        if self.whole:
            return begin
        while begin >= 0 and self.end_of(begin) > end:
            begin = int(self._last_start[begin - 1]) if begin > 0 else -1
        return begin

    def end_of(self, start: int) -> int:
        """Return where the work ends; a long one goes on over breaks, panel by panel."""
        if self.whole:
            return start + self.length
        if start not in self._ends:
            self._ends[start] = self._long_end(start)
        return self._ends[start]

    def _long_end(self, start: int) -> int:
        left, at = self.length, start
        while True:
            at = self.start_after(at)
            if at >= self.time.size:
                return self.time.size
            room = int(self.time.window_end[at]) - at
            done = min(left, room // self.unit * self.unit if left > room else left)
            left -= done
            if left <= 0:
                return at + done
            at = int(self.time.window_end[at])

    def ready_of(self, end: int) -> int:
        """Return where the drying tail ends; the size plus one for never."""
        coat = self.task.dries
        if coat is None:
            return end
        if self._rates is None:
            return end + self.wait
        need = self._rates[min(end, self.time.size)] + coat.label_h * coat.factor
        return int(np.searchsorted(self._rates, need - 1e-9))


class Scheduler:
    """Builds schedules of one problem; what depends on the calendar alone is kept."""

    def __init__(self, problem: Problem, like: Scheduler | None = None) -> None:
        """Work out when each kind of block may begin.

        `like` is a scheduler of the same lanes, calendar and air, whose answers are taken over.

        Raises
        ------
        PlanError : when there is nobody to work, or a block fits nowhere.
        """
        if problem.workers < 1:
            raise PlanError("error.plan.no_workers")
        if problem.workers > MOST_WORKERS:
            raise PlanError("error.plan.many_workers", most=MOST_WORKERS)
        self.problem = problem
        self._kinds: dict[tuple, _Kind] = {} if like is None else like._kinds
        kinds = self._kinds
        self.kind: dict[str, _Kind] = {}
        self._fixed = {one.task_id: one for one in problem.fixed}
        for lane in problem.lanes:
            place = problem.weather.get(lane.piece.id)
            for task in lane.tasks:
                if task.hands > problem.workers:
                    raise PlanError("error.plan.hands", number=task.hands)
                key = (
                    slots_of(task.minutes), slots_of(task.unit_min), task.dries, task.pauses,
                    lane.piece.id if task.outside and place is not None else "",
                )  # fmt: skip
                if key not in kinds:
                    kinds[key] = _Kind(problem, task, place if task.outside else None)
                self.kind[task.id] = kinds[key]
        self.waiting = [
            [task for task in lane.tasks if task.id not in self._fixed] for lane in problem.lanes
        ]
        self.tails = [self._tails(tasks) for tasks in self.waiting]

    def _tails(self, tasks: Sequence[Task]) -> list[float]:
        """What is still to come on a lane from each task on, slots, whatever the calendar."""
        found, left = [], 0.0
        for task in reversed(tasks):
            kind = self.kind[task.id]
            wait = kind.wait
            if task.dries is not None and kind.wait == 0:
                wait = slots_of(60 * task.dries.label_h * task.dries.factor)
            left += kind.length + wait
            found.append(left)
        return found[::-1]

    def lane_start(self, lane: Lane) -> int:
        """When a lane's next block may begin: when what is fixed on it is dry."""
        ready = [self._fixed[t.id].ready for t in lane.tasks if t.id in self._fixed]
        return max([self.problem.now, *ready])

    def build(self, slack: int, keys: Sequence[Sequence[float]] | None = None) -> Schedule:
        """Return one schedule.

        Parameters
        ----------
        slack : slots a block may wait for a more urgent one
        keys : what is added to each lane's urgency before each of its blocks, slots

        Raises
        ------
        PlanError : when a block finds no place on the timeline.
        """
        problem, size = self.problem, self.problem.timeline.size
        lanes = problem.lanes
        at = [self.lane_start(lane) for lane in lanes]
        ready_last = list(at)
        place = [0] * len(lanes)
        free = [problem.now] * problem.workers
        for one in problem.fixed:
            for worker in one.workers:
                if worker < len(free):
                    free[worker] = max(free[worker], one.end)
        hand = [0] * len(lanes)
        placed: list[Placed] = list(problem.fixed)
        through = {one.task_id: one.ready for one in problem.fixed}
        late = 0
        left = sum(len(tasks) for tasks in self.waiting)
        while left:
            soonest = sorted(free)
            choices: list[tuple[int, float, int]] = []
            first = size
            for number, tasks in enumerate(self.waiting):
                if place[number] >= len(tasks):
                    continue
                task = tasks[place[number]]
                if task.after and task.after not in through and task.after in self.kind:
                    continue  # what it waits for comes first, on a lane that waits for nothing
                begin = max(at[number], soonest[task.hands - 1], through.get(task.after, 0))
                begin = max(begin, problem.not_before.get(task.id, 0))
                begin = self.kind[task.id].start_after(begin)
                if begin >= size:
                    raise _no_place(task, problem)
                first = min(first, begin)
                urgent = self.tails[number][place[number]]
                urgent += 0.0 if keys is None else keys[number][place[number]]
                choices.append((begin, -urgent, number))
            # Of those that can begin about now, the one with the most still to come.
            begin, _, number = min(
                (c for c in choices if c[0] <= first + slack), key=lambda c: (c[1], c[0], c[2])
            )
            task = self.waiting[number][place[number]]
            kind = self.kind[task.id]
            end = kind.end_of(begin)
            ready = kind.ready_of(end)
            if end >= size or ready > size:
                raise _no_place(task, problem)
            # The hand that was on this lane goes on with it where it is free.
            order = sorted(
                (w for w in range(len(free)) if free[w] <= begin),
                key=lambda w: (w != hand[number], -free[w], w),
            )
            workers = tuple(order[: task.hands])
            for worker in workers:
                free[worker] = end
            hand[number] = workers[0]
            before = self._before(number, place[number])
            missed = False
            if before is not None and before.dries is not None and before.dries.latest_h > 0:
                missed = begin > ready_last[number] + slots_of(60 * before.dries.latest_h)
            late += missed
            placed.append(
                Placed(
                    task_id=task.id, start=begin, end=end, ready=ready, workers=workers, late=missed
                )
            )
            at[number] = ready_last[number] = through[task.id] = ready
            place[number] += 1
            left -= 1
        finish = max((one.ready for one in placed), default=problem.now)
        return Schedule(placed=tuple(placed), finish=finish, late=late)

    def _before(self, number: int, place: int) -> Task | None:
        if place > 0:
            return self.waiting[number][place - 1]
        lane = self.problem.lanes[number]
        fixed = [task for task in lane.tasks if task.id in self._fixed]
        return fixed[-1] if fixed else None


def _no_place(task: Task, problem: Problem) -> PlanError:
    last = problem.timeline.at(problem.timeline.size - 1)
    if task.outside and problem.weather:
        return PlanError("error.plan.no_dry_hours", name=_lane_name(task, problem))
    return PlanError("error.plan.no_room", name=_lane_name(task, problem), now=f"{last:%d.%m.}")


def _lane_name(task: Task, problem: Problem) -> str:
    return next((lane.name for lane in problem.lanes if lane.id == task.lane), task.lane)


def cost(schedule: Schedule) -> float:
    """Return what a search makes small: the end, and windows missed."""
    return schedule.finish + _MISSED * schedule.late


def _rank(schedule: Schedule) -> tuple[float, int]:
    """Cost, and of two that cost the same how early things are dry."""
    return cost(schedule), sum(one.ready for one in schedule.placed)


def first_schedule(problem: Problem, like: Scheduler | None = None) -> Schedule:
    """Return the best schedule of the plain priority rules.

    Raises
    ------
    PlanError : when a block finds no place.
    """
    scheduler = Scheduler(problem, like)
    return min((scheduler.build(slack) for slack in _SLACKS), key=cost)


def improve(
    problem: Problem,
    best: Schedule,
    *,
    tries: int = 400,
    seed: int = 0,
    stop_at: float = 0.0,
    progress: Callable[[float], None] | None = None,
) -> Schedule:
    """Return a schedule at least as good, searched for with a fixed seed.

    Parameters
    ----------
    tries : schedules built; the result depends on nothing else of the machine
    stop_at : slots; nothing can be better than the bound
    progress : called with the fraction done; may raise `Cancelled`
    """
    scheduler = Scheduler(problem)
    rng = np.random.default_rng(seed)
    many = len(problem.lanes)
    longest = max((len(tasks) for tasks in scheduler.waiting), default=0)
    keys, slack = np.zeros((many, longest)), 0
    found, reached = best, _rank(best)
    spread = 0.3 * max((tails[0] for tails in scheduler.tails if tails), default=1.0)
    for number in range(tries):
        if found.finish <= stop_at and not found.late:
            break
        if progress is not None and number % 10 == 0:
            progress(number / tries)
        # Mostly a small step from the best keys, now and then from afresh.
        if rng.random() < 0.2:
            trial = rng.normal(0, spread, (many, 1)) + np.zeros((many, longest))
            its_slack = int(rng.choice(_SLACKS))
        else:
            # Some lanes as a whole, or some blocks of them.
            whole = rng.random() < 0.5
            size = (many, 1) if whole else (many, longest)
            changed = rng.random(size) < (0.3 if whole else 0.08)
            trial = keys + changed * rng.normal(0, spread, size)
            its_slack = slack if rng.random() < 0.7 else int(rng.choice(_SLACKS))
        schedule = scheduler.build(its_slack, trial.tolist())
        value = _rank(schedule)
        if value <= reached:
            keys, slack = trial, its_slack
            if value < reached:
                found, reached = schedule, value
    return found


def with_now(problem: Problem, now: int, fixed: tuple[Placed, ...]) -> Problem:
    """Return the problem later on: what was done stays, the rest begins from now."""
    return replace(problem, now=now, fixed=fixed)
