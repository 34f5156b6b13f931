"""What the painter's own boards show: how many to a match, and what goes wrong again."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from jartide.app.stations.page import Side, StationPage
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.learning import Habit, Learning, learn
from jartide.figures import figure
from jartide.job.open_job import OpenJob
from jartide.job.words.numbers import percent_words
from jartide.store.courses import read_courses
from jartide.wording import say, tr


class LearningPage(StationPage):
    """Counts in the background, then lists."""

    name = "learning"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.learning"), self)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        side.words(tr("learning.how"))
        side.words(tr("learning.open"))

    def show_now(self) -> None:
        workspace = self.job.workspace
        if workspace is None:
            return
        self._ledger.show_rows([], -1, tr("learning.counting"))

        def work(progress: Callable[[float], None]) -> Learning:
            return learn(read_courses(workspace, progress))

        self.job.in_background("learning", work, self.show_learning)

    @property
    def rows(self) -> list[LedgerRow]:
        """What is shown."""
        return self._ledger.rows

    def show_learning(self, found: Learning) -> None:
        """List the statistics."""
        if not found.boards:
            self._ledger.show_rows([], -1, tr("learning.none"))
            return
        rows = [LedgerRow(title=tr("learning.to_match"), head=True), _matched(found)]
        if found.first_distance is not None and found.last_distance is not None:
            rows.append(
                LedgerRow(
                    title=tr("learning.nearer"),
                    note=tr("learning.nearer_note"),
                    right=tr(
                        "learning.from_to",
                        first=figure(found.first_distance, 1),
                        last=figure(found.last_distance, 1),
                    ),
                    right_note=tr("learning.jnd"),
                )
            )
        rows.append(LedgerRow(title=tr("learning.habits"), head=True))
        rows += [_habit(habit) for habit in found.habits]
        if not found.habits:
            rows.append(LedgerRow(title=tr("learning.no_habits")))
        if found.faults:
            rows.append(LedgerRow(title=tr("learning.faults"), head=True))
            rows += [
                LedgerRow(title=tr(f"fault.{kind}"), right=tr("jobs.boards", count=boards))
                for kind, boards in found.faults
            ]
        self._ledger.show_rows(rows)


def _matched(found: Learning) -> LedgerRow:
    number = found.boards_to_match
    return LedgerRow(
        title=tr("learning.median"),
        note=tr("learning.of", matched=found.matched, finishes=found.finishes),
        right=tr("learning.not_yet") if number is None else tr("jobs.boards", count=number),
        right_note=tr("learning.painted", count=found.boards),
    )


def _habit(habit: Habit) -> LedgerRow:
    way = ""
    if habit.over is not None:
        much = habit.over >= 0.5
        share = percent_words(habit.over if much else 1 - habit.over)
        way = tr("learning.too_much" if much else "learning.too_little", share=share)
    return LedgerRow(
        title=say(habit.name),
        note=way,
        right=tr("jobs.boards", count=habit.boards),
        right_note=tr("jobs.finishes", count=habit.finishes),
    )
