"""The schedule in painters' words: lanes, timers, what comes next, what to take care of."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from jartide.colour.spaces import srgb_hex
from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.job.plan import Timed, TimedPlan
from jartide.job.words.steps import (
    area_words,
    block_name,
    coat_words,
    day_words,
    say_table,
    size_words,
    span_words,
    tool_words,
    volume_words,
    warmth_words,
    when_words,
)
from jartide.plan.areas import one_area_m2
from jartide.plan.open_time import sections
from jartide.plan.progress import Block, local
from jartide.plan.rules import Finding
from jartide.plan.schedule import Problem
from jartide.plan.step import Step
from jartide.plan.tasks import Lane
from jartide.plan.technique import Kind
from jartide.plan.timeline import SLOT_MIN
from jartide.plan.weather import Rain, rain_after
from jartide.wording import say, tr


@dataclass(frozen=True, slots=True, kw_only=True)
class Care:
    """One sentence: its key, its sign (check, stop, ready, todo) and its words."""

    key: str
    sign: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Timer:
    """One thing that runs or dries: how long still, how far it is, what it is, what follows.

    `kind` is "running", "drying" or "look".
    """

    key: str
    kind: str
    left: timedelta
    passed: float
    title: str
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Next:
    """What comes next: when, what, out of which jar (sRGB, "#rrggbb") and how."""

    title: str
    name: str
    shade: str | None
    level: float
    lines: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class LaneName:
    """What stands at the left of a lane."""

    name: str
    note: str


def due(timed: Timed) -> Block | None:
    """Return the block that asks for a hand: to be looked at, running, or first to come."""
    for state in ("look", "running", "planned"):
        found = next((b for b in timed.blocks if b.state == state), None)
        if found is not None:
            return found
    return None


class Described:
    """Words for what the plan knows; it holds nothing of its own."""

    def __init__(self, plan: TimedPlan) -> None:
        self.plan = plan

    def ready_sign(self, steps: list[Step]) -> str:
        """Return how a block is seen to be ready for the next."""
        technique = self.plan.techniques().get(steps[-1].technique) if steps else None
        lays = [step for step in steps if step.dry_h > 0]
        if lays:
            technique = self.plan.techniques().get(lays[-1].technique)
        return say_table("" if technique is None else technique.ready)

    def lane_label(self, lane: Lane) -> LaneName:
        """Return what stands at the left of a lane."""
        piece = lane.piece
        if piece.board:
            size = size_words(piece.width_mm, piece.height_mm, self.plan.work().units)
            return LaneName(name=piece.name, note=size)
        area = one_area_m2(piece.site, piece.width_mm, piece.height_mm) * len(lane.panels)
        note = area_words(area, self.plan.work().units)
        return LaneName(name=self.lane_name(lane.id), note=note)

    def lane_name(self, lane_id: str) -> str:
        """Return what a lane is called."""
        problem = self.plan.timed().problem
        lanes = () if problem is None else problem.lanes
        lane = next((one for one in lanes if one.id == lane_id), None)
        if lane is None:
            return ""
        if lane.piece.count == 1:
            return lane.piece.name
        if len(lane.panels) == 1:
            return f"{lane.piece.name} {lane.panels[0]}"
        return tr("steps.panels", name=lane.piece.name, first=lane.panels[0], last=lane.panels[-1])

    def shade(self, steps: list[Step]) -> str | None:
        """Return the colour of the layer that a block lays, "#rrggbb"."""
        reading = self.plan.readings.of_target()
        layers = {} if reading is None else {layer.id: layer for layer in reading.layers}
        for step in reversed(steps):
            if step.lays and step.layer in layers:
                return srgb_hex(layers[step.layer].shown_lab)
        return None

    def timers(self, timed: Timed | None = None) -> list[Timer]:
        """Return what runs and dries, what is to be looked at first, then what ends first."""
        timed = timed or self.plan.timed()
        problem, now = timed.problem, self.plan.now()
        if problem is None:
            return []
        found = []
        for block in timed.blocks:
            state = block.state.value
            if state not in ("running", "drying", "look"):
                continue
            steps = self.plan.steps_of(block.task)
            start, until = self._span(block)
            whole = max((until - start) / timedelta(minutes=1), 1)
            note = self.ready_sign(steps)
            if state == "drying":
                after = self._after(timed, block)
                if after is not None:
                    note = tr(
                        "steps.then",
                        name=block_name(self.plan.steps_of(after.task)),
                        when=when_words(problem.timeline.at(after.placed.start), now),
                    )
            if state == "running":
                note = tr("steps.until", when=when_words(until, now))
            found.append(
                Timer(
                    key=block.task.id,
                    kind=state,
                    left=until - now,
                    passed=(now - start) / timedelta(minutes=1) / whole,
                    title=f"{self.lane_name(block.task.lane)}, {coat_words(block, steps)}",
                    note=note,
                )
            )
        order = {"look": 0, "running": 1, "drying": 2}
        return sorted(found, key=lambda t: (order[t.kind], t.left))

    def _span(self, block: Block) -> tuple[datetime, datetime]:
        """From when to when a block runs or dries, to the minute and not to the slot."""
        done, placed = block.done, block.placed
        assert done is not None
        if not done.ended:
            begun = local(done.begun)
            return begun, begun + timedelta(minutes=SLOT_MIN * (placed.end - placed.start))
        ended = local(done.ended)
        if done.waits_until:
            return ended, local(done.waits_until)
        return ended, ended + timedelta(minutes=SLOT_MIN * (placed.ready - placed.end))

    def _after(self, timed: Timed, block: Block) -> Block | None:
        own = [b for b in timed.blocks if b.task.lane == block.task.lane]
        place = own.index(block)
        return own[place + 1] if place + 1 < len(own) else None

    def coming(self, timed: Timed, block: Block | None) -> Next | None:
        """Return what is said of the chosen block beside the hours."""
        problem, now = timed.problem, self.plan.now()
        if block is None or problem is None:
            return None
        steps = self.plan.steps_of(block.task)
        begins = problem.timeline.at(block.placed.start)
        title = tr("steps.next_at", when=when_words(begins, now))
        if block.state != "planned":
            title = tr(f"steps.state.{block.state}").capitalize()
        elif block is not due(timed):
            title = tr("steps.at", when=when_words(begins, now))
        name = tr("steps.on", name=coat_words(block, steps), lane=self.lane_name(block.task.lane))
        lines = []
        ml = self.plan.takes_ml(block.task)
        if ml > 0:
            lines.append(tr("steps.takes", amount=volume_words(ml, self.plan.work().units)))
        minutes = timedelta(minutes=block.task.minutes)
        tools = [tool_words(step) for step in steps if step.tool]
        lines.append(tr("steps.takes_time", span=span_words(minutes)))
        window = self._window_words(block, problem, now)
        if window:
            lines.append(window)
        if tools:
            lines.append(tools[0])
        shade = self.shade(steps)
        return Next(title=title, name=name, shade=shade, level=0.6, lines=tuple(lines))

    def _window_words(self, block: Block, problem: Problem, now: datetime) -> str:
        """From when to when it takes the next coat, where its label sets an end to that."""
        coat = block.task.dries
        if coat is None or coat.latest_h <= 0:
            return ""
        ready = problem.timeline.at(block.placed.ready)
        until = ready + timedelta(hours=coat.latest_h)
        return tr("steps.window", ready=when_words(ready, now), until=when_words(until, now))

    def cares(self, block: Block | None) -> list[Care]:
        """Return what is to be taken care of at a block: findings, cautions, sections."""
        steps = [] if block is None else self.plan.steps_of(block.task)
        own = {step.id for step in steps}
        found = []
        for finding in self.findings():
            if finding.step_id in own and finding.grade != "school":
                sign = "stop" if finding.grade == "stop" else "check"
                key = f"finding {finding.step_id}"
                found.append(Care(key=key, sign=sign, text=say(finding.reason)))
        ticked = self.plan.acknowledged()
        for step in steps:
            for caution in self.plan.cautions(step):
                key = f"caution {caution.id}"
                if all(care.key != key for care in found):
                    sign = "ready" if caution.id in ticked else "check"
                    found.append(Care(key=key, sign=sign, text=say_table(caution.text)))
        found += [
            Care(key=f"outside {n}", sign=sign, text=text)
            for n, (sign, text) in enumerate(self._outside_words(block, steps))
        ]
        found += [
            Care(key=f"section {n}", sign="todo", text=text)
            for n, text in enumerate(self._section_words(block, steps))
        ]
        return found

    def _outside_words(self, block: Block | None, steps: list[Step]) -> list[tuple[str, str]]:
        """What sun and rain mean for a coat outside: (sign, words)."""
        problem, work = self.plan.timed().problem, self.plan.work()
        if block is None or problem is None or block.task.dries is None:
            return []
        lane = next((one for one in problem.lanes if one.id == block.task.lane), None)
        weather = None if lane is None else problem.weather.get(lane.piece.id)
        if weather is None or not block.task.outside:
            return []
        found = []
        at, slots = problem.timeline.at, 60 // SLOT_MIN
        first, last = block.placed.start // slots, (block.placed.end - 1) // slots
        if weather.sun[first : last + 1].any():
            found.append(("check", tr("steps.in_sun")))
        if any(step.kind is Kind.PROTECT for step in steps):
            rain = rain_after(work.weather, at(block.placed.start), at(block.placed.ready))
            if rain is not None:
                found.append(_rain_words(rain, at(block.placed.ready), self.plan.now()))
        return found

    def findings(self) -> tuple[Finding, ...]:
        """Return what the rules say; a fault in a table is said once and nothing is found."""
        try:
            return self.plan.findings()
        except JarTideError as error:
            self.plan.records.events.failed.emit(str(error))
            return ()

    def _section_words(self, block: Block | None, steps: list[Step]) -> list[str]:
        """How to divide the work so that its edge stays wet."""
        problem = self.plan.timed().problem
        if block is None or problem is None or not steps:
            return []
        lane = next((one for one in problem.lanes if one.id == block.task.lane), None)
        if lane is None:
            return []
        found = sections(steps, lane.piece, self.plan.work().air, block.task.hands)
        if found is None:
            return []
        minutes = tr("unit.min", count=round(found.open_min))
        if not found.fits:
            return [tr("steps.sections.hands", number=found.hands, minutes=minutes)]
        if found.number > 1:
            return [
                tr(
                    "steps.sections.strips",
                    number=found.number,
                    width=f"{10 * round(found.width_mm / 10)}",
                    minutes=minutes,
                )
            ]
        if found.panels > 1:
            return [tr("steps.sections.panels", number=found.panels, minutes=minutes)]
        return [tr("steps.sections.one", minutes=minutes)]

    def waits_for(self, timed: Timed, block: Block) -> str:
        """What must be through before a block can begin, in one sentence; "" for nothing."""
        own = [b for b in timed.blocks if b.task.lane == block.task.lane]
        before = own[: own.index(block)]
        before += [b for b in timed.blocks if b.task.id == block.task.after]
        waiting = [b for b in before if b.state not in ("done", "look")]
        if not waiting:
            return ""
        last = waiting[-1]
        name = coat_words(last, self.plan.steps_of(last.task))
        return tr("steps.waits", name=name, state=tr(f"steps.state.{last.state}"))

    def outlook(self, timed: Timed) -> str:
        """When it will be done, for which air, and how near the plan is to the best there is."""
        if timed.problem is None or timed.schedule is None:
            return ""
        work = self.plan.work()
        ends = timed.problem.timeline.at(timed.schedule.finish)
        words = [tr("steps.done_by", day=day_words(ends))]
        outside = any(p.site.place == "outside" and not p.board for p in self.plan.pieces())
        if outside and not work.weather:
            return " ".join((*words, tr("steps.no_weather")))
        air = work.air
        words.append(
            tr(
                "steps.air",
                warmth=warmth_words(air.temperature_c, work.units),
                percent=figure(air.humidity_percent),
            )
        )
        if timed.gap is not None:
            percent = round(100 * timed.gap)
            words.append(tr("steps.gap", percent=percent) if percent > 0 else tr("steps.gap_none"))
        return " ".join(words)


def _rain_words(rain: Rain, dry: datetime, now: datetime) -> tuple[str, str]:
    """Whether a coat is dry before the rain, with the hours to spare: (sign, words)."""
    spare = span_words(timedelta(hours=abs(rain.spare_h)))
    when = when_words(dry, now)
    if rain.falls is None:
        return "ready", tr("steps.no_rain", when=when, spare=spare)
    falls = when_words(rain.falls, now)
    if rain.spare_h < 0:
        return "stop", tr("steps.rain_too_soon", when=when, falls=falls, spare=spare)
    return "ready", tr("steps.rain_later", when=when, falls=falls, spare=spare)
