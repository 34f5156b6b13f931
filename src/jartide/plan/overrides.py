"""Parts of a proposed plan that the painter has otherwise: "S4.coats=2; S7.note=Two thin ones"."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Any

from jartide.errors import PlanError
from jartide.plan.edit import changed
from jartide.plan.step import Step
from jartide.wording import Message

# What of a step can be otherwise, and what kind of value that is.
FIELDS: dict[str, type] = {
    "name": str,
    "tool": str,
    "tool_mm": float,
    "note": str,
    "coats": int,
    "carrier": float,
    "water": float,
    "laid_share": float,
    "direction_deg": float,
    "wet": bool,
    "layer": str,
    "product_name": str,
    "dry_h": float,
    "open_min": float,
    "speed_m2_h": float,
    "spreading_m2_per_l": float,
}
_YES, _NO = ("yes", "true", "1"), ("no", "false", "0")


@dataclass(frozen=True, slots=True, kw_only=True)
class Override:
    """One part of a step as the painter has it: `step` is its number in the plan, from 1."""

    step: int
    field: str
    value: Any
    proposed: Any


def overridden(
    steps: tuple[Step, ...], text: str, layers: Collection[str]
) -> tuple[tuple[Step, ...], tuple[Override, ...]]:
    """Return the plan with parts of its steps as the text has them, and what was changed.

    `layers` are the ids of the layers whose jars there are.

    Raises
    ------
    PlanError : when a step, a field or a value is not known; nothing is changed then.
    """
    found: list[Override] = []
    for piece in filter(None, (one.strip() for one in text.split(";"))):
        left, given, value = piece.partition("=")
        number, dot, name = left.strip().partition(".")
        place = _place(number, len(steps))
        if not given or not dot or place is None or name not in FIELDS:
            known = ", ".join(FIELDS)
            raise PlanError("error.plan.override", given=piece[:60], known=known)
        step = steps[place]
        made = _value(name, value.strip(), piece)
        if name == "layer" and made and made not in layers:
            raise PlanError("error.plan.override_value", given=piece[:60])
        before = getattr(step, name)
        fresh: Any = Message(made.replace("{", "(").replace("}", ")")) if name == "name" else made
        steps = changed(steps, replace(step, **{name: fresh}))
        found.append(Override(step=place + 1, field=name, value=made, proposed=before))
    return steps, tuple(found)


def _place(number: str, count: int) -> int | None:
    digits = number.strip().upper().removeprefix("S")
    if not digits.isdecimal() or not 1 <= int(digits[:6]) <= count:
        return None
    return int(digits) - 1


def _value(name: str, text: str, piece: str) -> Any:
    kind = FIELDS[name]
    if kind is str:
        return text[:400]
    if kind is bool and text.casefold() in (*_YES, *_NO):
        return text.casefold() in _YES
    try:
        return kind(text)
    except ValueError:
        raise PlanError("error.plan.override_value", given=piece[:60]) from None
