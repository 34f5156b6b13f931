"""The areas of the finish: their sizes, what they are made of, where they are, what they stand."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QLabel, QWidget

from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.widgets.control_column import fill_list, number, put_text, rename_field, was_edited
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.errors import JarTideError
from jartide.figures import plain_figure
from jartide.job.open_job import OpenJob
from jartide.job.plan_book import piece_of
from jartide.job.words.steps import area_words, size_words
from jartide.plan.cautions import caution_table
from jartide.plan.quantities import piece_area_m2
from jartide.plan.site import Facing, Shape, Wear, Where, substrates
from jartide.plan.units import area_from, area_in, length_from, length_in
from jartide.plan.work import Answer, PlannedBoard
from jartide.store.records import Board, Surface
from jartide.store.workspace import now
from jartide.wording import Message, say, tr


class SurfacesPage(StepsPage):
    """Lists the surfaces and boards of the plan; the chosen surface can be changed."""

    name = "surfaces"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._chosen = ""
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.surfaces"), self)
        self._ledger.chosen.connect(self._row_chosen)
        self.lay_out(self._ledger)
        self._ids: list[str] = []

    def build_side(self, side: Side) -> None:
        made, conditions, _ = substrates()
        self._name = side.fields(tr("surface.name"), edited=self._edited)[0]
        self._width, self._height, self._count = side.fields(
            tr("surface.width.metric"),
            tr("surface.height.metric"),
            tr("surface.count"),
            edited=self._edited,
        )
        self._lists: dict[str, tuple[QLabel, DropDown]] = {}
        choices: tuple[tuple[str, list[tuple[str, object]]], ...] = (
            ("shape", [(tr(f"shape.{s}"), s) for s in Shape]),
            ("substrate", [(say(Message(s.name)), s.id) for s in made.values()]),
            ("place", [(tr(f"place.{p}"), p) for p in Where]),
            ("wear", [(tr(f"wear.{w}"), w) for w in Wear]),
            ("facing", [(tr(f"facing.{f}"), f) for f in Facing]),
        )
        for key, items in choices:
            label = side.words(tr(f"surface.{key}"), 14)
            made_list = side.list(tr(f"surface.{key}"), partial(self._listed, key))
            fill_list(made_list, items)
            self._lists[key] = (label, made_list)
        side.words(tr("surface.conditions"), 14)
        self._conditions = {
            one.id: side.tick(say(Message(one.name)), partial(self._ticked, one.id))
            for one in conditions.values()
        }
        self._openings, self._relief = side.fields(
            tr("surface.openings.metric"), tr("surface.relief"), edited=self._edited
        )
        self._beside = side.fields(tr("surface.beside"), edited=self._edited)[0]
        self._overhead = side.tick(tr("surface.overhead"), lambda _: self._flags())
        self._glass = side.tick(tr("surface.glass"), lambda _: self._flags())
        self._remove = side.button(tr("surface.remove"), self._remove_pressed)
        with side.group() as self._asked:
            side.words(tr("surface.asked"), 18, 600)
            self._questions = {}
            for question in caution_table()[1]:
                label = side.words(say(Message(question.text)))
                answer = side.list(
                    say(Message(question.text)), partial(self._answered, question.id)
                )
                fill_list(answer, [(tr(f"answer.{a or 'open'}"), a) for a in ("", "yes", "no")])
                self._questions[question.id] = (label, answer)

    # ---- showing

    def show_now(self) -> None:
        surfaces = self.plan.surfaces()
        self._ids = [surface.id for surface in surfaces]
        if self._chosen not in self._ids:
            self._chosen = self._ids[0] if self._ids else ""
        rows = [self._row(surface) for surface in surfaces]
        boards = [piece for piece in self.plan.pieces() if piece.board]
        if boards:
            rows.append(LedgerRow(title=tr("surface.boards"), head=True))
            for piece in boards:
                size = size_words(piece.width_mm, piece.height_mm, self.plan.work().units)
                rows.append(LedgerRow(title=piece.name, note=size))
        index = self._ids.index(self._chosen) if self._chosen else -1
        self._ledger.show_rows(rows, index, tr("surface.none"))
        surface = surfaces[index] if index >= 0 else None
        self._show_surface(surface)
        self._show_questions()
        self.foot_changed.emit()

    def _row(self, surface: Surface) -> LedgerRow:
        made = substrates()[0]
        site = surface.site
        known = made.get(site.substrate)
        words = [say(Message(known.name)) if known is not None else site.substrate]
        words += [tr(f"place.{site.place}").lower(), tr(f"wear.{site.wear}").lower()]
        size = size_words(surface.width_mm, surface.height_mm, self.plan.work().units)
        try:
            area = area_words(piece_area_m2(piece_of(surface)), self.plan.work().units)
            sign = ""
        except JarTideError as error:
            area, sign = "", "stop"
            words = [str(error)]
        title = surface.name if surface.count == 1 else f"{surface.count} × {surface.name}"
        return LedgerRow(title=title, note=", ".join(words), right=area, right_note=size, sign=sign)

    def _show_surface(self, surface: Surface | None) -> None:
        self._remove.setEnabled(surface is not None)
        for label, made in self._lists.values():
            made.setEnabled(surface is not None)
            label.setVisible(True)
        if surface is None:
            return
        site = surface.site
        units = self.plan.work().units
        for field, name in (
            (self._width, "width"), (self._height, "height"), (self._openings, "openings"),
        ):  # fmt: skip
            rename_field(field, tr(f"surface.{name}.{units}"))
        openings = area_in(site.openings_m2, units)
        for field, text in (
            (self._name, surface.name),
            (self._width, plain_figure(length_in(surface.width_mm, units), 6)),
            (self._height, plain_figure(length_in(surface.height_mm, units), 6)),
            (self._count, str(surface.count)),
            (self._openings, plain_figure(openings, 6) if openings else ""),
            (self._relief, plain_figure(site.relief_factor)),
            (self._beside, site.beside),
        ):
            put_text(field, text)
        for key, (_, made) in self._lists.items():
            made.setCurrentIndex(max(made.findData(getattr(site, key)), 0))
        outside = site.place == "outside"
        for widget in self._lists["facing"]:
            widget.setVisible(outside)
        for condition, tick in self._conditions.items():
            tick.setChecked(condition in site.conditions)
        self._overhead.setChecked(site.overhead)
        self._glass.setChecked(site.behind_glass)

    def _show_questions(self) -> None:
        asked = {question.id for question in self.plan.questions()}
        plan = self.plan.plan()
        answers = {} if plan is None else {a.question: a.answer for a in plan.answers}
        self._asked.setVisible(bool(asked))
        for key, (label, made) in self._questions.items():
            label.setVisible(key in asked)
            made.setVisible(key in asked)
            made.setCurrentIndex(max(made.findData(answers.get(key, "")), 0))

    # ---- changing

    def foot_actions(self) -> tuple[Action, ...]:
        return (
            Action(text=tr("surface.plan_board"), run=self._plan_board),
            Action(text=tr("surface.add"), run=self._add_pressed, primary=True),
        )

    def _row_chosen(self, index: int) -> None:
        if index < len(self._ids):
            self._chosen = self._ids[index]
            self.show_now()

    def _surface(self) -> Surface | None:
        return next((s for s in self.plan.surfaces() if s.id == self._chosen), None)

    def _put(self, fresh: Surface) -> None:
        """Keep a changed surface; one that can't be measured is refused and nothing changes."""
        before = self._surface()
        if before is None or fresh == before:
            return
        try:
            piece_area_m2(piece_of(fresh))
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            self.show_now()
            return
        self.job.records.change(tr("undo.surface"), [before], [fresh])

    def _edited(self) -> None:
        fields = (
            self._name, self._width, self._height, self._count, self._openings, self._relief,
            self._beside,
        )  # fmt: skip
        surface = self._surface()
        if surface is None or not was_edited(*fields):
            return
        units = self.plan.work().units
        site = replace(
            surface.site,
            openings_m2=area_from(number(self._openings.text()) or 0.0, units),
            relief_factor=number(self._relief.text()) or 1.0,
            beside=self._beside.text().strip(),
        )
        self._put(
            replace(
                surface,
                name=self._name.text().strip() or surface.name,
                width_mm=length_from(number(self._width.text()) or 0.0, units),
                height_mm=length_from(number(self._height.text()) or 0.0, units),
                count=round(number(self._count.text()) or 0),
                site=site,
            )
        )

    def _typed_into(self, surface: Surface) -> Surface:
        """A new surface with what stands in the fields; what can't be measured stays as it was."""
        units = self.plan.work().units
        width, height = (number(field.text()) for field in (self._width, self._height))
        named = replace(surface, name=self._name.text().strip() or surface.name)
        typed = replace(
            named,
            width_mm=surface.width_mm if width is None else length_from(width, units),
            height_mm=surface.height_mm if height is None else length_from(height, units),
            count=max(round(number(self._count.text()) or 1), 1),
            site=replace(surface.site, beside=self._beside.text().strip()),
        )
        was_edited(self._name, self._width, self._height, self._count, self._beside)
        try:
            piece_area_m2(piece_of(typed))
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            return named
        return typed

    def _listed(self, key: str) -> None:
        surface = self._surface()
        if surface is not None:
            value = self._lists[key][1].currentData()
            self._put(replace(surface, site=replace(surface.site, **{key: value})))

    def _ticked(self, condition: str, on: bool) -> None:
        surface = self._surface()
        if surface is not None:
            kept = tuple(c for c in surface.site.conditions if c != condition)
            site = replace(surface.site, conditions=(*kept, condition) if on else kept)
            self._put(replace(surface, site=site))

    def _flags(self) -> None:
        surface = self._surface()
        if surface is not None:
            site = replace(
                surface.site,
                overhead=self._overhead.isChecked(),
                behind_glass=self._glass.isChecked(),
            )
            self._put(replace(surface, site=site))

    def _add_pressed(self) -> None:
        finish = self.job.finish
        if finish is None:
            return
        names = len(self.plan.surfaces()) + 1
        fresh = Surface(
            finish_id=finish.id,
            name=tr("surface.numbered", number=names),
            width_mm=1000.0,
            height_mm=1000.0,
        )
        if self._surface() is None:
            # What was typed before there was a surface is of this one.
            fresh = self._typed_into(fresh)
        self._chosen = fresh.id
        self.job.records.add(tr("undo.surface_added"), fresh)

    def _remove_pressed(self) -> None:
        surface = self._surface()
        if surface is not None:
            self.job.records.remove(tr("undo.surface_removed", name=surface.name), surface)

    def _answered(self, question: str) -> None:
        plan = self.plan.plan()
        if plan is None:
            return
        kept = tuple(a for a in plan.answers if a.question != question)
        answer = str(self._questions[question][1].currentData() or "")
        if answer:
            kept = (*kept, Answer(question=question, answer=answer))
        self.plan.put(tr("undo.answer"), answers=kept)

    def _plan_board(self) -> None:
        """A new test board is painted by the plan; its log fills as steps are ticked off."""
        finish, plan = self.job.finish, self.plan.plan()
        if finish is None or plan is None:
            return
        number_ = self.job.records.next_number("board", finish)
        board = Board(finish_id=finish.id, number=number_, made_at=now())
        self.job.records.add(tr("undo.begin_board", number=number_), board)
        self.try_to(
            lambda: self.plan.put(
                tr("undo.begin_board", number=number_),
                steps=self.plan.steps(),
                boards=(*plan.boards, PlannedBoard(board_id=board.id)),
            )
        )
