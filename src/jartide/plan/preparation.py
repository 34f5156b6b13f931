"""What comes before the first coat: tests, cleaning, keying, priming."""

from __future__ import annotations

from dataclasses import replace

from jartide.plan.site import Site, ground_of
from jartide.plan.step import Step, made_step
from jartide.plan.technique import Techniques, techniques
from jartide.wording import Message

# Where masking and the primer go among the steps of surfaces.toml.
_MASK, _PRIME = 55, 70


def preparation(
    site: Site,
    count: int = 1,
    *,
    only: tuple[str, ...] = (),
    known: Techniques | None = None,
) -> tuple[Step, ...]:
    """Return the steps that make a piece ready for its ground, in order.

    Parameters
    ----------
    count : how many panels there are; several are masked off from each other
    only : ids of the surfaces the steps are for

    Raises
    ------
    PlanError : when substrate or condition is not known.
    """
    known = known or techniques()
    ground = ground_of(site)
    reason = Message("plan.for_substrate", name=Message(ground.substrate.name))
    ordered = [(step.order, step.technique) for step in ground.steps]
    if ground.primer:
        ordered.append((_PRIME, ground.primer))
    if count > 1 and site.substrate != "primed_board":
        ordered.append((_MASK, "mask"))
    steps = []
    for _, technique in sorted(ordered, key=lambda pair: pair[0]):
        made = made_step(known[technique], {}, why=reason)
        # The test of how it holds needs a day on the primed spot.
        steps.append(
            replace(made, only=only, dry_h=24.0 if technique == "adhesion_test" else made.dry_h)
        )
    return tuple(steps)
