"""The plan of the open finish: what it is, what the rules say of it, and changes to undo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime
from typing import Any

from jartide.boards.surroundings import mean_colour, neighbours
from jartide.errors import JarTideError
from jartide.job import shelf_work
from jartide.job.defaults import read_defaults
from jartide.job.events import Event
from jartide.job.kept import Kept
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.job.shelf import Shelf
from jartide.paint.hiding import coats_to_hide
from jartide.paint.stock import Doubt, is_old
from jartide.plan.beside import Beside
from jartide.plan.cautions import Caution, Question, cautions_at, questions
from jartide.plan.facts import read_facts
from jartide.plan.layup import Own
from jartide.plan.propose import Piece, propose
from jartide.plan.quantities import piece_area_m2
from jartide.plan.rules import Finding, check
from jartide.plan.step import Step, Taken
from jartide.plan.step_facts import Label
from jartide.plan.technique import Kind, Techniques, techniques
from jartide.plan.units import Units
from jartide.plan.work import Work
from jartide.store.own_tables import own_tables
from jartide.store.records import Plan, Surface, new_id
from jartide.store.workspace import now
from jartide.wording import Message, tr

# What a ground must hide where it is not tinted, Lab.
_WHITE_PRIMER = (94.0, 0.0, 2.0)
# A board to try a finish on is always there.
_TRIAL_BOARD = Piece(id="", name="", width_mm=600, height_mm=400)


class PlanBook:
    """Keeps the plan and its findings; the views ask it and call its methods.

    Attributes
    ----------
    changed : something was worked out, show again
    clock : the painter's wall time; replaced where a picture or a test needs its own
    """

    def __init__(self, records: Records, readings: Readings, shelf: Shelf, kept: Kept) -> None:
        self.records, self.readings, self.shelf = records, readings, shelf
        self.changed = Event()
        self.clock: Callable[[], datetime] = datetime.now
        self._plan: Plan | None = None
        self._own: Own | None = None
        self._pieces: tuple[Piece, ...] | None = None
        self._proposals = kept.table("proposal", 4)
        self._findings = kept.table("findings", 4)
        records.events.changed.connect(self._forget)
        records.events.opened.connect(self._opened)

    def _forget(self) -> None:
        self._plan = self._pieces = None

    def _opened(self) -> None:
        self._own = None

    # ---- tables and pieces

    def own(self) -> Own:
        """Return the painter's own tables; a fault in them is said once."""
        if self._own is None:
            self._own = Own()
            if self.records.workspace is not None:
                try:
                    self._own = own_tables(self.records.workspace.folder)
                except JarTideError as error:
                    self.records.events.failed.emit(str(error))
        return self._own

    def techniques(self) -> Techniques:
        """Return every technique by id."""
        return techniques(self.own().techniques)

    def surfaces(self) -> list[Surface]:
        """Return the areas of the open finish."""
        return self.records.surfaces()

    def area_m2(self) -> float:
        """Return the area of all surfaces of the open finish; what can't be counted is left out."""
        area = 0.0
        for surface in self.surfaces():
            try:
                area += piece_area_m2(piece_of(surface))
            except JarTideError:
                continue
        return area

    def pieces(self) -> tuple[Piece, ...]:
        """Return boards that are painted by the plan, then the surfaces."""
        plan = self.plan()
        if self._pieces is not None:
            return self._pieces
        names = {board.id: board for board, _ in self.records.boards()}
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
        finish = self.records.finish
        if self.records.workspace is None or finish is None:
            return None
        if self._plan is None or self._plan.finish_id != finish.id:
            kept = [plan for plan in self.records.plans() if plan.finish_id == finish.id]
            self._plan = kept[0] if kept else self._new_plan(finish.id)
        return self._plan

    def _new_plan(self, finish_id: str) -> Plan:
        """A plan with nothing in it yet, in the painter's usual units and money."""
        usual = read_defaults(self.records.workspace)
        work = Work(units=Units(usual.units), currency=usual.currency)
        return Plan(id=f"new {finish_id}", finish_id=finish_id, work=work)

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
        plan = self.plan()
        return () if plan is None else self._proposed_with(plan.schools)

    def _proposed_with(self, schools: tuple[Taken, ...]) -> tuple[Step, ...]:
        reading = self.readings.of_target()
        if reading is None:
            return ()
        surfaces = tuple(piece_of(surface) for surface in self.surfaces()) or (_TRIAL_BOARD,)
        own, work = self.own(), self.shelf.work()
        jars = tuple((mix.layer, mix.parts) for mix in self.records.mixes())
        wanted = {one.group: one.choice for one in schools}
        return self._proposals.made(
            (surfaces, schools, jars),
            lambda: self._with_coats(propose(reading, surfaces, wanted, own)),
            reading,
            own,
            work,
        )

    def _with_coats(self, steps: tuple[Step, ...]) -> tuple[Step, ...]:
        """Give grounds as many coats as their own mix needs to hide a white primer."""
        work = self.shelf.work()
        if work is None:
            return steps
        jars = {mix.layer: mix for mix in self.records.mixes() if mix.layer and mix.parts}
        found = []
        for step in steps:
            mix = jars.get(step.layer) if step.kind is Kind.BASE else None
            parts = None if mix is None else shelf_work.parts_of(work, mix)
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
        plan = self.plan()
        if plan is None:
            return
        if plan.id.startswith("new "):
            fresh = replace(plan, id=new_id(), **parts)
            self.records.change(words, [replace(fresh, deleted_at=now())], [fresh], drag)
            return
        fresh = replace(plan, **parts)
        if fresh != plan:
            self.records.change(words, [plan], [fresh], drag)

    def put_steps(self, words: str, steps: tuple[Step, ...]) -> None:
        """Keep other steps."""
        self.put(words, steps=steps)

    def take_proposal(self) -> None:
        """Make the proposal the painter's plan."""
        self.put_steps(tr("undo.plan"), self.proposal())

    def choose_school(self, group: str, choice: str) -> None:
        """Choose a school; a plan that nobody has begun is proposed anew with it."""
        plan = self.plan()
        if plan is None:
            return
        kept = tuple(one for one in plan.schools if one.group != group)
        schools = (*kept, Taken(group=group, choice=choice))
        if not plan.steps or plan.done:
            self.put(tr("undo.school"), schools=schools)
            return
        can_propose = self.readings.of_target() is not None and bool(self.surfaces())
        steps = self._proposed_with(schools) if can_propose else self.steps()
        self.put(tr("undo.school"), schools=schools, steps=steps)

    def work(self) -> Work:
        """Return the frame of the plan."""
        plan = self.plan()
        return Work() if plan is None else plan.work

    # ---- rules and cautions

    def findings(self) -> tuple[Finding, ...]:
        """Return what the rules say of the plan."""
        reading, pieces = self.readings.of_target(), self.pieces()
        if reading is None:
            return ()
        steps = self.steps()
        labels = {
            tin.name: Label(
                place=tin.stock.place,
                thinner_limit=tin.stock.thinner_limit,
                cure_days=tin.stock.cure_days,
                rewets=tin.stock.rewets,
                primer_in=tin.stock.primer_in,
                clear_in=tin.stock.clear_in,
                stands_wear=tin.stock.stands_wear,
                doubt=tin.stock.doubt or (Doubt.OLD if is_old(tin.stock, date.today()) else None),
            )
            for tin in self.shelf.tins()
        }
        days, beside = self.work().use_in_days, self.beside()
        return self._findings.made(
            (steps, pieces, tuple(labels.items()), days, beside),
            lambda: check(
                steps,
                pieces,
                reading.family,
                dark=read_facts(reading).dark,
                labels=labels,
                known=self.techniques(),
                use_in_days=days,
                beside=beside,
            ),
            reading,
        )

    def beside(self) -> tuple[Beside, ...]:
        """Return what stays beside the finish and was read, with how it stands to the target."""
        finish, reading = self.records.finish, self.readings.of_target()
        if finish is None or reading is None or not finish.room:
            return ()
        room = [(one.name, one.lab) for one in finish.room]
        return tuple(
            Beside(name=one.name, relation=one.to_target.value)
            for one in neighbours(room, mean_colour(reading), None)
        )

    def cautions(self, step: Step) -> tuple[Caution, ...]:
        """Return the cautions of a step."""
        plan = self.plan()
        answers = {} if plan is None else {one.question: one.answer for one in plan.answers}
        return cautions_at(step, self.pieces(), answers, self.techniques())

    def acknowledged(self) -> frozenset[str]:
        """Return the cautions ticked off on any finish of the job."""
        return frozenset(one for plan in self.records.plans() for one in plan.acknowledged)

    def questions(self) -> tuple[Question, ...]:
        """Return what is asked about these pieces."""
        return questions(self.pieces())


def piece_of(surface: Surface) -> Piece:
    """Return a surface as the plan takes it."""
    return Piece(
        id=surface.id,
        name=surface.name,
        width_mm=surface.width_mm,
        height_mm=surface.height_mm,
        count=surface.count,
        site=surface.site,
    )
