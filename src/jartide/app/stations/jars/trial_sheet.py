"""The sheet on which a mixed jar is read: what it reads, what went in, what to add."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QScrollArea, QVBoxLayout, QWidget

from jartide.app.measure import px
from jartide.app.photo_files import PHOTO_FILES
from jartide.app.stations.jars.panels import JarReadingPanel
from jartide.app.stations.jars.paste_panel import PastePanel
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.job.jar_reader import read_dab
from jartide.job.jars import JarState
from jartide.job.measured_parts import measured_parts, really_in, recipe_counts
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered
from jartide.job.words.jars import parts_words
from jartide.job.words.trials import batches_words, correction_words, told_words
from jartide.paint.paste import Spread, next_addition
from jartide.photo.load import load_photo
from jartide.photo.spread import read_spread
from jartide.store.workspace import now
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
        self.paste = PastePanel(self)
        self.paste.looked.connect(self._looked)
        self.paste.photo_wanted.connect(self._ask_paste_photo)
        both = QWidget(self)
        column = QVBoxLayout(both)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(px(16))
        column.addWidget(self.panel)
        column.addWidget(self.paste)
        column.addStretch(1)
        self.setWidget(both)
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

        self.paste.show_mix(mix, mix.mixed_ml or state.needed_ml)

    # ---- pastes

    def _looked(self, spoon: object, spread: object, powder: object, paint: object) -> None:
        state = self._state
        values = (spoon, spread, powder, paint)
        if state is None:
            return
        if not all(isinstance(value, float) for value in values):
            self._job.shelf.refused.emit(tr("paste.lacking"))
            return
        spoon_ml, diameter_mm, powder_ml, paint_ml = (float(str(value)) for value in values)
        look = Spread(
            at=now(),
            spoon_ml=spoon_ml,
            diameter_mm=diameter_mm,
            powder_ml=powder_ml,
            paint_ml=paint_ml,
        )
        try:
            # What makes no sense is refused before it is kept.
            next_addition((look,))
        except JarTideError as error:
            self._job.shelf.refused.emit(str(error))
            return
        fresh = replace(state.mix, spreads=(*state.mix.spreads, look))
        self._job.jars.put(fresh, tr("undo.paste", name=state.mix.name))

    def _ask_paste_photo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("paste.photo"), "", PHOTO_FILES)
        if name:
            self.read_paste_photo(Path(name))

    def read_paste_photo(self, path: Path) -> None:
        """Read how far a pat has spread from a photo with the card."""
        asked = None if self._state is None else self._state.mix.id

        def show(diameter_mm: float) -> None:
            # Another jar may have been opened meanwhile.
            if self._state is not None and self._state.mix.id == asked:
                self.paste.show_spread(diameter_mm)

        self._job.in_background("paste", lambda _: read_spread(load_photo(str(path))), show)

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
