"""A lay-up proposed from a reading: what to do for each layer, in paint order, and why.

Not a fixed text: only layers that were read get steps, sizes and directions are the measured
ones, and the painter's schools decide between ways.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from jartide.figures import figure
from jartide.plan.binder import in_oil
from jartide.plan.fact import Fact, Facts, Said
from jartide.plan.facts import CROSSED_DEG, ReadFacts, apart_deg, read_facts, zone_facts
from jartide.plan.layup_table import LayUpStep, check_table, layup_table
from jartide.plan.school import USUAL, WAY, chosen
from jartide.plan.step import Step, made_step
from jartide.plan.tables import told
from jartide.plan.technique import Kind, Product, Technique, Techniques, techniques
from jartide.reading.layers.position import sits, times_as_much
from jartide.reading.result import LINE_ROLES, Edge, Layer, Reading, Role, Sits
from jartide.reading.zones import ZoneKind
from jartide.wording import Message

# Layers that cover more are better laid over all and lifted off than laid on, if nobody chose.
_MORE_THAN_HALF = 0.5
# A zone that differs by more than this, points of its area, is told apart.
_ZONE_DIFFERS = 0.10
# Parts of water to one of carrier.
_WATER = 0.3
# Of techniques that name no range of their own.
_TOOLS_MM = (1.0, 300.0)
# A tool so many times as large as usual does as much more, within these bounds. What follows a
# line or a speck is no faster with a larger one.
_FASTER = (0.25, 2.0)
_PACED_BY_TOOL = frozenset({"patch", "cell", "grain", "thread", "ridge"})
# Threads within this of plumb and level hang straight: nobody drags a wall at 89 degrees.
_PLUMB_DEG = 5.0

# A layer that is a film over the one below is glazed on, whatever the family lays otherwise.
_FILM = (
    LayUpStep(
        technique="thin_over",
        roles=tuple(role.value for role in Role if role is not Role.GROUND),
        why="Its tone lies over the one below as a thin film.",
    ),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Own:
    """The painter's own tables, as texts; "" for the shipped ones. `families` by name."""

    techniques: str = ""
    families: tuple[tuple[str, str], ...] = ()

    def family(self, name: str) -> str:
        """Return the painter's own lay-up of a family, or ""."""
        return dict(self.families).get(name, "")


def propose_layers(
    reading: Reading,
    wanted: Mapping[str, str] | None = None,
    own: Own | None = None,
    place: frozenset[str] = frozenset(),
) -> tuple[Step, ...]:
    """Return the steps that make what was read, base up; without preparation and protection.

    Parameters
    ----------
    wanted : the painter's choice for a school's group, by its id
    own : the painter's own tables
    place : what of the piece a lay-up asks for: "flexible"

    Raises
    ------
    PlanError : when a school or choice is not known, or a table has a fault.
    """
    own = own or Own()
    wanted = preferred(reading.family, wanted, own)
    facts = read_facts(reading)
    steps = list(_family_steps(facts, wanted, own, place))
    steps = _with_places(_with_zones(steps, reading), reading)
    for number, zone in enumerate(reading.zones):
        if zone.kind == ZoneKind.OTHER and zone.layers and zone.family != reading.family:
            steps += _other_family(reading, number, wanted, own, place)
    # What is put by is put by once, when everything is mixed.
    kept = [s for s in steps if s.kind is Kind.CARE]
    return tuple([s for s in steps if s.kind is not Kind.CARE] + kept[:1])


def preferred(family: str, wanted: Mapping[str, str] | None, own: Own) -> dict[str, str]:
    """Return the painter's choices, and where there are none those that the lay-up prefers."""
    wanted = dict(wanted or {})
    table = layup_table(family, own.family(family), wanted.get(WAY, USUAL))
    return {**dict(table.prefers), **wanted}


def _family_steps(
    facts: ReadFacts, wanted: dict[str, str], own: Own, place: frozenset[str]
) -> list[Step]:
    known = techniques(own.techniques)
    table = layup_table(facts.family, own.family(facts.family), wanted.get(WAY, USUAL))
    check_table(table, known)
    choices = chosen(wanted)
    flags = set(facts.flags) | _crossing(facts, choices) | place
    if "reveal" in wanted:
        flags.add("reveal chosen")
    if flags & {"reveal chosen", "worn"}:
        flags.add("worn or chosen")
    steps: list[Step] = []
    for line in table.before:
        if _holds(line, flags, choices, steps):
            _lay(steps, line, None, facts, known)
    for layer in facts.layers:
        own_flags = flags | _layer_flags(layer, facts, steps)
        own_choices = _by_cover(layer, choices, wanted)
        for line in _FILM if "film" in own_flags else table.layer:
            laid = {"laid"} if any(step.layer == layer.id for step in steps) else set()
            if layer.role in line.roles and _holds(line, own_flags | laid, own_choices, steps):
                if line.layer:
                    _lay_again(steps, line, facts, known)
                else:
                    _lay(steps, line, layer, facts, known)
    for line in table.after:
        if _holds(line, flags, choices, steps):
            if line.layer:
                _lay_again(steps, line, facts, known)
            else:
                _lay(steps, line, None, facts, known)
    if choices["thinning"] == "carrier_water" and "thinning" in table.schools:
        steps = [_watered(step) for step in steps]
    if choices["glaze_binder"] == "oil" and "glaze_binder" in table.schools:
        touched = (Kind.PATTERN, Kind.VEIL)
        steps = [in_oil(step) if step.kind in touched and step.lays else step for step in steps]
    return steps


def _crossing(facts: ReadFacts, choices: dict[str, str]) -> set[str]:
    way = choices["crossing"]
    crossed = way == "crossed" or (way == "read" and "two ways" in facts.flags)
    return {"crossed"} if crossed else set()


def _by_cover(layer: Layer, choices: dict[str, str], wanted: dict[str, str]) -> dict[str, str]:
    """Where nobody chose, a layer of more than half is lifted off and a lesser one laid on."""
    if "mottle" in wanted:
        return choices
    more = (layer.coverage.value or 0.0) > _MORE_THAN_HALF
    return {**choices, "mottle": "off" if more else "on"}


def _layer_flags(layer: Layer, facts: ReadFacts, steps: list[Step]) -> set[str]:
    """What a layer is among the others: its tone beside the ground, its turn, how it meets them."""
    lines = layer.role in LINE_ROLES
    over = [other for other in facts.layers[1:] if (other.role in LINE_ROLES) == lines]
    flags = set()
    if facts.layers[1:2] and facts.layers[1].id == layer.id:
        flags.add("first layer")
    if [one.id for one in facts.layers if one.role is not Role.SPECK][-1:] == [layer.id]:
        flags.add("last layer")
    if "first layer" in flags or "last layer" not in flags:
        flags.add("blends")
    if over and over[0].id == layer.id:
        flags.add("first of role")
    if over and over[-1].id == layer.id:
        flags.add("last of role")
    edge = facts.edge_of(layer.id)
    if edge is not None and edge.edge is not Edge.CLEAR:
        flags.add("film" if edge.edge is Edge.FILM else "blended")
    if layer.shown_lab[0] > facts.layers[0].shown_lab[0]:
        flags.add("lighter")
    if not any(step.kind is Kind.PATTERN for step in steps):
        flags.add("first pattern")
    return flags


def _holds(line: LayUpStep, flags: set[str], choices: dict[str, str], steps: list[Step]) -> bool:
    done = {step.technique for step in steps}
    for fact in line.when:
        name = fact.removeprefix("not ")
        if "=" in name:
            group, choice = name.split("=", 1)
            holds = choices.get(group) == choice
        elif name.startswith("done "):
            holds = name.removeprefix("done ") in done
        else:
            holds = name in flags
        if holds == fact.startswith("not "):
            return False
    return True


def _lay_again(steps: list[Step], line: LayUpStep, facts: ReadFacts, known: Techniques) -> None:
    """Lay a tone that may lie already: with a reason, and with what was kept back for it."""
    layer = facts.layer(line.layer)
    before = [
        number
        for number, step in enumerate(steps)
        if layer is not None and step.layer == layer.id and step.lays
    ]
    if before and not line.again:
        return
    share = None
    cover = None if layer is None else layer.coverage.value
    of_base = bool(before) and steps[before[-1]].kind is Kind.BASE
    if before and line.part and cover is not None and not of_base:
        share = line.part * cover
        for number in before:
            steps[number] = _kept_back(steps[number], line.part, share)
    _lay(steps, line, layer, facts, known, share=share)


def _kept_back(step: Step, part: float, share: float) -> Step:
    """A pass that leaves part of its tone for a later one."""
    left = None if step.cover_left is None else step.cover_left * (1 - part)
    laid = step.laid_share if step.laid_share >= 1 else step.laid_share * (1 - part)
    said = Message("plan.kept_back", share=f"{share:.0%}")
    return replace(step, cover_left=left, laid_share=max(laid, 0.01), how=(*step.how, said))


def _tool_mm(technique: Technique, size: float | None) -> float | None:
    """The tool for a measure of the pattern, within the technique's own range."""
    if size is None:
        return None
    least, most = technique.tool_range_mm or _TOOLS_MM
    return round(min(max(technique.size_factor * size, least), most), 1)


def _paced(step: Step, technique: Technique) -> Step:
    """A step as fast as its tool is large: a hand dabs and pulls about as often with any."""
    if step.tool_mm is None or not technique.tool_range_mm or technique.size not in _PACED_BY_TOOL:
        return step
    usual = math.sqrt(technique.tool_range_mm[0] * technique.tool_range_mm[1])
    faster = min(max(step.tool_mm / usual, _FASTER[0]), _FASTER[1])
    return replace(step, speed_m2_h=round(step.speed_m2_h * faster, 2))


def _direction(technique: Technique, measures: Facts, facts: ReadFacts) -> float | None:
    """Along which a technique is worked, degrees 0..180."""
    degrees = measures.get("degrees")
    main = degrees.value if isinstance(degrees, Fact) else facts.direction_deg
    if technique.along in ("warp", "weft"):
        thread = measures.get(technique.along)
        if isinstance(thread, Fact):
            return _plumb(thread.value % 180)
        return 90.0 if technique.along == "warp" else 0.0
    if technique.along in ("first", "cross"):
        first = facts.strokes[0] if facts.strokes else facts.direction_deg
        first = main if first is None else first
        if technique.along == "first" or first is None:
            return first
        cross = facts.measures.get("cross")
        read = [*facts.strokes[1:], *([cross.value] if isinstance(cross, Fact) else [])]
        across = [way for way in read if apart_deg(way, first) >= CROSSED_DEG]
        return (across[0] if across else first + 90) % 180
    return main


def _plumb(degrees: float) -> float:
    for straight in (0.0, 90.0, 180.0):
        if abs(degrees - straight) <= _PLUMB_DEG:
            return straight % 180
    return degrees


def _is_open(steps: list[Step]) -> bool:
    """Whether something of the last chain is still wet."""
    for step in reversed(steps):
        if step.lays and step.open_min > 0:
            return True
        if not step.wet:
            return False
    return False


def _lay(
    steps: list[Step],
    line: LayUpStep,
    layer: Layer | None,
    facts: ReadFacts,
    known: Techniques,
    share: float | None = None,
) -> None:
    measures = facts.measures if layer is None else facts.of(layer.id)
    technique = known[line.technique]
    # Said of a face, a share makes sense only where it is a layer of its own that is laid.
    own = layer is not None and bool(line.roles) and not line.layer
    if layer is not None and own:
        share = layer.coverage.value
    size = _own_size(technique.size, layer, measures) or facts.sizes.get(technique.size)
    wet = _is_open(steps) and any(
        way == "always" or steps[-1].technique == way.removeprefix("after ") for way in line.wet
    )
    if technique.laid == "cover" and share is None and not own and layer is not None:
        # Touched on at the end: lights and touches lie on little.
        share = min(0.15, max(layer.coverage.value or 0.0, 0.02))
        measures = {**measures, "share": Fact(share, Said.SHARE)}
    if technique.lays and technique.product is not Product.METAL and _works_still(steps):
        # Nothing is laid over a reaction that goes on.
        steps.append(made_step(known["stop_rinse"], facts.measures))
    for need in line.needs:
        if not _lies_above(steps, need):
            steps.append(made_step(known[need], facts.measures))
    why = line.again or line.why
    step = made_step(
        technique,
        measures,
        # A film of clear medium makes no layer of its own.
        layer="" if layer is None or technique.product is Product.MEDIUM else layer.id,
        why=told(why, measures) if why else None,
        wet=wet,
        share=share if technique.lays and technique.product is not Product.MEDIUM else None,
        direction_deg=_direction(technique, measures, facts),
        tool_mm=_tool_mm(technique, size),
    )
    if line.coats:
        step = replace(step, coats=line.coats)
    steps.append(_paced(step, technique))


def _own_size(size: str, layer: Layer | None, measures: Facts) -> float | None:
    """The measure of the layer's own pattern before that of all."""
    own = {"line": "width", "patch": "patch"}.get(size)
    found = None if own is None or layer is None else measures.get(own)
    return found.value if isinstance(found, Fact) else None


def _lies_above(steps: list[Step], technique: str) -> bool:
    """Whether a technique was done since the last reaction."""
    for step in reversed(steps):
        if step.technique == technique:
            return True
        if step.product is Product.OXIDISER:
            return False
    return False


def _works_still(steps: list[Step]) -> bool:
    """Whether a reaction was begun and not stopped."""
    begun = any(step.product is Product.OXIDISER for step in steps)
    return begun and not _lies_above(steps, "stop_rinse")


def _watered(step: Step) -> Step:
    """A glaze with water in it, within what its carrier's label usually allows."""
    if step.product is not Product.GLAZE or step.carrier <= 0:
        return step
    return replace(step, water=round(_WATER * step.carrier, 1))


def _with_zones(steps: list[Step], reading: Reading) -> list[Step]:
    """Say at each layer's step where a zone has clearly more or less of it."""
    own = [z for z in reading.zones if z.coverages and len(z.coverages) == len(reading.layers)]
    if not own:
        return steps
    places = {layer.id: number for number, layer in enumerate(reading.layers)}
    found = []
    for step in steps:
        said = list(step.how)
        number = places.get(step.layer)
        whole = None if number is None else reading.layers[number].coverage.value
        if number is not None and whole is not None and step.kind in (Kind.PATTERN, Kind.BASE):
            for zone in own:
                share = zone.coverages[number].value
                if share is not None and abs(share - whole) >= _ZONE_DIFFERS:
                    name = zone.name or Message(f"zone.{zone.kind}")
                    said.append(Message("plan.zone_share", name=name, share=f"{share:.0%}"))
        found.append(replace(step, how=tuple(said)))
    return found


def _with_places(steps: list[Step], reading: Reading) -> list[Step]:
    """Say at each layer's step where on the piece it sits, and how much more of it lies there."""
    said = {}
    for layer in reading.layers[1:]:
        where = Sits.EVEN if layer.position is None else sits(layer.position)
        if layer.position is not None and where is not Sits.EVEN:
            times = figure(times_as_much(layer.position, where), 1)
            said[layer.id] = Message(f"plan.sits.{where}", times=times)
    return [
        replace(step, how=(*step.how, said[step.layer]))
        if step.layer in said and step.kind is Kind.PATTERN
        else step
        for step in steps
    ]


def _other_family(
    reading: Reading, number: int, wanted: dict[str, str], own: Own, place: frozenset[str]
) -> list[Step]:
    """A zone of another family: masked off, then its own lay-up."""
    zone = reading.zones[number]
    known = techniques(own.techniques)
    facts = zone_facts(reading, number)
    masked = made_step(known["mask"], facts.measures)
    name = zone.name or f"{zone.kind}"
    # Layers of the zone are not those of the piece: they keep their name and lose their id.
    return [
        replace(step, zone=name, layer="" if step.layer else step.layer, laid_share=share)
        for step in [masked, *_family_steps(facts, wanted, own, place)]
        for share in [max(step.laid_share * zone.share, 0.001)]
    ]
