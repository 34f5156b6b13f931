"""The steps under each other: what each one is, what the rules say of it, and how to change it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtWidgets import QHBoxLayout, QWidget

from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.stations.steps.step_detail import StepDetail
from jartide.app.widgets.control_column import fill_list, number, put_text, rename_field, was_edited
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.errors import JarTideError
from jartide.figures import plain_figure
from jartide.job.open_job import OpenJob
from jartide.job.words.numbers import percent_words
from jartide.job.words.steps import step_note
from jartide.plan import edit
from jartide.plan.edit import added, changed, with_outcome
from jartide.plan.layup_table import layup_table
from jartide.plan.quantities import FROM_JARS
from jartide.plan.rules import Finding, mended, set_aside
from jartide.plan.school import USUAL, WAY, chosen, schools, ways_of
from jartide.plan.step import Outcome, Step, with_spreading
from jartide.plan.units import area_from, area_in, rate_from, rate_in
from jartide.wording import Message, say, tr


class ListPage(StepsPage):
    """Shows all steps in order; the chosen one can be changed, moved, repeated and tested."""

    name = "plan"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._chosen = ""
        self._counts: dict[str, tuple[int, int]] = {}
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.plan"), self)
        self._ledger.chosen.connect(self._row_chosen)
        self._detail = StepDetail(self, edge=True)
        self.lay_out(self._ledger, self._detail)
        self._ids: list[str] = []

    def build_side(self, side: Side) -> None:
        with side.group() as self._finding_part:
            self._finding = side.words(size=16, weight=600)
            self._mend = side.button(tr("steps.mend"), self._mend_pressed)
        with side.group() as self._why_part:
            (self._why,) = side.fields(tr("steps.aside_why"))
        with side.group() as self._aside_part:
            side.button(tr("steps.set_aside"), self._aside_pressed)
        with side.group() as self._test_part:
            side.words(tr("steps.test_note"))
            self._passed = side.button(tr("steps.passed"), lambda: self._tested("passed"))
            self._failed = side.button(tr("steps.failed"), lambda: self._tested("failed"))
        edited = self._edited
        self._coats, self._share = side.fields(tr("log.coats"), tr("log.share"), edited=edited)
        self._carrier, self._water = side.fields(tr("log.carrier"), tr("log.water"), edited=edited)
        self._speed, self._dry = side.fields(
            tr("steps.speed.metric"), tr("steps.dry_h"), edited=edited
        )
        self._open, self._lay = side.fields(tr("steps.open_min"), tr("steps.lay"), edited=edited)
        self._rate, self._latest = side.fields(
            tr("steps.rate.metric"), tr("steps.latest"), edited=edited
        )
        (self._name,) = side.fields(tr("steps.name"), edited=edited)
        (self._tool,) = side.fields(tr("detail.tool"), edited=edited)
        (self._note,) = side.fields(tr("steps.note"), edited=edited)
        self._wet = side.tick(tr("steps.wet_in"), self._wet_pressed)
        side.words(tr("steps.layer"), 14)
        self._layer = side.list(tr("steps.layer"), self._layer_chosen)
        side.words(tr("steps.product"), 14)
        self._product = side.list(tr("steps.product"), self._product_chosen)
        self._up = side.button(tr("steps.up"), lambda: self._change("moved", -1))
        self._down = side.button(tr("steps.down"), lambda: self._change("moved", 1))
        self._again = side.button(tr("steps.repeat"), lambda: self._change("repeated"))
        self._remove = side.button(tr("steps.remove"), lambda: self._change("removed"))
        side.words(tr("steps.add"), 14)
        self._new = side.list(tr("steps.add"))
        side.button(tr("steps.add_after"), self._add_pressed)
        side.words(tr("steps.schools"), 18, 600)
        self._group = side.list(tr("steps.schools"), self._show_school)
        self._choice = side.list(tr("steps.school"), self._school_chosen)
        self._serves = side.words()
        side.button(tr("steps.anew"), self._anew_pressed)

    def fill_body(self, body: QHBoxLayout) -> None:
        body.addWidget(self._ledger, 54)
        body.addWidget(self._detail, 46)

    def choose(self, step_id: str) -> None:
        """Choose a step."""
        self._chosen = step_id
        self.show_now()

    # ---- showing

    def show_now(self) -> None:
        steps = self.steps()
        self._ids = [step.id for step in steps]
        if self._chosen not in self._ids and self._ids:
            self._chosen = self._ids[0]
        findings = self._findings()
        self._count()
        by_step: dict[str, list[Finding]] = {}
        for finding in findings:
            by_step.setdefault(finding.step_id, []).append(finding)
        rows = [self._row(step, by_step.get(step.id, [])) for step in steps]
        index = self._ids.index(self._chosen) if self._chosen in self._ids else -1
        self._ledger.show_rows(rows, index, tr("steps.no_steps"))
        step = steps[index] if index >= 0 else None
        own = [] if step is None else by_step.get(step.id, [])
        self._detail.show_step(self.plan, step, own)
        self._show_controls(step, own)
        self._show_lists()
        self.foot_changed.emit()

    def _findings(self) -> tuple[Finding, ...]:
        try:
            return self.plan.findings()
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            return ()

    def _row(self, step: Step, findings: list[Finding]) -> LedgerRow:
        grades = {finding.grade.value for finding in findings}
        sign = "stop" if "stop" in grades else "check" if "think" in grades else ""
        whole, done = self._counts.get(step.id, (0, 0))
        if not sign:
            through = step.outcome.value == "passed" or (whole > 0 and done == whole)
            sign = "ready" if through else "todo"
        right = percent_words(step.cover_left) if step.cover_left is not None else ""
        title = say(step.name)
        if step.zone:
            title = f"{title} ({step.zone})"
        note = step_note(step)
        if step.wet:
            note = f"{tr('steps.wet_in')}, {note}".strip(", ")
        begun = tr("steps.begun", done=done, whole=whole) if done and done < whole else ""
        return LedgerRow(title=title, note=note, right=right, right_note=begun, sign=sign)

    def _count(self) -> None:
        """How many blocks of each step there are, and how many of them are laid down."""
        self._counts = {}
        for block in self.plan.timed().blocks:
            for step_id in block.task.step_ids:
                whole, done = self._counts.get(step_id, (0, 0))
                laid = block.done is not None and bool(block.done.ended)
                self._counts[step_id] = (whole + 1, done + laid)

    def _show_controls(self, step: Step | None, findings: list[Finding]) -> None:
        finding = next(iter(findings), None)
        for part in (self._finding_part, self._aside_part):
            part.setVisible(finding is not None)
        self._why_part.setVisible(finding is not None and finding.grade == "stop")
        if finding is not None:
            pieces = ", ".join(dict.fromkeys(finding.pieces))
            self._finding.setText(f"{tr(f'grade.{finding.grade}')} {say(finding.reason)} {pieces}.")
            self._mend.setVisible(finding.mend is not None)
            if finding.mend is not None:
                self._mend.setText(self._mend_words(finding))
        is_test = step is not None and step.kind == "test"
        self._test_part.setVisible(is_test)
        for button in (self._up, self._down, self._again, self._remove):
            button.setEnabled(step is not None)
        if step is None:
            return
        self._passed.setEnabled(step.outcome.value != "passed")
        self._failed.setEnabled(step.outcome.value != "failed")
        units = self.plan.work().units
        rename_field(self._speed, tr(f"steps.speed.{units}"))
        rename_field(self._rate, tr(f"steps.rate.{units}"))
        self._rate.setEnabled(step.lays)
        lay = "" if step.direction_deg is None else f"{step.direction_deg:.0f}"
        for field, text in (
            (self._coats, str(step.coats)),
            (self._share, plain_figure(100 * step.laid_share, 3)),
            (self._carrier, plain_figure(step.carrier) if step.carrier else ""),
            (self._water, plain_figure(step.water) if step.water else ""),
            (self._speed, plain_figure(area_in(step.speed_m2_h, units), 4)),
            (
                self._rate,
                plain_figure(rate_in(step.spreading_m2_per_l, units), 4) if step.lays else "",
            ),
            (self._latest, plain_figure(step.latest_h) if step.latest_h else ""),
            (self._dry, plain_figure(step.dry_h) if step.dry_h else ""),
            (self._open, plain_figure(step.open_min) if step.open_min else ""),
            (self._lay, lay),
            (self._name, say(step.name)),
            (self._tool, say(Message(step.tool)) if step.tool else ""),
            (self._note, step.note),
        ):
            put_text(field, text)
        self._wet.setChecked(step.wet)
        self._wet.setEnabled(bool(self._ids) and step.id != self._ids[0])

    def _mend_words(self, finding: Finding) -> str:
        mend = finding.mend
        assert mend is not None
        wanted = finding.primer if mend.do == "primer" else mend.technique
        technique = self.plan.techniques().get(wanted)
        # A name that carries a measure is said without it.
        name = "" if technique is None else say(Message(technique.name.split(",")[0].strip("{}")))
        return tr(f"steps.mend.{mend.do}", name=name.lower())

    def _show_lists(self) -> None:
        reading, plan = self.job.readings.of_target(), self.plan.plan()
        known = self.plan.techniques()
        names = sorted((_plain_name(one.name), one.id) for one in known.values())
        fill_list(self._new, [*names], self._new.currentData())
        if reading is None or plan is None:
            return
        wanted = {one.group: one.choice for one in plan.schools}
        ways = ways_of(reading.family)
        own = self.plan.own().family(reading.family)
        table = layup_table(reading.family, own, wanted.get(WAY, USUAL))
        offered = ([WAY] if len(ways) > 1 else []) + list(table.schools)
        groups: list[tuple[str, object]] = [
            (say(Message(schools()[group].name)), group) for group in offered
        ]
        fill_list(self._group, groups, self._group.currentData())
        group = str(self._group.currentData() or "")
        if group:
            taken = chosen({**dict(table.prefers), **wanted})[group]
            choices = ways if group == WAY else schools()[group].choices
            fill_list(self._choice, [(say(Message(c.name)), c.id) for c in choices], taken)
            serves = next((c.serves for c in choices if c.id == taken), "")
            self._serves.setText(say(Message(serves)))
        step = next((s for s in self.steps() if s.id == self._chosen), None)
        layers: list[tuple[str, object]] = [(tr("steps.no_layer"), "")]
        layers += [(say(layer.name), layer.id) for layer in reading.layers]
        fill_list(self._layer, layers, "" if step is None else step.layer)
        self._layer.setEnabled(step is not None and step.product in FROM_JARS)
        tins = self.job.records.tins()
        mine = [(tin.name, tin.name) for tin in tins if step is not None and _serves(tin, step)]
        current = "" if step is None else step.product_name
        fill_list(self._product, [(tr("steps.any_product"), ""), *mine], current)
        self._product.setEnabled(bool(mine))

    def _show_school(self) -> None:
        self._show_lists()

    # ---- changing

    def foot_actions(self) -> tuple[Action, ...]:
        if self.plan.is_kept() or not self._ids:
            return ()
        take = Action(text=tr("steps.take"), run=self.plan.take_proposal, primary=True)
        return (take,)

    def _row_chosen(self, index: int) -> None:
        self._chosen = self._ids[index]
        self.show_now()

    def _step(self) -> Step | None:
        return next((s for s in self.steps() if s.id == self._chosen), None)

    def _put(self, words: str, make: Callable[[], tuple[Step, ...]]) -> None:
        self.try_to(lambda: self.plan.put_steps(words, make()))

    def _change(self, what: str, *more: int) -> None:
        if self._chosen:
            run = getattr(edit, what)
            steps, chosen = self.steps(), self._chosen
            self._put(tr(f"undo.step.{what}"), lambda: run(steps, chosen, *more))

    def _edited(self) -> None:
        step = self._step()
        fields = (
            self._coats, self._share, self._carrier, self._water, self._speed, self._dry,
            self._open, self._lay, self._rate, self._latest, self._name, self._tool, self._note,
        )  # fmt: skip
        if step is None or not was_edited(*fields):
            return
        lay, units = number(self._lay.text()), self.plan.work().units
        fresh = replace(
            step,
            coats=round(number(self._coats.text()) or 0),
            laid_share=(number(self._share.text()) or 0.0) / 100,
            carrier=number(self._carrier.text()) or 0.0,
            water=number(self._water.text()) or 0.0,
            speed_m2_h=area_from(number(self._speed.text()) or 0.0, units),
            latest_h=number(self._latest.text()) or 0.0,
            dry_h=number(self._dry.text()) or 0.0,
            open_min=number(self._open.text()) or 0.0,
            direction_deg=None if lay is None else lay % 180,
            name=typed_words(self._name.text(), step.name),
            tool=str(typed_words(self._tool.text(), Message(step.tool)).id),
            note=self._note.text().strip(),
        )
        rate = rate_from(number(self._rate.text()) or 0.0, units)
        if fresh.lays and rate > 0 and abs(rate / fresh.spreading_m2_per_l - 1) > 1e-3:
            fresh = with_spreading(fresh, rate)
        steps = self.steps()
        self._put(tr("undo.step.changed"), lambda: changed(steps, fresh))

    def _wet_pressed(self, _: bool = False) -> None:
        step, steps = self._step(), self.steps()
        if step is not None:
            fresh = replace(step, wet=not step.wet)
            self._put(tr("undo.step.changed"), lambda: changed(steps, fresh))

    def _layer_chosen(self) -> None:
        step, steps = self._step(), self.steps()
        if step is not None:
            fresh = replace(step, layer=str(self._layer.currentData() or ""))
            self._put(tr("undo.step.changed"), lambda: changed(steps, fresh))

    def _product_chosen(self) -> None:
        step = self._step()
        if step is None:
            return
        name = str(self._product.currentData() or "")
        fresh = replace(step, product_name=name)
        tins = self.job.records.tins()
        tin = next((t for t in tins if t.name == name), None)
        if tin is not None:
            fresh = _by_label(fresh, tin)
        steps = self.steps()
        self._put(tr("undo.step.changed"), lambda: changed(steps, fresh))

    def _add_pressed(self) -> None:
        technique = str(self._new.currentData() or "")
        steps, chosen, known = self.steps(), self._chosen, self.plan.techniques()
        if technique:
            step, reading = self._step(), self.job.readings.of_target()
            ids = () if reading is None else tuple(one.id for one in reading.layers)
            layer = step.layer if step is not None and step.layer else next(iter(ids), "")
            self._put(tr("undo.step.added"), lambda: added(steps, technique, chosen, known, layer))

    def _tested(self, outcome: str) -> None:
        steps, chosen, known = self.steps(), self._chosen, self.plan.techniques()
        self._put(
            tr(f"undo.test.{outcome}"),
            lambda: with_outcome(steps, chosen, Outcome(outcome), known),
        )

    def _finding_now(self) -> Finding | None:
        return next((f for f in self._findings() if f.step_id == self._chosen), None)

    def _mend_pressed(self) -> None:
        finding, steps = self._finding_now(), self.steps()
        if finding is not None:
            known = self.plan.techniques()
            self._put(tr("undo.mend"), lambda: mended(steps, finding, known))

    def _aside_pressed(self) -> None:
        finding, steps = self._finding_now(), self.steps()
        if finding is not None:
            why = self._why.text() if finding.grade == "stop" else ""
            self._put(tr("undo.set_aside"), lambda: set_aside(steps, finding, why))
            self._why.clear()

    def _school_chosen(self) -> None:
        group, choice = self._group.currentData(), self._choice.currentData()
        if group and choice:
            self.try_to(lambda: self.plan.choose_school(str(group), str(choice)))

    def _anew_pressed(self) -> None:
        self.try_to(self.plan.take_proposal)


def typed_words(typed: str, before: Message) -> Message:
    """What was typed as words of its own; what stood there where it was left or emptied."""
    text = " ".join(typed.split())
    if not text or text == say(before):
        return before
    return Message(text.replace("{", "(").replace("}", ")"))


def _plain_name(name: str) -> str:
    """A technique's name without its measure: "{layer}, by feather" is "By feather"."""
    plain = say(Message(name)) if "{" not in name else name
    for measure in ("{layer}, ", ", {layer}", ", {sheen}"):
        plain = plain.replace(measure, "")
    return plain[:1].upper() + plain[1:]


_KINDS = {
    "primer": ("primer",), "clear": ("clear",), "wax": ("wax",), "metal": ("metal",),
    "glaze": ("paint", "stain", "mixed"), "paint": ("paint", "stain", "mixed"),
}  # fmt: skip


def _serves(tin, step: Step) -> bool:
    """Whether a tin is of the kind a step lays; a layer's colour comes out of its jar."""
    if step.layer and step.product in FROM_JARS:
        return False
    return tin.owned and tin.stock.kind in _KINDS.get(step.product, ())


def _by_label(step: Step, tin) -> Step:
    """What the tin's label says goes before the table."""
    stock = tin.stock
    parts: dict[str, object] = {}
    if stock.recoat_h is not None:
        parts["dry_h"] = stock.recoat_h
    if stock.open_min is not None:
        parts["open_min"] = stock.open_min
    if stock.spreading_m2_per_l is not None:
        parts["spreading_m2_per_l"] = stock.spreading_m2_per_l
    if stock.binder is not None:
        parts["binder"] = str(stock.binder)
    return replace(step, **parts)  # type: ignore[arg-type]
