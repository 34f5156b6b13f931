"""Until when what was laid can still be lifted, wiped or blotted off."""

from __future__ import annotations

from collections.abc import Sequence

from jartide.plan.drying import Air, open_min_in
from jartide.plan.step import Step


def lifting_min(chain: Sequence[Step], air: Air) -> float:
    """Return for how many minutes a wet chain can be lifted after its last part is laid.

    What lies on top is lifted with what it was worked into: the part that closes first counts.
    0 where nothing of it stays open.
    """
    laid = [step for step in chain if step.lays and step.open_min > 0]
    if not laid:
        return 0.0
    return min(open_min_in(step.open_min, step.binder or "water", air) for step in laid)


def lifting_left_min(chain: Sequence[Step], air: Air, minutes_since: float) -> float:
    """Return how many of those minutes are left so long after it was laid; never below 0."""
    return max(lifting_min(chain, air) - max(minutes_since, 0.0), 0.0)
