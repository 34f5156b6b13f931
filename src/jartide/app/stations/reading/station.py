"""Reading: the layers in paint order, and the pattern's size, crowding and direction."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QSizePolicy, QWidget

from jartide.app.elements.scale_strip import HEIGHT as STRIP
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.stations.base import Station
from jartide.app.stations.reading.layer_panel import LayerPanel
from jartide.app.stations.reading.pattern_column import PatternColumn
from jartide.app.stations.reading.reading_note import reading_note, suggested_family
from jartide.app.stations.reading.views import (
    busy_words,
    cover_map,
    layer_row,
    lifted,
)
from jartide.app.stations.reading.zones_panel import ZonesPanel
from jartide.app.widgets.buttons import Button, ChoiceRow
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.core_list import CoreList
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.flow import Flow
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.surface_pane import PaneMode, SurfacePane
from jartide.job.beside import Beside, things_beside
from jartide.job.flat import Flat
from jartide.job.next_work import next_station
from jartide.job.open_job import OpenJob
from jartide.reading.result import Reading
from jartide.store.records import Photo
from jartide.wording import say, tr

_COLUMN = 348
_CORE, _LEAST_SURFACE = 334, 150
_MARGIN, _GAP = 24, 12
_WHOLE, _ONE, _BUT_ONE, _COVER = 0, 1, 2, 3


class ReadingStation(Station):
    """Shows what the target's photo tells."""

    name = "reading"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._picked: int | None = None
        self._progress: float | None = None
        self._over: tuple[object, QImage] | None = None
        self._image: tuple[object, QImage] | None = None
        self._pane = SurfacePane(self)
        self._choice = ChoiceRow(
            [tr("reading.whole"), tr("reading.one"), tr("reading.but_one"), tr("reading.cover")],
            tr("reading.show"),
            self,
            gap=16,
        )
        self._choice.chosen.connect(self._choice_made)
        self.job.zones.refused.connect(self._say)
        self._core = CoreList(self)
        self._core.picked.connect(self._layer_picked)
        self._core.moved.connect(self.job.layers.move)
        self.job.layers.refused.connect(self._say)
        self.job.layers.decided.connect(self._decided)
        self._pane.look_closer()
        self._pane.picked.connect(self._colour_picked)
        self._pane.boxed.connect(self._zone_drawn)
        self._said = ""
        self._sheet = QScrollArea(self)
        self._sheet.setWidgetResizable(True)
        self._sheet.setFrameShape(QScrollArea.Shape.NoFrame)
        self._sheet.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._sheet.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._sheet.hide()
        # Made when first opened: their words need modules the window starts without.
        self._layer_panel: LayerPanel | None = None
        self._zones_panel: ZonesPanel | None = None
        self._pick_colour = Button(tr("reading.pick_colour"), self)
        self._pick_colour.setCheckable(True)
        self._pick_colour.clicked.connect(self._pick_pressed)
        self._back = DropDown(self)
        self._back.setAccessibleName(tr("reading.left_out"))
        self._back.activated.connect(self._bring_back)
        self._zones = Button(tr("zones.open"), self)
        self._zones.setCheckable(True)
        self._zones.clicked.connect(self._zones_pressed)
        self._pattern = PatternColumn(self)
        self._pattern.family_wanted.connect(self._family_chosen)
        self._pattern.beside_wanted.connect(self._beside_chosen)
        self._pattern.number_chosen.connect(self._number_chosen)
        self._beside_key = ""
        self._beside_image: tuple[Flat | None, QImage | None] | None = None
        self._beside_pane = SurfacePane(self)
        self._beside_pane.look_closer()
        self._beside_pane.hide()
        self._target_words, self._side_words = Heading(size=20), Heading(size=20)
        self._core_words = Heading(tr("reading.core"), 20, 700, tr("reading.core_note"))
        self._lay_out()
        job.events.changed.connect(self.refresh)
        job.events.reading_ready.connect(self._came)
        job.events.reading_progressed.connect(self._progressed)
        job.events.picture_ready.connect(lambda _: self.refresh())
        job.events.failed.connect(lambda _: self._progressed("", 1.0))

    def enter(self) -> None:
        self._picked = None
        self._beside_key = ""
        self._pattern.view.choose("")
        self._pane.show_places(None)
        self._said = ""
        self._pane.choose_mode(PaneMode.LOOK)
        self._pick_colour.setChecked(False)
        self.job.readings.want_target(with_map=True)
        self.refresh()

    def _came(self, photo_id: str) -> None:
        if any(photo_id == target.id for target in self.job.records.targets()):
            self._progress = None
        self.refresh()

    def _progressed(self, photo_id: str, fraction: float) -> None:
        if photo_id and all(photo_id != target.id for target in self.job.records.targets()):
            return
        self._progress = fraction if photo_id and fraction < 1 else None
        if self.isVisible():
            self.foot_changed.emit()

    def refresh(self) -> None:
        if not self.isVisible() or self.job.finish is None:
            return
        target = self.job.readings.target()
        reading = self.job.readings.of_target()
        if target is not None:
            self.job.pictures.want(target)
        layers = () if reading is None else reading.layers
        self._show_panels(target, reading)
        if self._picked is not None and self._picked >= len(layers):
            self._picked = None
        if self._picked is None:
            self._choice.show_index(_WHOLE)
        rows = [] if reading is None else [layer_row(layer, reading) for layer in layers]
        self._core.show_layers(rows, self._picked)
        self._show_surface(target)
        self._fit()
        things = [] if reading is None else things_beside(self.job.records, self.job.readings)
        beside = next((thing for thing in things if thing.key == self._beside_key), None)
        self._show_beside(target, beside)
        self._pattern.show_reading(reading, self.job.finish.family, things, beside)
        self._say_headings(reading)
        self.foot_changed.emit()
        self.update()

    def _show_beside(self, target: Photo | None, beside: Beside | None) -> None:
        """Show the photo that stands beside, at the target's scale; a zone is the target's own."""
        photo = None if beside is None else beside.photo
        if photo is not None:
            self.job.pictures.want(photo)
            flat = self.job.pictures.flat(photo)
            if self._beside_image is None or self._beside_image[0] is not flat:
                self._beside_image = (flat, None if flat is None else to_image(flat.code))
            scale = None if flat is None else flat.mm_per_px
            self._beside_pane.show_surface(self._beside_image[1], scale, tr("photos.opening"))
        if self._beside_pane.isVisibleTo(self) != (photo is not None):
            self._beside_pane.setVisible(photo is not None)
            self._fit()
        if beside is not None and beside.photo is None and target is not None:
            zone = target.zones[int(beside.key.split()[1]) - 1]
            self._pane.show_outlines([list(ring) for ring in zone.outlines])
        # Both at one scale, so that sizes can be told by eye; as large as their height allows.
        whole = [pane.scale_by_height() for pane in (self._pane, self._beside_pane)]
        known = [scale for scale in whole if scale is not None]
        shared = min(known) if photo is not None and len(known) == len(whole) else None
        for pane in (self._pane, self._beside_pane):
            pane.set_scale(shared)

    def _beside_chosen(self, key: str) -> None:
        self._beside_key = key
        self.refresh()

    def _number_chosen(self, path: str) -> None:
        """Show where a number was measured; finding it goes on in the background."""
        row = self._pattern.view.row_of(path) if path else None
        self._say("" if row is None else row.detail)
        self._pane.show_places(None)
        target = self.job.readings.target()
        if path and target is not None:
            self.job.readings.want_places(target, path, self._pane.show_places)

    def _show_surface(self, target: Photo | None) -> None:
        flat = None if target is None else self.job.pictures.flat(target)
        if target is None or flat is None:
            words = tr("reading.no_target") if target is None else tr("photos.opening")
            self._pane.show_surface(None, None, words)
            self._pane.show_over(None)
            return
        key = (target.sha256, target.settings)
        if self._image is None or self._image[0] != key:
            self._image = (key, to_image(flat.code))
        self._pane.show_surface(self._image[1], flat.mm_per_px)
        analysis = self.job.readings.analysis(target)
        show_layer = (
            self._picked is not None and self._choice.index != _WHOLE and analysis is not None
        )
        if not show_layer:
            self._pane.show_over(None)
            return
        assert analysis is not None and self._picked is not None
        over_key = (id(analysis), self._picked, self._choice.index)
        if self._over is None or self._over[0] != over_key:
            if self._choice.index == _COVER:
                code = cover_map(analysis, self._picked)
            else:
                code = lifted(analysis, self._picked, but_one=self._choice.index == _BUT_ONE)
            self._over = (over_key, to_image(code))
        self._pane.show_over(self._over[1])

    def _show_panels(self, target: Photo | None, reading: Reading | None) -> None:
        """Show the opened layer, or the zones, in place of the pattern."""
        if reading is None:
            self._zones.setChecked(False)
        if self._picked is not None and reading is not None and self._picked < len(reading.layers):
            self._zones.setChecked(False)
            if self._layer_panel is None:
                self._layer_panel = LayerPanel(self)
                self._layer_panel.asked.connect(self._asked)
            self._layer_panel.show_layer(reading, self._picked)
            self._open_panel(self._layer_panel)
        elif self._zones.isChecked() and target is not None:
            if self._zones_panel is None:
                self._zones_panel = ZonesPanel(self)
                self._zones_panel.zones_wanted.connect(self.job.zones.change)
                self._zones_panel.asked.connect(self._zone_asked)
            self._zones_panel.show_zones(target.zones, self.job.readings.of(target))
            self._open_panel(self._zones_panel)
        else:
            self._open_panel(None)
        zones = () if target is None else target.zones
        shown = self._zones.isChecked()
        rings = [list(ring) for zone in zones for ring in zone.outlines] if shown else []
        self._pane.show_outlines(rings)
        choices = None if self.job.finish is None else self.job.finish.layers
        out = [] if choices is None else [n for n, c in enumerate(choices.layers) if c.left_out]
        self._back.setVisible(bool(out))
        if choices is not None and out:
            names = [(choices.layers[n].name or tr("reading.nameless"), n) for n in out]
            fill_list(self._back, [(tr("reading.left_out"), None), *names])
        self._pick_colour.setEnabled(reading is not None)
        self._zones.setEnabled(reading is not None)

    def _open_panel(self, panel: QWidget | None) -> None:
        now = self._sheet.widget()
        if panel is not now:
            if now is not None:
                self._sheet.takeWidget()
                now.hide()
            if panel is not None:
                self._sheet.setWidget(panel)
                panel.show()
            self._sheet.verticalScrollBar().setValue(0)
        self._sheet.setVisible(panel is not None)
        self._pattern.setVisible(panel is None)
        if panel is not None:
            self._pattern.view.choose("")

    # ---- decisions

    def _asked(self, what: str, value: object) -> None:
        """Do what the layer's panel asks for."""
        if self._picked is None:
            return
        self._said = ""
        self.job.layers.ask(self._picked, what, value)

    def _decided(self, place: int) -> None:
        """Keep the layer that was changed picked, wherever it is now; -1 for none."""
        self._picked = place if place >= 0 else None
        self.refresh()

    def _say(self, words: str) -> None:
        self._said = words
        self.foot_changed.emit()

    def _pick_pressed(self) -> None:
        self._zones.setChecked(False)
        self._layer_picked(-1)
        picking = self._pick_colour.isChecked()
        self._pane.choose_mode(PaneMode.PICK if picking else PaneMode.LOOK)
        self._say(tr("reading.pick_hint_colour") if picking else "")

    def _colour_picked(self, x: float, y: float) -> None:
        self._pick_colour.setChecked(False)
        self._pane.choose_mode(PaneMode.LOOK)
        self._said = ""
        self.job.layers.pick(x, y)

    def _bring_back(self) -> None:
        number = self._back.currentData()
        if number is not None:
            self.job.layers.bring_back(number)

    # ---- zones

    def _zones_pressed(self) -> None:
        opened = self._zones.isChecked()
        self._layer_picked(-1)
        self._zones.setChecked(opened)
        self._pane.choose_mode(PaneMode.LOOK)
        self._say("")
        self.refresh()

    def _zone_asked(self, what: str) -> None:
        if what == "draw":
            self._pane.choose_mode(PaneMode.BOX)
            self._say(tr("zones.draw_hint"))
        elif what == "edges":
            self.job.zones.take_edges()
        else:
            self.job.zones.suggest()

    def _zone_drawn(self, box: tuple[float, float, float, float]) -> None:
        self._pane.choose_mode(PaneMode.LOOK)
        self._said = ""
        self.job.zones.draw(box)

    def _layer_picked(self, number: int) -> None:
        self._picked = None if number < 0 else number
        if self._picked is None:
            self._choice.show_index(_WHOLE)
        elif self._choice.index == _WHOLE:
            self._choice.show_index(_ONE)
        self.refresh()

    def _choice_made(self, index: int) -> None:
        if index != _WHOLE and self._picked is None:
            self._picked = 0
        if index == _WHOLE:
            self._picked = None
        self.refresh()

    def _family_chosen(self, family: str) -> None:
        finish = self.job.finish
        assert finish is not None
        if family != finish.family:
            self.job.records.change(tr("undo.family"), [finish], [replace(finish, family=family)])
            self.enter()

    def _read_again(self) -> None:
        self._progress = 0.0
        for target in self.job.records.targets():
            self.job.readings.want(target, again=True)
        self.foot_changed.emit()

    def _stop(self) -> None:
        self.job.readings.stop(self.job.records.targets())
        self._progress = None
        self.foot_changed.emit()

    def step_on(self, by: int) -> None:
        reading = self.job.readings.of_target()
        count = 0 if reading is None else len(reading.layers)
        if count:
            first = 0 if by > 0 else count - 1
            self._layer_picked(first if self._picked is None else (self._picked + by) % count)

    def escape(self) -> bool:
        if self._progress is not None:
            self._stop()
            return True
        if self._pick_colour.isChecked():
            self._pick_colour.setChecked(False)
            self._pick_pressed()
            return True
        if self._picked is not None:
            self._layer_picked(-1)
            return True
        if self._pattern.view.chosen:
            self._pattern.view.choose("")
            return True
        if self._zones.isChecked():
            self._zones.setChecked(False)
            self._pane.choose_mode(PaneMode.LOOK)
            self.refresh()
            return True
        return False

    # ---- header and foot

    def help_key(self) -> str:
        if self._pattern.view.chosen:
            return self._pattern.view.chosen
        return "layers.lab" if self._picked is not None else self.name

    def foot_state(self) -> FootState:
        target = self.job.readings.target()
        if target is None:
            go = Action(
                text=tr("reading.to_photos"),
                run=lambda: self.station_wanted.emit("photos"),
                primary=True,
            )
            return FootState(
                text=tr("reading.no_target"), note=tr("reading.no_target_note"), actions=(go,)
            )
        reading = self.job.readings.of_target()
        if self._progress is not None and (reading is None or self._progress < 1):
            stop = Action(text=tr("foot.stop"), run=self._stop, primary=True)
            return FootState(
                text=tr("reading.busy"),
                note=tr(busy_words(self._progress)),
                progress=self._progress,
                actions=(stop,),
            )
        again = Action(text=tr("reading.again"), run=self._read_again)
        others = [again]
        if self._pattern.view.chosen:
            key = self._pattern.view.chosen
            what = Action(text=tr("help.number"), run=lambda: self.help_wanted.emit(key))
            others.insert(0, what)
        suggested = suggested_family(self.job, reading)
        if suggested is not None:
            call = tr("reading.call_it", family=tr(f"family.{suggested}").lower())
            others.insert(0, Action(text=call, run=lambda: self._family_chosen(suggested)))
        if self.job.finish is not None and self.job.finish.layers is not None:
            others.insert(0, Action(text=tr("reading.as_read"), run=self.job.layers.undo_all))
        if reading is None:
            return FootState(
                text=tr("reading.not_read_yet"),
                sign="todo",
                actions=(replace(again, text=tr("reading.read"), primary=True),),
            )
        # A job that has boards goes on with them; a new one wants its mixes and plan first.
        name = "boards" if self.job.records.boards() else next_station(self.job)
        go = Action(text=tr(f"go.{name}"), run=lambda: self.station_wanted.emit(name), primary=True)
        note = self._said or reading_note(self.job, reading, suggested)
        return FootState(
            text=tr("reading.done", count=len(reading.layers)), note=note, actions=(*others, go)
        )

    # ---- layout

    def _lay_out(self) -> None:
        surface = column(gap=14)
        surface.addWidget(self._target_words)
        panes = row(gap=12)
        panes.addWidget(self._pane, 1)
        panes.addWidget(self._beside_pane, 1)
        surface.addLayout(panes, 1)
        layers = column(gap=14)
        layers.addWidget(self._core_words)
        layers.addWidget(self._core, 1)
        self._both = row(gap=_GAP)
        self._both.addLayout(surface)
        self._both.addLayout(layers)
        below = Flow(gap=10)
        below.addWidget(self._choice)
        spread = QWidget()
        spread.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        below.addWidget(spread)
        for widget in (self._back, self._zones, self._pick_colour):
            below.addWidget(widget)
        bench = column(margins=(_MARGIN, 14, _MARGIN, 14), gap=14)
        bench.addLayout(self._both, 1)
        bench.addLayout(below)

        side = Ground("sheet", "left")
        side.setFixedWidth(px(_COLUMN))
        head = row(margins=(0, 0, 12, 0), gap=12)
        head.addWidget(self._side_words, 1)
        head.addWidget(self._pattern.family)
        controls = column(side, (24, 10, 0, 8), 10)
        controls.addLayout(head)
        controls.addWidget(self._pattern, 1)
        controls.addWidget(self._sheet, 1)
        whole = row(self)
        whole.addLayout(bench, 1)
        whole.addWidget(side)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def _fit(self) -> None:
        """Give the surface the width its height asks for, and the layers what is left over."""
        layout = self.layout()
        if layout is None:
            return
        layout.activate()
        room = self.wide - _COLUMN - 2 * _MARGIN - _GAP
        wanted = round((self._pane.high - STRIP) * self._pane.aspect())
        surface = max(min(wanted, room - _CORE), _LEAST_SURFACE)
        self._both.setStretch(0, surface)
        self._both.setStretch(1, max(room - surface, _CORE))

    def _say_headings(self, reading: Reading | None) -> None:
        size = ""
        if reading is not None and reading.size_mm is not None:
            size = f"{reading.size_mm[0]:.0f} × {reading.size_mm[1]:.0f} mm"
        self._target_words.say(tr("reading.target"), size)
        heading = tr("reading.pattern")
        if self._picked is not None and reading is not None and self._picked < len(reading.layers):
            heading = say(reading.layers[self._picked].name)
        elif self._zones.isChecked():
            heading = tr("zones.open")
        self._side_words.say(heading)
        self._pattern.family.setVisible(not self._pattern.isHidden())

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")
