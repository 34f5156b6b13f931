"""Reading: the layers in paint order, and the pattern's size, crowding and direction."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtGui import QColor, QImage, QResizeEvent
from PySide6.QtWidgets import QWidget

from jartide.app.document import Document
from jartide.app.kit import Kit
from jartide.app.stations.base import Station
from jartide.app.widgets.buttons import INSET, Button, ChoiceRow
from jartide.app.widgets.core_list import CoreList, LayerRow
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.header import StationState
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.pattern_view import PatternRows, PatternView
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.app.words import lay_words, layer_words, pattern_numbers, size_words
from jartide.families import families
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.app.work import Analysis
    from jartide.boards.together import Together
    from jartide.reading.result import Reading
    from jartide.store.records import Photo

_COLUMN = 348
_WHOLE, _ONE, _BUT_ONE = 0, 1, 2


class ReadingStation(Station):
    """Shows what the target's photo tells."""

    name = "reading"

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._picked: int | None = None
        self._progress: float | None = None
        self._over: tuple[object, QImage] | None = None
        self._image: tuple[object, QImage] | None = None
        self._pane = SurfacePane(self)
        self._choice = ChoiceRow(
            [tr("reading.whole"), tr("reading.one"), tr("reading.but_one")],
            tr("reading.show"),
            self,
        )
        self._choice.chosen.connect(self._choice_made)
        self._core = CoreList(self)
        self._core.picked.connect(self._layer_picked)
        self._pattern = PatternView(self)
        self._lay_over = Button("", self)
        self._lay_over.setCheckable(True)
        self._lay_over.clicked.connect(self.refresh)
        self._family = DropDown(self)
        self._family.setAccessibleName(tr("jobs.field.family"))
        for family in families():
            self._family.addItem(tr(f"family.{family}"), family)
        self._family.activated.connect(self._family_chosen)
        document.changed.connect(self.refresh)
        document.reading_ready.connect(self._came)
        document.reading_progressed.connect(self._progressed)
        document.picture_ready.connect(lambda _: self.refresh())
        document.failed.connect(lambda _: self._progressed("", 1.0))

    def enter(self) -> None:
        self._picked = None
        self.document.want_target(with_map=True)
        self.refresh()

    def _came(self, photo_id: str) -> None:
        if any(photo_id == target.id for target in self.document.targets()):
            self._progress = None
        self.refresh()

    def _progressed(self, photo_id: str, fraction: float) -> None:
        if photo_id and all(photo_id != target.id for target in self.document.targets()):
            return
        self._progress = fraction if photo_id and fraction < 1 else None
        self.foot_changed.emit()

    def refresh(self) -> None:
        if not self.isVisible() or self.document.finish is None:
            return
        target = self.document.target()
        reading = self.document.target_reading()
        if target is not None:
            self.document.want_picture(target)
        layers = () if reading is None else reading.layers
        if self._picked is not None and self._picked >= len(layers):
            self._picked = None
        if self._picked is None:
            self._choice.show_index(_WHOLE)
        rows = [] if reading is None else [_layer_row(layer, reading) for layer in layers]
        self._core.show_layers(rows, self._picked)
        self._show_surface(target)
        board = self._board_reading()
        self._lay_over.setVisible(board is not None)
        if board is not None:
            number, _ = board
            words = "reading.take_off" if self._lay_over.isChecked() else "reading.lay_over"
            self._lay_over.setText(tr(words, number=number))
        over = board[1] if board is not None and self._lay_over.isChecked() else None
        self._pattern.show_pattern(
            None if reading is None else _pattern_rows(reading),
            None if over is None else _pattern_rows(over),
        )
        self._family.setCurrentIndex(self._family.findData(self.document.finish.family))
        self.foot_changed.emit()
        self.update()

    def _board_reading(self) -> tuple[int, Reading] | None:
        """Return the number and reading of the latest board that is read."""
        for board, photo in reversed(self.document.boards()):
            reading = None if photo is None else self.document.reading(photo)
            if reading is not None:
                return board.number, reading
        return None

    def _show_surface(self, target: Photo | None) -> None:
        flat = None if target is None else self.document.flat(target)
        if target is None or flat is None:
            words = tr("reading.no_target") if target is None else tr("photos.opening")
            self._pane.show_surface(None, None, words)
            self._pane.show_over(None)
            return
        key = (target.sha256, target.settings)
        if self._image is None or self._image[0] != key:
            self._image = (key, to_image(flat.code))
        self._pane.show_surface(self._image[1], flat.mm_per_px)
        analysis = self.document.analysis(target)
        show_layer = (
            self._picked is not None and self._choice.index != _WHOLE and analysis is not None
        )
        if not show_layer:
            self._pane.show_over(None)
            return
        assert analysis is not None and self._picked is not None
        over_key = (key, self._picked, self._choice.index)
        if self._over is None or self._over[0] != over_key:
            code = _lifted(analysis, self._picked, but_one=self._choice.index == _BUT_ONE)
            self._over = (over_key, to_image(code))
        self._pane.show_over(self._over[1])

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

    def _family_chosen(self) -> None:
        finish = self.document.finish
        assert finish is not None
        family = self._family.currentData()
        if family != finish.family:
            self.document.change(tr("undo.family"), [finish], [replace(finish, family=family)])
            self.enter()

    def _read_again(self) -> None:
        self._progress = 0.0
        for target in self.document.targets():
            self.document.want_reading(target, again=True)
        self.foot_changed.emit()

    def _stop(self) -> None:
        for target in self.document.targets():
            self.document.runner.stop(f"reading {target.id}")
        self._progress = None
        self.foot_changed.emit()

    def escape(self) -> bool:
        if self._progress is not None:
            self._stop()
            return True
        if self._picked is not None:
            self._layer_picked(-1)
            return True
        return False

    # ---- header and foot

    def header_state(self) -> StationState:
        reading = self.document.target_reading()
        note = tr("reading.not_read")
        if reading is not None:
            note = tr("reading.layers", count=len(reading.layers))
        return StationState(
            name=tr("station.reading"), note=note, level=0.0 if reading is None else 1.0
        )

    def foot_state(self) -> FootState:
        target = self.document.target()
        if target is None:
            go = Action(
                text=tr("reading.to_photos"),
                run=lambda: self.station_wanted.emit("photos"),
                primary=True,
            )
            return FootState(
                text=tr("reading.no_target"), note=tr("reading.no_target_note"), actions=(go,)
            )
        reading = self.document.target_reading()
        if self._progress is not None and (reading is None or self._progress < 1):
            stop = Action(text=tr("foot.stop"), run=self._stop, primary=True)
            return FootState(
                text=tr("reading.busy"),
                note=tr(_busy_words(self._progress)),
                progress=self._progress,
                actions=(stop,),
            )
        again = Action(text=tr("reading.again"), run=self._read_again)
        if reading is None:
            return FootState(
                text=tr("reading.not_read_yet"),
                sign="todo",
                actions=(replace(again, text=tr("reading.read"), primary=True),),
            )
        go = Action(
            text=tr("reading.to_boards"),
            run=lambda: self.station_wanted.emit("boards"),
            primary=True,
        )
        doubts = [layer for layer in reading.layers if layer.lab is None]
        together = self.document.together()
        count = len(self.document.targets())
        if together is not None and together.odd:
            note = tr("reading.odd_photo", number=together.odd[0] + 1, all=count)
        elif reading.mm_per_px is None:
            note = tr("warning.no_scale")
        elif doubts:
            note = tr("warning.layer_too_fine", name=say(doubts[0].name))
        elif not reading.balance_known:
            note = tr("warning.no_neutral")
        elif together is not None and count > 1:
            note = tr("reading.together", all=count, spread=_spread_words(together))
        else:
            note = tr("reading.pick_hint")
        return FootState(
            text=tr("reading.done", count=len(reading.layers)), note=note, actions=(again, go)
        )

    # ---- layout

    def resizeEvent(self, event: QResizeEvent) -> None:
        w, h = self.width(), self.height()
        pattern_x = w - _COLUMN
        top = 56
        side = min(h - top - 26 - 72, pattern_x - 24 - 36 - 352 - 24)
        self._pane.setGeometry(24, top, side, side + 26)
        self._choice.move(24, top + side + 26 + 14)
        core_x = 24 + side + 12
        self._core.setGeometry(core_x, top, min(pattern_x - 24 - core_x, 420), side)
        inner = pattern_x + 24
        self._pattern.setGeometry(inner, 66, _COLUMN - 48, h - 66 - 64)
        self._family.setGeometry(w - 24 - 180, 10, 180, 42)
        self._lay_over.setFixedWidth(_COLUMN - 48 + 2 * INSET)
        self._lay_over.move(inner - INSET, h - 56)

    def paint(self, kit: Kit) -> None:
        w, h = self.width(), self.height()
        kit.fill(0, 0, w, h, "bench")
        x = w - _COLUMN
        kit.fill(x, 0, _COLUMN, h, "sheet")
        kit.upright(x, 0, h)
        advance = kit.text(24, 16, tr("reading.target"), 20, 700)
        reading = self.document.target_reading()
        if reading is not None and reading.size_mm is not None:
            words = f"{reading.size_mm[0]:.0f} × {reading.size_mm[1]:.0f} mm"
            kit.text(24 + advance + 16, 20, words, 15, 400, "ink2")
        core_x = self._core.x() + 24
        advance = kit.text(core_x, 16, tr("reading.core"), 20, 700)
        kit.text(
            core_x + advance + 16,
            20,
            tr("reading.core_note"),
            15,
            400,
            "ink2",
            x - 24 - core_x - advance - 16,
        )
        words = tr("reading.pick") if self._picked is None else tr("reading.whole_hint")
        kit.text(core_x, self._choice.y() + 10, words, 15, 400, "ink2", x - core_x - 24)
        kit.text(x + 24, 17, tr("reading.pattern"), 20, 700)


def _busy_words(fraction: float) -> str:
    """What is being found at this fraction of the work."""
    if fraction < 0.15:
        return "reading.busy.prepare"
    return "reading.busy.lines" if fraction < 0.6 else "reading.busy.layers"


def _layer_row(layer, reading: Reading) -> LayerRow:
    from jartide.colour.spaces import srgb_hex

    return LayerRow(
        name=say(layer.name),
        colour=QColor(srgb_hex(layer.shown_lab)),
        coverage=layer.coverage.value or 0.0,
        words=layer_words(layer, reading),
        doubt=tr("reading.by_eye") if layer.lab is None else "",
    )


def _pattern_rows(reading: Reading) -> PatternRows:
    pattern = reading.pattern
    return PatternRows(
        lay=pattern.lay,
        lay_words=lay_words(pattern),
        spectrum=tuple(m.value for m in pattern.spectrum),
        size_words=size_words(pattern),
        numbers=tuple(pattern_numbers(reading)),
    )


def _lifted(analysis: Analysis, number: int, *, but_one: bool):
    """The surface with one layer alone (or all but it); the rest is a flat grey with a ghost."""
    import numpy as np

    code, own = analysis.flat.code, analysis.seen == number
    shown = ~own if but_one else own
    light = analysis.reading.layers[number].shown_lab[0]
    # Light behind a dark layer, dark behind a light one.
    grey = 214 if (light < 55) != but_one else 58
    ghost = (0.16 * code + 0.84 * grey).astype(np.uint8)
    return np.where(shown[..., None], code, ghost)


def _spread_words(together: Together) -> str:
    """How far the photos' colours lie apart, in words."""
    apart = max((layer.spread_de00 for layer in together.layers), default=0.0)
    return tr("amount.hair" if apart < 2 else "amount.little" if apart < 5 else "amount.much")
