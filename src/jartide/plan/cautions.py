"""Cautions at the step where they matter, and what is asked about trades and local rules."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from jartide.errors import PlanError
from jartide.plan.propose import DUSTY, Piece, for_piece
from jartide.plan.rule_table import Facts, matches
from jartide.plan.site import ground_of
from jartide.plan.step import Step
from jartide.plan.step_facts import piece_facts
from jartide.plan.tables import keys_known, parsed, rows, shipped
from jartide.plan.technique import Kind, Techniques, techniques


@dataclass(frozen=True, slots=True, kw_only=True)
class Caution:
    """One caution in words."""

    id: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """What is asked, not assumed; a yes brings its caution to every step there."""

    id: str
    text: str
    caution: str
    piece: Facts = field(default_factory=dict)


@lru_cache(maxsize=1)
def caution_table() -> tuple[dict[str, Caution], tuple[Question, ...]]:
    """Return cautions by id, and the questions.

    Raises
    ------
    PlanError : one sentence on the first fault of the table.
    """
    name = "cautions.toml"
    data = parsed(shipped(name), name)
    keys_known(data, {"caution", "question"}, name)
    cautions = {one.id: one for one in rows(data, "caution", Caution, name)}
    questions = rows(data, "question", Question, name)
    for asked in questions:
        if asked.caution not in cautions:
            raise PlanError("error.table.value", name=name, key=asked.id, what="caution")
    return cautions, questions


_BY_BINDER = {"oil": ("solvent", "rags"), "spirit": ("solvent",), "lime": ("lime",)}
_DISTURBS = (Kind.CLEAN, Kind.PREPARE)


def cautions_at(
    step: Step,
    pieces: Sequence[Piece],
    answers: Mapping[str, str] | None = None,
    known: Techniques | None = None,
) -> tuple[Caution, ...]:
    """Return the cautions of one step, those of its technique first.

    `answers` are "yes", "no" or missing, by the question's id; an unanswered question keeps
    its caution at the first step it matters to.
    """
    known = known or techniques()
    cautions, _ = caution_table()
    technique = known.get(step.technique)
    ids = list(() if technique is None else technique.cautions)
    ids += _BY_BINDER.get(step.binder, ())
    own = [p for p in pieces if step in for_piece([step], p)]
    if step.kind in _DISTURBS and any(ground_of(p.site).old_coating for p in own):
        ids.append("lead")
    if step.technique in DUSTY and any(ground_of(p.site).mineral for p in own):
        ids.append("silica")
    if "heat" in step.tool.casefold():
        ids.append("heat")
    if "spray" in step.tool.casefold():
        ids.append("spray")
    for asked in questions(own):
        if (answers or {}).get(asked.id) == "yes":
            ids.append(asked.caution)
    return tuple(cautions[one] for one in dict.fromkeys(ids) if one in cautions)


def questions(pieces: Sequence[Piece]) -> tuple[Question, ...]:
    """Return what is to be asked about these pieces."""
    _, listed = caution_table()
    facts = [piece_facts(piece, "", False) for piece in pieces]
    return tuple(one for one in listed if any(matches(f, one.piece) for f in facts))
