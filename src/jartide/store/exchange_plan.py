"""A plan as JSON, schema jar-tide/plan/1: steps, amounts, findings, cautions, schedule."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

from jartide.plan.cautions import cautions_at, questions
from jartide.plan.cure import cure_of
from jartide.plan.overrides import Override
from jartide.plan.propose import Piece
from jartide.plan.quantities import CARRIER, Ware, WareAmount, step_amounts
from jartide.plan.rules import Finding
from jartide.plan.schedule import Problem, Schedule
from jartide.plan.step import Step
from jartide.plan.technique import techniques
from jartide.wording import Message, english

SCHEMA = "jar-tide/plan/1"


def plan_to_json(
    steps: Sequence[Step],
    pieces: Sequence[Piece],
    findings: Sequence[Finding],
    problem: Problem,
    schedule: Schedule,
    gap: float,
    wares: Sequence[WareAmount],
    mixes: Sequence[dict[str, Any]] = (),
    overrides: Sequence[Override] = (),
) -> dict[str, Any]:
    """Return the plan; words are English, times local, amounts millilitres.

    `wares` are the amounts as they are mixed, `mixes` what stands in the jars, `overrides` what
    the painter has otherwise than proposed.
    """
    numbers = {step.id: f"S{number}" for number, step in enumerate(steps, 1)}
    amounts = step_amounts(steps, pieces)
    time = problem.timeline
    return {
        "schema": SCHEMA,
        "steps": [
            _step(step, numbers[step.id], amount.wet_ml, pieces)
            for step, amount in zip(steps, amounts, strict=True)
        ],
        "amounts": [
            {
                "ware": ware_name(one.ware),
                "layer": one.ware.layer or None,
                "laid_ml": round(one.laid_ml, 1),
                "waste_ml": round(one.waste_ml, 1),
                "tools_ml": round(one.tools_ml, 1),
                "touch_up_ml": round(one.touch_up_ml, 1),
                "total_ml": round(one.total_ml, 1),
            }
            for one in wares
        ],
        "mixes": list(mixes),
        "overrides": [
            {
                "step": f"S{one.step}",
                "field": one.field,
                "value": one.value,
                "proposed": _plain(one.proposed),
            }
            for one in overrides
        ],
        "findings": [
            {
                "rule": one.rule,
                "grade": one.grade.value,
                "step": numbers[one.step_id],
                "reason": english(one.reason),
            }
            for one in findings
        ],
        "questions": [english(Message(one.text)) for one in questions(pieces)],
        "schedule": {
            "blocks": [
                {
                    "steps": [numbers[i] for i in _task(problem, one.task_id).step_ids],
                    "coat": _task(problem, one.task_id).coat,
                    "panels": _panels(problem, one.task_id),
                    "begins": time.at(one.start).isoformat(timespec="minutes"),
                    "ends": time.at(one.end).isoformat(timespec="minutes"),
                    "ready": time.at(one.ready).isoformat(timespec="minutes"),
                    "workers": [worker + 1 for worker in one.workers],
                    "late": one.late,
                }
                for one in sorted(schedule.placed, key=lambda p: (p.start, p.task_id))
            ],
            "done": time.at(schedule.finish).isoformat(timespec="minutes"),
            "cured": _cured(steps, pieces, problem, schedule),
            "gap": round(gap, 4),
        },
    }


def _plain(value: Any) -> Any:
    return english(value) if isinstance(value, Message) else value


def _step(step: Step, number: str, wet_ml: float, pieces: Sequence[Piece]) -> dict[str, Any]:
    technique = techniques()[step.technique]
    return {
        "id": number,
        "technique": step.technique,
        "kind": step.kind.value,
        "name": english(step.name),
        "layer": step.layer or None,
        "zone": step.zone or None,
        "product": step.product.value,
        "binder": step.binder or None,
        "product_name": step.product_name or None,
        "tool": step.tool or None,
        "tool_mm": step.tool_mm,
        "direction_deg": None if step.direction_deg is None else round(step.direction_deg, 1),
        "carrier": step.carrier,
        "water": step.water,
        "coats": step.coats,
        "laid_share": round(step.laid_share, 4),
        "cover_left": None if step.cover_left is None else round(step.cover_left, 4),
        "wet": step.wet,
        "open_min": step.open_min,
        "dry_h": step.dry_h,
        "latest_h": step.latest_h or None,
        "wet_ml": round(wet_ml, 1),
        "why": None if step.why is None else english(step.why),
        "how": [english(one) for one in step.how],
        "set_aside": [{"rule": one.rule, "why": one.why} for one in step.reasons],
        "ready": _said(technique.ready),
        "taken_back": _said(technique.back),
        "photo": _said(technique.photo),
        "changes": list(technique.changes),
        "cautions": [english(Message(one.text)) for one in cautions_at(step, pieces)],
    }


def ware_name(ware: Ware) -> str:
    """Return what a product is called in exchange: its tin, or its kind."""
    if ware.name:
        return ware.name
    if ware == CARRIER:
        return "carrier"
    return "mix" if ware.layer else ware.technique or ware.product.value


def _said(text: str) -> str | None:
    return english(Message(text)) if text else None


def _task(problem: Problem, task_id: str) -> Any:
    return next(t for lane in problem.lanes for t in lane.tasks if t.id == task_id)


def _cured(
    steps: Sequence[Step], pieces: Sequence[Piece], problem: Problem, schedule: Schedule
) -> dict[str, str] | None:
    """When the last coat can be touched, washed and used, ISO dates."""
    last = next((step for step in reversed(steps) if step.lays), None)
    if last is None:
        return None
    days = cure_of(last, pieces, problem.air)
    ends = problem.timeline.at(schedule.finish)
    names = ("touch", "wash", "use")
    return {
        name: (ends + timedelta(days=after)).date().isoformat()
        for name, after in zip(names, days, strict=True)
    }


def _panels(problem: Problem, task_id: str) -> list[int]:
    lane = next(one for one in problem.lanes if any(t.id == task_id for t in one.tasks))
    return list(lane.panels)
