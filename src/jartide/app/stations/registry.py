"""The stations by name: where each stands, and how it is made when it is first shown."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from jartide.app.stations.base import Station
    from jartide.job.open_job import OpenJob
    from jartide.job.standing import Standing


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One station: its name, the module and class it is made of, and what says how it stands."""

    name: str
    module: str
    kind: str
    standing: str = ""

    @property
    def place(self) -> str:
        """The module it is made of, in full."""
        return f"jartide.app.stations.{self.module}"

    def make(self, job: OpenJob) -> Station:
        """Make the station; its module is imported with it."""
        return getattr(import_module(self.place), self.kind)(job)

    def stands(self, job: OpenJob) -> Standing:
        """Return how far its work has come, from the model: the station need not be there."""
        return getattr(import_module("jartide.job.standing"), self.standing)(job)


# The six stations of a finish, in the order in which they stand in the header.
STATIONS = (
    Entry(name="photos", module="photos.station", kind="PhotosStation", standing="of_photos"),
    Entry(name="reading", module="reading.station", kind="ReadingStation", standing="of_reading"),
    Entry(name="jars", module="jars.station", kind="JarsStation", standing="of_jars"),
    Entry(name="steps", module="steps.station", kind="StepsStation", standing="of_steps"),
    Entry(name="boards", module="boards.station", kind="BoardsStation", standing="of_boards"),
    Entry(name="sheet", module="sheet.station", kind="SheetStation", standing="of_sheet"),
)
# The pages around them.
AROUND = (
    Entry(name="jobs", module="jobs.station", kind="JobsStation"),
    Entry(name="help", module="help_station", kind="HelpStation"),
    Entry(name="settings", module="settings_station", kind="SettingsStation"),
)
BY_NAME = {entry.name: entry for entry in (*STATIONS, *AROUND)}
