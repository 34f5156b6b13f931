"""The panels that set colour, light and sheen."""

from __future__ import annotations

from dataclasses import replace

from jartide.app.stations.photos.opened import Opened, closeness_word, dim_side
from jartide.app.stations.photos.panel import Panel
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.control_column import fill_list, number, put_text, was_edited
from jartide.devices.source import Source
from jartide.figures import figure, plain_figure
from jartide.job.outside_devices import source_words
from jartide.photo.grey_doubt import can_be_doubted
from jartide.photo.neutral import PAPER, PAPER_LAB
from jartide.photo.settings import EvenLight, KnownPatch, LightSource, Rect, Sheen, SheenWord
from jartide.wording import tr


class ColourPanel(Panel):
    """Patches of known colour: a grey, the painter's own, a wall known from another photo."""

    def build(self) -> None:
        self._note = self.words()
        with self.group() as self._doubt:
            self.words(tr("grey.ask"), weight=600)
            self.words(tr("grey.ask_note"))
            self.button(tr("grey.yes"), self._is_grey)
            self.button(tr("grey.no"), self._point_elsewhere)
        self._pointing = self.words(tr("colour.point"), weight=600)
        self._pointing.hide()
        with self.group() as self._offers:
            self._asked = self.words(weight=600)
            self.button(tr("colour.grey_card"), lambda: self._point("grey"))
            self.button(tr("colour.paper"), lambda: self._point("paper"))
            self.button(tr("colour.wall"), self._ask_wall)
        with self.group() as self._of_wall:
            self.words(tr("colour.wall_note"))
            self._wall_list = self.list(tr("colour.list"), self._wall_chosen)
            self._wall = self.fields(tr("colour.L"), tr("colour.a"), tr("colour.b"))
            for field in self._wall:
                field.textEdited.connect(lambda _: self._wall_chosen_by_hand())
            self._at_wall = self.button(tr("colour.at_wall"), lambda: self._point("wall"))
        self._of_wall.hide()
        with self.group() as self._patch:
            self._which = self.list(tr("colour.which"), self._picked)
            self._lab = self.fields(
                tr("colour.L"), tr("colour.a"), tr("colour.b"), edited=self._edited
            )
            self._known = self.list(tr("colour.list"), self._from_list)
            self._name = self.fields(tr("colour.name"))[0]
            self._keep = self.button(tr("colour.keep"), self._keep_colour)
        self._remove = self.button(tr("colour.remove"), self._take_off)
        self._forget = self.list(tr("list.forget"), self._forget_one)
        self._reader = self.button(tr("card.reader"), lambda: self.asked.emit("open", "reader"))
        self._chart = self.button(tr("colour.chart"), lambda: self.asked.emit("chart", None))
        self._how = self.words(size=14)
        self._index = 0
        self._kind = "grey"  # what is pointed at next

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        s = opened.settings
        self._index = min(self._index, max(0, len(s.neutrals) - 1))
        made_up = source_words(Source.STAND_IN) if s.rest_on_stand_ins() else ""
        self._note.setText(" ".join(filter(None, (self._state(opened), made_up))))
        self._reader.setVisible(opened.reader)
        self._asked.setText(tr("colour.another" if s.neutrals else "colour.what"))
        there = bool(s.neutrals)
        warned = () if opened.flat is None else opened.flat.prepared.picture.warnings
        doubted = any(code == "grey_doubt" for code, _ in warned)
        self._doubt.setVisible(doubted)
        self._offers.setVisible(not doubted)
        self._patch.setVisible(there)
        self._known.setVisible(bool(opened.colours))
        self._forget.setVisible(bool(opened.colours))
        names: list[tuple[str, object]] = [(name, name) for name, _ in opened.colours]
        fill_list(self._forget, [(tr("list.forget"), None), *names])
        self._remove.setVisible(there or s.chart is not None)
        items: list[tuple[str, object]] = [
            (tr("colour.patch", number=n + 1), n) for n in range(len(s.neutrals))
        ]
        fill_list(self._which, items, self._index)
        self._which.setVisible(len(items) > 1)
        values = ["", "", ""]
        if there:
            patch = s.neutrals[self._index]
            values = [
                "" if patch.lightness is None else plain_figure(patch.lightness),
                plain_figure(patch.a),
                plain_figure(patch.b),
            ]
        for field, value in zip(self._lab, values, strict=True):
            put_text(field, value)
        known: list[tuple[str, object]] = [(tr("colour.list"), None)]
        known += [(name, lab) for name, lab in opened.colours]
        fill_list(self._known, known)
        fill_list(self._wall_list, known, self._wall_list.currentData())
        self._wall_list.setVisible(bool(opened.colours))
        self._how.setText(self._measured(opened))

    def _state(self, opened: Opened) -> str:
        flat = opened.flat
        if flat is None or not flat.prepared.picture.balance_known:
            return tr("colour.none")
        picture = flat.prepared.picture
        if not picture.exposure_known:
            return tr("colour.tint_only")
        return tr(
            "colour.state",
            by=tr(f"step.colour.{picture.correction.grade.name.lower()}"),
            sure=closeness_word(picture.colour_radius()),
        )

    def _measured(self, opened: Opened) -> str:
        """The figures behind it, for those who check."""
        correction = None if opened.flat is None else opened.flat.prepared.picture.correction
        if correction is None or correction.left_out_mean is None:
            return ""
        return tr(
            "colour.how",
            model=tr(f"model.{correction.model.name.lower()}"),
            mean=figure(correction.left_out_mean, 1),
            worst=figure(correction.left_out_max or 0, 1),
        )

    def _picked(self) -> None:
        if self.opened is not None and self._which.currentData() is not None:
            self._index = self._which.currentData()
            self.show_opened(self.opened)

    def _put(self, patches, undo: str = "undo.grey") -> None:
        assert self.opened is not None
        self.settings_wanted.emit(replace(self.opened.settings, neutrals=tuple(patches)), tr(undo))

    def _point(self, kind: str) -> None:
        """Let the painter point at a grey card, white paper, or a wall of known colour."""
        self._kind = kind
        self.pen_wanted.emit("spot")

    def pointed(self, rect: Rect) -> None:
        """Take what was pointed at; of a wall the colour is then chosen or typed."""
        if self.opened is None:
            return
        patches = self.opened.settings.neutrals
        self._index = len(patches)
        L, a, b, source = None, 0.0, 0.0, ""
        if self._kind == "paper":
            (L, a, b), source = PAPER_LAB, PAPER
        elif self._kind == "wall" and self._wall_lab() is not None:
            L, a, b = self._wall_lab() or (None, 0.0, 0.0)
            source = self._wall_list.currentText() if self._wall_list.currentData() else ""
        self._put([*patches, KnownPatch(rect=rect, lightness=L, a=a, b=b, source=source)])

    def show_pen(self, pen: str) -> None:
        """Show whether something is to be pointed at."""
        self._pointing.setVisible(pen == "spot")

    # ---- a wall of known colour: chosen or typed first, then pointed at

    def _ask_wall(self) -> None:
        self._of_wall.show()
        self._wall_chosen()
        (self._wall_list if self._wall_list.count() > 1 else self._wall[0]).setFocus()

    def _wall_chosen(self) -> None:
        lab = self._wall_list.currentData()
        for field, value in zip(self._wall, lab or (None,) * 3, strict=True):
            if lab is not None:
                put_text(field, plain_figure(value))
        self._at_wall.setEnabled(self._wall_lab() is not None)

    def _wall_chosen_by_hand(self) -> None:
        self._wall_list.setCurrentIndex(0)
        self._at_wall.setEnabled(self._wall_lab() is not None)

    def _wall_lab(self) -> tuple[float, float, float] | None:
        """The colour that was typed or chosen; None while it is not whole."""
        L, a, b = (number(field.text()) for field in self._wall)
        if L is None or a is None or b is None or not 5 < L <= 100:
            return None
        return L, a, b

    # ---- a grey that may be none

    def _is_grey(self) -> None:
        if self.opened is not None:
            self._put([replace(patch, sure=True) for patch in self.opened.settings.neutrals])

    def _point_elsewhere(self) -> None:
        """Take the doubted patch off and point again."""
        if self.opened is not None:
            patches = [p for p in self.opened.settings.neutrals if not can_be_doubted(p)]
            self._put(patches)
            self._point(self._kind)

    def _changed(self, **values: object) -> None:
        assert self.opened is not None
        patches = list(self.opened.settings.neutrals)
        patches[self._index] = replace(patches[self._index], **values)  # type: ignore[arg-type]
        self._put(patches)

    def _edited(self) -> None:
        if self.opened is None or not self.opened.settings.neutrals or not was_edited(*self._lab):
            return
        L, a, b = (number(field.text()) for field in self._lab)
        if L is None or 0 <= L <= 100:
            self._changed(lightness=L, a=a or 0.0, b=b or 0.0, source="")

    def _from_list(self) -> None:
        lab = self._known.currentData()
        if self.opened is not None and lab is not None and self.opened.settings.neutrals:
            self._changed(lightness=lab[0], a=lab[1], b=lab[2], source=self._known.currentText())

    def _forget_one(self) -> None:
        if self._forget.currentData() is not None:
            self.asked.emit("forget_colour", self._forget.currentData())

    def _keep_colour(self) -> None:
        name = self._name.text().strip()
        if not name:
            self._name.setFocus()
        elif self.opened is not None and self.opened.settings.neutrals:
            self.asked.emit("keep_colour", (name, self._index))
            self._name.clear()

    def _take_off(self) -> None:
        if self.opened is None:
            return
        s = self.opened.settings
        if s.chart is not None and not s.neutrals:
            self.settings_wanted.emit(replace(s, chart=None), tr("undo.chart"))
            return
        patches = list(s.neutrals)
        if patches:
            patches.pop(self._index)
            self._put(patches)


class LightPanel(Panel):
    """Whether the falloff of the light is taken out, and by what."""

    def build(self) -> None:
        self._note = self.words()
        self._how = ChoiceRow(
            [tr("light.as_it_fell"), tr("light.picture"), tr("light.blank")],
            tr("step.light"),
            self,
            gap=16,
        )
        self._how.chosen.connect(self._chosen)
        self.column.addWidget(self._how)
        self._blank_note = self.words(tr("light.blank_note"))
        self._blank = self.list(tr("light.blank_photo"), self._blank_chosen)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        light = opened.settings.light
        evened = opened.flat is not None and opened.flat.prepared.picture.light is not None
        index = (2 if light is not None and light.source.value == "blank" else 1) if evened else 0
        self._how.show_index(index)
        photos: list[tuple[str, object]] = [(tr("light.blank_photo"), None)]
        photos += [(title, photo.sha256) for photo, title in opened.others]
        fill_list(self._blank, photos, None if light is None else light.blank_sha256)
        self._blank.setVisible(index == 2)
        self._blank_note.setVisible(index == 2)
        seen = None if opened.flat is None else opened.flat.prepared.light_seen
        if seen is None:
            self._note.setText(tr("light.note"))
        elif not seen.told_apart:
            self._note.setText(tr("warning.light_unsure"))
        else:
            percent = round(100 * seen.strength)
            words = "light.taken_out" if index else "light.seen"
            self._note.setText(
                tr(words, side=dim_side(seen), percent=percent)
                if percent >= 3
                else tr("step.light.even_note")
            )

    def _chosen(self, index: int) -> None:
        if self.opened is None:
            return
        s = self.opened.settings
        kept = None if s.light is None else s.light.blank_sha256
        if index == 2 and kept is None:
            # Nothing changes before a photo is named: the list opens for it.
            self._blank.setVisible(True)
            self._blank_note.setVisible(True)
            self._blank.setFocus()
            return
        source = (LightSource.NOT, LightSource.PICTURE, LightSource.BLANK)[index]
        light = EvenLight(source=source, blank_sha256=kept)
        self.settings_wanted.emit(replace(s, light=light), tr("undo.light"))

    def _blank_chosen(self) -> None:
        sha256 = self._blank.currentData()
        if self.opened is not None and sha256 is not None:
            light = EvenLight(source=LightSource.BLANK, blank_sha256=sha256)
            new = replace(self.opened.settings, light=light)
            self.settings_wanted.emit(new, tr("undo.light"))


class SheenPanel(Panel):
    """How shiny, in a word or from two photos, and whether it is metal."""

    def build(self) -> None:
        self.words(tr("sheen.note"))
        self._word = self.list(tr("step.sheen"), self._chosen)
        self._metal = self.tick(tr("sheen.metal"), self._metal_switched)
        self.words(tr("sheen.two_photos"))
        self._other = self.list(tr("sheen.mirror_photo"), self._estimate)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        s = opened.settings
        items: list[tuple[str, object]] = [(tr("step.sheen.none"), None)]
        items += [(tr(f"sheen.{word.name.lower()}"), word) for word in SheenWord]
        fill_list(self._word, items, None if s.sheen is None else s.sheen.word)
        self._metal.setChecked(s.metal)
        photos: list[tuple[str, object]] = [(tr("sheen.mirror_photo"), None)]
        photos += [(title, photo.id) for photo, title in opened.others]
        fill_list(self._other, photos)

    def _chosen(self) -> None:
        if self.opened is not None:
            word = self._word.currentData()
            sheen = None if word is None else Sheen(word=word)
            self.settings_wanted.emit(replace(self.opened.settings, sheen=sheen), tr("undo.sheen"))

    def _metal_switched(self, on: bool) -> None:
        if self.opened is not None:
            self.settings_wanted.emit(replace(self.opened.settings, metal=on), tr("undo.sheen"))

    def _estimate(self) -> None:
        if self._other.currentData() is not None:
            self.asked.emit("sheen_from", self._other.currentData())
