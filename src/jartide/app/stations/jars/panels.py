"""Panels of the Jars station: amounts, the veil, and the reading of a mixed jar."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout

from jartide.app.measure import px
from jartide.app.stations.jars.told import Told
from jartide.app.widgets.control_column import ControlColumn, number, put_text, was_edited
from jartide.devices.source import Source
from jartide.figures import figure, plain_figure
from jartide.job.amounts import MixAmount
from jartide.job.words.jars import parts_words
from jartide.paint.veil import Veil
from jartide.store.jar_records import JarUse
from jartide.wording import tr


class BatchPanel(ControlColumn):
    """Areas, coats and rate; how much of the mix that takes."""

    changed = Signal(object, int)  # JarUse, its place among the passes
    accented = Signal(bool)

    def build(self) -> None:
        self._uses: tuple[JarUse, ...] = ()
        self.place = 0  # which pass is shown
        self._area, self._coats, self._laid, self._rate = self.fields(
            tr("batch.area"),
            tr("batch.coats"),
            tr("batch.laid"),
            tr("batch.rate"),
            edited=self._edited,
        )
        self._sum = self.words()
        self._accent = self.tick(tr("batch.accent"), lambda on: self.accented.emit(on))
        self.column.setSpacing(px(4))

    def show_uses(self, amount: MixAmount, *, accent: bool) -> None:
        """Show the passes, and how much of the mix they take.

        Passes of the plan decide the sum while the painter has typed none.
        """
        needed, uses = amount.needed, amount.uses
        self._uses = uses
        self.place = min(self.place, len(uses) - 1)
        use = uses[self.place]
        area, laid, rate = amount.usual
        put_text(self._area, plain_figure(area if use.area_m2 is None else use.area_m2))
        put_text(self._coats, plain_figure(use.coats))
        put_text(self._laid, f"{100 * (laid if use.laid_share is None else use.laid_share):.0f}")
        own = rate if use.spreading_m2_per_l is None else use.spreading_m2_per_l
        put_text(self._rate, plain_figure(own))
        laid_ml, waste, tools, kept = (figure(ml) for ml in needed.shown_ml)
        how = tr("batch.how", laid=laid_ml, waste=waste, tools=tools, kept=kept)
        total = tr("batch.needed", ml=tr("unit.ml", value=figure(needed.total_ml)))
        # Asked where it makes a difference: the whole is the least that can be measured.
        self._accent.setChecked(accent)
        self._accent.setVisible(amount.is_raised or accent)
        if amount.is_by_plan and not amount.planned:
            self._sum.setText(tr("batch.not_planned"))
            return
        if amount.is_raised:
            # Shares of what nobody needs say nothing.
            self._sum.setText(tr("batch.least", ml=tr("unit.ml", value=figure(needed.total_ml))))
            return
        where = f" {tr('batch.from_plan', count=amount.planned)}" if amount.is_by_plan else ""
        self._sum.setText(f"{total} {how}{where}")

    def _edited(self) -> None:
        if self.place >= len(self._uses) or not was_edited(
            self._area, self._coats, self._laid, self._rate
        ):
            return
        area, coats, laid, rate = (
            number(field.text()) for field in (self._area, self._coats, self._laid, self._rate)
        )
        use = self._uses[self.place]
        self.changed.emit(
            replace(
                use,
                area_m2=area if area is not None and area >= 0 else use.area_m2,
                coats=coats if coats is not None and 0 < coats <= 20 else use.coats,
                laid_share=laid / 100 if laid is not None and 0 < laid <= 100 else use.laid_share,
                spreading_m2_per_l=rate
                if rate is not None and rate > 0
                else use.spreading_m2_per_l,
            ),
            self.place,
        )


class VeilPanel(ControlColumn):
    """How to set a layer back to a wanted contrast with the ground's own colour."""

    wanted = Signal(float)

    def build(self) -> None:
        self._now = self.words()
        self._field = self.fields(tr("veil.contrast"), edited=self._edited)[0]
        self._best = self.words(weight=600)
        self._more = self.words()
        self._caution = self.words(tr("veil.limits"), 14)

    def show_veils(
        self, name: str, now: float, wanted: float, parts: str, veils: tuple[Veil, ...]
    ) -> None:
        """Show what brings a layer's contrast from `now` to `wanted`."""
        self._now.setText(tr("veil.now", name=name, now=round(now)))
        put_text(self._field, f"{wanted:.0f}")
        if not veils:
            self._best.setText(tr("veil.none"))
            self._more.setText("")
            return
        best = veils[0]
        self._best.setText(
            tr("veil.best", parts=parts, recipe=_ratio(best), count=best.coats)
            + " "
            + tr("veil.expect", then=round(best.contrast_L))
        )
        others = [
            tr("veil.other", recipe=_ratio(v), count=v.coats, then=round(v.contrast_L))
            for v in veils[1:3]
        ]
        self._more.setText(" ".join(others))

    def _edited(self) -> None:
        value = number(self._field.text())
        if was_edited(self._field) and value is not None:
            self.wanted.emit(value)


def _ratio(veil: Veil) -> str:
    return parts_words([1, veil.carrier] + ([veil.water] if veil.water else []))


class JarReadingPanel(ControlColumn):
    """What a mixed jar reads, and what really went in; then what to add."""

    read = Signal(object, object, object)  # Lab, parts as typed, Source
    reader_wanted = Signal()
    kept = Signal(object, str)  # ml left or None, remarks

    def build(self) -> None:
        self._title = self.words(size=20, weight=600)
        self.words(tr("trial.how"))
        self._lab = self.fields(tr("colour.L"), tr("colour.a"), tr("colour.b"))
        self._parts = self.fields(tr("trial.parts"))[0]
        row = QHBoxLayout()
        row.setSpacing(px(8))
        whole, self.column = self.column, row  # type: ignore[assignment]
        self._reader = self.button(tr("trial.reader"), self.reader_wanted.emit)
        self._told = Told(self._lab)
        self.button(tr("trial.use"), self._pressed)
        self.column = whole
        self.column.addLayout(row)
        self._result = self.words(size=17, weight=600)
        self._expect = self.words()
        self._left, self._notes = self.fields(
            tr("trial.left"), tr("trial.notes"), edited=self._kept_edited
        )

    def show_jar(
        self,
        name: str,
        parts: str,
        result: str,
        expect: str,
        left_ml: float | None,
        notes: str,
        *,
        reader: bool = False,
    ) -> None:
        """Show whose jar is read, what its last reading says, and what is left of it.

        `reader` says whether a colour reader is at hand.
        """
        self._reader.setVisible(reader)
        put_text(self._left, "" if left_ml is None else f"{left_ml:.0f}")
        put_text(self._notes, notes)
        self._title.setText(tr("trial.title", name=name))
        put_text(self._parts, parts)
        self._result.setText(result)
        self._expect.setText(expect)

    def show_lab(self, lab: tuple[float, float, float], source: Source) -> None:
        """Show what the reader read."""
        self._told.show(lab, source)

    def _kept_edited(self) -> None:
        if was_edited(self._left, self._notes):
            self.kept.emit(number(self._left.text()), self._notes.text().strip())

    def _pressed(self) -> None:
        values = [number(field.text()) for field in self._lab]
        parts = [number(piece) for piece in self._parts.text().split(":")]
        self._parts.setModified(False)
        self.read.emit(values, parts, self._told.source())
