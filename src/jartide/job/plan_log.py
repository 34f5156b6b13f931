"""Between plan and log: what is ticked off goes into a board's log, and a log becomes a plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import timedelta

from jartide.boards.log import Climate, EntryKind, Logged, PassDone
from jartide.plan.progress import Done, local
from jartide.plan.step import Step, made_step, new_id, with_spreading
from jartide.plan.technique import Kind, Techniques
from jartide.plan.work import Work
from jartide.store.jar_records import Mix
from jartide.store.records import Entry
from jartide.store.workspace import now
from jartide.wording import Message, say


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


# What stays before and after the passes of a log: it is not done on a board.
_BEFORE = (Kind.SET_OUT, Kind.TEST, Kind.CLEAN, Kind.PREPARE, Kind.PRIME)
_AFTER = (Kind.PROTECT, Kind.CARE)


def steps_of_log(
    entries: Sequence[Entry], plan: Sequence[Step], known: Techniques, board_m2: float
) -> tuple[Step, ...]:
    """Return the plan that repeats a board: its passes as they were really done, in their order.

    Preparation and protection stay as the plan has them; a seal of the log stands for the plan's
    own. Each pass has the log's tool, ratio, share, coats and words, and its pace and rate where
    minutes and millilitres were logged. Remarks go with the pass they follow.

    Parameters
    ----------
    entries : of the log, those that hold, oldest first
    board_m2 : area of the board
    """
    made: list[Step] = []
    for entry in entries:
        done = entry.logged.done
        if done is not None:
            made.append(_step_of(done, plan, known, board_m2))
        elif entry.logged.kind is EntryKind.REMARK and made:
            words = " ".join(filter(None, (made[-1].note, entry.logged.text)))
            made[-1] = replace(made[-1], note=words)
    first = next((n for n, step in enumerate(plan) if step.kind not in _BEFORE), len(plan))
    before = list(plan[:first])
    sealed = any(step.kind is Kind.PROTECT for step in made)
    after = [s for s in plan if s.kind in _AFTER and not (sealed and s.kind is Kind.PROTECT)]
    return (*before, *made, *(step for step in after if step.technique != "barrier"))


def _step_of(done: PassDone, plan: Sequence[Step], known: Techniques, board_m2: float) -> Step:
    """One pass as a step: like the plan's own of that name, else a plain pass of its layer."""
    like = next((step for step in plan if say(step.name) == done.name), None)
    if like is None:
        # A name of the table that carries a measure is nobody's own.
        plain = (t for t in known.values() if "{" not in t.name)
        name = next((t for t in plain if say(Message(t.name)) == done.name), None)
        usual = "own_glaze" if done.carrier_parts else "own_pass"
        like = made_step(name or known[usual], {})
    step = replace(
        like,
        id=new_id(),
        name=Message(done.name.replace("{", "(").replace("}", ")")),
        layer=done.layer or like.layer,
        tool=done.tool or like.tool,
        tool_mm=None if done.tool else like.tool_mm,
        carrier=done.carrier_parts,
        water=done.water_parts,
        coats=max(done.coats, 1),
        laid_share=min(max(done.laid_share, 0.01), 1.0),
        why=None,
        wet=False,
    )
    laid = board_m2 * step.laid_share * step.coats
    if done.minutes > 0 and laid > 0:
        step = replace(step, speed_m2_h=max(board_m2 * step.coats / (done.minutes / 60), 0.05))
    if done.used_ml > 0 and step.lays and laid > 0:
        step = with_spreading(step, min(max(1000 * laid / done.used_ml, 0.1), 100.0))
    return step
