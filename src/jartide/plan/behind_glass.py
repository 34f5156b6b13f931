"""Work behind glass: what is seen in front is laid first, and everything is mirrored."""

from __future__ import annotations

from dataclasses import replace

from jartide.plan.step import Step, chains
from jartide.plan.technique import Kind
from jartide.wording import Message

# Ways that work on what lies below, and can't where that is laid later.
CHOICES = {"bloom": "painted", "rust": "painted", "reveal": "wipe", "waxing": "never"}
_SEEN = (Kind.BASE, Kind.TEXTURE, Kind.PATTERN, Kind.VEIL)


def mirrored_deg(degrees: float) -> float:
    """Return an axial direction as it must be painted to be seen right through the glass."""
    return (180.0 - degrees) % 180.0


def behind_glass(steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """Return steps for the back of a pane: the seen ones reversed and mirrored.

    Preparation stays first. The glass itself is the clear coat in front, so that protection
    is laid last, on the back, over the ground. A chain laid wet keeps its own order: what is
    worked into a wet film can't come before it.
    """
    seen = [step for step in steps if step.kind in _SEEN or step.technique == "barrier"]
    first = list(steps[: steps.index(seen[0])]) if seen else list(steps)
    # Axis and joints are marked on the front of the pane, before anything is laid behind it.
    first += [step for step in steps if step.kind is Kind.SET_OUT and step not in first]
    rest = [step for step in steps if step not in seen and step not in first]
    turned: list[Step] = []
    for chain in reversed(chains(tuple(seen))):
        turned += [_mirrored(seen[number]) for number in chain]
    return (*first, *turned, *rest)


def _mirrored(step: Step) -> Step:
    degrees = step.direction_deg
    if degrees is None:
        return step
    turned = mirrored_deg(degrees)
    said = Message("plan.mirrored", degrees=f"{round(turned) % 180}")
    return replace(step, direction_deg=turned, how=(*step.how, said))
