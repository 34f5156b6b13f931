"""What the painter decides of the layers, turned into changes that can be undone."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.job.events import Event
from jartide.job.pictures import Pictures
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.reading import decisions
from jartide.reading.decisions import MOST_LAYERS, LayerChoices
from jartide.reading.layers.refit import two_tones
from jartide.wording import tr


class Layers:
    """Carries out one decision at a time on the target of the open finish.

    Attributes
    ----------
    refused : one sentence, why nothing was changed
    decided : place of the layer that was changed, base first; -1 for none
    """

    def __init__(self, records: Records, pictures: Pictures, readings: Readings) -> None:
        self._records, self._pictures, self._readings = records, pictures, readings
        self.refused = Event()
        self.decided = Event()

    def choices(self) -> LayerChoices | None:
        """Return the choices as they are, or as they would be to leave the layers as read."""
        finish, reading = self._records.finish, self._readings.of_target()
        if finish is not None and finish.layers is not None:
            return finish.layers
        return None if reading is None else decisions.choices_of(reading.layers)

    def ask(self, place: int, what: str, value: object) -> None:
        """Change the layer at a place of the order: `what` as the layer's panel names it."""
        choices = self.choices()
        if choices is None:
            return
        number = self._number(choices, place)
        if what in ("lower", "higher"):
            self.move(place, place + (1 if what == "higher" else -1))
        elif what == "join":
            assert isinstance(value, int)
            other = self._number(choices, value)
            joined = decisions.merged(choices, number, other)
            self._decide(joined, "undo.join", place - (value < place))
        elif what == "part":
            self._part(choices, number, place)
        elif what == "leave_out":
            reading = self._readings.of_target()
            name = choices.layers[number].name
            if not name and reading is not None:
                name = str(reading.layers[place].name)
            gone = decisions.changed(choices, number, left_out=True, name=name)
            self._decide(gone, "undo.leave_out", -1)
        elif what == "reader_wrong":
            self.refused.emit(tr("layer.reader_wrong"))
        elif what in ("reader", "drop_reader"):
            lab = value if what == "reader" else None
            changed = decisions.changed(choices, number, reader_lab=lab)
            self._decide(changed, f"undo.{what}", place)
        else:
            changed = decisions.changed(choices, number, **{what: value})
            self._decide(changed, f"undo.{what}", place)

    def move(self, start: int, to: int) -> None:
        """Move a layer to another place in the order."""
        choices = self.choices()
        if choices is None:
            return
        kept = choices.kept
        if 0 <= to < len(kept):
            self._decide(decisions.moved(choices, kept[start], kept[to]), "undo.order", to)

    def pick(self, x: float, y: float) -> None:
        """Add a layer of the colour at a spot of the surface, in shares of it."""
        choices, target = self.choices(), self._readings.target()
        flat = None if target is None else self._pictures.flat(target)
        if choices is None or flat is None:
            return
        if len(choices.kept) >= MOST_LAYERS:
            self.refused.emit(tr("layer.too_many", most=MOST_LAYERS))
            return
        colour = colour_at(flat.prepared.picture.rgb_linear, x, y)
        self._decide(decisions.picked(choices, colour), "undo.pick_colour", len(choices.kept))

    def bring_back(self, number: int) -> None:
        """Let a layer count again that was left out."""
        choices = self.choices()
        if choices is not None:
            back = decisions.changed(choices, number, left_out=False)
            self._decide(back, "undo.bring_back", back.kept.index(number))

    def undo_all(self) -> None:
        """Take the layers as they were read."""
        self._readings.decide_layers(None, tr("undo.as_read"))
        self.decided.emit(-1)

    def _part(self, choices: LayerChoices, number: int, place: int) -> None:
        target = self._readings.target()
        basis = None if target is None else self._readings.basis(target)
        analysis = None if target is None else self._readings.analysis(target)
        if basis is None or analysis is None:
            self.refused.emit(tr("layer.wait"))
            return
        if len(choices.kept) >= MOST_LAYERS:
            self.refused.emit(tr("layer.too_many", most=MOST_LAYERS))
            return
        tones = two_tones(basis.evidence, analysis.layers.labels, place)
        if tones is None:
            self.refused.emit(tr("layer.one_colour"))
            return
        self._decide(decisions.parted(choices, number, tones), "undo.part", place)

    def _number(self, choices: LayerChoices, place: int) -> int:
        return choices.kept[place]

    def _decide(self, choices: LayerChoices, words: str, place: int) -> None:
        """Keep a decision. Its order is what is shown, so it stays as it is."""
        self._readings.decide_layers(replace(choices, ordered=True), tr(words))
        self.decided.emit(place)


def colour_at(rgb_linear: np.ndarray, x: float, y: float) -> tuple[float, float, float]:
    """Return the Lab of 5 x 5 pixels of (H, W, 3) linear light at a spot in shares of its sides."""
    height, width = rgb_linear.shape[:2]
    row, column = min(int(y * height), height - 1), min(int(x * width), width - 1)
    near = rgb_linear[max(row - 2, 0) : row + 3, max(column - 2, 0) : column + 3]
    lab = linear_to_lab(np.median(near.reshape(-1, 3).astype(float), axis=0))
    return float(lab[0]), float(lab[1]), float(lab[2])
