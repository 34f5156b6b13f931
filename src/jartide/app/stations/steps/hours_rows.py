"""What the hours come to: when all is dry and cured, what was learned, done against planned."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from jartide.app.widgets.ledger import LedgerRow
from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.job.plan import TimedPlan
from jartide.job.words.steps import block_name, day_words, span_words, warmth_words
from jartide.plan.cure import cure_of
from jartide.plan.progress import Block, local, seen_h
from jartide.plan.step import Step
from jartide.plan.work import Work
from jartide.wording import tr


def rows_of(plan: TimedPlan, steps: Sequence[Step]) -> tuple[list[LedgerRow], dict[int, Block]]:
    """Return all rows, and which of them stand for a block of work."""
    work = plan.work()
    timed = plan.timed()
    rows: list[LedgerRow] = []
    if timed.problem is not None and timed.schedule is not None:
        ends = timed.problem.timeline.at(timed.schedule.finish)
        rows.append(LedgerRow(title=tr("hours.outcome"), head=True))
        rows.append(LedgerRow(title=tr("hours.done_by"), right=day_words(ends)))
        rows += _cure_rows(plan, steps, ends)
        if timed.gap is not None:
            percent = round(100 * timed.gap)
            words = tr("hours.gap_words", percent=percent) if percent else tr("steps.gap_none")
            rows.append(LedgerRow(title=tr("hours.gap"), note=words))
        if timed.schedule.late:
            rows.append(LedgerRow(title=tr("hours.late", count=timed.schedule.late), sign="check"))
    factors = plan.factors()
    if factors:
        rows.append(LedgerRow(title=tr("hours.learned"), head=True))
        rows += [
            LedgerRow(title=tr(f"binder.{binder}"), right=tr("hours.times", factor=figure(f, 2)))
            for binder, f in factors.items()
        ]
    done, tasks = _actual_rows(plan, len(rows))
    rows += done
    if work.weather:
        rows.append(LedgerRow(title=tr("hours.weather"), head=True))
        rows += _weather_rows(work)
    return rows, tasks


def _cure_rows(plan: TimedPlan, steps: Sequence[Step], ends: datetime) -> list[LedgerRow]:
    """When it may be touched, washed and used: the last coat's cure on this surface."""
    lays = [step for step in steps if step.lays]
    if not lays:
        return []
    last = lays[-1]
    tins = plan.records.tins()
    tin = next((t for t in tins if last.product_name and t.name == last.product_name), None)
    label = None if tin is None else tin.stock.cure_days
    try:
        found = cure_of(last, plan.pieces(), plan.work().air, label)
    except JarTideError:
        return []
    return [
        LedgerRow(title=tr(f"hours.cure.{name}"), right=day_words(ends + timedelta(days=days)))
        for name, days in zip(("touch", "wash", "use"), found, strict=True)
    ]


def _actual_rows(plan: TimedPlan, first: int) -> tuple[list[LedgerRow], dict[int, Block]]:
    """What was planned against what was really done, block by block."""
    timed = plan.timed()
    begun = [b for b in timed.blocks if b.done is not None]
    tasks: dict[int, Block] = {}
    if not begun:
        return [], tasks
    rows = [LedgerRow(title=tr("hours.actual"), right=tr("hours.actual_how"), head=True)]
    for block in begun:
        done = block.done
        assert done is not None
        tasks[first + len(rows)] = block
        name = block_name(plan.steps_of(block.task))
        worked = ""
        if done.ended:
            really = local(done.ended) - local(done.begun)
            planned = timedelta(minutes=block.task.minutes)
            worked = tr("hours.against", really=span_words(really), planned=span_words(planned))
        dried = ""
        seen = seen_h(done)
        if seen is not None:
            dried = tr(
                "hours.against",
                really=span_words(timedelta(hours=seen)),
                planned=span_words(timedelta(hours=done.foreseen_h)),
            )
        rows.append(
            LedgerRow(
                title=name,
                note=tr("hours.dried", words=dried) if dried else "",
                right=worked,
                right_note=f"{local(done.begun):%d.%m. %H:%M}",
            )
        )
    return rows, tasks


def _weather_rows(work: Work) -> list[LedgerRow]:
    by_day: dict[str, list] = {}
    for hour in work.weather:
        by_day.setdefault(hour.at[:10], []).append(hour)
    rows = []
    for day, hours in by_day.items():
        low = min(h.temperature_c for h in hours)
        high = max(h.temperature_c for h in hours)
        rain = sum(h.rain_mm for h in hours)
        note = tr(
            "hours.range",
            low=warmth_words(low, work.units),
            high=warmth_words(high, work.units),
        )
        rows.append(
            LedgerRow(
                title=day_words(datetime.fromisoformat(day)),
                note=note,
                right=tr("hours.rain", mm=figure(rain, 1)) if rain else tr("hours.no_rain"),
            )
        )
    return rows
