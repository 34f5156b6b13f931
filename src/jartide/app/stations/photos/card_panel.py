"""The panel of the photo card: print one, say how it was printed and lies, enter its colours."""

from __future__ import annotations

from dataclasses import replace

from jartide.app.stations.photos.opened import Opened, card_patches, mm_words
from jartide.app.stations.photos.panel import Panel
from jartide.app.widgets.control_column import fill_list, number, put_text, was_edited
from jartide.devices.source import Source
from jartide.figures import plain_figure
from jartide.job.outside_devices import source_words
from jartide.photo.card.design import CardSize
from jartide.wording import tr


class CardPanel(Panel):
    """What the card in the photo tells, and what the painter tells of the card."""

    def build(self) -> None:
        self._note = self.words()
        self._lists = {kind: self.list(tr(f"card.{kind}")) for kind in ("print", "save")}
        for kind, made in self._lists.items():
            made.activated.connect(lambda _, kind=kind: self._wanted(kind))
        self._use = self.button("", self._switch)
        with self.group() as self._of_this_card:
            self._ruler, self._height = self.fields(
                tr("card.ruler"), tr("card.height"), unit="mm", edited=self._edited
            )
            self.words(tr("card.height_note"), size=14)
            self._colours = self.words()
            self._patch = self.list(tr("card.patch"), self._picked)
            self._lab = self.fields(tr("colour.L"), tr("colour.a"), tr("colour.b"))
            self._keep = self.button(tr("card.keep"), self._keep_value)
            self._reader = self.button(tr("card.reader"), lambda: self.asked.emit("open", "reader"))
            self.button(tr("card.file"), lambda: self.asked.emit("card_values", None))

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        use = opened.settings.card
        card = None if opened.flat is None else opened.flat.prepared.card
        if use.ignore:
            self._note.setText(tr("step.card.ignored_note"))
        elif card is None:
            self._note.setText(tr("card.none"))
        else:
            error = opened.flat.prepared.picture.corner_error_mm if opened.flat else None
            words = tr("card.found", size=tr(f"card.short.{card.size.name.lower()}"))
            if error is not None:
                words += " " + tr("step.card.note", mm=mm_words(error))
            self._note.setText(words)
        self._use.setVisible(use.ignore or card is not None)
        self._use.setText(tr("card.use_it" if use.ignore else "card.ignore_it"))
        put_text(self._ruler, "" if use.check_mm is None else plain_figure(use.check_mm))
        put_text(self._height, plain_figure(use.height_mm) if use.height_mm else "")
        if card is not None:
            self._ruler.setPlaceholderText(plain_figure(card.card.ruler.length_mm))
        self._height.setPlaceholderText("0")
        self._colours.setText(
            tr("card.measured", count=len(use.measured)) if use.measured else tr("card.printed")
        )
        made_up = source_words(Source.STAND_IN) if opened.settings.rest_on_stand_ins() else ""
        if made_up and use.measured:
            self._colours.setText(f"{self._colours.text()} {made_up}")
        self._reader.setVisible(opened.reader)
        with_patches = card_patches(opened)
        self._of_this_card.setVisible(bool(with_patches))
        if with_patches:
            fill_list(self._patch, with_patches, self._patch.currentData())
            self._picked()
        for kind, made in self._lists.items():
            sizes: list[tuple[str, object]] = [(tr(f"card.{kind}"), None)]
            sizes += [(tr(f"card.size.{size.name.lower()}"), size.value) for size in CardSize]
            fill_list(made, sizes)

    def _picked(self) -> None:
        if self.opened is None:
            return
        lab = dict(self.opened.settings.card.measured).get(self._patch.currentData())
        for n, field in enumerate(self._lab):
            put_text(field, "" if lab is None else plain_figure(lab[n]))

    def _put(self, **values: object) -> None:
        assert self.opened is not None
        s = self.opened.settings
        card = replace(s.card, **values)  # type: ignore[arg-type]
        self.settings_wanted.emit(replace(s, card=card), tr("undo.card"))

    def _switch(self) -> None:
        if self.opened is not None:
            self._put(ignore=not self.opened.settings.card.ignore)

    def _edited(self) -> None:
        if self.opened is not None and was_edited(self._ruler, self._height):
            height = number(self._height.text()) or 0.0
            self._put(check_mm=number(self._ruler.text()), height_mm=height)

    def _keep_value(self) -> None:
        """Keep the typed colour of one patch; empty fields forget it."""
        if self.opened is None or self._patch.currentData() is None:
            return
        values = [number(field.text()) for field in self._lab]
        self.put_value(self._patch.currentData(), values)

    def put_value(self, patch: str, values: list[float | None]) -> None:
        """Keep one patch's colour among those that were read."""
        assert self.opened is not None
        read = dict(self.opened.settings.card.measured)
        read.pop(patch, None)
        L, a, b = values
        if L is not None and a is not None and b is not None and 0 <= L <= 105:
            read[patch] = (L, a, b)
        was_edited(*self._lab)
        s = self.opened.settings
        card = replace(s.card, measured=tuple(sorted(read.items())))
        typed = tuple(made_up for made_up in s.stand_ins if made_up != patch)
        self.settings_wanted.emit(replace(s, card=card, stand_ins=typed), tr("undo.card"))
        place = self._patch.currentIndex()
        self._patch.setCurrentIndex(min(place + 1, self._patch.count() - 1))
        self._picked()

    def _wanted(self, kind: str) -> None:
        size = self._lists[kind].currentData()
        if size is not None:
            self.asked.emit(f"{kind}_card", size)
