"""The opened layer: its colour in words, why it lies where it does, and what can be decided."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QHBoxLayout, QLabel, QWidget

from jartide.app.elements.chip_pair import draw_chip_pair
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.buttons import INSET, Button
from jartide.app.widgets.control_column import (
    ControlColumn,
    fill_list,
    number,
    put_text,
    was_edited,
)
from jartide.app.widgets.painted import Painted
from jartide.colour.spaces import srgb_hex
from jartide.figures import figure, plain_figure
from jartide.job.words.layers import (
    beside_words,
    colour_words,
    doubt_words,
    edge_words,
    order_words,
    position_words,
)
from jartide.reading.result import Layer, Reading, Role
from jartide.wording import say, tr

_CHIP_HEIGHT = 38
_WIDTH = 304


class _Chips(Painted):
    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours: tuple[QColor, QColor, QColor] | None = None
        self.setFixedHeight(px(_CHIP_HEIGHT))

    def show_layer(self, layer: Layer) -> None:
        lab, axis = layer.best_lab or layer.shown_lab, layer.lab_axes[0]
        if layer.reader_lab is not None:
            axis = (0.0, 0.0, 0.0)
        ends = [tuple(v + way * a for v, a in zip(lab, axis, strict=True)) for way in (-1, 0, 1)]
        low, middle, high = (QColor(srgb_hex(end)) for end in ends)
        self._colours = (low, middle, high)
        self.setAccessibleName(tr("layer.chips"))
        self.update()

    def paint(self, kit: Kit) -> None:
        if self._colours is not None:
            draw_chip_pair(kit, 0, 0, self.wide, self.high, self._colours)


class LayerPanel(ControlColumn):
    """Shows one layer and asks for changes; it changes nothing itself."""

    asked = Signal(str, object)  # what, and with which value

    def build(self) -> None:
        self.layer_id = ""
        self.setMaximumWidth(px(_WIDTH))
        self._chips = _Chips(self)
        self.column.addWidget(self._chips)
        self._colour = self.words(weight=600)
        self._beside = self.words()
        self._doubt = self.words()
        self._why = self.words()
        self._name = self.fields(tr("layer.name"), edited=self._renamed)[0]
        row = QHBoxLayout()
        row.setSpacing(px(12))
        whole, self.column = self.column, row  # type: ignore[assignment]
        self._role = self.list(tr("layer.role"), self._role_chosen)
        self._lock = self.tick(tr("layer.lock"), lambda on: self.asked.emit("locked", on))
        self.column = whole
        self.column.addLayout(row)
        fill_list(self._role, [(tr(f"role.one.{role}"), role) for role in Role])
        self._lower, self._higher = self._pair(
            (tr("layer.lower"), "lower"), (tr("layer.higher"), "higher")
        )
        self._part, self._leave = self._pair(
            (tr("layer.part"), "part"), (tr("layer.leave_out"), "leave_out")
        )
        self._join = self.list(tr("layer.join"), self._join_chosen)
        self.words(tr("layer.reader"), 15, 600)
        self._reader = self.fields(tr("colour.L"), tr("colour.a"), tr("colour.b"))
        self._use, self._drop = self._pair(
            (tr("layer.use_reader"), "reader"), (tr("layer.drop_reader"), "drop_reader")
        )
        self._use.clicked.disconnect()
        self._use.clicked.connect(lambda _=False: self._reader_pressed())
        self._how = self.words(size=14)

    def _pair(self, first: tuple[str, str], second: tuple[str, str]) -> tuple[Button, Button]:
        row = QHBoxLayout()
        row.setSpacing(px(8 - INSET))
        made = []
        for words, what in (first, second):
            button = Button(words, self)
            button.setFixedWidth(px(_WIDTH // 2 - 4 + INSET))
            button.clicked.connect(lambda _=False, what=what: self.asked.emit(what, None))
            row.addWidget(button)
            made.append(button)
        row.addStretch(1)
        self.column.addLayout(row)
        return made[0], made[1]

    def show_layer(self, reading: Reading, place: int) -> None:
        """Show the layer at a place of the order."""
        layer = reading.layers[place]
        self.layer_id = layer.id
        self._chips.show_layer(layer)
        _say(self._colour, colour_words(layer))
        _say(self._beside, beside_words(layer, reading))
        _say(self._doubt, doubt_words(layer))
        why = (order_words(layer), edge_words(layer, reading), position_words(layer))
        _say(self._why, " ".join(filter(None, why)))
        put_text(self._name, say(layer.name))
        self._role.setCurrentIndex(self._role.findData(layer.role))
        self._lock.setChecked(layer.locked)
        self._lower.setEnabled(place > 0)
        self._higher.setEnabled(place < len(reading.layers) - 1)
        self._leave.setEnabled(len(reading.layers) > 1)
        others = [(say(o.name), n) for n, o in enumerate(reading.layers) if n != place]
        fill_list(self._join, [(tr("layer.join"), None), *others])
        self._join.setEnabled(bool(others))
        lab = layer.reader_lab
        for n, field in enumerate(self._reader):
            put_text(field, "" if lab is None else plain_figure(lab[n]))
        self._drop.setEnabled(lab is not None)
        _say(self._how, _how_measured(layer))

    def _renamed(self) -> None:
        if was_edited(self._name):
            self.asked.emit("name", self._name.text().strip())

    def _role_chosen(self) -> None:
        self.asked.emit("role", self._role.currentData())

    def _join_chosen(self) -> None:
        if self._join.currentData() is not None:
            self.asked.emit("join", self._join.currentData())

    def _reader_pressed(self) -> None:
        values = [number(field.text()) for field in self._reader]
        L, a, b = values
        if L is None or a is None or b is None or not (0 <= L <= 100):
            self._reader[0].setFocus()
            self.asked.emit("reader_wrong", None)
            return
        self.asked.emit("reader", (L, a, b))


def _how_measured(layer: Layer) -> str:
    """The numbers behind the words."""
    lab = layer.shown_lab
    words = tr(
        "layer.how",
        L=figure(lab[0], 1),
        a=figure(lab[1], 1),
        b=figure(lab[2], 1),
        sure=figure(layer.lab_de00, 1),
    )
    return words


def _say(label: QLabel, words: str) -> None:
    label.setText(words)
    label.setVisible(bool(words))
