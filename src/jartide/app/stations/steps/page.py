"""The base of the pages that open from Steps: each works on the plan of the open finish."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from jartide.app.stations.page import Side, StationPage
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.plan.step import Step

__all__ = ["Side", "StepsPage"]


class StepsPage(StationPage):
    """One page; it changes the plan of the open job."""

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self.plan = job.plan
        super().__init__(job, parent)

    def steps(self) -> tuple[Step, ...]:
        """Return the steps as they stand; none where they can't be proposed yet."""
        try:
            return self.plan.steps()
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            return ()
