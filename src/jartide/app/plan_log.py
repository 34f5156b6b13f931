"""What is ticked off on a board is written into its log, pass by pass, with the air."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.plan_desk import PlanDesk
    from jartide.plan.tasks import Task


def log_block(desk: PlanDesk, task: Task) -> None:
    """What is ticked off on a board is written into its log, pass by pass."""
    from jartide.boards.log import Climate, EntryKind, Logged, PassDone
    from jartide.plan.progress import local
    from jartide.store.records import Entry
    from jartide.store.workspace import now
    from jartide.wording import say

    boards = {board.id for board, _ in desk.document.boards()}
    lane = task.lane.split("/")[0]
    done = next((d for d in desk.dones() if d.task_id == task.id), None)
    if lane not in boards or done is None:
        return
    minutes = (local(done.ended) - local(done.begun)) / timedelta(minutes=1)
    own = desk.steps_of(task)
    jars = [] if desk.jar_desk is None else desk.jar_desk.mixes()
    entries = []
    air = desk.work().air
    climate = Climate(
        temperature_c=air.temperature_c,
        humidity_percent=air.humidity_percent,
        source=desk.work().air_source,
    )
    logged = [Logged(kind=EntryKind.CLIMATE, climate=climate)]
    for step in own:
        mix = next((m.id for m in jars if step.layer and m.layer == step.layer), "")
        passed = PassDone(
            name=say(step.name),
            layer=step.layer,
            mix=mix,
            tool=step.tool,
            carrier_parts=step.carrier,
            water_parts=step.water,
            coats=1,
            laid_share=step.laid_share,
            minutes=round(minutes / len(own), 1),
            used_ml=round(done.used_ml or 0.0, 1) if len(own) == 1 else 0.0,
        )
        logged.append(Logged(kind=EntryKind.PASS, who=done.who, done=passed))
    for one in logged:
        entries.append(Entry(board_id=lane, at=now(), logged=one))
    desk.document.add(tr("undo.log"), *entries)
