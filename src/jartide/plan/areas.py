"""Areas of what is painted: rectangles, columns, turned work and mouldings."""

from __future__ import annotations

import math

from jartide.errors import PlanError
from jartide.plan.site import Shape, Site

_MM2_PER_M2 = 1e6


def one_area_m2(site: Site, width_mm: float, height_mm: float) -> float:
    """Return the flat area of one piece, square metres, openings taken off.

    A column is its diameter times pi by its height; turned work (a vessel, a baluster) the
    length of its profile by its mean girth; a moulding the girth of its profile by its length.
    The relief factor is not in it: quantities take it, working speeds do not.

    Raises
    ------
    PlanError : when a side is not above zero, or openings take the whole area away.
    """
    if not (width_mm > 0 and height_mm > 0) or not math.isfinite(width_mm * height_mm):
        raise PlanError("error.plan.size")
    around = math.pi if site.shape is Shape.COLUMN else 1.0
    area = around * width_mm * height_mm / _MM2_PER_M2 - site.openings_m2
    if site.openings_m2 < 0 or area <= 0:
        raise PlanError("error.plan.openings")
    if not 1 <= site.relief_factor <= 5:
        raise PlanError("error.plan.relief")
    return area


# A wall of more is planned part by part.
MOST_PANELS = 1000


def check_count(count: int) -> None:
    """Refuse a number of panels that nobody paints, or that is planned in parts.

    Raises
    ------
    PlanError : of fewer than one, or more than `MOST_PANELS`.
    """
    if count < 1:
        raise PlanError("error.plan.count")
    if count > MOST_PANELS:
        raise PlanError("error.plan.many", most=MOST_PANELS)
