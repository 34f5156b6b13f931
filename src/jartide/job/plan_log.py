"""What is ticked off on a board is written into its log, pass by pass, with the air."""

from __future__ import annotations

from datetime import timedelta

from jartide.boards.log import Climate, EntryKind, Logged, PassDone
from jartide.plan.progress import Done, local
from jartide.plan.step import Step
from jartide.plan.work import Work
from jartide.store.jar_records import Mix
from jartide.store.records import Entry
from jartide.store.workspace import now
from jartide.wording import say


def logged_block(
    board_id: str, done: Done, steps: list[Step], work: Work, jars: list[Mix]
) -> list[Entry]:
    """Return what goes into a board's log: the air, then every step of the block that was done."""
    minutes = (local(done.ended) - local(done.begun)) / timedelta(minutes=1)
    climate = Climate(
        temperature_c=work.air.temperature_c,
        humidity_percent=work.air.humidity_percent,
        source=work.air_source,
    )
    logged = [Logged(kind=EntryKind.CLIMATE, climate=climate)]
    for step in steps:
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
            minutes=round(minutes / len(steps), 1),
            used_ml=round(done.used_ml or 0.0, 1) if len(steps) == 1 else 0.0,
        )
        logged.append(Logged(kind=EntryKind.PASS, who=done.who, done=passed))
    return [Entry(board_id=board_id, at=now(), logged=one) for one in logged]
