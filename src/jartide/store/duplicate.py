"""A job as the start of another: what was wanted and planned, without what was done."""

from __future__ import annotations

from dataclasses import replace

from jartide.store.fresh_ids import with_fresh_ids
from jartide.store.records import Finish, Job, Photo, PhotoUse, Plan, Record
from jartide.store.workspace import Workspace, now


def duplicate(workspace: Workspace, job: Job, name: str) -> tuple[Record, ...]:
    """Return the records of a new job that starts where `job` started; nothing is written.

    Finishes go along with their target, decisions and surfaces, the jars as recipes with nothing
    mixed, the plan as lay-up and choices. Boards, logs, the room, what was signed off, done,
    moved or acknowledged stay behind. The job comes first.
    """
    position = max((one.position for one in workspace.jobs()), default=-1) + 1
    start = replace(job, name=name, created_at=now(), archived_at=None, position=position)
    records: list[Record] = [start]
    for finish in workspace.finishes(job.id):
        records.append(_finish(finish))
        records += workspace.surfaces(finish.id)
        records += [p for p in workspace.photos(finish.id) if p.use is PhotoUse.TARGET]
        records += [
            replace(mix, mixed_ml=0.0, left_ml=None, mixed_at=None, readings=(), dried=(), notes="")
            for mix in workspace.mixes(finish.id)
        ]
    for plan in workspace.plans([r.id for r in records if isinstance(r, Finish)]):
        records.append(_plan(plan))
    return tuple(
        replace(record, added_at=now()) if isinstance(record, Photo) else record
        for record in with_fresh_ids(records)
    )


def _finish(finish: Finish) -> Finish:
    return replace(finish, approval=None, room=())


def _plan(plan: Plan) -> Plan:
    return replace(plan, boards=(), done=(), moved=(), acknowledged=(), answers=())
