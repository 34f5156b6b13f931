"""A plan checked against the rules: each finding at its step, with the reason and a mend."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from jartide.errors import PlanError
from jartide.plan.beside import Beside, named
from jartide.plan.binder import thinned_with_carrier
from jartide.plan.propose import Piece, for_piece
from jartide.plan.rule_table import Grade, MendLine, Rule, matches, rule_table
from jartide.plan.site import ground_of
from jartide.plan.step import SetAside, Step, made_step
from jartide.plan.step_facts import Label, piece_facts, step_facts
from jartide.plan.technique import Techniques, techniques
from jartide.wording import Message


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One rule that a plan does not keep.

    Attributes
    ----------
    step_id : where it is said
    pieces : names of the pieces it concerns
    mend : what mends it in one action; None where only the painter can
    below_id : the step below that it is about; "" for none
    """

    rule: str
    grade: Grade
    step_id: str
    reason: Message
    pieces: tuple[str, ...]
    mend: MendLine | None
    below_id: str = ""
    primer: str = ""


def check(
    steps: Sequence[Step],
    pieces: Sequence[Piece],
    family: str,
    *,
    dark: bool = False,
    labels: Mapping[str, Label] | None = None,
    known: Techniques | None = None,
    rules: tuple[Rule, ...] | None = None,
    use_in_days: float | None = None,
    beside: Sequence[Beside] = (),
) -> tuple[Finding, ...]:
    """Return every finding, stops first, then in the order of the steps.

    Parameters
    ----------
    labels : what the tins named in `product_name` say
    dark : whether the finish has a deep dark ground
    beside : what stays as it is, read, and how it stands to the finish
    """
    known = known or techniques()
    rules = rules or rule_table()
    found: dict[tuple[str, str], Finding] = {}
    for piece in pieces:
        own = for_piece(steps, piece)
        of_piece = piece_facts(piece, family, dark, beside)
        of_steps = step_facts(own, piece, family, known, labels or {}, use_in_days)
        for rule in rules:
            if not matches(of_piece, rule.piece):
                continue
            for number, step in enumerate(own):
                below = _speaks(rule, own, of_steps, number)
                if below is None or _is_set_aside(rule, step):
                    continue
                key = (rule.id, step.id)
                before = found.get(key)
                names = (piece.name,) if before is None else (*before.pieces, piece.name)
                stays = named(beside, of_piece["beside"]) or piece.site.beside
                found[key] = _finding(rule, step, piece, names, below, stays)
    places = {step.id: number for number, step in enumerate(steps)}
    grades = list(Grade)
    return tuple(
        sorted(found.values(), key=lambda f: (grades.index(f.grade), places[f.step_id], f.rule))
    )


def _speaks(
    rule: Rule, steps: tuple[Step, ...], facts: list[dict[str, str]], number: int
) -> str | None:
    """The id of the step below that a rule is about, "" for none; None when it is silent."""
    if not matches(facts[number], rule.step):
        return None
    if rule.lacking:
        where = facts[:number] if rule.lacking_before else facts[number + 1 :]
        if any(matches(one, rule.lacking) for one in where):
            return None
    if not rule.below:
        return ""
    for earlier in range(number - 1, -1, -1):
        if rule.without and matches(facts[earlier], rule.without):
            return None
        if matches(facts[earlier], rule.below):
            return steps[earlier].id
        if rule.next_below and steps[earlier].lays:
            return None
        if rule.next_wet and facts[earlier]["wet_product"] == "yes":
            return None
    return None


def _finding(
    rule: Rule, step: Step, piece: Piece, names: tuple[str, ...], below: str, stays: str
) -> Finding:
    ground = ground_of(piece.site)
    primer = techniques()[ground.primer].name if ground.primer else ""
    reason = Message(
        rule.reason,
        product=step.product_name,
        substrate=Message(ground.substrate.name),
        primer=Message(primer) if primer else "",
        beside=stays,
    )
    return Finding(
        rule=rule.id,
        grade=rule.grade,
        step_id=step.id,
        reason=reason,
        pieces=names,
        mend=rule.mend,
        below_id=below,
        primer=ground.primer,
    )


def mended(
    steps: tuple[Step, ...], finding: Finding, known: Techniques | None = None
) -> tuple[Step, ...]:
    """Return the plan with a finding mended by its one action; unchanged where it has none."""
    known = known or techniques()
    mend = finding.mend
    place = next((n for n, step in enumerate(steps) if step.id == finding.step_id), None)
    if mend is None or place is None:
        return steps
    step = steps[place]
    before, after = steps[:place], steps[place + 1 :]
    match mend.do:
        case "before":
            fresh = _new(mend.technique, step, known)
            # Nothing lies between what is laid wet into each other.
            return (*before, fresh, replace(step, wet=False), *after)
        case "after":
            end = place + 1
            while end < len(steps) and steps[end].wet:
                end += 1
            fresh = _new(mend.technique, step, known)
            return (*steps[:end], fresh, *steps[end:])
        case "replace":
            fresh = replace(_new(mend.technique, step, known), only=step.only)
            return (*before, fresh, *after)
        case "remove":
            after = (
                (replace(after[0], wet=step.wet), *after[1:]) if after and after[0].wet else after
            )
            return (*before, *after)
        case "primer":
            return (*before, _new(finding.primer, step, known), step, *after)
        case "thin":
            return (*before, thinned_with_carrier(step), *after)
        case "set":
            return (*before, _with(step, mend.field, mend.value), *after)
        case "set_below":
            return tuple(
                _with(one, mend.field, mend.value) if one.id == finding.below_id else one
                for one in steps
            )
        case "grain":
            lay = next((s.direction_deg for s in steps if s.technique == "grain_drag"), None)
            return (*before, replace(step, direction_deg=lay), *after)
        case "tool":
            return (*before, replace(step, tool=known[step.technique].tool), *after)
    return steps


def _new(technique: str, beside: Step, known: Techniques) -> Step:
    return replace(made_step(known[technique], {}), only=beside.only, zone=beside.zone)


def _with(step: Step, field: str, value: str) -> Step:
    now = getattr(step, field)
    new: Any = value
    if isinstance(now, bool):
        new = value == "true"
    elif isinstance(now, float):
        new = float(value)
    return replace(step, **{field: new})


def set_aside(steps: tuple[Step, ...], finding: Finding, why: str = "") -> tuple[Step, ...]:
    """Return the plan with a finding the painter has thought over.

    Raises
    ------
    PlanError : when it is a stop and nobody says why it may stand.
    """
    why = why.strip()
    if finding.grade is Grade.STOP and not why:
        raise PlanError("error.plan.aside_why")

    def thought_over(step: Step) -> Step:
        kept = tuple(one for one in step.reasons if one.rule != finding.rule)
        told = (*kept, SetAside(rule=finding.rule, why=why)) if why else kept
        return replace(step, quiet=(*step.quiet, finding.rule), reasons=told)

    return tuple(thought_over(s) if s.id == finding.step_id else s for s in steps)


def _is_set_aside(rule: Rule, step: Step) -> bool:
    """Whether the painter lets it stand; of a stop only with a reason."""
    explained = any(one.rule == rule.id for one in step.reasons)
    return rule.id in step.quiet and (rule.grade is not Grade.STOP or explained)


def let_stand(step: Step, rules: tuple[Rule, ...] | None = None) -> tuple[tuple[Message, str], ...]:
    """Return what the painter lets stand at a step and why: (what the rule says, the reason)."""
    said = {rule.id: rule.reason for rule in rules or rule_table()}
    unnamed = Message("plan.beside_any")
    return tuple(
        (
            Message(
                said[one.rule], product=step.product_name, substrate="", primer="", beside=unnamed
            ),
            one.why,
        )
        for one in step.reasons
        if one.rule in said
    )
