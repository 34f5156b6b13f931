"""How large a section may be, so that its edge is still wet when the next one meets it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jartide.plan.areas import one_area_m2
from jartide.plan.drying import Air, open_min_in
from jartide.plan.propose import Piece
from jartide.plan.step import Step

# Part of the open time kept for joining the next section.
RESERVE = 0.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Sections:
    """How a chain of wet steps is divided over one piece.

    Attributes
    ----------
    open_min : of the whole chain in this air; its shortest film counts
    area_m2 : most that one section may be, with these hands
    number : of sections in one panel
    panels : panels to one section where panels are small: break at their joints
    hands : least number of people that keep one panel's edge wet; 1 where sections will do
    fits : whether the edge holds: whole panels, or sections with a wet edge between
    width_mm : of a section, full height of the panel
    """

    open_min: float
    area_m2: float
    number: int
    panels: int
    hands: int
    fits: bool
    width_mm: float


def chain_minutes_per_m2(chain: Sequence[Step]) -> float:
    """Return minutes of work on one square metre of all steps of a chain."""
    return math.fsum(60.0 / step.speed_m2_h for step in chain)


def sections(chain: Sequence[Step], piece: Piece, air: Air, hands: int = 1) -> Sections | None:
    """Return how to divide a piece for a chain; None where nothing needs a wet edge.

    A section is speed x open time of the whole chain, less the reserve for its wet edge.
    Breaks lie at joints where panels are smaller than a section. A panel larger than one is
    worked in strips of its full height; a strip whose neighbour is reached only after it has
    set leaves a lap, so more hands are asked for where one pair cannot join it.
    """
    wet = [step for step in chain if step.open_min > 0 and step.joins]
    if not wet:
        return None
    open_min = min(open_min_in(step.open_min, step.binder or "water", air) for step in wet)
    per_m2 = chain_minutes_per_m2(chain)
    area = open_min * (1 - RESERVE) * hands / per_m2
    panel = one_area_m2(piece.site, piece.width_mm, piece.height_mm)
    number = max(math.ceil(panel / area - 1e-9), 1)
    panels = max(int(area / panel), 1) if number == 1 else 1
    # One strip must be done while its own edge, as high as the panel, stays wet.
    width = piece.width_mm / number
    least_mm = 300.0
    fits = number == 1 or width >= least_mm
    needed = hands
    if not fits:
        strip = min(least_mm, piece.width_mm) / piece.width_mm * panel
        needed = max(math.ceil(strip * per_m2 / (open_min * (1 - RESERVE)) - 1e-9), hands + 1)
    return Sections(
        open_min=open_min,
        area_m2=area,
        number=number,
        panels=min(panels, piece.count),
        hands=needed,
        fits=fits,
        width_mm=width,
    )
