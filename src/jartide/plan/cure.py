"""When a finished piece can be touched, washed and used."""

from __future__ import annotations

from collections.abc import Sequence

from jartide.plan.drying import Air, cure_days
from jartide.plan.propose import Piece
from jartide.plan.site import ground_of
from jartide.plan.step import Step
from jartide.plan.step_facts import CURE_DAYS

_USUAL_DAYS = 21.0


def cure_of(
    last: Step, pieces: Sequence[Piece], air: Air, label_days: float | None = None
) -> tuple[float, ...]:
    """Return days from the last coat until touch, wash and use.

    `label_days` is what its tin says until use; what does not breathe below takes longer.
    """
    nonporous = any(ground_of(piece.site).nonporous for piece in pieces)
    days = label_days or CURE_DAYS.get(last.binder, _USUAL_DAYS)
    return cure_days(last.binder, days, air, nonporous)
