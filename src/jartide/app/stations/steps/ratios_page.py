"""Ratios at the bench: amounts, weights and drops of parts; poured by eye; thinned by steps."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.widgets.control_column import number, rename_field
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.job.words.jars import parts_words
from jartide.job.words.numbers import plain_words
from jartide.job.words.steps import small_words, volume_words
from jartide.plan.ratios import (
    amounts_ml,
    by_weight,
    diluted,
    drops,
    from_levels,
    percents,
    scoops,
    shared_out,
)
from jartide.plan.units import Units, small_from
from jartide.wording import tr

_MOST_TEXT = 60
# What is less is counted in drops, millilitres.
_IN_DROPS_ML = 10.0
# From so much on, whole millilitres say a ratio well enough.
_WHOLE_ML = 20.0
# Of a usual water-borne paint, grams to the millilitre.
_USUAL_DENSITY = 1.3


class RatiosPage(StepsPage):
    """Works out ratios as they are typed; nothing of it is kept."""

    name = "ratios"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.ratios"), self)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        self._ratio, self._of = side.fields(
            tr("amounts.parts"), tr("amounts.of.metric"), edited=self.show_now
        )
        self._ratio.setText("5 : 2 : 1")
        self._of.setText("500")
        self._density = side.fields(tr("ratios.density"), edited=self.show_now)[0]
        self._density.setText(plain_words(_USUAL_DENSITY))
        self._scoop, self._per_l = side.fields(
            tr("amounts.scoop"), tr("amounts.per_l"), edited=self.show_now
        )
        self._scoop.setText("15")
        self._per_l.setText("60")
        side.words(tr("ratios.levels"), 18, 600)
        side.words(tr("ratios.levels_how"))
        self._before, self._after = side.fields(
            tr("ratios.before"), tr("ratios.after"), edited=self.show_now
        )
        self._take = side.button(tr("ratios.take"), self._take_pressed)
        side.words(tr("ratios.steps"), 18, 600)
        side.words(tr("ratios.steps_how"))
        self._steps = side.fields(tr("ratios.steps_field"), edited=self.show_now)[0]
        self._steps.setText("1 : 1, 1 : 1, 1 : 1")

    # ---- showing

    def show_now(self) -> None:
        rename_field(self._of, tr(f"amounts.of.{self.plan.work().units}"))
        rows = [LedgerRow(title=tr("ratios.parts"), head=True), *self._parts_rows()]
        rows += [LedgerRow(title=tr("ratios.levels"), head=True), self._levels_row()]
        rows += [LedgerRow(title=tr("ratios.steps"), head=True), self._steps_row()]
        self._ledger.show_rows(rows, -1)
        self._take.setEnabled(self._levels() is not None)
        self.foot_changed.emit()

    def _of_ml(self) -> float | None:
        of = number(self._of.text())
        return None if of is None or of <= 0 else small_from(of, self.plan.work().units)

    def _parts_rows(self) -> list[LedgerRow]:
        parts, of = _numbers(self._ratio.text()), self._of_ml()
        if parts is None or of is None:
            return [LedgerRow(title=tr("amounts.ratio_how"))]
        try:
            shares = shared_out(parts, 100)
            each = amounts_ml(parts, of)
            weights = self._weights(parts, of)
        except JarTideError as error:
            return [LedgerRow(title=str(error), sign="check")]
        amounts = self._amounts(parts, of)
        rows = []
        for place, part in enumerate(parts):
            notes = [tr("ratios.percent", share=shares[place])]
            if weights is not None:
                notes.append(tr("unit.g", value=round(weights[place])))
            if 0 < each[place] < _IN_DROPS_ML:
                notes.append(tr("ratios.drops", count=drops(each[place])))
            rows.append(
                LedgerRow(
                    title=tr("ratios.one_part")
                    if part == 1
                    else tr("ratios.part", parts=plain_words(part)),
                    note=", ".join(notes),
                    right=amounts[place],
                )
            )
        powder = self._powder_row(of)
        return rows if powder is None else [*rows, powder]

    def _amounts(self, parts: list[float], of_ml: float) -> list[str]:
        """What goes in of each; whole millilitres add up to the whole."""
        units = self.plan.work().units
        if units is Units.METRIC and of_ml >= _WHOLE_ML and of_ml == round(of_ml):
            return [small_words(ml, units) for ml in shared_out(parts, round(of_ml))]
        return [volume_words(ml, units) for ml in amounts_ml(parts, of_ml)]

    def _weights(self, parts: list[float], of_ml: float) -> tuple[float, ...] | None:
        """Grams of each part; None where densities were typed that don't fit."""
        text = self._density.text().strip()
        densities = [_USUAL_DENSITY] if not text else _numbers(text)
        if densities is None:
            return None
        if len(densities) == 1:
            densities = densities * len(parts)
        if len(densities) != len(parts):
            return None  # typed for another ratio
        grams = by_weight(parts, densities)
        return tuple(of_ml / sum(parts) * weight for weight in grams)

    def _powder_row(self, of_ml: float) -> LedgerRow | None:
        scoop, per_l = number(self._scoop.text()), number(self._per_l.text())
        if not scoop or per_l is None or scoop <= 0 or per_l < 0:
            return None
        many = scoops(scoop, per_l, of_ml)
        return LedgerRow(
            title=tr("ratios.powder"), right=tr("ratios.scoops", number=plain_words(round(many, 1)))
        )

    def _levels(self) -> tuple[int, ...] | None:
        before, after = _numbers(self._before.text()), _numbers(self._after.text())
        if before is None or after is None:
            return None
        try:
            return from_levels(before, after)
        except JarTideError:
            return None

    def _levels_row(self) -> LedgerRow:
        if not self._before.text().strip() or not self._after.text().strip():
            return LedgerRow(title=tr("ratios.levels_none"))
        found = self._levels()
        if found is None:
            return LedgerRow(title=tr("ratios.levels_wrong"), sign="check")
        shares = ", ".join(tr("ratios.percent", share=round(s)) for s in percents(found))
        return LedgerRow(title=parts_words(found), note=shares, sign="ready")

    def _steps_row(self) -> LedgerRow:
        text = self._steps.text()[:_MOST_TEXT]
        # Where decimals have commas, steps are parted by semicolons.
        pairs = [_numbers(step) for step in text.split(";" if ";" in text else ",")]
        try:
            steps = [(pair[0], pair[1]) for pair in pairs if pair is not None and len(pair) == 2]
            if len(steps) != len(pairs):
                raise ValueError
            thinner = diluted(steps)
        except (JarTideError, ValueError):
            return LedgerRow(title=tr("ratios.steps_wrong"), sign="check")
        return LedgerRow(
            title=tr("ratios.thinned", parts=plain_words(round(thinner, 1))),
            note=tr("ratios.thinned_note", count=len(steps)),
        )

    def _take_pressed(self) -> None:
        found = self._levels()
        if found is not None:
            self._ratio.setText(parts_words(found))
            self.show_now()


def _numbers(text: str) -> list[float] | None:
    """The numbers of "5 : 2 : 1"; None where one can't be read."""
    pieces = text.replace(";", ":")[:_MOST_TEXT].split(":")
    found = [number(piece) for piece in pieces]
    return None if any(one is None for one in found) else [one for one in found if one is not None]
