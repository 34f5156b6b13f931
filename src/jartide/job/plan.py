"""The plan on the clock: its schedule, what is done of it, and what that teaches."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

from jartide.errors import JarTideError, PlanError
from jartide.job.kept import Kept
from jartide.job.plan_book import PlanBook
from jartide.job.plan_log import logged_block, steps_of_log
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.job.runner import Progress, Runner
from jartide.job.shelf import Shelf
from jartide.job.words.log import standing
from jartide.plan.areas import one_area_m2
from jartide.plan.bound import gap, lower_bound
from jartide.plan.drying import drying_h
from jartide.plan.edit import open_trial
from jartide.plan.progress import Block, Done, fixed_blocks, learned, local, state_of
from jartide.plan.quantities import measured_rate
from jartide.plan.schedule import Problem, Schedule, Scheduler, first_schedule, improve
from jartide.plan.site import Where
from jartide.plan.step import Step
from jartide.plan.tasks import Task, lanes_of
from jartide.plan.timeline import Timeline
from jartide.plan.weather import outside
from jartide.plan.work import Moved, PlannedBoard
from jartide.store.records import Board
from jartide.wording import say, tr

# Days laid out at first; a plan that finds no place in them gets the rest.
_DAYS, _MOST_DAYS = 35, 140
# So often the order of work is tried otherwise, in the background.
TRIES = 250


@dataclass(frozen=True, slots=True, kw_only=True)
class Timed:
    """The schedule as it stands: blocks by lane, how far it is from the best there could be.

    `refused` is why there is none, in one sentence; blocks are those already begun then.
    """

    problem: Problem | None
    schedule: Schedule | None
    blocks: tuple[Block, ...]
    gap: float | None
    refused: str = ""


class TimedPlan(PlanBook):
    """Keeps the schedule up to date and carries out what the painter does."""

    def __init__(
        self, records: Records, readings: Readings, shelf: Shelf, kept: Kept, runner: Runner
    ) -> None:
        super().__init__(records, readings, shelf, kept)
        self._runner, self._computed = runner, kept.computed
        self._timed: tuple[Any, Timed] | None = None
        self._scheduler: tuple[Any, Scheduler] | None = None
        self._factors: dict[str, float] | None = None

    def _forget(self) -> None:
        super()._forget()
        self._factors = None

    def _opened(self) -> None:
        super()._opened()
        self._timed = self._scheduler = None

    # ---- the schedule

    def now(self) -> datetime:
        """Return the painter's wall time."""
        return self.clock().replace(tzinfo=None)

    def dones(self) -> tuple[Done, ...]:
        """Return what was begun."""
        plan = self.plan()
        return () if plan is None else plan.done

    def factors(self) -> dict[str, float]:
        """Return how much longer coats take than foreseen, learned on the job's finishes."""
        if self._factors is None:
            # Asked for at every step of a refresh: read once until something is written.
            self._factors = learned([done for plan in self.records.plans() for done in plan.done])
        return self._factors

    def _problem(self, days: int) -> Problem:

        work, now = self.work(), self.now()
        first = self._first_day()
        midnight = datetime.combine(first, datetime.min.time())
        time = Timeline(work.hours, midnight, days)
        pieces = self.pieces()
        lanes = lanes_of(
            self.steps(), pieces, factors=self.factors(), panels_a_lane=work.panels_a_lane
        )
        weather = {
            piece.id: outside(
                work.weather, midnight, days, piece.site.facing, work.daylight, work.latitude_deg
            )
            for piece in pieces
            if piece.site.place is Where.OUTSIDE and work.weather and not piece.board
        }
        plan = self.plan()
        moved = () if plan is None else plan.moved
        problem = Problem(
            lanes=lanes,
            timeline=time,
            workers=len(work.workers),
            now=max(time.slot_after(now), 0),
            not_before={m.task_id: time.slot_after(datetime.fromisoformat(m.at)) for m in moved},
            weather=weather,
            air=work.air,
        )
        # What depends on calendar and air alone is worked out once: a late finish changes neither.
        same = (
            midnight,
            days,
            work.hours,
            work.air,
            work.weather,
            work.daylight,
            pieces,
            work.latitude_deg,
        )
        kept = self._scheduler
        like = kept[1] if kept is not None and kept[0] == same else None
        self._scheduler = (same, Scheduler(problem, like))
        return replace(problem, fixed=fixed_blocks(problem, self.dones(), self._scheduler[1]))

    def _first_day(self) -> date:
        """The day the plan begins: the painter's, or the day of what was begun first."""
        days = [local(done.begun).date() for done in self.dones()]
        begins = self.work().begins
        if begins:
            days.append(date.fromisoformat(begins))
        return min(days, default=self.now().date())

    def timed(self) -> Timed:
        """Return the schedule as it stands now; it is improved in the background."""
        now = self.now().replace(second=0, microsecond=0)
        plan = self.plan()
        minute = now - timedelta(minutes=now.minute % 5)
        try:
            key = (minute, plan, self.steps(), self.pieces(), tuple(self.factors().items()))
        except JarTideError as error:
            return Timed(problem=None, schedule=None, blocks=(), gap=None, refused=str(error))
        if self._timed is None or self._timed[0] != key:
            self._computed["timed"] += 1
            self._timed = (key, self._time(key))
        return self._timed[1]

    def _time(self, key: Any) -> Timed:

        if not self.steps() or not self.pieces():
            return Timed(problem=None, schedule=None, blocks=(), gap=None)
        problem = None
        for days in (_DAYS, _MOST_DAYS):
            try:
                problem = self._problem(days)
                assert self._scheduler is not None
                schedule = first_schedule(problem, self._scheduler[1])
                break
            except JarTideError as error:
                refused = str(error)
        else:
            return Timed(problem=problem, schedule=None, blocks=(), gap=None, refused=refused)
        self._improve(key, problem, schedule)
        return self._shown(problem, schedule, None)

    def _shown(self, problem: Problem, schedule: Schedule, gap: float | None) -> Timed:

        dones = {done.task_id: done for done in self.dones()}
        tasks = {task.id: task for lane in problem.lanes for task in lane.tasks}
        blocks = tuple(
            Block(
                task=tasks[placed.task_id],
                placed=placed,
                state=state_of(dones.get(placed.task_id), placed, problem.now),
                done=dones.get(placed.task_id),
            )
            for placed in sorted(schedule.placed, key=lambda p: (p.start, p.task_id))
        )
        return Timed(problem=problem, schedule=schedule, blocks=blocks, gap=gap)

    def _improve(self, key: Any, problem: Problem, first: Schedule) -> None:
        def work(progress: Progress) -> tuple[Schedule, float]:
            bound = lower_bound(problem, first.finish)
            better = improve(problem, first, tries=TRIES, stop_at=bound, progress=progress)
            return better, gap(better.finish, bound, problem.now)

        def returned(found: tuple[Schedule, float]) -> None:
            # The plan may have gone on meanwhile: then this answers an old question.
            if self._timed is not None and self._timed[0] == key:
                self._timed = (key, self._shown(problem, *found))
                self.changed.emit()

        self._runner.start("schedule", work, returned=returned, failed=self._say)

    def _say(self, error: Exception) -> None:
        if isinstance(error, JarTideError):
            self.records.events.failed.emit(str(error))
        else:
            raise error

    def at(self, slot: int) -> datetime:
        """Return the wall time of a slot of the schedule as it stands."""
        problem = self.timed().problem
        assert problem is not None
        return problem.timeline.at(slot)

    # ---- doing it

    def begin(self, task: Task, who: str = "") -> None:
        """Take up the brush.

        Raises
        ------
        PlanError : when a patch that was to be tried first has not passed.
        """
        if any(done.task_id == task.id for done in self.dones()):
            return
        untried = open_trial(self.steps(), set(task.step_ids))
        if untried is not None:
            raise PlanError("error.plan.trial_open", name=say(untried.name))
        coat = task.dries
        foreseen = 0.0 if coat is None else self._foreseen_h(task)
        done = Done(
            task_id=task.id,
            begun=self._utc(),
            foreseen_h=foreseen,
            binder="" if coat is None else coat.binder,
            who=who,
        )
        self._keep_done(tr("undo.begin"), (*self.dones(), done))

    def take_log(self, board: Board) -> None:
        """Make what was really done on a board the plan: a recipe a colleague can repeat.

        Raises
        ------
        JarTideError : when there is nothing to plan by.
        """
        plan = self.plan()
        sizes = [] if plan is None else [p for p in plan.boards if p.board_id == board.id]
        size = sizes[0] if sizes else PlannedBoard(board_id=board.id)
        area = size.width_mm * size.height_mm / 1e6
        entries = standing(self.records.entries(board))
        steps = steps_of_log(entries, self.steps(), self.techniques(), area)
        self.put_steps(tr("undo.plan_of_log", number=board.number), steps)

    def _foreseen_h(self, task: Task) -> float:
        """Hours until the next coat in this air, without what was learned."""
        coat = task.dries
        assert coat is not None
        air = self.work().air
        return drying_h(coat.label_h, coat.binder, air, film_um=coat.film_um) or coat.label_h

    def end(self, task: Task, used_ml: float | None = None) -> None:
        """Lay down the brush: it dries from now; on a board the pass goes into its log."""
        self._set_done(task, tr("undo.end"), ended=self._utc(), used_ml=used_ml)
        board = task.lane.split("/")[0]
        done = next((d for d in self.dones() if d.task_id == task.id), None)
        if done is not None and any(one.id == board for one, _ in self.records.boards()):
            own, jars = self.steps_of(task), self.records.mixes()
            self.records.add(tr("undo.log"), *logged_block(board, done, own, self.work(), jars))

    def ready(self, task: Task) -> None:
        """It was looked at and takes the next coat."""
        self._set_done(task, tr("undo.ready"), ready=self._utc(), waits_until="")

    def not_yet(self, task: Task, minutes: float) -> None:
        """It was looked at and is not ready: look again later, and re-plan at once."""
        until = self.clock().astimezone(UTC) + timedelta(minutes=minutes)
        done = next((d for d in self.dones() if d.task_id == task.id), None)
        if done is None:
            return
        self._set_done(
            task,
            tr("undo.not_yet"),
            not_yet=(*done.not_yet, self._utc()),
            waits_until=until.isoformat(timespec="seconds"),
            ready="",
        )

    def used(self, task: Task, ml: float) -> None:
        """What a block really took; spreading rates are corrected by it."""
        self._set_done(task, tr("undo.used"), used_ml=ml)

    def measured_steps(self) -> tuple[Step, ...]:
        """Return the steps with the spreading rates that the amounts really used came to."""
        steps = self.steps()
        used = {done.task_id: done.used_ml for done in self.dones() if done.used_ml}
        problem = self.timed().problem if used else None
        if problem is None:
            return steps
        by_id = {step.id: step for step in steps}
        logged: dict[tuple[str, str], list[tuple[float, float]]] = {}
        for lane in problem.lanes:
            piece = lane.piece
            area = one_area_m2(piece.site, piece.width_mm, piece.height_mm) * len(lane.panels)
            for task in lane.tasks:
                laid = [by_id[one] for one in task.step_ids if by_id[one].lays]
                if used.get(task.id) and len(laid) == 1:
                    step = laid[0]
                    on = area * piece.site.relief_factor * step.laid_share
                    pair = (on, float(used[task.id] or 0.0))
                    logged.setdefault((step.technique, step.product_name), []).append(pair)
        return tuple(
            replace(
                step,
                spreading_m2_per_l=measured_rate(
                    step.spreading_m2_per_l, logged.get((step.technique, step.product_name), ())
                ),
            )
            if step.lays
            else step
            for step in steps
        )

    def takes_ml(self, task: Task) -> float:
        """Return what one block lays on its lane, all wet parts together."""
        problem = self.timed().problem
        lanes = () if problem is None else problem.lanes
        lane = next((one for one in lanes if one.id == task.lane), None)
        if lane is None:
            return 0.0
        piece = lane.piece
        area = one_area_m2(piece.site, piece.width_mm, piece.height_mm) * len(lane.panels)
        return sum(
            1000 * area * piece.site.relief_factor * step.laid_share / step.spreading_m2_per_l
            for step in self.steps_of(task)
            if step.lays
        )

    def undo_begin(self, task: Task) -> None:
        """It was not begun after all."""
        left = tuple(done for done in self.dones() if done.task_id != task.id)
        self._keep_done(tr("undo.not_begun"), left)

    def later(self, task: Task, at: datetime) -> None:
        """Begin a block no sooner than a time; the rest is planned again."""
        plan = self.plan()
        if plan is None:
            return
        kept = tuple(m for m in plan.moved if m.task_id != task.id)
        moved = Moved(task_id=task.id, at=at.isoformat(timespec="minutes"))
        parts: dict[str, Any] = {"moved": (*kept, moved)}
        if not plan.steps:
            parts["steps"] = self.steps()
        self.put(tr("undo.later"), drag=f"later {task.id}", **parts)

    def _set_done(self, task: Task, words: str, **parts: Any) -> None:
        found = tuple(
            replace(done, **parts) if done.task_id == task.id else done for done in self.dones()
        )
        self._keep_done(words, found)

    def _keep_done(self, words: str, dones: tuple[Done, ...]) -> None:
        plan = self.plan()
        if plan is None:
            return
        parts: dict[str, Any] = {"done": dones}
        if not plan.steps:
            parts["steps"] = self.steps()
        self.put(words, **parts)

    def _utc(self) -> str:
        return self.clock().astimezone(UTC).isoformat(timespec="seconds")

    def steps_of(self, task: Task) -> list[Step]:
        """Return the steps of a block, first one first."""
        by_id = {step.id: step for step in self.steps()}
        return [by_id[one] for one in task.step_ids if one in by_id]
