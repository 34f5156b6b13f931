"""The sheet on which a mixed jar is read: what it reads, what went in, what to add."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QScrollArea, QWidget

from jartide.app.stations.jars.panels import JarReadingPanel
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.job.jar_reader import read_dab
from jartide.job.jars import JarState
from jartide.job.measured_parts import measured_parts, really_in, recipe_counts
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered
from jartide.job.words.jars import parts_words
from jartide.job.words.trials import batches_words, correction_words, told_words
from jartide.wording import tr


class TrialSheet(QScrollArea):
    """Lies over the recipe of the open jar while it is read."""

    def __init__(self, job: OpenJob, parent: QWidget) -> None:
        super().__init__(parent)
        self._job = job
        self._state: JarState | None = None
        self.panel = JarReadingPanel(self)
        self.panel.read.connect(self._read)
        self.panel.reader_wanted.connect(self._use_reader)
        self.panel.kept.connect(self._keep_left)
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidget(self.panel)
        self.hide()

    def show_state(self, state: JarState) -> None:
        """Show whose jar is read, and what its last reading comes to."""
        self._state = state
        mix, result, expect = state.mix, "", ""
        if mix.readings and mix.target is not None:
            found = self._job.shelf.corrections(mix)
            if found is None:
                result = tr("jars.looking")
            elif found:
                result, expect = correction_words(found[0], state, self._job.shelf)
        self.panel.show_jar(
            mix.name,
            parts_words(recipe_counts(mix.parts)),
            result,
            " ".join(filter(None, (told_words(mix), expect, batches_words(mix)))),
            mix.left_ml,
            mix.notes,
            reader=offered(self._job.records, Kind.COLOUR_READER) is not None,
        )

    def _read(self, values: list, parts: list, source: Source) -> None:
        state = self._state
        if state is None:
            return
        refused = self._job.shelf.refused
        if None in values or not 0 <= values[0] <= 105 or max(abs(v) for v in values[1:]) > 150:
            refused.emit(tr("trial.wrong_colour"))
            return
        measured = measured_parts(state.mix.parts)
        if None in parts or len(parts) != len(measured) or min(parts) < 0 or not sum(parts):
            refused.emit(tr("trial.wrong_parts", amount=len(measured)))
            return
        used = really_in(measured, parts)
        self._job.jars.read(state.mix, (values[0], values[1], values[2]), used, source)

    def _keep_left(self, left_ml: object, notes: str) -> None:
        state = self._state
        if state is not None and isinstance(left_ml, float | int | None):
            left = None if left_ml is None else float(max(left_ml, 0))
            kept = replace(state.mix, left_ml=left, notes=notes)
            self._job.jars.put(kept, tr("undo.left", name=state.mix.name))

    def _use_reader(self) -> None:
        """Lay the colour reader on a dried dab of the jar."""
        state, device = self._state, offered(self._job.records, Kind.COLOUR_READER)
        seen = None if state is None else state.shown
        if device is not None and state is not None and seen is not None and seen.lab is not None:
            seed = sum(map(ord, state.mix.id)) + len(state.mix.readings)
            lab = read_dab(device, seen.lab, seen.uncertainty_de00, seed)
            self.panel.show_lab(lab, device.source)
