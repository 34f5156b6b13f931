"""What the foot says while a plan is worked off: what is so, what to do next."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Protocol

from jartide.app.widgets.foot import Action, FootState
from jartide.job.described import Described
from jartide.job.plan import Timed
from jartide.job.words.steps import block_name, when_words
from jartide.plan.progress import Block
from jartide.plan.rules import Finding
from jartide.plan.tasks import Task
from jartide.wording import say, tr

# Offered by one press, minutes.
_LATER_MIN, _NOT_YET_MIN = 15, 20


class Deeds(Protocol):
    """What the station does when a button is pressed."""

    def doing(self, run: Callable[[Task], None], task: Task) -> Callable[[], None]:
        """Return a press that does something to a block and shows it."""
        ...

    def show_finding(self, finding: Finding) -> None:
        """Open the list at a finding."""
        ...


def work_foot(
    described: Described, timed: Timed, block: Block | None, look: Action, deeds: Deeds
) -> FootState:
    """Return what is so with a block, and the buttons for what comes next."""
    plan = described.plan
    problem = timed.problem
    if block is None or problem is None:
        return FootState(text=tr("steps.all_done"), note=described.outlook(timed), actions=(look,))
    task, now = block.task, plan.now()
    name = block_name(plan.steps_of(task))
    lane = described.lane_name(task.lane)
    note = described.outlook(timed)
    if block.state == "planned":
        at = problem.timeline.at(block.placed.start)
        later = Action(
            text=tr("steps.later", count=_LATER_MIN),
            run=lambda: plan.later(task, at + timedelta(minutes=_LATER_MIN)),
        )
        start = Action(
            text=tr("steps.start", name=name), run=deeds.doing(plan.begin, task),
            primary=True,
        )  # fmt: skip
        text = tr("steps.can", lane=lane, name=name, when=when_words(at, now))
        waits = described.waits_for(timed, block)
        begins = () if waits else (start,)
        if waits:
            note = waits
        stops = [f for f in described.findings() if f.grade == "stop"]
        if stops:
            mend = Action(text=tr("steps.see_stop"), run=lambda: deeds.show_finding(stops[0]))
            return FootState(
                text=say(stops[0].reason), note=note, sign="stop", actions=(mend, *begins)
            )
        return FootState(text=text, note=note, actions=(look, later, *begins))
    if block.state == "running":
        ends = problem.timeline.at(block.placed.end)
        undo = Action(text=tr("steps.not_begun"), run=deeds.doing(plan.undo_begin, task))
        end = Action(
            text=tr("steps.end", name=name), run=deeds.doing(plan.end, task),
            primary=True,
        )  # fmt: skip
        text = tr("steps.running", lane=lane, name=name.lower(), when=when_words(ends, now))
        return FootState(text=text, note=note, actions=(undo, end))
    if block.state == "done":
        return FootState(text=tr("steps.is_done", lane=lane, name=name), note=note,
                         actions=(look,))  # fmt: skip
    ready = Action(text=tr("steps.is_ready"), run=deeds.doing(plan.ready, task), primary=True)
    wait = Action(
        text=tr("steps.not_yet", count=_NOT_YET_MIN),
        run=deeds.doing(lambda t: plan.not_yet(t, _NOT_YET_MIN), task),
    )
    sign = described.ready_sign(plan.steps_of(task))
    if block.state == "look":
        text = tr("steps.look_at", lane=lane, name=name.lower(), sign=sign)
        return FootState(text=text, note=note, sign="check", actions=(wait, ready))
    dry = problem.timeline.at(block.placed.ready)
    text = tr("steps.dries", lane=lane, name=name.lower(), when=when_words(dry, now))
    return FootState(text=text, note=sign, actions=(wait, ready))
