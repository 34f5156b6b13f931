"""The plan of the open finish: what it is, what follows from it, and changes that can be undone."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from jartide.errors import JarTideError
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.plan.cautions import Caution, Question
    from jartide.plan.layup import Own
    from jartide.plan.progress import Block, Done
    from jartide.plan.propose import Piece
    from jartide.plan.rules import Finding
    from jartide.plan.schedule import Problem, Schedule, Scheduler
    from jartide.plan.step import Outcome, Step
    from jartide.plan.tasks import Task
    from jartide.plan.technique import Techniques
    from jartide.plan.work import Work
    from jartide.store.records import Plan, Surface

# Days laid out at first; a plan that finds no place in them gets the rest.
_DAYS, _MOST_DAYS = 35, 140
_TRIES = 250
# What a ground must hide where it is not tinted, Lab.
_WHITE_PRIMER = (94.0, 0.0, 2.0)


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


class PlanDesk(QObject):
    """Keeps the plan, its schedule and its findings; the views ask it and call its methods."""

    changed = Signal()  # the schedule was improved or time went on: show again

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.jar_desk: JarDesk | None = None
        # Replaced where a picture or a test needs its own time.
        self.clock: Callable[[], datetime] = datetime.now
        self._plan: Plan | None = None
        self._own: Own | None = None
        self._pieces: tuple[Piece, ...] | None = None
        self._factors: dict[str, float] | None = None
        self._proposed: tuple[Any, Plan] | None = None
        self._timed: tuple[Any, Timed] | None = None
        self._better: tuple[Any, Schedule] | None = None
        self._bounds: tuple[Any, int] | None = None
        self._scheduler: tuple[Any, Scheduler] | None = None
        self._findings: tuple[Any, tuple[Finding, ...]] | None = None
        document.changed.connect(self._forget)
        document.opened.connect(self._opened)

    def _forget(self) -> None:
        self._plan = self._pieces = self._factors = None

    def _opened(self) -> None:
        self._own = None
        self._proposed = self._timed = self._better = None

    # ---- tables and pieces

    def own(self) -> Own:
        """Return the painter's own tables; a fault in them is said once."""
        from jartide.plan.layup import Own
        from jartide.store.own_tables import own_tables

        if self._own is None:
            self._own = Own()
            if self.document.workspace is not None:
                try:
                    self._own = own_tables(self.document.workspace.folder)
                except JarTideError as error:
                    self.document.failed.emit(str(error))
        return self._own

    def techniques(self) -> Techniques:
        """Return every technique by id."""
        from jartide.plan.technique import techniques

        return techniques(self.own().techniques)

    def surfaces(self) -> list[Surface]:
        """Return the areas of the open finish."""
        finish = self.document.finish
        return [] if finish is None else self.document.surfaces(finish)

    def pieces(self) -> tuple[Piece, ...]:
        """Return boards that are painted by the plan, then the surfaces."""
        from jartide.plan.propose import Piece

        plan = self.plan()
        if self._pieces is not None:
            return self._pieces
        names = {board.id: board for board, _ in self.document.boards()}
        boards = [
            Piece(
                id=one.board_id,
                name=tr("board.numbered", number=names[one.board_id].number),
                width_mm=one.width_mm,
                height_mm=one.height_mm,
                board=True,
            )
            for one in (() if plan is None else plan.boards)
            if one.board_id in names
        ]
        self._pieces = (*boards, *(piece_of(surface) for surface in self.surfaces()))
        return self._pieces

    # ---- the plan

    def plan(self) -> Plan | None:
        """Return the plan: the kept one, or the one proposed from the reading; None without one."""
        from jartide.store.records import Plan

        workspace, finish = self.document.workspace, self.document.finish
        if workspace is None or finish is None:
            return None
        if self._plan is None or self._plan.finish_id != finish.id:
            kept = workspace.plans([finish.id])
            self._plan = kept[0] if kept else Plan(id=f"new {finish.id}", finish_id=finish.id)
        return self._plan

    def is_kept(self) -> bool:
        """Whether the plan is the painter's and no longer a proposal."""
        plan = self.plan()
        return plan is not None and bool(plan.steps)

    def proposal(self) -> tuple[Step, ...]:
        """Return the steps that the reading, the surfaces and the schools propose.

        Raises
        ------
        JarTideError : when a surface is lacking or a choice can't be used.
        """
        from jartide.plan.propose import Piece, propose

        reading, plan = self.document.target_reading(), self.plan()
        if reading is None or plan is None:
            return ()
        surfaces = [piece_of(surface) for surface in self.surfaces()]
        if not surfaces:
            # A board to try it on is always there.
            surfaces = [Piece(id="", name="", width_mm=600, height_mm=400)]
        key = (tuple(surfaces), plan.schools, self.own(), self._jar_key())
        if self._proposed is None or self._proposed[0] != (id(reading), key):
            wanted = {one.group: one.choice for one in plan.schools}
            steps = self._with_coats(propose(reading, surfaces, wanted, self.own()))
            self._proposed = ((id(reading), key), replace(plan, steps=steps))
            self._kept_reading = reading
        return self._proposed[1].steps

    def _jar_key(self) -> tuple:
        """What the number of coats that hide depends on: the fitted shelf and the jars."""
        desk = self.jar_desk
        if desk is None:
            return ()
        return (id(desk.work()), tuple((mix.layer, mix.parts) for mix in desk.mixes()))

    def _with_coats(self, steps: tuple[Step, ...]) -> tuple[Step, ...]:
        """Give grounds as many coats as their own mix needs to hide a white primer."""
        from jartide.app import jar_work
        from jartide.paint.hiding import coats_to_hide
        from jartide.plan.technique import Kind
        from jartide.wording import Message

        desk = self.jar_desk
        work = None if desk is None else desk.work()
        if desk is None or work is None:
            return steps
        jars = {mix.layer: mix for mix in desk.mixes() if mix.layer and mix.parts}
        found = []
        for step in steps:
            mix = jars.get(step.layer) if step.kind is Kind.BASE else None
            parts = None if mix is None else jar_work.parts_of(work, mix)
            if parts:
                hidden = coats_to_hide(work.fitted, parts, _WHITE_PRIMER).coats
                if hidden is not None:
                    said = Message("plan.hides_in", count=hidden)
                    step = replace(step, coats=hidden, how=(*step.how, said))
            found.append(step)
        return tuple(found)

    def steps(self) -> tuple[Step, ...]:
        """Return the steps of the plan, or of the proposal while nothing is kept.

        Raises
        ------
        JarTideError : as `proposal`.
        """
        plan = self.plan()
        return plan.steps if plan is not None and plan.steps else self.proposal()

    def put(self, words: str, drag: str = "", **parts: Any) -> None:
        """Change parts of the plan; the first change keeps the proposal's steps as well."""
        from jartide.store.records import Plan, new_id
        from jartide.store.workspace import now

        plan = self.plan()
        if plan is None:
            return
        if plan.id.startswith("new "):
            fresh = replace(plan, id=new_id(), **parts)
            assert isinstance(fresh, Plan)
            self.document.change(words, [replace(fresh, deleted_at=now())], [fresh], drag)
            return
        fresh = replace(plan, **parts)
        if fresh != plan:
            self.document.change(words, [plan], [fresh], drag)

    def put_steps(self, words: str, steps: tuple[Step, ...]) -> None:
        """Keep other steps."""
        self.put(words, steps=steps)

    def take_proposal(self) -> None:
        """Make the proposal the painter's plan."""
        self.put_steps(tr("undo.plan"), self.proposal())

    def choose_school(self, group: str, choice: str) -> None:
        """Choose a school; a plan that nobody has begun is proposed anew with it."""
        from jartide.plan.step import Taken

        plan = self.plan()
        if plan is None:
            return
        kept = tuple(one for one in plan.schools if one.group != group)
        schools = (*kept, Taken(group=group, choice=choice))
        if not plan.steps or plan.done:
            self.put(tr("undo.school"), schools=schools)
            return
        self.put(tr("undo.school"), schools=schools, steps=self._proposed_with(schools))

    def _proposed_with(self, schools: tuple) -> tuple[Step, ...]:
        from jartide.plan.propose import propose

        reading = self.document.target_reading()
        surfaces = [piece_of(surface) for surface in self.surfaces()]
        if reading is None or not surfaces:
            return self.steps()
        wanted = {one.group: one.choice for one in schools}
        return self._with_coats(propose(reading, surfaces, wanted, self.own()))

    def work(self) -> Work:
        """Return the frame of the plan."""
        from jartide.plan.work import Work

        plan = self.plan()
        return Work() if plan is None else plan.work

    # ---- rules and cautions

    def findings(self) -> tuple[Finding, ...]:
        """Return what the rules say of the plan."""
        from jartide.plan.facts import read_facts
        from jartide.plan.rules import check
        from jartide.plan.step_facts import Label

        reading, pieces = self.document.target_reading(), self.pieces()
        if reading is None:
            return ()
        steps = self.steps()
        tins = () if self.jar_desk is None else tuple(self.jar_desk.tins())
        labels = {
            tin.name: Label(
                place=tin.stock.place,
                thinner_limit=tin.stock.thinner_limit,
                cure_days=tin.stock.cure_days,
            )
            for tin in tins
        }
        key = (id(reading), steps, pieces, tuple(labels.items()), self.work().use_in_days)
        if self._findings is None or self._findings[0] != key:
            found = check(
                steps,
                pieces,
                reading.family,
                dark=read_facts(reading).dark,
                labels=labels,
                known=self.techniques(),
                use_in_days=self.work().use_in_days,
            )
            self._findings = (key, found)
        return self._findings[1]

    def cautions(self, step: Step) -> tuple[Caution, ...]:
        """Return the cautions of a step."""
        from jartide.plan.cautions import cautions_at

        plan = self.plan()
        answers = {} if plan is None else {one.question: one.answer for one in plan.answers}
        return cautions_at(step, self.pieces(), answers, self.techniques())

    def acknowledged(self) -> frozenset[str]:
        """Return the cautions ticked off on any finish of the job."""
        workspace, job = self.document.workspace, self.document.job()
        if workspace is None or job is None:
            return frozenset()
        finishes = [finish.id for finish in workspace.finishes(job.id)]
        ticked = [plan.acknowledged for plan in workspace.plans(finishes)]
        return frozenset(one for own in ticked for one in own)

    def questions(self) -> tuple[Question, ...]:
        """Return what is asked about these pieces."""
        from jartide.plan.cautions import questions

        return questions(self.pieces())

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
        from jartide.plan.progress import learned

        if self._factors is None:
            # Asked for at every step of a refresh: read once until something is written.
            workspace, job = self.document.workspace, self.document.job()
            if workspace is None or job is None:
                return {}
            plans = workspace.plans([finish.id for finish in workspace.finishes(job.id)])
            self._factors = learned([done for plan in plans for done in plan.done])
        return self._factors

    def _problem(self, days: int) -> Problem:
        from jartide.plan.progress import fixed_blocks
        from jartide.plan.schedule import Problem, Scheduler
        from jartide.plan.site import Where
        from jartide.plan.tasks import lanes_of
        from jartide.plan.timeline import Timeline
        from jartide.plan.weather import outside

        work, now = self.work(), self.now()
        first = self._first_day()
        midnight = datetime.combine(first, datetime.min.time())
        time = Timeline(work.hours, midnight, days)
        pieces = self.pieces()
        lanes = lanes_of(
            self.steps(), pieces, factors=self.factors(), panels_a_lane=work.panels_a_lane
        )
        weather = {
            piece.id: outside(work.weather, midnight, days, piece.site.facing, work.daylight)
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
        same = (midnight, days, work.hours, work.air, work.weather, work.daylight, pieces)
        kept = self._scheduler
        like = kept[1] if kept is not None and kept[0] == same else None
        self._scheduler = (same, Scheduler(problem, like))
        return replace(problem, fixed=fixed_blocks(problem, self.dones(), self._scheduler[1]))

    def _first_day(self):
        """The day the plan begins: the painter's, or the day of what was begun first."""
        from datetime import date

        from jartide.plan.progress import local

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
            self._timed = (key, self._time(key))
        return self._timed[1]

    def _time(self, key: Any) -> Timed:
        from jartide.plan.schedule import first_schedule

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
        from jartide.plan.progress import Block, state_of

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
        def work(progress: Callable[[float], None]) -> tuple[Schedule, float]:
            from jartide.plan.bound import gap, lower_bound
            from jartide.plan.schedule import improve

            bound = lower_bound(problem, first.finish)
            better = improve(problem, first, tries=_TRIES, stop_at=bound, progress=progress)
            return better, gap(better.finish, bound, problem.now)

        def returned(found: tuple[Schedule, float]) -> None:
            # The plan may have gone on meanwhile: then this answers an old question.
            if self._timed is not None and self._timed[0] == key:
                self._timed = (key, self._shown(problem, *found))
                self.changed.emit()

        self.document.runner.start("schedule", work, returned=returned, failed=self._say)

    def _say(self, error: Exception) -> None:
        if isinstance(error, JarTideError):
            self.document.failed.emit(str(error))
        else:
            raise error

    def at(self, slot: int) -> datetime:
        """Return the wall time of a slot of the schedule as it stands."""
        problem = self.timed().problem
        assert problem is not None
        return problem.timeline.at(slot)

    # ---- doing it

    def begin(self, task: Task, who: str = "") -> None:
        """Take up the brush."""
        from jartide.plan.progress import Done

        if any(done.task_id == task.id for done in self.dones()):
            return
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

    def _foreseen_h(self, task: Task) -> float:
        """Hours until the next coat in this air, without what was learned."""
        from jartide.plan.drying import drying_h

        coat = task.dries
        assert coat is not None
        air = self.work().air
        return drying_h(coat.label_h, coat.binder, air, film_um=coat.film_um) or coat.label_h

    def end(self, task: Task, used_ml: float | None = None) -> None:
        """Lay down the brush: it dries from now; on a board the pass goes into its log."""
        self._set_done(task, tr("undo.end"), ended=self._utc(), used_ml=used_ml)
        self._log(task)

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
        from jartide.plan.areas import one_area_m2
        from jartide.plan.quantities import measured_rate

        steps, problem = self.steps(), self.timed().problem
        if problem is None:
            return steps
        by_id = {step.id: step for step in steps}
        logged: dict[tuple[str, str], list[tuple[float, float]]] = {}
        used = {done.task_id: done.used_ml for done in self.dones() if done.used_ml}
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
        from jartide.plan.areas import one_area_m2

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
        from jartide.plan.work import Moved

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

    def _log(self, task: Task) -> None:
        """What is ticked off on a board is written into its log, pass by pass."""
        from jartide.boards.log import Climate, EntryKind, Logged, PassDone
        from jartide.plan.progress import local
        from jartide.store.records import Entry
        from jartide.store.workspace import now
        from jartide.wording import say

        boards = {board.id for board, _ in self.document.boards()}
        lane = task.lane.split("/")[0]
        done = next((d for d in self.dones() if d.task_id == task.id), None)
        if lane not in boards or done is None:
            return
        minutes = (local(done.ended) - local(done.begun)) / timedelta(minutes=1)
        own = self.steps_of(task)
        jars = [] if self.jar_desk is None else self.jar_desk.mixes()
        entries = []
        air = self.work().air
        climate = Climate(
            temperature_c=air.temperature_c,
            humidity_percent=air.humidity_percent,
            source=self.work().air_source,
        )
        logged = [Logged(kind=EntryKind.CLIMATE, climate=climate)]
        for step in own:
            mix = next((m.id for m in jars if step.layer and m.layer == step.layer), "")
            passed = PassDone(
                name=say(step.name),
                layer=step.layer,
                mix=mix,
                tool=step.tool,
                carrier_parts=step.carrier,
                water_parts=step.water,
                coats=1,
                laid_share=step.laid_share,
                minutes=round(minutes / len(own), 1),
                used_ml=round(done.used_ml or 0.0, 1) if len(own) == 1 else 0.0,
            )
            logged.append(Logged(kind=EntryKind.PASS, who=done.who, done=passed))
        for one in logged:
            entries.append(Entry(board_id=lane, at=now(), logged=one))
        self.document.add(tr("undo.log"), *entries)


def piece_of(surface: Surface) -> Piece:
    """Return a surface as the plan takes it."""
    from jartide.plan.propose import Piece

    return Piece(
        id=surface.id,
        name=surface.name,
        width_mm=surface.width_mm,
        height_mm=surface.height_mm,
        count=surface.count,
        site=surface.site,
    )


def outcome_of(steps: Sequence[Step], step_id: str) -> Outcome | None:
    """Return how a test came out; None for what is no test."""
    from jartide.plan.technique import Kind

    step = next((one for one in steps if one.id == step_id), None)
    return None if step is None or step.kind is not Kind.TEST else step.outcome
