"""Where a board stands on its way to the target: one number, and the zone that it lies in."""

from __future__ import annotations

from jartide.boards.result import Comparison

# Where each zone ends, as a share of the way; the target lies at 1.
ZONE_ENDS = (0.36, 0.63, 0.85, 1.0)
ZONES = ("zone.different", "zone.two_metres", "zone.arm", "zone.close")


def zone_of(closeness: float) -> str:
    """Return the message id of the zone a closeness, 0 to 1, lies in."""
    return next(
        zone for zone, end in zip(ZONES, ZONE_ENDS, strict=True) if closeness < end or end == 1.0
    )


def closeness(comparison: Comparison, *, expected: bool = False) -> float:
    """Return where a board stands on the tide, 0..1, the target being 1.

    A zone is reached when the distance as seen from there is within tolerance:
    all of it at 2 m, half at arm's length, a quarter up close. Inside a zone
    the place is linear in the distance, down to the next zone's bound.
    """
    at = comparison.expected_at if expected else comparison.likely_at
    tolerance = comparison.tolerance
    stages = ((2.0, tolerance), (0.7, tolerance / 2), (0.3, tolerance / 4))
    start = 0.0
    for (metres, bound), end in zip(stages, ZONE_ENDS, strict=False):
        distance = at(metres)
        if distance > bound:
            # The farther off, the further back: at four times the bound, the zone's start.
            share = 1 - min((distance / bound - 1) / 3, 1.0)
            return start + (end - start) * max(share, 0.08 if start == 0 else 0.02) * 0.98
        start = end
    bound = tolerance / 4
    return start + (1 - start) * (1 - at(0.3) / bound) * 0.98
