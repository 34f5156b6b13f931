"""The piece that gets the finish: what it is made of, how it is found, where it is, its wear."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from jartide.errors import PlanError
from jartide.plan.tables import keys_known, parsed, rows, shipped


class Shape(StrEnum):
    """How its area is worked out; see `areas`."""

    RECTANGLE = "rectangle"
    COLUMN = "column"
    TURNED = "turned"
    MOULDING = "moulding"


class Where(StrEnum):
    """Inside or outside."""

    INSIDE = "inside"
    OUTSIDE = "outside"


class Wear(StrEnum):
    """What it must stand."""

    WALL = "wall"
    TOUCHED = "touched"
    FLOOR = "floor"
    WORKTOP = "worktop"
    WET = "wet"


class Facing(StrEnum):
    """Which way an outside face looks; the sun stands on it at other hours."""

    NORTH = "north"
    EAST = "east"
    SOUTH = "south"
    WEST = "west"
    LEVEL = "level"


# Without a coat these wear through or take up water.
WORN = frozenset({Wear.TOUCHED, Wear.FLOOR, Wear.WORKTOP, Wear.WET})


@dataclass(frozen=True, slots=True, kw_only=True)
class Site:
    """One piece, as the painter describes it.

    Attributes
    ----------
    shape : RECTANGLE width x height; COLUMN diameter x height; TURNED profile length x mean
        girth; MOULDING girth of the profile x length. Width is the first, height the second.
    substrate, conditions : ids of surfaces.toml
    openings_m2 : to be taken off, of one piece
    relief_factor : how much more surface texture makes, 1 for a flat one
    overhead : it is looked up to and worked overhead
    behind_glass : painted on the back, seen through the glass
    beside : what stays beside it as it is, in the painter's words; "" for nothing
    """

    shape: Shape = Shape.RECTANGLE
    substrate: str = "primed_board"
    conditions: tuple[str, ...] = ()
    place: Where = Where.INSIDE
    wear: Wear = Wear.WALL
    facing: Facing = Facing.NORTH
    openings_m2: float = 0.0
    relief_factor: float = 1.0
    overhead: bool = False
    behind_glass: bool = False
    beside: str = ""

    @property
    def needs_protection(self) -> bool:
        """Whether bare paint would not last."""
        return self.place is Where.OUTSIDE or self.wear in WORN


@dataclass(frozen=True, slots=True, kw_only=True)
class PrepStep:
    """A technique that a substrate or condition asks for; low orders first."""

    technique: str
    order: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Substrate:
    """What a piece is made of, or how it is found; see surfaces.toml."""

    id: str
    name: str
    steps: tuple[PrepStep, ...] = ()
    primer: str = ""
    old_coating: bool = False
    nonporous: bool = False
    glossy: bool = False
    flexible: bool = False
    mineral: bool = False
    damp: bool = False
    limewash: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground:
    """What a site's substrate and conditions amount to together.

    `breathes` where a film over it would hold damp behind: limewash, and damp masonry.
    """

    substrate: Substrate
    steps: tuple[PrepStep, ...]
    primer: str
    old_coating: bool
    nonporous: bool
    glossy: bool
    flexible: bool
    mineral: bool
    breathes: bool


@lru_cache(maxsize=1)
def substrates() -> tuple[dict[str, Substrate], dict[str, Substrate], tuple[str, ...]]:
    """Return substrates and conditions by id, and primers from the weakest on."""
    name = "surfaces.toml"
    data = parsed(shipped(name), name)
    keys_known(data, {"substrate", "condition", "primer_strength"}, name)
    made = {one.id: one for one in rows(data, "substrate", Substrate, name)}
    found = {one.id: one for one in rows(data, "condition", Substrate, name)}
    return made, found, tuple(data["primer_strength"])


def ground_of(site: Site) -> Ground:
    """Return what must be done to a site before its first coat.

    Raises
    ------
    PlanError : when substrate or condition is not known; the known ones are named.
    """
    made, conditions, strength = substrates()
    if site.substrate not in made:
        raise PlanError("error.plan.substrate", name=site.substrate, known=", ".join(made))
    for name in site.conditions:
        if name not in conditions:
            raise PlanError("error.plan.condition", name=name, known=", ".join(conditions))
    parts = [made[site.substrate], *(conditions[name] for name in site.conditions)]
    steps: dict[str, PrepStep] = {}
    for part in parts:
        for step in part.steps:
            kept = steps.get(step.technique)
            if kept is None or step.order < kept.order:
                steps[step.technique] = step
    return Ground(
        substrate=parts[0],
        steps=tuple(sorted(steps.values(), key=lambda step: step.order)),
        primer=max((p.primer for p in parts), key=strength.index),
        old_coating=any(p.old_coating for p in parts),
        nonporous=any(p.nonporous for p in parts),
        glossy=any(p.glossy for p in parts),
        flexible=any(p.flexible for p in parts),
        mineral=any(p.mineral for p in parts),
        breathes=any(p.limewash for p in parts)
        or (any(p.damp for p in parts) and any(p.mineral for p in parts)),
    )
