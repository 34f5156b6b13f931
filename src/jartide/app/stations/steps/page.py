"""The base of the pages that open from Steps: each works on the plan of the open finish."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from jartide.app.stations.page import HEAD, SIDE, Side, StationPage
from jartide.errors import JarTideError

if TYPE_CHECKING:
    from jartide.app.plan_desk import PlanDesk
    from jartide.plan.step import Step

__all__ = ["HEAD", "SIDE", "Side", "StepsPage"]


class StepsPage(StationPage):
    """One page; it changes the plan through the desk."""

    def __init__(self, desk: PlanDesk, parent: QWidget | None = None) -> None:
        self.desk = desk
        super().__init__(desk.document, parent)

    def steps(self) -> tuple[Step, ...]:
        """Return the steps as they stand; none where they can't be proposed yet."""
        try:
            return self.desk.steps()
        except JarTideError as error:
            self.document.failed.emit(str(error))
            return ()
