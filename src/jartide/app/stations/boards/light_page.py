"""Light and surface: how target and board look in other lamps, and dry, wet or sealed."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.log import State
from jartide.colour.spaces import srgb_hex
from jartide.job.eye_pictures import layer_lights
from jartide.job.open_job import OpenJob
from jartide.paint.mix_spectrum import mix_spectrum
from jartide.store.records import Photo
from jartide.wording import say, tr


class LightPage(BoardPage):
    """Shows each layer's pair of colours in three lights."""

    name = "light"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.light"), self)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        side.words(tr("surface.title"), 16, 600)
        side.words(tr("surface.how"))
        side.words(tr("surface.of_target"), 14)
        self._of_target = side.list(
            tr("surface.of_target"),
            lambda: self._state_chosen(self.job.readings.target(), self._of_target.currentData()),
        )
        side.words(tr("surface.of_board"), 14)
        self._of_board = side.list(
            tr("surface.of_board"),
            lambda: self._state_chosen(self.photo, self._of_board.currentData()),
        )
        side.words(tr("light.title"), 16, 600)
        side.words(tr("light.how"))
        side.words(tr("light.limits"))

    def _state_chosen(self, photo: Photo | None, word: str) -> None:
        """Say in which state a surface was photographed."""
        if photo is None:
            return
        stage = replace(photo.stage, state=State(word) if word else None)
        if stage != photo.stage:
            new = replace(photo, stage=stage)
            self.job.records.change(tr("undo.surface_state"), [photo], [new])

    def _show_states(self) -> None:
        items: list[tuple[str, object]] = [(tr("state.unsaid"), "")]
        items += [(tr(f"state.{state.value}"), state.value) for state in State]
        for made, photo in (
            (self._of_target, self.job.readings.target()),
            (self._of_board, self.photo),
        ):
            state = None if photo is None else photo.stage.state
            fill_list(made, items, "" if state is None else state.value)
            made.setEnabled(photo is not None)

    def show_board(self) -> None:
        self._show_states()
        target = self.job.readings.of_target()
        own = None if self.photo is None else self.job.readings.of_board(self.photo)
        if target is None or own is None:
            self._ledger.show_rows([], -1, tr("boards.reading"))
            return
        spectra = self._spectra()
        key = tuple((n, tuple(s)) for n, s in sorted(spectra.items()))
        found = self.job.kept.worked_out(
            "light", key, lambda: layer_lights(target, own, spectra), target, own
        )
        if found is None:
            self._ledger.show_rows([], -1, tr("light.busy"))
            return
        rows: list[LedgerRow] = []
        for name, risk in found:
            told = tr(f"light.risk.{risk.risk.value}")
            rows.append(LedgerRow(title=say(name), right=told, head=True))
            for light in risk.lights:
                chips = tuple(QColor(srgb_hex(lab)) for lab in (light.target, light.board))
                closeness = tr(f"light.apart.{_apart(light.de00)}")
                spread = tr(f"light.apart.{_apart(light.worst_de00)}")
                note = "" if light.lamp == "daylight" else tr("light.worst", how=spread)
                rows.append(
                    LedgerRow(
                        title=tr(f"light.{light.lamp.value}"),
                        note=note,
                        right=closeness,
                        chips=chips,
                    )
                )
        self._ledger.show_rows(rows)

    def _spectra(self) -> dict[int, np.ndarray]:
        """The spectra of the layers' own jars, where all their paints were measured."""
        work = self.job.shelf.work()
        if work is None:
            return {}
        found = {}
        for number, parts in self.job.jars.parts(work).items():
            spectrum = mix_spectrum(work.fitted, parts)
            if spectrum is not None:
                found[number] = spectrum
        return found


def _apart(de00: float) -> str:
    """How far two colours are apart, in words."""
    return "same" if de00 < 1 else "hair" if de00 < 2 else "little" if de00 < 4 else "much"
