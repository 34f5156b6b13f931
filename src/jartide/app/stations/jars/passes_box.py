"""The passes that a jar's mix serves: one after the other, one more, without one."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from jartide.app.stations.jars.panels import BatchPanel
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.drop_down import DropDown
from jartide.job.jars import JarState
from jartide.job.open_job import OpenJob
from jartide.store.jar_records import JarUse
from jartide.wording import tr


class PassesBox(QObject):
    """A list of passes and the fields of the one that is shown."""

    turned = Signal()  # another pass is shown

    def __init__(self, job: OpenJob, parent: QWidget) -> None:
        super().__init__(parent)
        self._job = job
        self._state: JarState | None = None
        self.panel = BatchPanel(parent)
        self.panel.changed.connect(self._use_changed)
        self.panel.accented.connect(self._accented)
        self.list = DropDown(parent)
        self.list.setAccessibleName(tr("batch.passes"))
        self.list.activated.connect(lambda _: self._chosen())

    def first(self) -> None:
        """Show the first pass."""
        self.panel.place = 0

    def show_state(self, state: JarState) -> None:
        """Offer the passes the mix serves, one more, and to drop the one that is shown."""
        self._state = state
        self.panel.show_uses(state.amount, accent=state.mix.accent)
        count = len(state.amount.uses)
        items: list[tuple[str, object]] = [
            (tr("batch.pass", number=n + 1, all=count), n) for n in range(count)
        ]
        items.append((tr("batch.one_more"), "more"))
        if count > 1:
            items.append((tr("batch.drop", number=self.panel.place + 1), "drop"))
        fill_list(self.list, items, self.panel.place)

    def _chosen(self) -> None:
        state, chosen = self._state, self.list.currentData()
        if state is None:
            return
        uses = state.amount.uses
        if chosen == "more":
            uses, self.panel.place = (*uses, JarUse()), len(uses)
        elif chosen == "drop":
            gone = self.panel.place
            uses, self.panel.place = uses[:gone] + uses[gone + 1 :], 0
        else:
            self.panel.place = chosen
        self._keep(state, uses)
        self.turned.emit()

    def _use_changed(self, use: JarUse, place: int) -> None:
        if self._state is not None:
            uses = self._state.amount.uses
            self._keep(self._state, (*uses[:place], use, *uses[place + 1 :]))

    def _accented(self, on: bool) -> None:
        if self._state is not None and self._state.mix.accent != on:
            words = tr("undo.amount", name=self._state.mix.name)
            self._job.jars.put(replace(self._state.mix, accent=on), words)

    def _keep(self, state: JarState, uses: tuple[JarUse, ...]) -> None:
        if uses != state.amount.uses:
            words = tr("undo.amount", name=state.mix.name)
            self._job.jars.put(replace(state.mix, uses=uses), words)
