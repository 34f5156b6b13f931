"""The work to be scheduled: each lane's blocks of brush in hand, each with its drying tail."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from jartide.plan.areas import check_count, one_area_m2
from jartide.plan.drying import thickness_factor
from jartide.plan.propose import Piece, for_piece
from jartide.plan.site import Where
from jartide.plan.step import Step, chains
from jartide.plan.technique import Kind

# Getting ready and cleaning up, for each block.
SETUP_MIN = 10.0
_MOST_PANELS_A_LANE = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Coat:
    """What must dry after a block: hours as on the label, and what they depend on.

    `factor` is for the film's thickness and for what was learned.
    """

    label_h: float
    binder: str
    film_um: float
    factor: float = 1.0
    latest_h: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """One block of work on one lane: a step's coat, or a chain laid wet.

    Attributes
    ----------
    id : of the lane, the step and the coat
    step_ids : of the chain, first one first
    coat : 1 for the first coat of its step
    minutes : with one pair of hands (of `hands`, all together)
    unit_min : what can't be interrupted: one panel's chain; breaks lie between units
    hands : people it takes at once
    pauses : whether it can be laid down at any time: nothing in it keeps a wet edge
    after : id of a block on another lane that must be through first; "" for none
    """

    id: str
    lane: str
    step_ids: tuple[str, ...]
    coat: int
    minutes: float
    unit_min: float
    hands: int
    dries: Coat | None
    outside: bool = False
    pauses: bool = False
    after: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Lane:
    """A board, or a surface's panels that are worked together."""

    id: str
    name: str
    piece: Piece
    panels: tuple[int, ...]
    tasks: tuple[Task, ...] = field(default=())


def lanes_of(
    steps: Sequence[Step],
    pieces: Sequence[Piece],
    *,
    factors: Mapping[str, float] | None = None,
    panels_a_lane: int = _MOST_PANELS_A_LANE,
    hands: Mapping[str, int] | None = None,
) -> tuple[Lane, ...]:
    """Return the lanes of all pieces with their tasks in order.

    Panels of one surface are parted into lanes of up to `panels_a_lane`, so that one dries
    while the next is worked. A test is done once for a surface, on its first lane; the others
    go on with what follows it when it is through.

    Parameters
    ----------
    factors : how many times longer than on the label this painter's coats take, by binder
    hands : people that a step takes at once, by its id
    """
    found = []
    for piece in pieces:
        own = for_piece(steps, piece)
        parts = _parts(piece.count, panels_a_lane)
        leading: tuple[Task, ...] = ()
        for number, panels in enumerate(parts):
            lane = f"{piece.id}/{number}" if len(parts) > 1 else piece.id
            tasks = _tasks(own, piece, lane, len(panels), factors or {}, hands or {})
            if number == 0:
                leading = tasks
            else:
                tests = {step.id for step in own if step.kind is Kind.TEST}
                tasks = _without_tests(tasks, tests, leading)
            found.append(Lane(id=lane, name=piece.name, piece=piece, panels=panels, tasks=tasks))
    return tuple(found)


def _without_tests(
    tasks: tuple[Task, ...], tests: set[str], leading: tuple[Task, ...]
) -> tuple[Task, ...]:
    """Leave out what was tested on the first lane; what follows waits for the last such test."""
    through = {task.step_ids[0]: task.id for task in leading}
    found, after = [], ""
    for task in tasks:
        if task.step_ids[0] in tests:
            after = through[task.step_ids[0]]
        else:
            found.append(replace(task, after=after))
            after = ""
    return tuple(found)


def _parts(count: int, most: int) -> list[tuple[int, ...]]:
    check_count(count)
    many = math.ceil(count / max(most, 1))
    base, more = divmod(count, many)
    found, first = [], 1
    for number in range(many):
        size = base + (number < more)
        found.append(tuple(range(first, first + size)))
        first += size
    return found


def _tasks(
    steps: tuple[Step, ...],
    piece: Piece,
    lane: str,
    panels: int,
    factors: Mapping[str, float],
    hands: Mapping[str, int],
) -> tuple[Task, ...]:
    area = one_area_m2(piece.site, piece.width_mm, piece.height_mm)
    outside = piece.site.place is Where.OUTSIDE and not piece.board
    found = []
    for chain in chains(steps):
        own = [steps[number] for number in chain]
        people = max([hands.get(step.id, 1) for step in own])
        coats = own[0].coats if len(own) == 1 else 1
        one = math.fsum(60 * area * worked_share(step) / step.speed_m2_h for step in own) / people
        # A chain of several coats is laid as often as its first step says, wet each time.
        one *= own[0].coats if len(own) > 1 else 1
        for coat in range(1, coats + 1):
            found.append(
                Task(
                    id=f"{lane}:{own[0].id}:{coat}",
                    lane=lane,
                    step_ids=tuple(step.id for step in own),
                    coat=coat,
                    minutes=SETUP_MIN + panels * one,
                    unit_min=SETUP_MIN + one,
                    hands=people,
                    dries=_dries(own, factors),
                    outside=outside,
                    pauses=not any(step.lays for step in own),
                )
            )
    return tuple(found)


def worked_share(step: Step) -> float:
    """The share of the surface that hands go over: what is laid on a third takes no third."""
    return max(step.laid_share, 0.5) if step.lays else step.laid_share


def _dries(chain: list[Step], factors: Mapping[str, float]) -> Coat | None:
    """The slowest film of a chain decides when it takes the next coat."""
    wet = [step for step in chain if step.dry_h > 0]
    if not wet:
        return None
    slowest = max(wet, key=lambda step: step.dry_h)
    latest = [step.latest_h for step in wet if step.latest_h > 0]
    return Coat(
        label_h=slowest.dry_h,
        binder=slowest.binder,
        film_um=slowest.film_um,
        factor=factors.get(slowest.binder, 1.0)
        * thickness_factor(slowest.film_um, slowest.label_film_um),
        latest_h=min(latest, default=0.0),
    )
