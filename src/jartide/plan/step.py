"""A plan: the steps of a lay-up in their order, each with all that is known of it."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field, replace
from enum import StrEnum

from jartide.plan.fact import Facts
from jartide.plan.tables import told
from jartide.plan.technique import Kind, Product, Technique
from jartide.wording import Message


def new_id() -> str:
    """Return a name for a step that no other has."""
    return str(uuid.uuid4())


class Outcome(StrEnum):
    """How a test came out."""

    OPEN = ""
    PASSED = "passed"
    FAILED = "failed"


@dataclass(frozen=True, slots=True, kw_only=True)
class SetAside:
    """A finding that the painter lets stand, by its rule, and why."""

    rule: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One pass, test or piece of preparation.

    Attributes
    ----------
    name, how, why : in words, with the reading's measures in them
    layer : id of the layer it makes or takes its colour from; "" for none
    zone : the part of the piece it is for; "" for all of it
    only : ids of the surfaces it is for; all of them when empty
    product_name : the tin the painter has named; "" for any of its kind
    tool_mm : size of the tool, from the measured pattern
    direction_deg : along which it is worked
    carrier, water : parts to one part of the mix
    laid_share : of the surface it goes onto; cover_left what is still seen of it afterwards
    film_um, label_film_um : wet film laid, and the one that `dry_h` holds for
    wet : laid into the step before while that is wet
    note : the painter's own words, kept with it on the sheet
    quiet : findings the painter has set aside, by rule
    reasons : why, where one was typed; a stop wants one
    """

    id: str = field(default_factory=new_id)
    technique: str
    name: Message
    kind: Kind
    product: Product = Product.NONE
    binder: str = ""
    product_name: str = ""
    layer: str = ""
    zone: str = ""
    only: tuple[str, ...] = ()
    tool: str = ""
    tool_mm: float | None = None
    direction_deg: float | None = None
    carrier: float = 0.0
    water: float = 0.0
    coats: int = 1
    laid_share: float = 1.0
    cover_left: float | None = None
    speed_m2_h: float
    open_min: float = 0.0
    dry_h: float = 0.0
    film_um: float = 0.0
    label_film_um: float = 0.0
    latest_h: float = 0.0
    spreading_m2_per_l: float = 0.0
    wet: bool = False
    joins: bool = True
    how: tuple[Message, ...] = ()
    why: Message | None = None
    outcome: Outcome = Outcome.OPEN
    note: str = ""
    quiet: tuple[str, ...] = ()
    reasons: tuple[SetAside, ...] = ()

    @property
    def lays(self) -> bool:
        """Whether it leaves a coat behind."""
        return self.spreading_m2_per_l > 0 and self.product not in (
            Product.NONE,
            Product.CLEANER,
            Product.OXIDISER,
            Product.RESIST,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """One choice between schools."""

    group: str
    choice: str


def made_step(
    technique: Technique,
    facts: Facts,
    *,
    layer: str = "",
    why: Message | None = None,
    wet: bool = False,
    share: float | None = None,
    direction_deg: float | None = None,
    tool_mm: float | None = None,
) -> Step:
    """Return a step as the technique table has it, with what a reading says of it.

    `share` is the layer's cover; without one a technique that follows the cover lays on all.
    """
    laid = (share or 1.0) if technique.laid == "cover" else float(technique.laid)
    how = tuple(m for text in technique.how if (m := told(text, facts)) is not None)
    named: Facts = {"layer": Message("plan.any_layer"), "sheen": Message("plan.any_sheen"), **facts}
    name = told(technique.name, named)
    return Step(
        technique=technique.id,
        name=name or Message(technique.id),
        kind=technique.kind,
        product=technique.product,
        binder=technique.binder,
        layer=layer,
        tool=technique.tool,
        tool_mm=tool_mm,
        direction_deg=direction_deg if technique.axis else None,
        carrier=technique.carrier,
        water=technique.water,
        coats=technique.coats,
        laid_share=min(max(laid, 0.01), 1.0),
        cover_left=share,
        speed_m2_h=technique.speed_m2_h,
        open_min=technique.open_min,
        dry_h=technique.dry_h,
        film_um=technique.film_um,
        label_film_um=technique.film_um,
        latest_h=technique.latest_h,
        spreading_m2_per_l=technique.spreading_m2_per_l,
        wet=wet,
        joins=technique.joins,
        how=how,
        why=why,
    )


def with_spreading(step: Step, m2_per_l: float) -> Step:
    """Return a step laid thicker or thinner: the film follows the spreading rate."""
    film = step.film_um * step.spreading_m2_per_l / m2_per_l
    return replace(step, spreading_m2_per_l=m2_per_l, film_um=film)


def chains(steps: tuple[Step, ...]) -> tuple[tuple[int, ...], ...]:
    """Return the numbers of the steps that are laid wet into each other, in order."""
    found: list[list[int]] = []
    for number, step in enumerate(steps):
        if step.wet and found:
            found[-1].append(number)
        else:
            found.append([number])
    return tuple(tuple(chain) for chain in found)
