"""What of the plan is done, running and drying, and what that teaches of drying times."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from jartide.plan.drying import learned_factor
from jartide.plan.schedule import Placed, Problem, Scheduler
from jartide.plan.tasks import Task


@dataclass(frozen=True, slots=True, kw_only=True)
class Done:
    """A block as it really went. Times are UTC, ISO 8601; "" while it has not come to that.

    Attributes
    ----------
    begun, ended, ready : brush taken up, laid down, seen to be ready for the next coat
    not_yet : times at which it was looked at and was not ready
    waits_until : when it will be looked at again
    foreseen_h : what its tail was foreseen to take, without what was learned
    who : worked on it; used_ml what it took
    """

    task_id: str
    begun: str
    ended: str = ""
    ready: str = ""
    not_yet: tuple[str, ...] = ()
    waits_until: str = ""
    foreseen_h: float = 0.0
    binder: str = ""
    who: str = ""
    used_ml: float | None = None


class State(StrEnum):
    """How far a block is."""

    PLANNED = "planned"
    RUNNING = "running"
    DRYING = "drying"
    LOOK = "look"
    DONE = "done"


@dataclass(frozen=True, slots=True, kw_only=True)
class Block:
    """A block on its lane as it is shown: its place, its state, and its real times so far."""

    task: Task
    placed: Placed
    state: State
    done: Done | None = None


def local(at: str) -> datetime:
    """Return a kept time in the painter's own hours, without its zone."""
    return datetime.fromisoformat(at).astimezone().replace(tzinfo=None)


def state_of(done: Done | None, placed: Placed, now: int) -> State:
    """Return how far a block is at a slot."""
    if done is None:
        return State.PLANNED
    if not done.ended:
        return State.RUNNING
    if done.ready or placed.ready <= placed.end:
        return State.DONE
    return State.LOOK if placed.ready <= now else State.DRYING


def fixed_blocks(
    problem: Problem, dones: Sequence[Done], scheduler: Scheduler | None = None
) -> tuple[Placed, ...]:
    """Return what is begun as blocks that stay where they are.

    A block that still runs ends no sooner than now; a tail ends when the painter said so, or
    when it is foreseen to, or when "not yet" will be asked again.
    """
    scheduler = scheduler or Scheduler(problem)
    time = problem.timeline
    known = {task.id: task for lane in problem.lanes for task in lane.tasks}
    found = []
    for done in dones:
        if done.task_id not in known:
            continue
        kind = scheduler.kind[done.task_id]
        start = time.slot(local(done.begun))
        if done.ended:
            end = max(time.slot_after(local(done.ended)), start + 1)
        else:
            end = max(start + kind.length, problem.now + 1)
        if done.ready:
            ready = max(time.slot_after(local(done.ready)), end)
        elif done.waits_until:
            ready = max(time.slot_after(local(done.waits_until)), end)
        else:
            ready = kind.ready_of(max(end, 0))
        found.append(Placed(task_id=done.task_id, start=start, end=end, ready=ready, workers=()))
    return tuple(found)


def learned(dones: Sequence[Done]) -> dict[str, float]:
    """Return how many times longer than foreseen coats take, by binder."""
    pairs: dict[str, list[tuple[float, float]]] = {}
    for done in dones:
        seen = seen_h(done)
        if seen is not None:
            pairs.setdefault(done.binder, []).append((seen, done.foreseen_h))
    return {binder: learned_factor(own) for binder, own in pairs.items()}


# A look that came this much later than the last "not yet" says no more than that.
_LATE_LOOK = 1.5


def seen_h(done: Done) -> float | None:
    """Return how long a coat took, hours, as far as it was looked at; None where nobody saw.

    Nobody watches paint dry: a coat seen to be ready next morning was ready some time in the
    night. Found ready at the first look it took no longer than foreseen; found "not yet"
    before, it took from that look to at most half as long again.
    """
    if not (done.ready and done.ended and done.foreseen_h > 0):
        return None
    end = local(done.ended)
    high = (local(done.ready) - end) / timedelta(hours=1)
    looks = [(local(at) - end) / timedelta(hours=1) for at in done.not_yet]
    low = max((look for look in looks if look < high), default=0.0)
    if low <= 0:
        return max(min(high, done.foreseen_h), 0.01)
    return (low + min(high, _LATE_LOOK * low)) / 2
