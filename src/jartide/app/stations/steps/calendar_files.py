"""The schedule as a calendar file, and moved events taken over from one."""

from __future__ import annotations

from pathlib import Path

from jartide.errors import JarTideError
from jartide.job.described import Described
from jartide.job.plan import TimedPlan
from jartide.job.words.steps import coat_words, when_words
from jartide.plan.work import Moved
from jartide.store.calendar_ics import PlannedEvent, read_calendar, write_calendar
from jartide.wording import tr


def export_calendar(described: Described, path: Path) -> None:
    """Write the blocks that are still to come as a calendar."""
    plan = described.plan
    timed, finish, job = plan.timed(), plan.records.finish, plan.records.job()
    if timed.problem is None or finish is None:
        return
    time = timed.problem.timeline
    events = []
    for block in timed.blocks:
        if block.state != "planned":
            continue
        steps = plan.steps_of(block.task)
        ready = when_words(time.at(block.placed.ready), time.at(block.placed.end))
        events.append(
            PlannedEvent(
                task_id=block.task.id,
                title=f"{described.lane_name(block.task.lane)}: {coat_words(block, steps)}",
                note=tr("steps.ics_note", when=ready, sign=described.ready_sign(steps)),
                place="" if job is None else job.place,
                begins=time.at(block.placed.start),
                ends=time.at(block.placed.end),
            )
        )
    try:
        path.write_bytes(write_calendar(events, finish.name))
    except OSError as error:
        why = error.strerror or type(error).__name__
        plan.records.events.failed.emit(tr("error.command.write", name=str(path), why=why))


def import_calendar(plan: TimedPlan, path: Path) -> None:
    """Take over events that were moved in another calendar; one undo step."""
    timed, kept = plan.timed(), plan.plan()
    if timed.problem is None or kept is None:
        return
    try:
        found = read_calendar(path.read_bytes(), path.name)
    except OSError as error:
        why = error.strerror or type(error).__name__
        plan.records.events.failed.emit(tr("error.command.list_file", name=path.name, why=why))
        return
    except JarTideError as error:
        plan.records.events.failed.emit(str(error))
        return
    time = timed.problem.timeline
    moved = {one.task_id: one for one in kept.moved}
    for block in timed.blocks:
        at = found.get(block.task.id)
        if at is not None and block.state == "planned" and at != time.at(block.placed.start):
            text = at.isoformat(timespec="minutes")
            moved[block.task.id] = Moved(task_id=block.task.id, at=text)
    plan.put(tr("undo.calendar"), steps=plan.steps(), moved=tuple(moved.values()))
