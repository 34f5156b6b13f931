"""How much of everything: what each mix and product takes, what is there, what to buy."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.widgets.control_column import (
    fill_list,
    number,
    put_text,
    was_edited,
)
from jartide.app.widgets.foot import Action
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.errors import JarTideError
from jartide.figures import plain_figure
from jartide.job.open_job import OpenJob
from jartide.job.words.numbers import figure_words
from jartide.job.words.steps import area_words, small_words, tins_words, volume_words, ware_words
from jartide.plan.quantities import Line
from jartide.plan.units import Units
from jartide.store.shopping_csv import write_shopping
from jartide.wording import say, tr


class AmountsPage(StepsPage):
    """Lists amounts by product and by step, and the shopping list."""

    name = "amounts"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.amounts"), self)
        self.lay_out(self._ledger)
        self.lines: tuple[Line, ...] = ()

    def build_side(self, side: Side) -> None:
        self._total = side.words(size=18, weight=600)
        side.words(tr("amounts.units"), 14)
        self._units = side.list(tr("amounts.units"), self._changed)
        fill_list(self._units, [(tr(f"amounts.{u}"), u) for u in Units])
        self._waste, self._touch_up, self._currency = side.fields(
            tr("amounts.waste"), tr("amounts.touch_up"), tr("amounts.currency"),
            edited=self._changed,
        )  # fmt: skip

    # ---- showing

    def show_now(self) -> None:
        work = self.plan.work()
        self._units.setCurrentIndex(max(self._units.findData(work.units), 0))
        put_text(self._waste, plain_figure(100 * work.waste))
        put_text(self._touch_up, plain_figure(100 * work.touch_up_share))
        put_text(self._currency, work.currency)
        try:
            rows = self._rows()
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            rows = []
        self._ledger.show_rows(rows, -1, tr("amounts.none"))
        self.foot_changed.emit()

    def _rows(self) -> list[LedgerRow]:
        work, reading = self.plan.work(), self.job.readings.of_target()
        wares = self.job.amounts.wares()
        rows = [LedgerRow(title=tr("amounts.by_product"), head=True)]
        for amount in wares:
            laid, waste, tools, kept = (small_words(ml, work.units) for ml in amount.shown_ml)
            note = tr("amounts.made_of", laid=laid, waste=waste, tools=tools)
            if amount.touch_up_ml:
                note = f"{note}, {tr('amounts.put_by', amount=kept)}"
            rows.append(
                LedgerRow(
                    title=ware_words(amount.ware, reading),
                    note=note,
                    right=volume_words(amount.mixed_ml, work.units),
                    right_note=tr("amounts.steps", count=len(amount.used_by)),
                )
            )
        self.lines = self.job.amounts.shopping()
        rows.append(LedgerRow(title=tr("amounts.shopping"), head=True))
        rows += [self._line(line) for line in self.lines]
        rows.append(LedgerRow(title=tr("amounts.by_step"), head=True))
        for step, one in self.job.amounts.steps():
            if one.wet_ml > 0:
                rows.append(
                    LedgerRow(
                        title=say(step.name),
                        note=area_words(one.area_m2, work.units),
                        right=volume_words(one.wet_ml, work.units),
                    )
                )
        known = [line.price for line in self.lines if line.missing_ml > 0]
        cost = sum(price for price in known if price is not None)
        words = tr("amounts.cost", cost=f"{work.currency} {figure_words(cost, 2)}")
        if all(price is None for price in known):
            words = tr("amounts.cost_unknown")
        elif any(price is None for price in known):
            words = f"{words} {tr('amounts.cost_open')}"
        self._total.setText(words if known else tr("amounts.nothing_to_buy"))
        return rows

    def _line(self, line: Line) -> LedgerRow:
        work = self.plan.work()
        needed = tr("amounts.needed", amount=volume_words(line.needed_ml, work.units))
        if line.left_ml is not None:
            left = tr("amounts.left", amount=volume_words(line.left_ml, work.units))
            needed = f"{needed}, {left}"
        if line.unknown:
            return LedgerRow(title=line.name, note=needed, right=tr("amounts.ask"), sign="check")
        if line.missing_ml <= 0:
            return LedgerRow(title=line.name, note=needed, right=tr("amounts.there"), sign="ready")
        price = "" if line.price is None else f"{work.currency} {figure_words(line.price, 2)}"
        return LedgerRow(
            title=line.name, note=needed, right=tins_words(line.tins, work.units),
            right_note=price, sign="todo",
        )  # fmt: skip

    # ---- changing

    def foot_actions(self) -> tuple[Action, ...]:
        return (Action(text=tr("amounts.save"), run=self._save_pressed, primary=True),)

    def _changed(self) -> None:
        work = self.plan.work()
        waste, touch_up = number(self._waste.text()), number(self._touch_up.text())
        if was_edited(self._waste, self._touch_up) and (
            waste is None or not 0 <= waste <= 100 or touch_up is None or not 0 <= touch_up <= 100
        ):
            self.job.events.failed.emit(tr("error.batch.waste"))
            self.show_now()
            return
        fresh = replace(
            work,
            units=self._units.currentData(),
            waste=(waste or 0.0) / 100,
            touch_up_share=(touch_up or 0.0) / 100,
            currency=self._currency.text().strip()[:6],
        )
        self.plan.put(tr("undo.work"), work=fresh)

    def _save_pressed(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, tr("amounts.save"), tr("amounts.file"), "CSV (*.csv)"
        )
        if name:
            self.save_list(Path(name))

    def save_list(self, path: Path) -> None:
        """Write the shopping list as CSV."""
        try:
            path.write_text(write_shopping(self.lines), encoding="utf-8")
        except OSError as error:
            why = error.strerror or type(error).__name__
            self.job.events.failed.emit(tr("error.command.write", name=str(path), why=why))
