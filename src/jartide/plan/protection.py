"""What goes over the finish: clear coats or wax, by wear, place and the sheen that was read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from jartide.plan.binder import in_oil
from jartide.plan.fact import Facts
from jartide.plan.school import chosen
from jartide.plan.site import Site, Wear, Where, ground_of
from jartide.plan.step import Step, made_step
from jartide.plan.technique import Kind, Product, Techniques, techniques
from jartide.wording import Message

_MATT = ("dead matt", "matt", "eggshell")
# The one protective coat that forms no film and lets vapour through.
OPEN_COAT = "clear_open"
# Flakes, cracks and relief that a brush would lift.
FRAGILE = frozenset({"peel", "crackle_top", "crack_tone", "resist_flakes", "crackle_paste"})
# What of a metal look must stay open, if nothing wears it, for the metal to stay alive.
_METALS = frozenset({"verdigris", "bronze"})


def protection(
    steps: tuple[Step, ...],
    site: Site,
    family: str,
    sheen: str,
    wanted: Mapping[str, str] | None = None,
    *,
    only: tuple[str, ...] = (),
    known: Techniques | None = None,
) -> tuple[Step, ...]:
    """Return the coats that protect a finish, or none where it may stay open.

    `sheen` is one of the seven words. A clear coat goes over fragile relief only after a gel
    coat has been dabbed on.
    """
    known = known or techniques()
    choice = chosen(dict(wanted or {}))["last"]
    words: Facts = {"sheen": Message(f"plan.sheen.{sheen.replace(' ', '_').replace('-', '_')}")}
    matt = sheen in _MATT
    hard = site.wear in (Wear.FLOOR, Wear.WORKTOP, Wear.WET)
    found: list[str] = []
    open_ground = ground_of(site).breathes or any(step.technique == "limewash" for step in steps)
    if any(step.technique in FRAGILE for step in steps) and not open_ground:
        found.append("gel_relief")
    if open_ground:
        found.append(OPEN_COAT)
    elif site.place is Where.OUTSIDE:
        found.append("clear_outside")
    elif hard:
        found.append("clear_floor")
    elif choice == "wax":
        if any(step.product is Product.OXIDISER for step in steps):
            found.append("clear_matt")
        found.append("wax_last")
    elif family in _METALS and matt and not site.needs_protection and not found:
        found = []  # left open; the painter may add a clear coat
    elif found and matt:
        pass  # the gel coat is enough
    else:
        found.append("clear_matt" if matt else "clear_gloss")
    why = Message(f"plan.wear.{site.wear}" if site.place is Where.INSIDE else "plan.wear.outside")
    made = [replace(made_step(known[one], words, why=why), only=only) for one in found]
    if any(step.binder == "oil" and step.kind in (Kind.PATTERN, Kind.VEIL) for step in steps):
        # Water-borne clear over oil that has not cured wrinkles: an oil clear follows sooner.
        made = [in_oil(step) if step.product is Product.CLEAR else step for step in made]
    return tuple(made)
