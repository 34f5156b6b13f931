"""Care and touch-up: what each person does about each coat, from the last one down."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from jartide.plan.propose import Piece
from jartide.plan.protection import OPEN_COAT
from jartide.plan.site import Wear, Where
from jartide.plan.step import Step
from jartide.plan.technique import Kind, Product
from jartide.wording import Message


class Who(StrEnum):
    """Who takes care of a finish after its last coat."""

    PAINTER = "painter"
    INSTALLER = "installer"
    CLIENT = "client"


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """One sentence for one person."""

    who: Who
    text: Message


def care_of(
    steps: Sequence[Step], pieces: Sequence[Piece], days: Sequence[float]
) -> tuple[Advice, ...]:
    """Return what painter, installer and client do about the coats of a plan.

    Each coat that is on the piece is touched up in its own way, the last one first: a clear coat
    is never dabbed, a reaction never painted over, wax is taken off where paint must hold.

    Parameters
    ----------
    days : from the last coat until it can be touched, washed and used
    """
    on_it = [step for step in steps if step.lays or step.product is Product.OXIDISER]
    if not on_it:
        return ()
    touch, wash, use = (max(round(day), 1) for day in days)
    coats = _coats(on_it)
    outside = any(p.site.place is Where.OUTSIDE and not p.board for p in pieces)
    found = [Advice(who=Who.PAINTER, text=Message("care.painter.order"))]
    found += [Advice(who=Who.PAINTER, text=Message(f"care.painter.{coat}")) for coat in coats]
    found += [
        Advice(who=Who.INSTALLER, text=Message("care.installer.handle", touch=_days(touch))),
        Advice(who=Who.INSTALLER, text=Message("care.installer.tape", wash=_days(wash))),
    ]
    if any("parts" in piece.site.conditions for piece in pieces):
        found.append(Advice(who=Who.INSTALLER, text=Message("care.installer.parts")))
    if any(piece.site.overhead for piece in pieces):
        found.append(Advice(who=Who.INSTALLER, text=Message("care.installer.overhead")))
    scratch = "reaction" if "reaction" in coats else "ground"
    found.append(Advice(who=Who.INSTALLER, text=Message(f"care.installer.{scratch}")))
    last = _last_kind(on_it[-1])
    found += [
        Advice(who=Who.CLIENT, text=Message("care.client.cure", wash=_days(wash), use=_days(use))),
        Advice(who=Who.CLIENT, text=Message(f"care.client.{last}")),
    ]
    if any(piece.site.wear is Wear.FLOOR for piece in pieces):
        found.append(Advice(who=Who.CLIENT, text=Message("care.client.floor")))
    if outside:
        found.append(Advice(who=Who.CLIENT, text=Message("care.client.outside")))
    if "reaction" in coats and last == "open":
        found.append(Advice(who=Who.CLIENT, text=Message("care.client.alive")))
    found.append(Advice(who=Who.CLIENT, text=Message("care.client.ask")))
    return tuple(found)


def _days(count: int) -> Message:
    return Message("span.days", count=count)


# Coats in the order in which they are seen, the last one first.
_ORDER = ("wax", "clear", "gel", "lime", "reaction", "veil", "pattern", "metal", "relief", "ground")


def _coats(steps: Sequence[Step]) -> tuple[str, ...]:
    there = {_coat(step) for step in steps}
    return tuple(coat for coat in _ORDER if coat in there)


def _coat(step: Step) -> str:
    """How a coat is touched up."""
    if step.technique == "limewash" or step.binder == "lime":
        return "lime"
    if step.technique == "gel_relief":
        return "gel"
    by_product = {
        Product.WAX: "wax",
        Product.CLEAR: "clear",
        Product.OXIDISER: "reaction",
        Product.METAL: "metal",
        Product.TEXTURE: "relief",
        Product.PLASTER: "relief",
        Product.CRACKLE: "relief",
    }
    if step.product in by_product:
        return by_product[step.product]
    by_kind = {Kind.BASE: "ground", Kind.VEIL: "veil", Kind.PATTERN: "pattern"}
    return by_kind.get(step.kind, "")


def _last_kind(step: Step) -> str:
    """What the client has before them: wax, a clear coat, an oil, or bare paint."""
    if step.product is Product.WAX:
        return "wax"
    if step.kind is Kind.PROTECT and step.technique != OPEN_COAT:
        return "clear"
    return "open"
