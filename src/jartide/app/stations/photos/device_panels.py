"""The panels of outside devices: the camera on its stand, the colour reader, the watched folder."""

from __future__ import annotations

from jartide.app.stations.photos.opened import Opened, card_patches
from jartide.app.stations.photos.panel import Panel
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.control_column import fill_list, number
from jartide.figures import figure
from jartide.job.words.numbers import lab_text
from jartide.studio.camera_stand import Board, Lamp, StandSettings
from jartide.wording import tr

_APERTURES = (4, 8)
_ILLUMINANTS = ("D50", "D65")


class WaysPanel(Panel):
    """Other ways for a photo to come in."""

    def build(self) -> None:
        self._note = self.words(tr("ways.note"))
        self.button(tr("tool.watch"), lambda: self.asked.emit("open", "watch"))
        self.stand = self.button(tr("tool.stand"), lambda: self.asked.emit("open", "stand"))

    def show_stand(self, there: bool) -> None:
        """Offer the practice stand, or only the ways that need none."""
        self.stand.setVisible(there)
        self._note.setText(tr("ways.note" if there else "ways.note_folder"))


class StandPanel(Panel):
    """Set up the practice stand and take a photo into the job."""

    def build(self) -> None:
        self.words(tr("stand.note"))
        self._board = self.list(tr("stand.board"))
        fill_list(self._board, [(tr(f"stand.board.{b.value}"), b) for b in Board])
        self._lamp = self.list(tr("stand.lamp"))
        fill_list(self._lamp, [(tr(f"stand.lamp.{lamp.value}"), lamp) for lamp in Lamp], Lamp.LED)
        self._tilt, self._distance, self._falloff = self.fields(
            tr("stand.tilt"), tr("stand.distance"), tr("stand.falloff")
        )
        for field, value in ((self._tilt, 10), (self._distance, 500), (self._falloff, 10)):
            field.setText(str(value))
        self._card = self.tick(tr("stand.card"), lambda _: None)
        self._card.setChecked(True)
        self.button(tr("stand.take"), self._take)

    def _take(self) -> None:
        tilt, distance = number(self._tilt.text()), number(self._distance.text())
        falloff = number(self._falloff.text())
        settings = StandSettings(
            board=self._board.currentData(),
            lamp=self._lamp.currentData(),
            tilt_deg=0.0 if tilt is None else tilt,
            distance_mm=500.0 if distance is None else distance,
            falloff=min(max((falloff or 0.0) / 100, 0.0), 0.4),
            with_card=self._card.isChecked(),
        )
        self.asked.emit("take", settings)


class ReaderPanel(Panel):
    """Lay the colour reader on the surface, read, and use what it says."""

    def build(self) -> None:
        self.words(tr("reader.note"))
        self._aperture = ChoiceRow([f"{mm} mm" for mm in _APERTURES], tr("reader.aperture"), self)
        self.column.addWidget(self._aperture)
        self._light = ChoiceRow(list(_ILLUMINANTS), tr("reader.light"), self)
        self.column.addWidget(self._light)
        self._read = self.button(tr("reader.read"), self._read_pressed)
        self._said = self.words(size=18, weight=600)
        self._unit = self.words(size=14)
        self._use = self.button(tr("reader.use"), lambda: self.asked.emit("use_reading", None))
        self._card = self.list(tr("reader.card"), self._card_chosen)
        self._name = self.fields(tr("colour.name"))[0]
        self._keep = self.button(tr("reader.keep"), self._keep_pressed)
        self.show_reading(None)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        self._read.setEnabled(opened.flat is not None)
        patches = card_patches(opened)
        fill_list(self._card, [(tr("reader.card"), None), *patches])
        self._card.setVisible(bool(patches))

    def show_reading(self, reading, source: str = "") -> None:
        """Show what the reader said, as it said it and as it is kept; `source` if it matters."""
        there = reading is not None
        for widget in (self._use, self._card, self._keep, self._name):
            widget.setEnabled(there)
        if reading is None:
            self._said.setText(tr("reader.nothing"))
            self._unit.setText("")
            return
        self._said.setText(lab_text(reading.lab))
        spread = figure(reading.repeatability_de00, 2)
        unit = tr("reader.unit", light=reading.illuminant.value, spread=spread)
        self._unit.setText(f"{source}\n{unit}" if source else unit)

    def _read_pressed(self) -> None:
        aperture = _APERTURES[self._aperture.index]
        self.asked.emit("read_colour", (_ILLUMINANTS[self._light.index], aperture))

    def _card_chosen(self) -> None:
        if self._card.currentData() is not None:
            self.asked.emit("card_reading", self._card.currentData())

    def _keep_pressed(self) -> None:
        name = self._name.text().strip()
        if name:
            self.asked.emit("keep_reading", name)
            self._name.clear()
        else:
            self._name.setFocus()


class WatchPanel(Panel):
    """The folder whose new photos come into the job by themselves."""

    def build(self) -> None:
        self.words(tr("watch.note"))
        self._folder = self.words(size=16, weight=600)
        self._choose = self.button(tr("watch.choose"), lambda: self.asked.emit("watch", True))
        self._stop = self.button(tr("watch.stop"), lambda: self.asked.emit("watch", False))

    def show_folder(self, folder: str) -> None:
        """Show which folder is watched; none when empty."""
        self._folder.setText(folder or tr("watch.none"))
        self._stop.setEnabled(bool(folder))
