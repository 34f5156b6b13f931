"""What the rules can ask of a step and of a piece."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jartide.plan.beside import Beside, worst
from jartide.plan.binder import OIL_CURES_H, is_over_thinned
from jartide.plan.facts import apart_deg
from jartide.plan.propose import DUSTY, Piece, begins_pattern
from jartide.plan.protection import FRAGILE, OPEN_COAT
from jartide.plan.site import Where, ground_of, substrates
from jartide.plan.step import Step
from jartide.plan.technique import Kind, Product, Technique, Techniques

STEP_FACTS = {
    "technique", "kind", "product", "binder", "wet", "rewets", "label_place", "cleaner", "cured",
    "wet_product", "last_protect", "last_colour", "first_coat", "first_pattern", "primer_ok",
    "over_thinned", "watered", "seals", "fragile", "makes_dust", "off_grain", "steel_wool", "slow",
    "chain_open", "short_cure", "last_of_technique", "lays", "forms_film", "sealed_in",
    "primes_itself", "doubtful", "label_wear",
}  # fmt: skip
PIECE_FACTS = {
    "place", "wear", "needs_protection", "flexible", "glossy", "slippery", "waxed", "parts",
    "several", "dark", "family", "old_coating", "tall", "overhead", "board", "wants_primer",
    "mineral", "breathes", "beside",
}  # fmt: skip

_COLOUR = (Kind.BASE, Kind.TEXTURE, Kind.PATTERN, Kind.VEIL)
_WET = {Product.PAINT, Product.GLAZE, Product.MEDIUM, Product.CLEAR, Product.METAL, Product.PRIMER}
# Longer than this a wet chain waits for its next step in vain.
_SLOW_H = 6.0
_OFF_GRAIN_DEG = 10.0
# Above this, work needs something to stand on.
_TALL_MM = 2400.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """What a named tin's label says, as far as rules ask it; None where it was not entered."""

    place: str | None = None
    thinner_limit: float | None = None
    cure_days: float | None = None
    rewets: str | None = None
    primer_in: bool | None = None
    clear_in: bool | None = None
    stands_wear: bool | None = None
    doubt: str | None = None


def _yes(holds: bool) -> str:
    return "yes" if holds else "no"


def piece_facts(
    piece: Piece, family: str, dark: bool, beside: Sequence[Beside] = ()
) -> dict[str, str]:
    """Return what the rules can ask of a piece; `beside` are the colours read of what stays."""
    site, ground = piece.site, ground_of(piece.site)
    return {
        "place": site.place,
        "wear": site.wear,
        "needs_protection": _yes(site.needs_protection and not piece.board),
        "flexible": _yes(ground.flexible),
        "glossy": _yes(ground.glossy and not piece.board),
        "slippery": _yes((ground.glossy or ground.nonporous) and site.substrate != "metal"),
        "waxed": _yes("waxed" in site.conditions),
        "parts": _yes("parts" in site.conditions),
        "several": _yes(piece.count > 1 and not piece.board),
        "dark": _yes(dark),
        "family": family,
        "old_coating": _yes(ground.old_coating),
        "tall": _yes(piece.height_mm > _TALL_MM),
        "overhead": _yes(site.overhead),
        "board": _yes(piece.board),
        "mineral": _yes(ground.mineral and not piece.board),
        "breathes": _yes(ground.breathes and not piece.board),
        "wants_primer": _yes(bool(ground.primer) and not piece.board),
        "beside": "" if piece.board else worst(beside, expected=bool(site.beside)),
    }


def step_facts(
    steps: tuple[Step, ...],
    piece: Piece,
    family: str,
    known: Techniques,
    labels: Mapping[str, Label],
    use_in_days: float | None = None,
) -> list[dict[str, str]]:
    """Return what the rules can ask of each step of one piece.

    `use_in_days` is how long after the last coat the piece will be used; None if nobody said.
    """
    coats = [s for s in steps if s.kind in _COLOUR]
    protects = [s for s in steps if s.kind is Kind.PROTECT and s.technique != "barrier"]
    first = next((s for s in steps if s.lays and s.kind in (*_COLOUR, Kind.PROTECT)), None)
    pattern = next((s for s in steps if begins_pattern(s)), None)
    grain = next((s.direction_deg for s in steps if s.technique == "grain_drag"), None)
    last_by = {step.technique: step.id for step in steps}
    found = []
    for number, step in enumerate(steps):
        label = labels.get(step.product_name, Label())
        technique = known.get(step.technique)
        last = bool(protects) and step is protects[-1]
        off = 0.0
        if grain is not None and step.direction_deg is not None and family == "wood":
            off = apart_deg(step.direction_deg, grain)
        found.append(
            {
                "technique": step.technique,
                "kind": step.kind,
                "product": step.product,
                "binder": step.binder,
                "wet": _yes(step.wet),
                "rewets": _yes(_rewets(step, technique, label)),
                "lays": _yes(step.lays),
                "forms_film": _yes(
                    step.product is Product.CLEAR and step.technique not in (OPEN_COAT, "barrier")
                ),
                "sealed_in": _yes(label.clear_in is True or step.technique == "limewash"),
                "primes_itself": _yes(label.primer_in is True),
                "doubtful": _yes(_is_doubtful(label, piece)),
                "label_place": label.place or "",
                "label_wear": _yes(label.stands_wear is True),
                "cleaner": "bleach" if step.technique == "wash_mould" else "",
                "cured": _yes(step.binder != "oil" or step.dry_h >= OIL_CURES_H),
                "wet_product": _yes(step.lays and step.product in _WET),
                "last_protect": _yes(last),
                "last_colour": _yes(bool(coats) and step is coats[-1]),
                "first_coat": _yes(step is first),
                "first_pattern": _yes(step is pattern),
                "primer_ok": _yes(_suits(step, piece)),
                "over_thinned": _yes(is_over_thinned(step, label.thinner_limit)),
                "watered": _yes(step.water > 0),
                "seals": _yes(step.lays and step.product is not Product.METAL),
                "fragile": _yes(step.technique in FRAGILE),
                "makes_dust": _yes(step.technique in DUSTY),
                "off_grain": _yes(off > _OFF_GRAIN_DEG),
                "steel_wool": _yes("steel wool" in step.tool.casefold()),
                "slow": _yes(_is_slow(steps, number)),
                "chain_open": _yes(_chain_open(steps, number)),
                "short_cure": _yes(
                    last
                    and use_in_days is not None
                    and use_in_days < (label.cure_days or CURE_DAYS.get(step.binder, 21.0))
                ),
                "last_of_technique": _yes(last_by[step.technique] == step.id),
            }
        )
    return found


# Until it can be used as it was meant to be, by binder; longer on what does not breathe.
CURE_DAYS = {"water": 21.0, "oil": 28.0, "spirit": 7.0, "lime": 28.0, "wax": 21.0}


def _rewets(step: Step, technique: Technique | None, label: Label) -> bool:
    """Whether water takes it up again; the tin says so before the technique does."""
    if not step.lays or step.kind is Kind.PROTECT:
        return False
    if label.rewets is not None:
        return label.rewets == "water"
    return technique is not None and technique.rewets and step.binder == "water"


def _is_doubtful(label: Label, piece: Piece) -> bool:
    """Whether nobody knows how a tin does here: old, lumpy, or used where its label does not go."""
    off_place = label.place == "inside" and piece.site.place is Where.OUTSIDE
    return label.doubt is not None or off_place


def _suits(step: Step, piece: Piece) -> bool:
    """Whether a primer is the one the piece wants, or a stronger one."""
    if step.kind is not Kind.PRIME:
        return False
    wanted = ground_of(piece.site).primer
    strength = substrates()[2]
    if step.technique not in strength:
        return True  # a primer of the painter's own
    # Metal and plastic want their own; elsewhere a stronger one serves as well.
    if wanted in ("primer_metal", "primer_plastic", "primer_alkali"):
        return step.technique in (wanted, "primer_blocking", "primer_bonding")
    return strength.index(step.technique) >= strength.index(wanted)


def _before(steps: tuple[Step, ...], number: int) -> list[Step]:
    """The steps of a wet chain before one of them, the first one first."""
    chain: list[Step] = []
    for earlier in reversed(steps[:number]):
        chain.insert(0, earlier)
        if not earlier.wet:
            break
    return chain


def _chain_open(steps: tuple[Step, ...], number: int) -> bool:
    """Whether something of the chain is still wet: of what does not lay, the film below counts."""
    if not steps[number].wet:
        return True
    return any(step.lays and step.open_min > 0 for step in _before(steps, number))


def _is_slow(steps: tuple[Step, ...], number: int) -> bool:
    """Whether it is laid into what takes long to set; oil is open for as long as it is slow."""
    return steps[number].wet and any(
        s.dry_h > _SLOW_H and s.binder != "oil" for s in _before(steps, number)
    )
