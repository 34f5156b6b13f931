"""A board's mend as steps of the plan: what is put in, and what of the steps there changes."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Sequence
from dataclasses import replace

from jartide.boards.mends import Action, Mend
from jartide.boards.paint_mends import PaintMend
from jartide.plan.edit import inserted
from jartide.plan.facts import read_facts
from jartide.plan.step import Step, made_step
from jartide.plan.technique import Kind, Techniques, techniques
from jartide.reading.result import LINE_ROLES, Reading

# A share laid again covers at least this much, or nobody could lay it.
_LEAST_SHARE = 0.005


def with_mend(
    steps: tuple[Step, ...],
    mend: Mend,
    target: Reading,
    paint: PaintMend | None = None,
    known: Techniques | None = None,
) -> tuple[tuple[Step, ...], str]:
    """Return the plan with a mend in it, and the id of the step that says it.

    What can only be done otherwise on the next board (another tool, another lay, a steadier
    hand) changes the steps of its layers; what is laid on or taken back is a step of its own,
    behind the steps that make colour.

    Parameters
    ----------
    paint : the mend in the painter's own paints; its ratio and coats are taken over
    """
    known = known or techniques()
    own = _own_steps(steps, mend, target)
    match mend.action:
        case Action.TOOL:
            return _in_place(
                steps, own, mend, lambda s: replace(s, tool_mm=_scaled(s, mend.amount))
            )
        case Action.TURN:
            # The board was laid off the axis; the plan says where the axis is.
            axis = read_facts(target).direction_deg
            turned = [step for step in own if step.direction_deg is not None]
            return _in_place(steps, turned, mend, lambda s: replace(s, direction_deg=axis))
        case Action.HAND:
            return _in_place(steps, own, mend, lambda s: s)
        case Action.VEIL:
            fresh = made_step(known["veil"], {}, layer=target.layers[0].id, why=mend.words)
            if paint is not None and paint.veil is not None:
                veil = paint.veil
                fresh = replace(fresh, carrier=veil.carrier, water=veil.water, coats=veil.coats)
        case Action.TONE:
            layer = target.layers[mend.layer or 0].id
            fresh = made_step(known["toning"], {}, layer=layer, why=mend.words)
            if paint is not None and paint.glaze is not None:
                glaze = paint.glaze
                colour = sum(part.parts for part in glaze.parts)
                fresh = replace(
                    fresh,
                    carrier=round(glaze.carrier / colour, 2),
                    water=round(glaze.water / colour, 2),
                    coats=glaze.coats,
                )
        case Action.SHEEN:
            name = "clear_gloss" if mend.amount > 0 else "clear_matt"
            fresh = made_step(known[name], {}, why=mend.words)
            care = [step for step in steps if step.kind is Kind.CARE]
            laid = [step for step in steps if step.kind is not Kind.CARE]
            return (*laid, fresh, *care), fresh.id
        case _:
            fresh = _again(own, mend, known)
    return inserted(steps, fresh), fresh.id


def _own_steps(steps: Sequence[Step], mend: Mend, target: Reading) -> list[Step]:
    """The steps a mend speaks of: those of its layer, or of all layers of its kind."""
    if mend.layer is not None and mend.layer < len(target.layers):
        layers = {target.layers[mend.layer].id}
    else:
        lines = mend.quantity.measure.block in ("lines", "grain", "weave", "brush")
        layers = {layer.id for layer in target.layers[1:] if (layer.role in LINE_ROLES) == lines}
    kinds = (Kind.BASE, Kind.PATTERN)
    return [step for step in steps if step.layer in layers and step.kind in kinds and step.lays]


def _again(own: list[Step], mend: Mend, known: Techniques) -> Step:
    """The layer's own pass once more, over as much as is lacking; or some of it taken back."""
    more = mend.amount > 0 if mend.action is Action.COVER else mend.amount > 1
    if not own or not more:
        return made_step(known["wipe_back"], {}, why=mend.words)
    last = own[-1]
    share = last.laid_share
    if mend.action is Action.COVER:
        share = mend.amount
    elif mend.action is Action.ADD:
        share = last.laid_share * (mend.amount - 1)
    share = min(max(share, _LEAST_SHARE), 1.0)
    return replace(
        last, id=str(uuid.uuid4()), wet=False, coats=1, laid_share=share, cover_left=None,
        why=mend.words,
    )  # fmt: skip


def _in_place(
    steps: tuple[Step, ...], own: Sequence[Step], mend: Mend, change: Callable[[Step], Step]
) -> tuple[tuple[Step, ...], str]:
    ids = {step.id for step in own}
    found = tuple(
        replace(change(step), how=(*step.how, mend.words)) if step.id in ids else step
        for step in steps
    )
    return found, next((step.id for step in own), "")


def _scaled(step: Step, factor: float) -> float | None:
    return None if step.tool_mm is None else round(step.tool_mm * factor, 1)
