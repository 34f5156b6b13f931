"""What is read from the ladder: the step in hand in a few large words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from jartide.job.described import Described, due
from jartide.job.jars import Jars
from jartide.job.measured_parts import recipe_counts
from jartide.job.plan import Timed
from jartide.job.words.jars import parts_words
from jartide.job.words.steps import block_name, coat_words, span_words, ware_words, when_words
from jartide.plan.progress import Block
from jartide.plan.quantities import ware_of
from jartide.plan.step import Step
from jartide.wording import tr


@dataclass(frozen=True, slots=True, kw_only=True)
class Glance:
    """The step in hand.

    Attributes
    ----------
    what, where : the pass, and the panel it is laid on
    jar, parts : which jar it comes out of, and its whole parts; "" where it comes from none
    shade : the jar's colour, "#rrggbb"; None where it lays none
    time, of_what : how long still or at what hour, and what that time is of
    ready : how one sees that it takes the next pass
    then : what comes after it on this panel
    waits : what must be through before it can begin; "" for nothing
    """

    what: str
    where: str
    jar: str
    parts: str
    shade: str | None
    time: str
    of_what: str
    ready: str
    then: str
    waits: str


def glance_of(described: Described, jars: Jars, timed: Timed, block: Block | None) -> Glance | None:
    """Return the chosen block, else the one that is due, in words; None when all is done."""
    block, problem, now = block or due(timed), timed.problem, described.plan.now()
    if block is None or problem is None:
        return None
    plan = described.plan
    steps = plan.steps_of(block.task)
    state = block.state.value
    at = problem.timeline.at
    time = when_words(at(block.placed.start), now)
    if state != "planned":
        timer = next((t for t in described.timers(timed) if t.key == block.task.id), None)
        left = timedelta(0) if timer is None else timer.left
        time = span_words(left) if state in ("running", "drying") else when_words(now, now)
    laid = [step for step in steps if step.lays]
    jar, parts = _jar(described, jars, laid[-1]) if laid else ("", "")
    then = ""
    own = [b for b in timed.blocks if b.task.lane == block.task.lane]
    after = own[own.index(block) + 1 :]
    if after:
        when = when_words(at(after[0].placed.start), now)
        then = tr("glance.next", name=block_name(plan.steps_of(after[0].task)), when=when)
    return Glance(
        what=coat_words(block, steps),
        where=described.lane_name(block.task.lane),
        jar=jar,
        parts=parts,
        shade=described.shade(steps),
        time=time,
        of_what=tr(f"glance.{state}"),
        ready=described.ready_sign(steps),
        then=then,
        waits=described.waits_for(timed, block) if state == "planned" else "",
    )


def _jar(described: Described, jars: Jars, step: Step) -> tuple[str, str]:
    """What a pass is laid with, and the parts of its mix, where it has one."""
    name = ware_words(ware_of(step), described.plan.readings.of_target())
    mix = next((mix for _, mix in jars.all() if mix.layer == step.layer and mix.parts), None)
    return name, "" if mix is None or not step.layer else parts_words(recipe_counts(mix.parts))
