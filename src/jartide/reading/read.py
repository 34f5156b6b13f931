"""Picture -> Reading: one call that does all the measuring."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.errors import ReadingError
from jartide.families import family_named
from jartide.photo.picture import Picture
from jartide.reading.decisions import LayerChoices, choices_of
from jartide.reading.joints.find_joints import find_joints
from jartide.reading.layers.colours import colour_shares
from jartide.reading.layers.evidence import Evidence, gather_evidence
from jartide.reading.layers.find_layer_tones import LEAST_COVERAGE, TonesFound, find_layer_tones
from jartide.reading.layers.layer_edges import layer_edges
from jartide.reading.layers.layer_map import LayerMap, read_decided, read_layers
from jartide.reading.layers.position import measure_position
from jartide.reading.lines.line_pieces import line_pieces
from jartide.reading.lines.profiles import measure_profiles
from jartide.reading.lines.ridges import CentreLines, find_centre_lines
from jartide.reading.pattern.measure_pattern import measure_early, measure_pattern, scene_of
from jartide.reading.pattern.records import Joints, Pattern
from jartide.reading.pattern.relief import measure_relief
from jartide.reading.pattern.texture import measure_texture
from jartide.reading.result import ALGORITHM, Reading, Relief, Texture, ZoneReading
from jartide.reading.suggest_family import LEAST_SURE, suggest_family
from jartide.reading.trust.measured import measured
from jartide.reading.trust.paths import measured_values, with_scale_error
from jartide.reading.trust.samples import sample
from jartide.reading.zones import Zone, ZoneKind, large_enough, shares_in
from jartide.wording import Message

LEAST_PX = 400
Progress = Callable[[float], None]


def _no_progress(fraction: float) -> None:
    pass


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Basis:
    """All that is found in a picture before its layers are decided on."""

    picture: Picture
    family: str
    seed: int
    evidence: Evidence
    tones: TonesFound
    centre_lines: CentreLines
    joints: Joints | None = None


def read_picture(
    picture: Picture,
    family: str = "auto",
    seed: int = 0,
    progress: Progress = _no_progress,
    choices: LayerChoices | None = None,
    zones: Sequence[Zone] = (),
) -> tuple[Reading, LayerMap]:
    """Return the reading of a picture and the map of its layers.

    `choices` are what the painter has decided of the layers; `zones` are read by
    themselves too. `progress` is called with the fraction done and may raise `Cancelled`.

    Raises
    ------
    ReadingError : one sentence, when there is too little to read.
    """
    basis = find_basis(picture, family, seed, lambda fraction: progress(0.5 * fraction))
    return read_basis(basis, lambda f: progress(0.5 + 0.5 * f), choices, zones)


def find_basis(
    picture: Picture, family: str = "auto", seed: int = 0, progress: Progress = _no_progress
) -> Basis:
    """Return what a picture's layers are found from; made once, then read as often as wished.

    Raises
    ------
    ReadingError : one sentence, when there is too little to read.
    """
    valid = picture.valid()
    if valid.sum() < LEAST_PX or min(picture.shape) < 8:
        raise ReadingError("error.reading.small", pixels=int(valid.sum()), least=LEAST_PX)
    kind = family_named(family)
    rgb = np.maximum(picture.rgb_linear, 0)
    lab = lab_of(rgb)
    found = None
    if not picture.joints_as_lines:
        found = find_joints(lab, valid, picture.mm_per_px, kind)
    if found is not None:
        # What lies between boards or bricks is not of the finish on them.
        valid = valid & ~found.cover
        picture = replace(picture, mask=valid)
    lightness = np.ascontiguousarray(lab[..., 0])
    progress(0.3)
    with ThreadPoolExecutor(1) as pool:
        # Needs nothing of the lines, so it goes on beside them on the second core.
        gathered = pool.submit(gather_evidence, rgb, lab, valid, kind, picture.mm_per_px)
        centre_lines = find_centre_lines(lightness, valid)
        progress(0.6)
        profiles = measure_profiles(rgb, centre_lines, np.random.default_rng(seed))
        evidence = replace(gathered.result(), profiles=profiles)
    progress(0.8)
    evidence, tones = find_layer_tones(evidence, jointed=found is not None)
    progress(1.0)
    return Basis(
        picture=picture,
        family=family,
        seed=seed,
        evidence=evidence,
        tones=tones,
        centre_lines=centre_lines,
        joints=None if found is None else found.joints,
    )


def lab_of(rgb: np.ndarray) -> np.ndarray:
    """Lab of linear light, (H, W, 3), half of it on either core."""
    middle = len(rgb) // 2
    with ThreadPoolExecutor(2) as pool:
        return np.concatenate(list(pool.map(linear_to_lab, (rgb[:middle], rgb[middle:]))))


def read_basis(
    basis: Basis,
    progress: Progress = _no_progress,
    choices: LayerChoices | None = None,
    zones: Sequence[Zone] = (),
) -> tuple[Reading, LayerMap]:
    """Return the reading and the map of its layers, as found or as the painter decided them."""
    found = read_once(basis, progress, choices)
    confidence = None
    if basis.family == "auto":
        suggestion = suggest_family(found.layers, found.pattern)
        confidence = 0.0 if suggestion is None else suggestion.confidence
        if suggestion is not None and confidence >= LEAST_SURE:
            kind = family_named(suggestion.family)
            evidence = replace(basis.evidence, family=kind)
            basis = replace(basis, family=kind.name, evidence=evidence)
            found = read_once(basis, progress, choices)
    picture, layers, pattern = basis.picture, found.layers, found.pattern
    if picture.scale_error > 0:
        pattern = with_scale_error(pattern, picture.scale_error)
    unsure = picture.colour_radius()
    heights: dict[ZoneKind, np.ndarray] = {}
    for part in zones:
        if part.kind in _HEIGHTS:
            own = part.mask(picture.shape)
            heights[part.kind] = own | heights.get(part.kind, own)
    seen_layers = tuple(
        replace(
            layer,
            lab_de00=float(np.hypot(layer.lab_de00, unsure)),
            position=measure_position(
                layers.covers.of(number),
                layers.valid,
                whole_piece=picture.whole_piece,
                hollows=heights.get(ZoneKind.HOLLOWS),
                ridges=heights.get(ZoneKind.RIDGES),
            ),
        )
        for number, layer in enumerate(layers.layers)
    )
    progress(0.9)
    reading = Reading(
        algorithm=ALGORITHM,
        photo_size=picture.photo_size,
        photo_mm_per_px=(
            None if picture.mm_per_px is None else picture.mm_per_px / picture.reduced
        ),
        width_px=picture.shape[1],
        height_px=picture.shape[0],
        mm_per_px=picture.mm_per_px,
        balance_known=picture.balance_known,
        exposure_known=picture.exposure_known,
        family=basis.family,
        layers=seen_layers,
        pattern=pattern,
        warnings=(
            *picture.warnings,
            *_finish_warnings(picture, pattern),
            *_layer_warnings(layers, basis.evidence.blended, decided=choices is not None),
            *_pattern_warnings(pattern),
        ),
        sheen=None if picture.sheen is None else picture.sheen.word.value,
        metal=picture.metal,
        relief=found.relief,
        family_confidence=confidence,
        colours=colour_shares(basis.evidence.lab, basis.evidence.valid),
        edges=layer_edges(
            layers.covers, layers.valid, [layer.id for layer in layers.layers], picture.mm_per_px
        ),
        texture=found.texture,
        common_de00=unsure,
        samples=sample(layers.covers, len(layers.layers), basis.evidence.lab, layers.valid),
        zones=tuple(
            zone for given in zones if (zone := _read_zone(basis, layers, given)) is not None
        ),
    )
    progress(1.0)
    return reading, layers


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Found:
    """Layers, pattern and relief as one family sees them."""

    layers: LayerMap
    pattern: Pattern
    relief: Relief | None
    texture: Texture | None


def read_once(
    basis: Basis, progress: Progress = _no_progress, choices: LayerChoices | None = None
) -> Found:
    """Return layers, pattern and relief as the basis's own family sees them."""
    picture, evidence = basis.picture, basis.evidence
    rgb, valid = evidence.rgb_linear, evidence.valid
    scene = scene_of(picture, rgb, evidence.lab, valid, evidence.family)
    with ThreadPoolExecutor(2) as pool:
        early = pool.submit(measure_early, scene)
        if choices is None:
            layers = read_layers(evidence, basis.tones)
        else:
            layers = read_decided(evidence, basis.tones, choices)
        progress(0.5)
        whole = layers.whole & layers.valid
        relief = pool.submit(measure_relief, rgb, layers.labels, whole, picture.mm_per_px)
        texture = pool.submit(measure_texture, evidence.lab, layers, picture.mm_per_px)
        rng = np.random.default_rng([basis.seed, 1])
        lines, profiles = basis.centre_lines, evidence.profiles
        pieces = line_pieces(rgb, lines, profiles, layers.layers, layers.masks(), rng)
        progress(0.8)
        pattern = measure_pattern(scene, layers, pieces, early.result(), pool)
        pattern = replace(pattern, joints=basis.joints)
        return Found(
            layers=layers, pattern=pattern, relief=relief.result(), texture=texture.result()
        )


_HEIGHTS = (ZoneKind.HOLLOWS, ZoneKind.RIDGES)


def _read_zone(basis: Basis, layers: LayerMap, zone: Zone) -> ZoneReading | None:
    """Read one zone by itself; None where there is too little of it."""
    inside = zone.mask(basis.picture.shape)
    share, shares = shares_in(layers.labels, layers.valid, inside, len(layers.layers))
    if not large_enough(share):
        return None
    family = zone.family or basis.family
    masked = replace(basis.picture, mask=basis.picture.valid() & inside)
    # The same paints as all over, unless it is another finish.
    same = None
    if zone.family is None:
        same = choices_of([replace(layer, locked=True) for layer in layers.layers])
    try:
        reading, _ = read_picture(masked, family, basis.seed, choices=same)
    except ReadingError:
        return None
    own_half = 0.02
    return ZoneReading(
        name=zone.name,
        kind=zone.kind.value,
        family=family,
        share=share,
        coverages=tuple(measured(float(v), own_half, own_half) for v in shares),
        layers=() if zone.family is None else reading.layers,
        pattern=reading.pattern,
    )


# Lines of fewer original pixels, and regions of fewer clouds, can hardly be measured.
_FEW_PX = 2.5
_FEW_CLOUDS = 5.0


def _finish_warnings(picture: Picture, pattern: Pattern) -> list[tuple[str, Message]]:
    """Say when the photo is too coarse or the region too small for this finish."""
    found: list[tuple[str, Message]] = []
    if picture.mm_per_px is None:
        return found
    per_mm = picture.reduced / picture.mm_per_px
    width = None if pattern.lines is None else pattern.lines.width_mm.median.value
    if width is not None and width * per_mm < _FEW_PX:
        wanted = max(1, round(1.6 * _FEW_PX / width))
        found.append(
            ("px_per_mm", Message("warning.px_per_mm", now=round(per_mm, 1), wanted=wanted))
        )
    cloud = pattern.correlation_mm.value
    side = min(picture.shape) * picture.mm_per_px
    if cloud is not None and side < _FEW_CLOUDS * cloud:
        wanted_mm = round(2 * _FEW_CLOUDS * cloud / 10) * 10
        found.append(("region_small", Message("warning.region_small", mm=wanted_mm)))
    return found


def _layer_warnings(layers: LayerMap, blended: bool, *, decided: bool) -> list[tuple[str, Message]]:
    """Say which colours are not to be had, and which decisions find nothing in the photo."""
    found = []
    for number, layer in enumerate(layers.layers):
        if layer.lab is None and blended:
            message = Message("warning.layer_only_blended", name=layer.name)
            found.append((f"layers[{number}].lab.blended", message))
        elif layer.lab is None:
            message = Message("warning.layer_too_fine", name=layer.name)
            found.append((f"layers[{number}].lab.too_fine", message))
        if decided and (layer.coverage.value or 0.0) < LEAST_COVERAGE:
            message = Message("warning.decision_open", name=layer.name)
            found.append((f"layers[{number}].decision_open", message))
    return found


def _pattern_warnings(pattern: Pattern) -> list[tuple[str, Message]]:
    """Say why each value that can't be trusted is missing."""
    warnings = []
    for path, value in measured_values(pattern, "pattern"):
        if value.value is None and value.reason is not None:
            warnings.append((f"{path}.{value.reason.id.split('.')[-1]}", value.reason))
    return warnings
