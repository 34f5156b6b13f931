"""The table of rules: what each one looks for, its grade, its reason and its mend."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache

from jartide.errors import PlanError
from jartide.plan.step_facts import PIECE_FACTS, STEP_FACTS
from jartide.plan.tables import keys_known, parsed, rows, shipped
from jartide.plan.technique import techniques

Facts = dict[str, tuple[str, ...]]


class Grade(StrEnum):
    """How grave a finding is: never do it, test it first, or a matter of school."""

    STOP = "stop"
    THINK = "think"
    SCHOOL = "school"


@dataclass(frozen=True, slots=True, kw_only=True)
class MendLine:
    """What mends a finding, as one action.

    `do` is before or after (put `technique` there), replace (by it), remove, set (`field` of
    the step to `value`), set_below (of the step below), primer (the one the surface wants),
    thin (carrier for water), grain (turn it along the grain) or tool (another one).
    """

    do: str
    technique: str = ""
    field: str = ""
    value: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Rule:
    """One rule; see rules.toml for what its parts mean."""

    id: str
    grade: Grade
    reason: str
    step: Facts
    piece: Facts = field(default_factory=dict)
    below: Facts = field(default_factory=dict)
    without: Facts = field(default_factory=dict)
    lacking: Facts = field(default_factory=dict)
    lacking_before: bool = False
    next_below: bool = False
    next_wet: bool = False
    mend: MendLine | None = None


WAYS = {
    "before", "after", "replace", "remove", "set", "set_below", "primer", "thin", "grain", "tool",
}  # fmt: skip


@lru_cache(maxsize=4)
def rule_table(own: str = "", name: str = "rules.toml") -> tuple[Rule, ...]:
    """Return all rules; the painter's own stand beside the shipped ones.

    Raises
    ------
    PlanError : one sentence on the first fault.
    """
    found = _read(shipped("rules.toml"), "rules.toml")
    return found if not own else (*found, *_read(own, name))


def _read(text: str, name: str) -> tuple[Rule, ...]:
    data = parsed(text, name)
    keys_known(data, {"rule"}, name)
    found = rows(data, "rule", Rule, name)
    for rule in found:
        if rule.mend is not None:
            if rule.mend.do not in WAYS:
                raise PlanError("error.table.value", name=name, key=rule.id, what="mend.do")
            wanted = rule.mend.technique
            if wanted and wanted not in techniques():
                raise PlanError("error.table.technique", name=name, key=rule.id, what=wanted)
        for facts, known in (
            (rule.step, STEP_FACTS),
            (rule.below, STEP_FACTS),
            (rule.without, STEP_FACTS),
            (rule.lacking, STEP_FACTS),
            (rule.piece, PIECE_FACTS),
        ):
            for fact in facts:
                if fact.removeprefix("not_") not in known:
                    raise PlanError("error.table.value", name=name, key=rule.id, what=fact)
    return found


def matches(facts: dict[str, str], wanted: Facts) -> bool:
    """Whether facts are as a rule wants them: of each list one value holds."""
    for name, values in wanted.items():
        if name.startswith("not_"):
            if facts.get(name.removeprefix("not_"), "") in values:
                return False
        elif facts.get(name, "") not in values:
            return False
    return True
