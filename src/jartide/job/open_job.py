"""The open workspace with all that is known of it: one model for all who show or print it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from jartide.errors import JarTideError
from jartide.job.amounts import Amounts
from jartide.job.boards import Boards
from jartide.job.comparisons import Comparisons
from jartide.job.described import Described
from jartide.job.events import Events
from jartide.job.jars import Jars
from jartide.job.judging import Judging
from jartide.job.kept import Kept
from jartide.job.layers import Layers
from jartide.job.pictures import Pictures
from jartide.job.plan import TimedPlan
from jartide.job.readings import Readings
from jartide.job.records import Jobs, Records
from jartide.job.runner import Progress, Runner
from jartide.job.sheet import Sheet
from jartide.job.sheet_content import SheetGatherer
from jartide.job.shelf import Shelf
from jartide.job.words.lacking import with_lacking
from jartide.job.zones import Zones
from jartide.store.backup import Restored, restore_backup
from jartide.store.demo import fill_with_demo
from jartide.store.records import Finish
from jartide.store.workspace import Workspace
from jartide.wording import tr


class OpenJob:
    """Ties the parts together. Views hold no truth of their own: they show what is here.

    Attributes
    ----------
    events : what is told of changes, always in the thread that owns the model
    kept : every derived value, keyed by what it was made from
    records, pictures, readings, comparisons : what there is, and what was made of photos
    layers, zones : what the painter decides of the target
    shelf, plan, amounts, jars : paints, steps, how much of each, what stands in the jars
    judging : what asks for a decision now, answered from all of these
    boards, described, sheet : boards' particulars, the plan in words, the job sheet
    """

    def __init__(self, runner: Runner) -> None:
        self.runner, self.events = runner, Events()
        self.kept = Kept(runner, self.events, self.say)
        self.records = Records(self.events, self.say)
        self.history = self.records.history
        self.pictures = Pictures(self.records, self.kept, runner, self.say)
        self.readings = Readings(self.records, self.pictures, self.kept, runner, self.say)
        self.comparisons = Comparisons(self.records, self.pictures, self.readings, self.kept)
        self.layers = Layers(self.records, self.pictures, self.readings)
        self.zones = Zones(self.records, self.readings)
        self.shelf = Shelf(self.records, self.kept, runner)
        self.plan = TimedPlan(self.records, self.readings, self.shelf, self.kept, runner)
        self.described = Described(self.plan)
        self.amounts = Amounts(self.plan, self.kept)
        self.jars = Jars(self.records, self.readings, self.shelf, self.amounts)
        self.boards = Boards(
            self.records, self.readings, self.comparisons, self.shelf, self.jars, self.kept
        )
        self.judging = Judging(
            self.records, self.readings, self.boards, self.plan, self.described, self.kept
        )
        gatherer = SheetGatherer(
            self.records, self.pictures, self.readings, self.comparisons, self.shelf, self.plan,
            self.amounts, self.jars, self.kept,
        )  # fmt: skip
        self.sheet = Sheet(self.records, self.shelf, self.jars, gatherer, runner)

    @property
    def workspace(self) -> Workspace | None:
        """The workspace that is open."""
        return self.records.workspace

    @property
    def finish(self) -> Finish | None:
        """The finish that is worked on."""
        return self.records.finish

    # ---- opening

    def open(self, folder: Path, *, demo: bool, instead: Path | None = None) -> None:
        """Open a workspace in the background; `demo` fills an empty one with the demo job.

        `instead` is opened where `folder` can't be.
        """

        def failed(error: Exception) -> None:
            if instead is not None:
                self.open(instead, demo=False)
            self.say(error)

        self.runner.start(
            "open", lambda _: _opened(folder, demo=demo), returned=self._came, failed=failed
        )

    def _came(self, opened: tuple[Workspace, Jobs]) -> None:
        workspace, jobs = opened
        self.records.workspace = workspace
        self.records.forget()
        self.records.know_jobs(jobs)
        self.kept.clear()
        self.history.clear()
        self.events.opened.emit()
        self.events.changed.emit()

    def restore(self, path: Path) -> None:
        """Put a backup in place of everything that is here; what fails leaves it as it was."""
        assert self.workspace is not None
        folder = self.workspace.folder
        self.records.finish = None
        self.close()

        def returned(found: tuple[Workspace, Restored | None, str]) -> None:
            workspace, restored, refused = found
            self._came((workspace, workspace.jobs_with_finishes()))
            if restored is None:
                self.events.failed.emit(refused)
                return
            kept = "" if restored.kept_in is None else restored.kept_in.name
            words = tr("backup.restored", file=path.name, folder=kept)
            self.events.told.emit(with_lacking(words, restored.lacking))

        self.runner.start(
            "open",
            lambda progress: _restored(path, folder, progress),
            returned=returned,
            failed=self.say,
        )

    def reload(self) -> None:
        """Something was written that no undo step knows of: read all of it again."""
        self.records.forget()
        self.kept.table("reading").clear()
        self.history.clear()
        self.events.changed.emit()

    def close(self) -> None:
        """Stop all work and let go of the workspace."""
        self.runner.stop_all()
        if self.workspace is not None:
            self.workspace.close()
            self.records.workspace = None

    # ---- other work

    def in_background(
        self, topic: str, work: Callable[[Progress], Any], returned: Callable[[Any], None]
    ) -> None:
        """Do any other work off the asking thread; what fails is said in one sentence."""
        self.runner.start(topic, work, returned=returned, failed=self.say, first=True)

    def say(self, error: Exception) -> None:
        """Tell the painter what went wrong; what nobody foresaw is raised as well."""
        if isinstance(error, JarTideError):
            self.events.failed.emit(str(error))
        else:
            self.events.failed.emit(tr("error.unexpected", what=type(error).__name__))
            raise error


def _opened(folder: Path, *, demo: bool) -> tuple[Workspace, Jobs]:
    """The workspace, and its jobs: of many years those take a while to list."""
    workspace = Workspace.open(folder)
    if demo and not workspace.jobs():
        fill_with_demo(workspace)
        workspace.set_preference("demo", True)
    return workspace, workspace.jobs_with_finishes()


def _restored(
    path: Path, folder: Path, progress: Progress
) -> tuple[Workspace, Restored | None, str]:
    restored, refused = None, ""
    try:
        restored = restore_backup(path, folder, progress)
    except JarTideError as error:
        refused = str(error)
    return Workspace.open(folder), restored, refused
