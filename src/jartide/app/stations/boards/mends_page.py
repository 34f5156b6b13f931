"""What mends the board: every mend with its amount, its recipe and what else it moves."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.control_column import number, put_text, was_edited
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.mend_steps import with_mend
from jartide.figures import plain_figure
from jartide.job.open_job import OpenJob
from jartide.job.words.mends import MendWords
from jartide.wording import tr


class MendsPage(BoardPage):
    """Lists the mends, the first difference's first."""

    name = "mends"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.mends"), self)
        self._ledger.chosen.connect(self._row_chosen)
        self._mends: list[MendWords | None] = []
        self._chosen = -1
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        self._fresh = side.words(size=18, weight=600)
        side.words(tr("mends.how"))
        side.words(tr("mends.limits"))
        self._tolerance = side.fields(tr("mends.tolerance"), edited=self._tolerance_edited)[0]

    def show_board(self) -> None:
        comparison = None if self.photo is None else self.job.comparisons.of(self.photo)
        found = None if self.photo is None else self.job.boards.mends(self.photo)
        if comparison is None or found is None:
            self._ledger.show_rows([], -1, tr("boards.reading"))
            return
        put_text(self._tolerance, plain_figure(comparison.tolerance))
        mends, fresh = found
        self._fresh.setText(fresh or (tr("mends.repair") if mends else ""))
        rows: list[LedgerRow] = []
        self._mends = []
        for mend in mends:
            rows.append(LedgerRow(title=mend.what, head=True))
            sign = {"repair": "todo", "fresh": "check"}[mend.means]
            note = " ".join(mend.effects)
            rows.append(LedgerRow(title=mend.how, note=note, sign=sign))
            for place, recipe in enumerate(mend.recipes):
                note = tr("mends.with_paints") if place == 0 else tr("mends.or")
                rows.append(LedgerRow(title=recipe, note=note))
            self._mends += [mend] * (len(rows) - len(self._mends))
        if not 0 <= self._chosen < len(rows) or rows[self._chosen].head:
            self._chosen = 1 if rows else -1
        self._ledger.show_rows(rows, self._chosen, tr("mends.none"))
        self.foot_changed.emit()

    def _row_chosen(self, index: int) -> None:
        self._chosen = index

    def foot_actions(self) -> tuple[Action, ...]:
        if self.job.plan is None or not self._mends:
            return ()
        return (Action(text=tr("mends.to_steps"), run=self.add_to_steps),)

    def add_to_steps(self) -> None:
        """Put the chosen mend into the plan as a computed step."""
        plan, target = self.job.plan, self.job.readings.of_target()
        found = self._mends[self._chosen] if 0 <= self._chosen < len(self._mends) else None
        if plan is None or target is None or found is None:
            return
        way = next(iter(found.ways), None)

        def put() -> None:
            steps, _ = with_mend(plan.steps(), found.mend, target, way, plan.techniques())
            plan.put_steps(tr("undo.mend_step"), steps)
            self.job.events.removed.emit(tr("mends.in_steps"))

        self.try_to(put)

    def _tolerance_edited(self) -> None:
        """The painter's own tolerance of this finish."""
        finish = self.job.finish
        if finish is None or not was_edited(self._tolerance):
            return
        wanted = number(self._tolerance.text())
        if wanted is None or not 0.5 <= wanted <= 50:
            self.job.events.failed.emit(tr("error.tolerance"))
        elif wanted != finish.tolerance:
            new = replace(finish, tolerance=wanted)
            self.job.records.change(tr("undo.tolerance"), [finish], [new])
