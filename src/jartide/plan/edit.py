"""A plan changed by hand: steps added, taken out, moved, repeated; tests that pass or fail."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Sequence
from dataclasses import replace

from jartide.errors import PlanError
from jartide.plan.quantities import FROM_JARS
from jartide.plan.step import Outcome, Step, made_step
from jartide.plan.technique import Kind, Techniques, techniques

# No label asks for more: parts to one of the mix, hours.
_MOST_PARTS, _MOST_H = 1000.0, 2000.0


def place_of(steps: Sequence[Step], step_id: str) -> int:
    """Return where a step stands.

    Raises
    ------
    PlanError : when there is no such step.
    """
    for number, step in enumerate(steps):
        if step.id == step_id:
            return number
    raise PlanError("error.plan.no_step")


def added(
    steps: tuple[Step, ...],
    technique: str,
    after: str = "",
    known: Techniques | None = None,
    layer: str = "",
) -> tuple[Step, ...]:
    """Return the plan with a technique put in after a step, or at the end.

    What lays a mix takes it out of the jar of `layer`.

    Raises
    ------
    PlanError : when there is no such technique or step.
    """
    known = known or techniques()
    if technique not in known:
        raise PlanError("error.plan.technique", name=technique)
    place = len(steps) if not after else place_of(steps, after) + 1
    while place < len(steps) and steps[place].wet:
        place += 1  # never into a chain that is laid wet
    one = known[technique]
    jar = layer if one.product in FROM_JARS else ""
    return (*steps[:place], made_step(one, {}, layer=jar), *steps[place:])


def inserted(steps: tuple[Step, ...], fresh: Step, after: str = "") -> tuple[Step, ...]:
    """Return the plan with a ready step put in after another, or at the end of the colour."""
    if after:
        place = place_of(steps, after) + 1
    else:
        colour = (Kind.BASE, Kind.TEXTURE, Kind.PATTERN, Kind.VEIL)
        place = max((n for n, step in enumerate(steps) if step.kind in colour), default=-1) + 1
    while place < len(steps) and steps[place].wet:
        place += 1
    return (*steps[:place], fresh, *steps[place:])


def removed(steps: tuple[Step, ...], step_id: str) -> tuple[Step, ...]:
    """Return the plan without a step; what was laid wet into it is laid by itself."""
    place = place_of(steps, step_id)
    after = list(steps[place + 1 :])
    if after and after[0].wet and not steps[place].wet:
        after[0] = replace(after[0], wet=False)
    return (*steps[:place], *after)


def moved(steps: tuple[Step, ...], step_id: str, by: int) -> tuple[Step, ...]:
    """Return the plan with a step moved up (below 0) or down; it stops at either end."""
    place = place_of(steps, step_id)
    to = min(max(place + by, 0), len(steps) - 1)
    left = list(steps)
    left.insert(to, left.pop(place))
    if left and left[0].wet:
        left[0] = replace(left[0], wet=False)
    return tuple(left)


def repeated(steps: tuple[Step, ...], step_id: str) -> tuple[Step, ...]:
    """Return the plan with a step done once more, right after its chain."""
    place = place_of(steps, step_id)
    again = replace(steps[place], id=str(uuid.uuid4()), wet=False, outcome=Outcome.OPEN)
    end = place + 1
    while end < len(steps) and steps[end].wet:
        end += 1
    return (*steps[:end], again, *steps[end:])


def changed(steps: tuple[Step, ...], step: Step) -> tuple[Step, ...]:
    """Return the plan with one step as it is given.

    Raises
    ------
    PlanError : when there is no such step, or a number of it makes no sense.
    """
    place_of(steps, step.id)
    if not (0 < step.laid_share <= 1 and 0.001 <= step.speed_m2_h <= 1e5 and 1 <= step.coats <= 12):
        raise PlanError("error.plan.step_numbers")
    if step.lays and not 0.1 <= step.spreading_m2_per_l <= 100:
        raise PlanError("error.plan.step_numbers")
    for number, most in (
        (step.carrier, _MOST_PARTS), (step.water, _MOST_PARTS), (step.dry_h, _MOST_H),
        (step.latest_h, _MOST_H), (step.open_min, 60 * _MOST_H), (step.film_um, 1e5),
        (step.tool_mm or 0.0, 1e4), (step.direction_deg or 0.0, 180.0),
    ):  # fmt: skip
        # Written so that what is no number is refused as well.
        if not 0 <= number <= most:
            raise PlanError("error.plan.step_numbers")
    return tuple(step if one.id == step.id else one for one in steps)


def open_trial(steps: Sequence[Step], step_ids: Collection[str]) -> Step | None:
    """Return the trial of a product that stands before steps and has not passed, or None."""
    place = next((n for n, step in enumerate(steps) if step.id in step_ids), 0)
    trials = [step for step in steps[:place] if step.technique == "trial_patch"]
    # One that failed is followed by the next; the last of them decides.
    return trials[-1] if trials and trials[-1].outcome is not Outcome.PASSED else None


def with_outcome(
    steps: tuple[Step, ...], step_id: str, outcome: Outcome, known: Techniques | None = None
) -> tuple[Step, ...]:
    """Return the plan after a test: passed, it goes on; failed, what mends it comes first.

    What its technique names is put in behind it, and then the test once more.

    Raises
    ------
    PlanError : when the step is no test.
    """
    known = known or techniques()
    place = place_of(steps, step_id)
    step = steps[place]
    if step.kind is not Kind.TEST:
        raise PlanError("error.plan.no_test")
    was = step.outcome
    step = replace(step, outcome=outcome)
    found = (*steps[:place], step, *steps[place + 1 :])
    if outcome is not Outcome.FAILED or was is Outcome.FAILED:
        return found
    technique = known.get(step.technique)
    listed = () if technique is None else technique.on_fail
    fresh = [replace(made_step(known[one], {}), only=step.only) for one in listed]
    again = replace(step, id=str(uuid.uuid4()), outcome=Outcome.OPEN)
    return (*found[: place + 1], *fresh, again, *found[place + 1 :])
