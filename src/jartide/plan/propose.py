"""The whole plan of a finish: preparation, layers, protection, in an order no rule forbids."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from jartide.errors import PlanError
from jartide.plan.behind_glass import CHOICES, behind_glass
from jartide.plan.binder import OIL_CURES_H, in_oil, thinned_with_carrier
from jartide.plan.facts import read_facts
from jartide.plan.layup import Own, preferred, propose_layers
from jartide.plan.layup_table import LayUpTable, layup_table
from jartide.plan.preparation import preparation
from jartide.plan.protection import protection
from jartide.plan.school import USUAL, WAY
from jartide.plan.site import Site, ground_of
from jartide.plan.step import Step, made_step
from jartide.plan.technique import Kind, Product, techniques
from jartide.reading.result import Reading
from jartide.wording import Message

# Laid without rubbing: they don't drag what water takes up again.
_PRESSED = frozenset({"stamp", "stencil", "spray_tone", "spatter"})
# Techniques that leave dust behind.
DUSTY = frozenset(
    {
        "sand_key",
        "sand_smooth",
        "sand_back",
        "scrape",
        "remove_rust",
        "brush_salts",
        "trowel_arcs",
        "nibs_off",
        "scuff",
    }
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """A surface the finish goes on, or a board.

    Attributes
    ----------
    id : of the surface or board
    width_mm, height_mm : of one; see `Shape` for what they are on turned work
    count : how many of them
    board : whether it is a test board, which needs no preparation of the building
    """

    id: str
    name: str
    width_mm: float
    height_mm: float
    count: int = 1
    site: Site = field(default_factory=Site)
    board: bool = False


def propose(
    reading: Reading,
    pieces: Sequence[Piece],
    wanted: Mapping[str, str] | None = None,
    own: Own | None = None,
) -> tuple[Step, ...]:
    """Return the plan's steps for a reading on its pieces.

    Steps that only some pieces need (their own primer, a harder clear coat) carry those
    pieces' ids. Rules that ask for a step on the way (a test, a barrier) are kept from the
    start.

    Raises
    ------
    PlanError : when there is no piece, or a substrate, school or table can't be used.
    """
    surfaces = [piece for piece in pieces if not piece.board]
    if not surfaces:
        raise PlanError("error.plan.no_surface")
    own = own or Own()
    behind = any(piece.site.behind_glass for piece in surfaces)
    if behind:
        wanted = {**(wanted or {}), **CHOICES}
    known = techniques(own.techniques)
    wanted = preferred(reading.family, wanted, own)
    facts = read_facts(reading)
    # What gives way, or is worn, of one piece decides for all: they are to look alike.
    flexible = any(ground_of(piece.site).flexible for piece in surfaces)
    place = frozenset({"flexible"} if flexible else ())
    layers = propose_layers(reading, wanted, own, place)
    if any(piece.site.needs_protection for piece in surfaces):
        layers = tuple(thinned_with_carrier(step) for step in layers)
    care = tuple(step for step in layers if step.kind is Kind.CARE)
    layers = tuple(step for step in layers if step.kind is not Kind.CARE)
    layers = _with_barriers(layers, own)
    first: list[Step] = []
    last: list[Step] = []
    for group in _alike([p for p in surfaces if p.site.beside], key=lambda p: p.site.beside):
        why = Message("plan.beside", what=group[0].site.beside)
        only = () if len(group) == len(surfaces) else tuple(p.id for p in group)
        first.append(replace(made_step(known["read_beside"], facts.measures, why=why), only=only))
    for group in _alike(surfaces, key=_prepared_alike):
        only = () if len(group) == len(surfaces) else tuple(p.id for p in group)
        first += preparation(group[0].site, sum(p.count for p in group), only=only, known=known)
    many = [piece for piece in surfaces if piece.count > 1]
    if many:
        only = () if len(many) == len(surfaces) else tuple(p.id for p in many)
        out = replace(made_step(known["set_out"], facts.measures), only=only)
        layers = _set_out_on_ground(layers, out)
    # What nobody said of the sheen is what such a finish usually has.
    sheen = reading.sheen or _table_of(reading, wanted, own).sheen
    for group in _alike(surfaces, key=_protected_alike):
        only = () if len(group) == len(surfaces) else tuple(p.id for p in group)
        last += protection(
            layers, group[0].site, reading.family, sheen, wanted, only=only, known=known
        )
    # A matt coat over deep tones, and what is seen from below, is tried where nobody looks.
    overhead = any(piece.site.overhead for piece in surfaces)
    if overhead or (facts.dark and any(step.technique == "clear_matt" for step in last)):
        board = any(piece.board for piece in pieces)
        first.append(
            _all_passes(made_step(known["hidden_spot"], facts.measures), (*layers, *last), board)
        )
    layers = _cured_under_wax(layers, tuple(last))
    steps = (*first, *layers, *last, *care)
    if behind:
        # Turned round, other coats follow those that water takes up again.
        steps = _grounds_like_glazes(_with_barriers(behind_glass(steps), own))
    return steps


def _table_of(reading: Reading, wanted: Mapping[str, str], own: Own) -> LayUpTable:
    return layup_table(reading.family, own.family(reading.family), wanted.get(WAY, USUAL))


def _cured_under_wax(layers: tuple[Step, ...], last: tuple[Step, ...]) -> tuple[Step, ...]:
    """Oil right below a wax cures first: the wax's solvent would soften it."""
    coats = [n for n, step in enumerate(layers) if step.lays]
    waxed = bool(last) and last[0].product is Product.WAX
    if not waxed or not coats or layers[coats[-1]].binder != "oil":
        return layers
    hours = max(layers[coats[-1]].dry_h, OIL_CURES_H)
    return tuple(
        replace(step, dry_h=hours) if n == coats[-1] else step for n, step in enumerate(layers)
    )


def _all_passes(trial: Step, steps: tuple[Step, ...], board: bool) -> Step:
    """A trial of all passes takes as long as they do; on a sample board it holds nothing up."""
    if board:
        return replace(trial, dry_h=0.0)
    return replace(trial, dry_h=sum(step.dry_h * step.coats for step in steps if step.lays))


def _grounds_like_glazes(steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """Behind glass the ground goes over the glazes: over oil it is oil as well."""
    oil = False
    found = []
    for step in steps:
        oil = oil or (step.binder == "oil" and step.kind in (Kind.PATTERN, Kind.VEIL))
        found.append(in_oil(step) if oil and step.lays else step)
    return tuple(found)


def _prepared_alike(piece: Piece) -> tuple:
    return (piece.site.substrate, tuple(sorted(piece.site.conditions)))


def _protected_alike(piece: Piece) -> tuple:
    return (piece.site.place, piece.site.wear, ground_of(piece.site).breathes)


def _alike(pieces: list[Piece], key: Callable[[Piece], Hashable]) -> list[list[Piece]]:
    groups: dict[Hashable, list[Piece]] = {}
    for piece in pieces:
        groups.setdefault(key(piece), []).append(piece)
    return list(groups.values())


def begins_pattern(step: Step) -> bool:
    """Whether something of the pattern is laid on by a step, be it to be washed off again."""
    return step.kind is Kind.PATTERN and step.product is not Product.NONE


def _set_out_on_ground(layers: tuple[Step, ...], out: Step) -> tuple[Step, ...]:
    """Axis and joints are marked on the last coat that covers all, before the pattern begins."""
    bases = [number for number, step in enumerate(layers) if step.kind is Kind.BASE]
    first = next((n for n, step in enumerate(layers) if begins_pattern(step)), len(layers))
    place = max([n + 1 for n in bases if n < first], default=0)
    while place < len(layers) and layers[place].wet:
        place += 1  # never into a chain that is laid wet
    return (*layers[:place], out, *layers[place:])


def _with_barriers(steps: tuple[Step, ...], own: Own) -> tuple[Step, ...]:
    """Put a barrier between a coat that water takes up again and the next wet one."""
    known = techniques(own.techniques)
    found: list[Step] = []
    soluble = False
    for step in steps:
        wets = step.binder == "water" and step.product in (
            Product.GLAZE,
            Product.PAINT,
            Product.CLEAR,
        )
        pressed = step.technique in _PRESSED
        if soluble and wets and not (step.wet or pressed) and step.kind is not Kind.PROTECT:
            # What follows it begins on its own again.
            found.append(made_step(known["barrier"], {}))
            soluble = False
        found.append(step)
        if step.kind is Kind.PROTECT:
            soluble = False
        if known[step.technique].rewets and step.binder == "water":
            soluble = True
    return tuple(found)


def for_piece(steps: Sequence[Step], piece: Piece) -> tuple[Step, ...]:
    """Return the steps that one piece gets: a board needs no preparation of the building."""
    found: list[Step] = []
    for step in steps:
        if step.only and piece.id not in step.only:
            continue
        if piece.board and step.kind in (Kind.SET_OUT, Kind.TEST, Kind.PREPARE, Kind.PRIME):
            continue
        if piece.board and step.technique in (
            "wash_down",
            "wash_mould",
            "rinse_clear",
            "keep_base",
        ):
            continue
        if step.technique == "dust_off" and not any(one.technique in DUSTY for one in found):
            continue  # nothing has made dust on this piece
        found.append(step)
    # A chain whose first step this piece leaves out begins with what is left of it.
    if found and found[0].wet:
        found[0] = replace(found[0], wet=False)
    return tuple(found)
