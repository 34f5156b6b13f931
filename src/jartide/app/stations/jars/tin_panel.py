"""One tin: its colour and swatches, what would teach more about it, its label and what is left."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLineEdit

from jartide.app.stations.jars.swatch_list import SwatchList, SwatchRow
from jartide.app.stations.jars.told import Told
from jartide.app.widgets.control_column import (
    ControlColumn,
    fill_list,
    number,
    put_text,
    was_edited,
)
from jartide.app.widgets.drop_down import DropDown
from jartide.colour.spaces import hex_to_lab
from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.figures import plain_figure
from jartide.job.words.numbers import plain_words
from jartide.paint.shelf import Opacity
from jartide.paint.stock import Binder, Body, Doubt, Kind, Place, Rewets, known_or_assumed
from jartide.store.jar_records import Tin
from jartide.wording import tr

_NUMBERS = {
    "left_ml": (0, 1e6), "tin_ml": (1, 3e5), "price": (0, 1e6),
    "spreading_m2_per_l": (0.05, 100), "open_min": (0, 1e4), "recoat_h": (0, 1000),
    "cure_days": (0, 400), "thinner_limit": (0, 20), "density_g_per_ml": (0.3, 10),
}  # fmt: skip
_TEXTS = ("opened", "batch", "sheen", "thinner", "notes")
_ROWS = (
    ("left_ml", "tin_ml", "price"),
    ("spreading_m2_per_l", "open_min", "recoat_h"),
    ("cure_days", "thinner_limit", "density_g_per_ml"),
    ("opened", "batch"),
    ("sheen", "thinner"),
    ("notes",),
)
_WORDS = (
    "kind", "opacity", "binder", "rewets", "place", "body", "primer_in", "clear_in",
    "stands_wear", "doubt",
)  # fmt: skip


class TinPanel(ControlColumn):
    """Shows a tin and says what the painter changes."""

    changed = Signal(object)  # the Tin as it is to be
    reader_wanted = Signal(object)  # what was painted, as `swatch_added` tells it
    photo_wanted = Signal()
    swatch_added = Signal(object, object, object)  # what was painted ("kind:…"), Lab, Source
    swatch_doubted = Signal(int, bool)
    refused = Signal(str)
    lessons_wanted = Signal()
    ladder_wanted = Signal()
    removed = Signal()
    jobs_wanted = Signal()
    judged = Signal()

    def build(self) -> None:
        self._tin: Tin | None = None
        self._name = self.fields(tr("tin.name"), edited=self._texts_edited)[0]
        self._lists: dict[str, DropDown] = {}
        for key in _WORDS[:2]:
            self._add_list(key)
        self._bought = self.tick(tr("tin.not_owned"), self._bought_pressed)
        self._judge = self.button(tr("tin.judge"), self.judged.emit)
        self._verdict = self.words(weight=600)
        self.words(tr("tin.colour"), 16, 600)
        self._how = self.words(size=15)
        self._swatches = SwatchList(self)
        self._swatches.doubted.connect(self.swatch_doubted)
        self.column.addWidget(self._swatches)
        self._lesson = self.words(size=15)
        self._ask = self.button(tr("tin.lessons"), self.lessons_wanted.emit)
        self._ladder = self.button(tr("tin.ladder_photo"), self.ladder_wanted.emit)
        self.words(tr("tin.new_swatch"), 16, 600)
        self._swatch = self.list(tr("tin.painted_as"))
        self._own, self._others, self._water, self._coats = self.fields(
            tr("tin.own_parts"), tr("tin.other_parts"), tr("tin.water_parts"), tr("tin.coats")
        )
        self._lab = self.fields(tr("colour.L"), tr("colour.a"), tr("colour.b"), tr("tin.hex"))
        for field in self._lab:
            field.returnPressed.connect(self._add_swatch)
        self._reader = self.button(
            tr("tin.reader"), lambda: self.reader_wanted.emit(self._painted())
        )
        self._told = Told(self._lab[:3])
        self.button(tr("tin.photo"), self.photo_wanted.emit)
        self.button(tr("tin.keep_swatch"), self._add_swatch)
        self._more = self.button(tr("tin.more"), self._more_pressed)
        with self.group() as self._rest:
            self._build_rest()
        self._rest.hide()

    def _more_pressed(self) -> None:
        """Unfold what is on the label and in the store, or fold it again."""
        self._rest.setVisible(self._rest.isHidden())
        self._more.setText(tr("tin.more" if self._rest.isHidden() else "tin.less"))

    def _build_rest(self) -> None:
        self.words(tr("tin.stock"), 16, 600)
        self._assumed = self.words(size=14)
        for key in _WORDS[2:]:
            self._add_list(key)
        self._fields: dict[str, QLineEdit] = {}
        for row in _ROWS:
            names = [tr(f"stock.{key}") for key in row]
            for key, field in zip(row, self.fields(*names, edited=self._texts_edited), strict=True):
                self._fields[key] = field
        self.button(tr("tin.jobs"), self.jobs_wanted.emit)
        self.button(tr("tin.remove"), self.removed.emit)

    def _add_list(self, key: str) -> None:
        self.words(tr(f"stock.{key}"), 14)
        made = self.list(tr(f"stock.{key}"), partial(self._word_chosen, key))
        self._lists[key] = made

    def show_tin(
        self,
        tin: Tin,
        swatches: list[SwatchRow],
        known: str,
        lesson: str,
        others: list[str],
        verdict: str,
        *,
        reader: bool = False,
    ) -> None:
        """Show a tin; `known` says how well it is known, `lesson` what to paint next.

        `verdict` is whether it would do, once that was asked; `reader` whether a colour reader
        is at hand.
        """
        self._reader.setVisible(reader)
        if self._tin is not None and self._tin.id != tin.id:
            # What was typed is of the tin it was typed for.
            for field in (*self._lab, self._own, self._others, self._water, self._coats):
                field.clear()
        self._tin = tin
        put_text(self._name, tin.name)
        self._fill_words(tin)
        self._bought.setChecked(not tin.owned)
        self._judge.setVisible(not tin.owned)
        self._judge.setEnabled(tin.masstone is not None)
        self._verdict.setText(verdict)
        self._verdict.setVisible(bool(verdict))
        self._how.setText(known)
        self._swatches.show_swatches(swatches)
        self._lesson.setText(lesson)
        self._lesson.setVisible(bool(lesson))
        self._ladder.setVisible(bool(lesson))
        kept = self._swatch.currentData()
        first = [] if tin.masstone is not None else [(tr("swatch.masstone"), ("masstone", ""))]
        if tin.masstone is not None:
            first = [(tr("swatch.masstone_again"), ("masstone", ""))]
        mixes = [(tr("swatch.mix_with", name=name), ("mix", name)) for name in others]
        glazes = [(tr(f"swatch.glaze_{over}"), ("glaze", over)) for over in ("white", "black")]
        fill_list(self._swatch, [*first, *glazes, *mixes], kept)
        for key, field in self._fields.items():
            value = getattr(tin.stock, key)
            put_text(field, plain_figure(value) if isinstance(value, float) else str(value or ""))
            field.setPlaceholderText(_assumed_words(tin, key))
        self._assumed.setText(tr("tin.assumed"))

    def show_lab(self, lab: Lab, source: Source) -> None:
        """Show what the reader or a photo read, ready to be kept."""
        self._told.show(lab, source)
        self._lab[3].clear()

    def _bought_pressed(self, not_yet: bool) -> None:
        if self._tin is not None:
            self.changed.emit(replace(self._tin, owned=not not_yet))

    def _fill_words(self, tin: Tin) -> None:
        unknown: list[tuple[str, object]] = [(tr("word.not_known"), None)]
        for key, words in (
            ("kind", Kind),
            ("opacity", Opacity),
            ("binder", Binder),
            ("rewets", Rewets),
            ("place", Place),
            ("body", Body),
            ("doubt", Doubt),
        ):
            items: list[tuple[str, object]] = [(tr(f"{key}.{word}"), word) for word in words]
            current = tin.opacity if key == "opacity" else getattr(tin.stock, key)
            must = key in ("kind", "opacity")
            fill_list(self._lists[key], items if must else [*unknown, *items], current)
        for key in ("primer_in", "clear_in", "stands_wear"):
            items = [*unknown, (tr("word.yes"), True), (tr("word.no"), False)]
            fill_list(self._lists[key], items, getattr(tin.stock, key))

    def _word_chosen(self, key: str) -> None:
        if self._tin is None:
            return
        value = self._lists[key].currentData()
        if key == "opacity":
            self.changed.emit(replace(self._tin, opacity=value))
        else:
            self.changed.emit(replace(self._tin, stock=replace(self._tin.stock, **{key: value})))

    def _texts_edited(self) -> None:
        if self._tin is None or not was_edited(self._name, *self._fields.values()):
            return
        values: dict[str, object] = {key: self._fields[key].text().strip() for key in _TEXTS}
        for key, (least, most) in _NUMBERS.items():
            text = self._fields[key].text().strip()
            value = number(text)
            if text and (value is None or not least <= value <= most):
                self.refused.emit(
                    tr("tin.wrong_number", field=tr(f"stock.{key}"), least=plain_figure(least),
                       most=plain_figure(most))
                )  # fmt: skip
                continue
            values[key] = value
        name = self._name.text().strip() or self._tin.name
        stock = replace(self._tin.stock, **values)  # type: ignore[arg-type]
        self.changed.emit(replace(self._tin, name=name, stock=stock))

    def _add_swatch(self) -> None:
        text = self._lab[3].text().strip()
        lab: tuple[float, ...] | None
        if text:
            lab = hex_to_lab(text)
        else:
            values = [number(field.text()) for field in self._lab[:3]]
            lab = None if None in values else tuple(v for v in values if v is not None)
        if lab is None or not 0 <= lab[0] <= 105 or max(abs(v) for v in lab[1:]) > 200:
            self.refused.emit(tr("tin.wrong_colour"))
            return
        source = Source.TYPED if text else self._told.source()
        self.swatch_added.emit(self._painted(), lab, source)

    def _painted(self) -> tuple:
        """Return how the new swatch is painted: kind, with or over what, parts and coats."""
        parts = [number(f.text()) for f in (self._own, self._others, self._water, self._coats)]
        kind, other = self._swatch.currentData()
        return (kind, other, *parts)


def _assumed_words(tin: Tin, key: str) -> str:
    if key not in _NUMBERS:
        return ""
    value, assumed = known_or_assumed(tin.stock, key)
    return f"({plain_words(value)})" if assumed and isinstance(value, int | float) else ""
