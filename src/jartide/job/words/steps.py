"""Times, amounts and steps in painters' words, for the screens of Steps."""

from __future__ import annotations

from datetime import datetime, timedelta

from jartide.figures import figure, plain_figure
from jartide.job.words.jars import ml_words
from jartide.job.words.numbers import mm_words, percent_words, plain_words
from jartide.plan.progress import Block
from jartide.plan.quantities import CARRIER, Ware
from jartide.plan.step import Step
from jartide.plan.technique import techniques
from jartide.plan.units import Units, area_in, length_in, small_in, volume_in, warmth_in
from jartide.reading.result import Reading
from jartide.wording import Message, in_language, say, tr


def span_words(span: timedelta) -> str:
    """Return a duration: "1 h 24", "35 min", "2 days"; what is past counts as nothing."""
    minutes = max(round(span / timedelta(minutes=1)), 0)
    if minutes < 60:
        return tr("unit.min", count=minutes)
    if minutes < 48 * 60:
        return tr("span.hours", hours=minutes // 60, minutes=f"{minutes % 60:02d}")
    return tr("span.days", count=round(minutes / 1440))


def when_words(at: datetime, now: datetime) -> str:
    """Return a time as it is said today, tomorrow, or on another day."""
    clock = f"{at:%H:%M}"
    if at.date() == now.date():
        return clock
    if at.date() == now.date() + timedelta(days=1):
        return tr("when.tomorrow", clock=clock)
    return tr("when.day", day=day_words(at), clock=clock)


def day_words(at: datetime) -> str:
    """Return a day: "Tuesday 14 May"."""
    return f"{tr(f'weekday.{at.weekday()}', day=at.day)} {tr(f'month.{at.month}')}"


def area_words(m2: float, units: Units) -> str:
    """Return an area in the painter's unit."""
    return tr(f"area.{units}", value=figure(area_in(m2, units), 1))


def size_words(width_mm: float, height_mm: float, units: Units) -> str:
    """Return two sides in the painter's unit."""
    sides = (length_in(side, units) for side in (width_mm, height_mm))
    width, height = (
        f"{side:.0f}" if units == "metric" else plain_figure(side, 4) for side in sides
    )
    return tr(f"steps.size.{units}", width=width, height=height)


def warmth_words(celsius: float, units: Units) -> str:
    """Return a temperature in the painter's unit."""
    return tr(f"warmth.{units}", value=figure(warmth_in(celsius, units)))


def volume_words(ml: float, units: Units) -> str:
    """Return an amount in the painter's unit; metric as jars have it."""
    if units == "metric":
        if ml < 5:
            return tr("volume.little")
        return ml_words(ml)
    gallons = volume_in(ml, units)
    if gallons >= 0.5:
        return tr("volume.gallon", value=figure(gallons, 2))
    return tr("volume.ounce", value=figure(128 * gallons))


def small_words(ml: float, units: Units) -> str:
    """Return an amount in the painter's small unit, so that shown sums add up."""
    if units == "metric":
        return tr("unit.ml", value=figure(ml))
    return tr("volume.ounce", value=figure(small_in(ml, units), 1))


def tins_words(tins: tuple[tuple[float, int], ...], units: Units) -> str:
    """Return what to buy: "2 × 1.0 l, 1 × 250 ml"."""
    return ", ".join(f"{number} × {volume_words(size, units)}" for size, number in tins)


def step_note(step: Step) -> str:
    """Return the one line under a step: tool, dilution, share, coats; the painter's own words."""
    words = [tool_words(step)] if step.tool else []
    if step.carrier or step.water:
        parts = [1.0, step.carrier] + ([step.water] if step.water else [])
        words.append(" : ".join(plain_words(part) for part in parts))
    if step.lays and step.laid_share < 0.995:
        words.append(tr("steps.on_share", share=percent_words(step.laid_share)))
    if step.coats > 1:
        words.append(tr("log.coats_words", count=step.coats))
    if step.note:
        words.append(step.note)
    return ", ".join(words)


def tool_words(step: Step) -> str:
    """Return the tool with its size, where a size was measured for it."""
    tool = in_language(step.tool)
    if step.tool_mm is None:
        return tool
    return tr("steps.tool_size", tool=tool, size=mm_words(step.tool_mm))


def ware_words(ware: Ware, reading: Reading | None) -> str:
    """Return what a product is called: its tin's name, its layer's mix, or its kind."""
    if ware.name:
        return ware.name
    if ware == CARRIER:
        return tr("ware.carrier")
    if ware.layer:
        layers = () if reading is None else reading.layers
        name = next((say(layer.name) for layer in layers if layer.id == ware.layer), ware.layer)
        return tr("ware.mix", name=name)
    if ware.technique:
        technique = techniques().get(ware.technique)
        if technique is not None:
            return tr(f"ware.{ware.technique}")
    return tr(f"ware.{ware.product}")


def block_name(steps: list[Step]) -> str:
    """Return what a block of work is called: its first step, and how many follow it wet."""
    if not steps:
        return ""
    name = say(steps[0].name).split(",")[0]
    others = [step for step in steps[1:] if step.lays]
    # Of a ground wetted for a pattern, the pattern says what the block is.
    if others and steps[0].technique == "wet_ground":
        return say(others[0].name).split(",")[0]
    return name


def coat_words(block: Block, steps: list[Step]) -> str:
    """Return the name of a block with its coat, where there are several."""
    name = block_name(steps)
    if steps and steps[0].coats > 1:
        return tr("steps.coat", name=name, coat=block.task.coat)
    return name


def say_table(text: str) -> str:
    """Return a text of a table, in the painter's language where it has words for it."""
    return say(Message(text)) if text else ""
