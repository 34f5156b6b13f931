"""What a reading says for the plan: measures for the words, flags for the conditions."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jartide.plan.fact import Fact, Facts, Said
from jartide.reading.pattern.records import Lines, Patches, Pattern
from jartide.reading.result import LINE_ROLES, Edge, Layer, LayerEdge, Reading, Role
from jartide.reading.trust.measured import Measured
from jartide.wording import Message

SHEENS = ("dead matt", "matt", "eggshell", "satin", "semi-gloss", "gloss", "mirror")
# Ground darker than this is a deep dark tone.
_DARK_L = 35.0
# Relief as the standard deviation of its light, share of the mean.
_RELIEF_SEEN = 0.015
# Edges softer than this share of a line's width are seen as soft.
_SOFT = 0.4
_CROSS_SHARE = 0.15
# Less apart than this two directions are one.
CROSSED_DEG = 40.0


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadFacts:
    """A reading as the plan sees it.

    Attributes
    ----------
    measures : of the whole pattern, as texts of tables name them; None where not known
    by_layer : what each layer says otherwise
    flags : short words that conditions of the tables name
    sizes : millimetres of what a tool follows, by the names of `technique.SIZES`
    direction_deg : the finish's axis; None where it has none
    edges : how its layers meet
    strokes : the directions of its brush strokes, degrees, the strongest first
    """

    family: str
    layers: tuple[Layer, ...]
    measures: Facts
    by_layer: dict[str, Facts]
    flags: frozenset[str]
    sizes: dict[str, float]
    direction_deg: float | None
    dark: bool
    sheen: str | None
    edges: tuple[LayerEdge, ...] = ()
    strokes: tuple[float, ...] = ()

    def edge_of(self, layer: str) -> LayerEdge | None:
        """Return how a layer meets what it lies over most; None where it lies over nothing."""
        own = [edge for edge in self.edges if edge.upper == layer]
        return max(own, key=lambda edge: edge.share, default=None)

    def of(self, layer: str) -> Facts:
        """Return the measures with one layer's own in place."""
        edge = self.edge_of(layer)
        passage = None if edge is None or edge.edge is Edge.CLEAR else _mm(edge.width_mm)
        soft = {} if passage is None else {"passage": passage}
        return {**self.measures, **self.by_layer.get(layer, {}), **soft}

    def layer(self, wanted: str) -> Layer | None:
        """Return a layer by "ground", "lightest", "darkest" or "threads", or by its id."""
        if not self.layers:
            return None
        if wanted == "ground":
            return self.layers[0]
        if wanted == "threads":
            lines = [layer for layer in self.layers[1:] if layer.role in LINE_ROLES]
            return lines[0] if lines else self.layer("darkest")
        if wanted in ("lightest", "darkest"):
            ordered = sorted(self.layers, key=lambda layer: layer.shown_lab[0])
            return ordered[-1 if wanted == "lightest" else 0]
        return next((layer for layer in self.layers if layer.id == wanted), None)


def read_facts(reading: Reading) -> ReadFacts:
    """Return what a plan takes from a reading."""
    return _facts(reading.family, reading.layers, reading.pattern, reading.sheen, reading)


def zone_facts(reading: Reading, number: int) -> ReadFacts:
    """Return the same of a zone of another family, by its number among the zones."""
    zone = reading.zones[number]
    return _facts(zone.family, zone.layers, zone.pattern, reading.sheen, None)


def _facts(
    family: str,
    layers: tuple[Layer, ...],
    pattern: Pattern,
    sheen: str | None,
    reading: Reading | None,
) -> ReadFacts:
    axis = _direction(pattern)
    measures = {**_whole(pattern, axis), "sheen": _sheen_words(sheen)}
    by_layer = {layer.id: _of_layer(layer, pattern) for layer in layers}
    ground = layers[0].shown_lab if layers else (50.0, 0.0, 0.0)
    relief = None if reading is None or reading.relief is None else reading.relief.strength.value
    flags = set(_flags(layers, pattern))
    if relief is not None and relief >= _RELIEF_SEEN:
        flags.add("relief")
    if sheen is not None and SHEENS.index(sheen) >= 3:
        flags.add("glossy look")
    return ReadFacts(
        family=family,
        layers=layers,
        measures=measures,
        by_layer=by_layer,
        flags=frozenset(flags),
        sizes=_sizes(pattern),
        direction_deg=axis,
        dark=ground[0] < _DARK_L,
        sheen=sheen,
        edges=() if reading is None else reading.edges,
        strokes=_strokes(pattern),
    )


def _sheen_words(sheen: str | None) -> Message | None:
    return (
        None
        if sheen is None
        else Message(f"plan.sheen.{sheen.replace(' ', '_').replace('-', '_')}")
    )


def _known(value: Measured | None, said: Said = Said.WHOLE) -> Fact | None:
    return None if value is None or value.value is None else Fact(value.value, said)


def _mm(value: Measured | float | None) -> Fact | None:
    found = value.value if isinstance(value, Measured) else value
    return None if found is None else Fact(found, Said.SIZE)


def _some(value: Measured, said: Said = Said.WHOLE) -> Fact | None:
    """A number of things, or None where so few are said to be none."""
    least = 0.05 if said is Said.TENTH else 0.5
    return None if value.value is None or value.value < least else Fact(value.value, said)


def _axis(degrees: float | None) -> Fact | None:
    return None if degrees is None else Fact(degrees % 180, Said.DEGREES)


def _direction(pattern: Pattern) -> float | None:
    if pattern.grain is not None and pattern.grain.direction_deg.value is not None:
        return pattern.grain.direction_deg.value
    if pattern.lines is not None and pattern.lines.direction_deg.value is not None:
        return pattern.lines.direction_deg.value
    if pattern.brush is not None and pattern.brush.directions:
        return pattern.brush.directions[0].deg
    return pattern.direction_deg.value


def apart_deg(one: float, other: float) -> float:
    """Return the angle between two ways, degrees 0..90."""
    return abs((one - other + 90) % 180 - 90)


def _strokes(pattern: Pattern) -> tuple[float, ...]:
    peaks = () if pattern.brush is None else pattern.brush.directions
    return tuple(peak.deg for n, peak in enumerate(peaks) if not n or peak.share >= _CROSS_SHARE)


def _cross(pattern: Pattern) -> float | None:
    for peaks in (
        () if pattern.lines is None else pattern.lines.directions,
        () if pattern.brush is None else pattern.brush.directions,
    ):
        if len(peaks) > 1 and peaks[1].share >= _CROSS_SHARE:
            return peaks[1].deg
    return None


def _whole(pattern: Pattern, axis: float | None) -> Facts:
    lines, cells = pattern.lines, pattern.cells
    weave, grain, specks = pattern.weave, pattern.grain, pattern.specks
    found: Facts = {
        "degrees": _axis(axis),
        "cross": _axis(_cross(pattern)),
        "contrast": None if lines is None else _known(lines.contrast_L),
        "cell": None if cells is None else _mm(cells.size_mm.median),
        "groove": None if cells is None else _mm(cells.groove_width_mm),
        "speck": None if specks is None else _mm(specks.diameter_mm.median),
        "number": None if specks is None else _known(specks.count_per_dm2),
        "warp": None if weave is None else _known(weave.warp_direction_deg),
        "weft": None if weave is None else _known(weave.weft_direction_deg),
        "warp_count": None if weave is None else _known(weave.warp_per_cm, Said.TENTH),
        "weft_count": None if weave is None else _known(weave.weft_per_cm, Said.TENTH),
        "slubs": None if weave is None else _some(weave.slubs_per_dm2, Said.TENTH),
        "pores": None if grain is None else _some(grain.pores_per_cm2, Said.TENTH),
        "knots": None if grain is None else _some(grain.knots),
    }
    if lines is not None:
        found |= _line_facts(lines)
    if (areas := _areas(pattern)) is not None:
        found |= _patch_facts(areas)
    if grain is not None and (spacing := _mm(grain.spacing_mm)) is not None:
        found["spacing"] = spacing
    return found


def _line_facts(lines: Lines) -> Facts:
    per_cm2 = lines.length_mm_per_cm2.value
    return {
        "width": _mm(lines.width_mm.median),
        "narrow": _mm(lines.width_mm.p10),
        "wide": _mm(lines.width_mm.p90),
        "length": None if per_cm2 is None else Fact(100 * per_cm2, Said.WHOLE),
        "spacing": _mm(lines.spacing_mm),
        "softness": _mm(lines.softness_mm),
        "contrast": _known(lines.contrast_L),
    }


def _areas(pattern: Pattern) -> Patches | None:
    """The patches, or else the clouds: what covers areas of this finish."""
    return pattern.clouds if pattern.patches is None else pattern.patches


def _patch_facts(patches: Patches) -> Facts:
    return {"patch": _mm(_patch_mm(patches)), "spacing": _mm(patches.spacing_mm)}


def _patch_mm(patches: Patches) -> float | None:
    """How large most of the area is: crumbs are many and small, a painter lays the large ones."""
    if patches.size_by_area_mm is not None:
        return patches.size_by_area_mm.median.value
    area = patches.area_mm2.p90.value  # a reading made before sizes went by area
    return None if area is None else 2 * math.sqrt(area / math.pi)


def _of_layer(layer: Layer, pattern: Pattern) -> Facts:
    share = layer.coverage.value
    found: Facts = {
        "layer": layer.name,
        "share": None if share is None else Fact(max(share, 0.01), Said.SHARE),
    }
    lines = dict(pattern.lines_by_layer).get(layer.id)
    patches = dict((*pattern.patches_by_layer, *pattern.clouds_by_layer)).get(layer.id)
    if lines is not None:
        own = _line_facts(lines)
        if lines.direction_deg.value is not None:
            own["degrees"] = _axis(lines.direction_deg.value)
        found |= {name: value for name, value in own.items() if value is not None}
    if patches is not None:
        found |= {name: value for name, value in _patch_facts(patches).items() if value}
    return found


def _flags(layers: tuple[Layer, ...], pattern: Pattern) -> list[str]:
    roles = {layer.role for layer in layers[1:]}
    found = [f"{role}" for role in roles]
    if roles & LINE_ROLES:
        found.append("lines")
    if roles & {Role.PATCH, Role.RUN, Role.CLOUD, Role.CELL}:
        found.append("patches")
    found.append("cells" if pattern.cells is not None else "no cells")
    lines = pattern.lines
    if lines is not None:
        soft, width = lines.softness_mm.value, lines.width_mm.median.value
        if soft is None or width is None or soft > _SOFT * width:
            found.append("soft lines")
    down = pattern.patches is not None and (pattern.patches.runs_down.value or 0.0) > 0.25
    if down or Role.RUN in roles:
        found.append("runs")
    if pattern.weave is not None and (pattern.weave.slubs_per_dm2.value or 0.0) > 0:
        found.append("slubs")
    if pattern.grain is not None and (pattern.grain.pores_per_cm2.value or 0.0) > 0:
        found.append("pores")
    cross, axis = _cross(pattern), _direction(pattern)
    if cross is not None and axis is not None and apart_deg(cross, axis) >= CROSSED_DEG:
        found.append("two ways")
    areas = _areas(pattern)
    if areas is not None and (areas.raggedness.value or 0.0) > 0.3:
        found.append("worn")
    return found


def _sizes(pattern: Pattern) -> dict[str, float]:
    found: dict[str, float | None] = {}
    if pattern.lines is not None:
        found["line"] = pattern.lines.width_mm.median.value
    if (areas := _areas(pattern)) is not None:
        found["patch"] = _patch_mm(areas)
    if pattern.cells is not None:
        found["cell"] = pattern.cells.size_mm.median.value
    if pattern.grain is not None:
        found["grain"] = pattern.grain.spacing_mm.value
    if pattern.weave is not None and pattern.weave.warp_per_cm.value:
        found["thread"] = 10 / pattern.weave.warp_per_cm.value
    if pattern.specks is not None:
        found["speck"] = pattern.specks.diameter_mm.median.value
    if pattern.brush is not None:
        found["ridge"] = pattern.brush.ridge_spacing_mm.value
    if "patch" not in found and pattern.correlation_mm.value is not None:
        found["patch"] = 2 * pattern.correlation_mm.value
    return {name: value for name, value in found.items() if value is not None and value > 0}
