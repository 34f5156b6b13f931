"""What asks for judgement now: which photo, until when to lift, when to seal, what is worth it."""

from __future__ import annotations

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import QWidget

from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.widgets.answers import Answers
from jartide.app.widgets.foot import Action
from jartide.job.judging import Judged
from jartide.job.open_job import OpenJob
from jartide.wording import tr

# Minutes run while it is looked at.
_EVERY_MS = 10_000


class DecidePage(StepsPage):
    """Shows every question with its answer and goes to where it is dealt with."""

    name = "decide"

    wanted = Signal(str)

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._key = ""
        self._ticker = QTimer()
        super().__init__(job, parent)
        self._ticker.setParent(self)
        self._ticker.setInterval(_EVERY_MS)
        self._ticker.timeout.connect(self.show_now)
        self._answers = Answers(tr("page.decide"), self)
        self._answers.chosen.connect(self._chosen)
        self._answers.pressed.connect(lambda _: self._go())
        self.lay_out(self._answers)
        # Halves of boards and how regular they are take a moment to be worked out.
        job.events.worked_out.connect(self._worked_out)

    def build_side(self, side: Side) -> None:
        side.words(tr("decide.how"))
        side.words(tr("decide.signs"))

    def showEvent(self, event: QShowEvent) -> None:
        self._ticker.start()

    def hideEvent(self, event: QHideEvent) -> None:
        self._ticker.stop()

    def _worked_out(self) -> None:
        if self.isVisible():
            self.show_now()

    def show_now(self) -> None:
        for board, photo in self.job.records.boards():
            if photo is not None:
                self.job.readings.want_board(photo)
            for stage in self.job.boards.stage_photos(board):
                self.job.readings.want(stage)
        asked = self.job.judging.questions()
        # Answers come and go while the clock runs: the question that was chosen stays so.
        keys = [one.key + one.question for one in asked]
        index = keys.index(self._key) if self._key in keys else 0
        self._answers.show_asked(asked, index)
        self.foot_changed.emit()

    def foot_actions(self) -> tuple[Action, ...]:
        one = self._one()
        if one is None or not one.goes:
            return ()
        return (Action(text=tr("decide.go"), run=self._go, primary=True),)

    def _one(self) -> Judged | None:
        asked = self._answers.asked
        keys = [one.key + one.question for one in asked]
        return asked[keys.index(self._key)] if self._key in keys else next(iter(asked), None)

    def _chosen(self, index: int) -> None:
        one = self._answers.asked[index]
        self._key = one.key + one.question
        self.foot_changed.emit()

    def _go(self) -> None:
        one = self._one()
        if one is not None and one.goes:
            self.wanted.emit(one.goes)
