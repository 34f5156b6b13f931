"""The panels that say what is wrong with a photo, and what to see to before a board is judged."""

from __future__ import annotations

from dataclasses import replace

from jartide.app.stations.photos.opened import Opened
from jartide.app.stations.photos.panel import Panel
from jartide.app.widgets.tick import Tick
from jartide.store.records import BoardCheck
from jartide.wording import say, tr


class CheckPanel(Panel):
    """Every fault of the photo in one sentence that says what to do."""

    def build(self) -> None:
        self._faults = self.words(size=16)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        warnings = () if opened.flat is None else opened.flat.prepared.picture.warnings
        words = "\n\n".join(say(message) for _, message in warnings)
        self._faults.setText(words or tr("step.check.good_note"))


class BoardPanel(Panel):
    """The short list the painter ticks before a board is judged; kept with the board."""

    def build(self) -> None:
        self.words(tr("board_check.note"))
        self._ticks: dict[BoardCheck, Tick] = {}
        for check in BoardCheck:
            self._ticks[check] = self.tick(tr(f"board_check.{check.value}"), self._ticked)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        checks = () if opened.board is None else opened.board.checks
        for check, tick in self._ticks.items():
            tick.setChecked(check in checks)

    def _ticked(self, on: bool) -> None:
        if self.opened is not None and self.opened.board is not None:
            checks = tuple(check for check, tick in self._ticks.items() if tick.isChecked())
            self.asked.emit("board", replace(self.opened.board, checks=checks))
