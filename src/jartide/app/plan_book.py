"""The plan of the open finish: what it is, what the rules say of it, and changes to undo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from jartide.errors import JarTideError
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.plan.cautions import Caution, Question
    from jartide.plan.layup import Own
    from jartide.plan.propose import Piece
    from jartide.plan.rules import Finding
    from jartide.plan.step import Step
    from jartide.plan.technique import Techniques
    from jartide.plan.work import Work
    from jartide.store.records import Plan, Surface

# What a ground must hide where it is not tinted, Lab.
_WHITE_PRIMER = (94.0, 0.0, 2.0)


class PlanBook(QObject):
    """Keeps the plan and its findings; the views ask it and call its methods."""

    changed = Signal()  # something was worked out: show again

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.jar_desk: JarDesk | None = None
        # Replaced where a picture or a test needs its own time.
        self.clock: Callable[[], datetime] = datetime.now
        self._plan: Plan | None = None
        self._own: Own | None = None
        self._pieces: tuple[Piece, ...] | None = None
        self._proposed: tuple[Any, Plan] | None = None
        self._findings: tuple[Any, tuple[Finding, ...]] | None = None
        document.changed.connect(self._forget)
        document.opened.connect(self._opened)

    def _forget(self) -> None:
        self._plan = self._pieces = None

    def _opened(self) -> None:
        self._own = None
        self._proposed = None

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
        workspace, finish = self.document.workspace, self.document.finish
        if workspace is None or finish is None:
            return None
        if self._plan is None or self._plan.finish_id != finish.id:
            kept = workspace.plans([finish.id])
            self._plan = kept[0] if kept else self._new_plan(finish.id)
        return self._plan

    def _new_plan(self, finish_id: str) -> Plan:
        """A plan with nothing in it yet, in the painter's usual units and money."""
        from jartide.app.defaults import read_defaults
        from jartide.plan.units import Units
        from jartide.plan.work import Work
        from jartide.store.records import Plan

        usual = read_defaults(self.document.workspace)
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
