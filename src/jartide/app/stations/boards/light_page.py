"""Light: how target and board would look in other lamps, and whether the match depends on it."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.colour.spaces import srgb_hex
from jartide.job.eye_pictures import layer_lights
from jartide.job.open_job import OpenJob
from jartide.paint.mix_spectrum import mix_spectrum
from jartide.wording import say, tr


class LightPage(BoardPage):
    """Shows each layer's pair of colours in three lights."""

    name = "light"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.light"), self)
        self._body = [self._ledger]

    def build_side(self, side: Side) -> None:
        side.words(tr("light.how"))
        side.words(tr("light.limits"))

    def show_board(self) -> None:
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
