"""What a layer costs on the job, so that what it is worth can be set against it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jartide.plan.propose import Piece, for_piece
from jartide.plan.quantities import piece_area_m2
from jartide.plan.step import Step
from jartide.plan.tasks import worked_share
from jartide.plan.technique import Kind

# What is laid for the look, and could be left out.
_FOR_THE_LOOK = (Kind.TEXTURE, Kind.PATTERN, Kind.VEIL)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cost:
    """What one step takes on all pieces of the job, boards not counted.

    Attributes
    ----------
    hours : of work, one pair of hands
    dry_h : waited for it afterwards, all coats
    """

    step: Step
    hours: float
    dry_h: float


def costs(steps: Sequence[Step], pieces: Sequence[Piece]) -> tuple[Cost, ...]:
    """Return what each step that is laid for the look costs, in the order of the steps.

    Raises
    ------
    PlanError : when a piece has no area.
    """
    surfaces = [piece for piece in pieces if not piece.board]
    areas = {piece.id: piece_area_m2(piece) for piece in surfaces}
    own = {piece.id: {step.id for step in for_piece(steps, piece)} for piece in surfaces}
    found = []
    for step in steps:
        if step.kind not in _FOR_THE_LOOK:
            continue
        area = math.fsum(areas[piece.id] for piece in surfaces if step.id in own[piece.id])
        hours = area * worked_share(step) * step.coats / step.speed_m2_h
        found.append(Cost(step=step, hours=hours, dry_h=step.dry_h * step.coats))
    return tuple(found)
