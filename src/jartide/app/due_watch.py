"""The clock that looks at what dries, wherever the painter is: what is ready is told once."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from jartide.job.open_job import OpenJob
from jartide.job.words.steps import block_name
from jartide.wording import tr

_TICK_MS = 20_000


class DueWatch(QObject):
    """Looks at the plan's clock three times a minute."""

    came_due = Signal(str)  # something is to be looked at: one sentence

    def __init__(self, job: OpenJob, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._job = job
        self._told: set[str] = set()
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK_MS)
        self._timer.timeout.connect(self.look)
        self._timer.start()
        job.events.changed.connect(self._forget_gone)

    def look(self) -> None:
        """Tell what is dry now, once, and let what shows the time be drawn anew."""
        plan, described = self._job.plan, self._job.described
        if self._job.finish is None or not plan.dones():
            return
        for block in plan.timed().blocks:
            key = block.task.id
            if block.state == "look" and key not in self._told:
                self._told.add(key)
                steps = plan.steps_of(block.task)
                words = tr(
                    "steps.due",
                    lane=described.lane_name(block.task.lane),
                    name=block_name(steps),
                    sign=described.ready_sign(steps),
                )
                self.came_due.emit(words)
        plan.changed.emit()

    def _forget_gone(self) -> None:
        """What was looked at and is no longer due is told again when it is."""
        if self._told:
            blocks = self._job.plan.timed().blocks
            self._told &= {block.task.id for block in blocks if block.state == "look"}

    def forget(self) -> None:
        """Tell everything again that is dry."""
        self._told.clear()
