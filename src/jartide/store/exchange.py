"""The exchange formats the command line prints: `jar-tide/reading/1`, `jar-tide/comparison/1`.

The schemas lie in data/schemas. Within version 1 keys may be added, never changed.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jartide.boards.mends import Mend, Mending
from jartide.boards.result import Comparison
from jartide.boards.together import Together
from jartide.colour.spaces import srgb_hex
from jartide.errors import ReadingError
from jartide.reading.layers.position import sits
from jartide.reading.result import Layer, LayerEdge, Position, Reading, Relief, Texture, ZoneReading
from jartide.reading.trust.paths import measured_values
from jartide.reading.trust.samples import Samples
from jartide.store.exchange_pattern import interval, pattern_to_json, rounded, value
from jartide.store.serialise import reading_from_text, reading_to_text
from jartide.wording import Message, english


def reading_to_json(reading: Reading) -> dict[str, Any]:
    """Return a reading in the form of `jar-tide/reading/1`."""
    measures = list(measured_values(reading.pattern, "pattern"))
    for number, layer in enumerate(reading.layers):
        measures.append((f"layers[{number}].coverage", layer.coverage))
        measures.append((f"layers[{number}].coverage_painted", layer.coverage_painted))
    uncertainty = {
        path: interval(m.measurement) for path, m in measures if m.measurement is not None
    }
    for number, layer in enumerate(reading.layers):
        if layer.lab is not None:
            uncertainty[f"layers[{number}].lab_de00"] = [0.0, rounded(layer.lab_de00)]
    return {
        "schema": "jar-tide/reading/1",
        "algorithm": reading.algorithm,
        "photo": {
            "width_px": reading.photo_size[0],
            "height_px": reading.photo_size[1],
            "mm_per_px": rounded(reading.photo_mm_per_px, 6),
            "warnings": [
                {"code": code, "message": english(message)} for code, message in _warnings(reading)
            ],
        },
        "family": reading.family,
        "family_confidence": rounded(reading.family_confidence),
        "layers": [_layer(layer) for layer in reading.layers],
        "pattern": pattern_to_json(reading.pattern, reading.sheen),
        "relief": _relief(reading.relief),
        "edges": [_edge(edge) for edge in reading.edges],
        "texture": _texture(reading.texture),
        "zones": [_zone(zone) for zone in reading.zones],
        "uncertainty": uncertainty,
        "sampling": {path: interval(m.sampling) for path, m in measures if m.sampling is not None},
        "samples": _samples(reading.samples),
        "kept": reading_to_text(reading),
    }


def reading_from_json(told: Any) -> Reading:
    """Return the reading of a `jar-tide/reading/1` that was saved, by its `kept`.

    Raises
    ------
    ReadingError : when it holds none, or a damaged one.
    """
    if not isinstance(told, dict) or told.get("schema") != "jar-tide/reading/1":
        raise ReadingError("error.reading.not_saved")
    if "kept" not in told:
        raise ReadingError("error.reading.saved_before")
    return reading_from_text(str(told["kept"]))


def _samples(samples: Samples | None) -> dict[str, Any] | None:
    if samples is None:
        return None
    return {
        "grid": list(samples.grid),
        "area_px": list(samples.area_px),
        "covers_px": [list(tiles) for tiles in samples.covers_px],
        "lab_sums": [list(tiles) for tiles in samples.lab_sums],
    }


def _layer(layer: Layer) -> dict[str, Any]:
    best = layer.best_lab
    return {
        "id": layer.id,
        "name": english(layer.name),
        "role": layer.role.value,
        "lab": None if best is None else [rounded(v) for v in best],
        "lab_photo": None if layer.lab is None else [rounded(v) for v in layer.lab],
        "lab_reader": None if layer.reader_lab is None else [rounded(v) for v in layer.reader_lab],
        "lab_axes": [[rounded(v) for v in axis] for axis in layer.lab_axes],
        "srgb": srgb_hex(best or layer.shown_lab),
        "coverage": value(layer.coverage),
        "coverage_painted": value(layer.coverage_painted),
        "contrast_L": rounded(layer.contrast_L),
        "gamut_edge": layer.gamut_edge,
        "why": [english(reason) for reason in layer.why],
        "position": _position(layer.position),
    }


def _position(position: Position | None) -> dict[str, Any] | None:
    if position is None:
        return None
    return {
        "sits": sits(position).value,
        "edges": value(position.edges),
        "corners": value(position.corners),
        "foot": value(position.foot),
        "hollows": value(position.hollows),
        "by_edge": [rounded(v) for v in position.by_edge],
        "by_height": [rounded(v) for v in position.by_height],
    }


def _edge(edge: LayerEdge) -> dict[str, Any]:
    return {
        "upper": edge.upper,
        "lower": edge.lower,
        "edge": edge.edge.value,
        "share": rounded(edge.share),
        "width_mm": rounded(edge.width_mm),
    }


def _texture(texture: Texture | None) -> dict[str, Any] | None:
    if texture is None:
        return None
    return {
        "contrast_L": value(texture.contrast_L),
        "size_mm": value(texture.size_mm),
        "direction_deg": value(texture.direction_deg),
        "light_share": value(texture.light_share),
        "mottle_L": None if texture.mottle_L is None else value(texture.mottle_L),
    }


def _relief(relief: Relief | None) -> dict[str, Any] | None:
    if relief is None:
        return None
    return {"strength": value(relief.strength), "light_deg": value(relief.light_deg)}


def _zone(zone: ZoneReading) -> dict[str, Any]:
    return {
        "name": zone.name,
        "kind": zone.kind,
        "family": zone.family,
        "share": rounded(zone.share),
        "coverages": [value(cover) for cover in zone.coverages],
        "layers": [_layer(layer) for layer in zone.layers],
        "pattern": pattern_to_json(zone.pattern, None),
    }


def comparison_to_json(
    comparison: Comparison, mending: Mending | None = None, notes: Sequence[Message] = ()
) -> dict[str, Any]:
    """Return a comparison in the form of `jar-tide/comparison/1`, with its mends if given.

    `notes` : what there is to know of how it was made.
    """
    mends = {} if mending is None else {mend.quantity: mend for mend in mending.mends}
    fresh = None if mending is None or mending.fresh is None else english(mending.fresh)
    return {
        "schema": "jar-tide/comparison/1",
        "viewing_m": comparison.viewing_m,
        "verdict": comparison.verdict.value,
        "distance": rounded(comparison.distance),
        "same_from_m": comparison.same_from_m,
        "expected_distance": rounded(comparison.expected_distance),
        "tolerance": rounded(comparison.tolerance),
        "light_change_L": rounded(comparison.light_change_L),
        "fresh_board": fresh,
        "notes": [english(note) for note in notes],
        "seen": [
            {
                "viewing_m": s.viewing_m,
                "colour": rounded(s.colour_jnd),
                "pattern": rounded(s.pattern_jnd),
                "distance": rounded(s.distance),
            }
            for s in comparison.seen
        ],
        "differences": [
            {
                "quantity": d.quantity,
                "target": _plain(d.target),
                "board": _plain(d.board),
                "ratio": rounded(d.ratio),
                "delta": rounded(d.delta),
                "interval": None if d.interval is None else interval(d.interval),
                "jnd": rounded(d.jnd),
                "least_jnd": rounded(d.least_jnd),
                "state": d.state.value,
                "settled_by": rounded(d.settled_by),
                "significant": d.significant,
                "rank": d.rank,
                "words": english(d.words),
                "advice": None if d.advice is None else english(d.advice),
                "mend": _mend(mends.get(d.quantity)),
            }
            for d in comparison.differences
        ],
    }


def _mend(mend: Mend | None) -> dict[str, Any] | None:
    if mend is None:
        return None
    return {
        "action": mend.action.value,
        "amount": rounded(mend.amount),
        "lab_change": None if mend.lab_change is None else [rounded(v) for v in mend.lab_change],
        "means": mend.means.value,
        "moves": [
            {"quantity": e.quantity, "jnd": rounded(e.moves_jnd), "helps": e.helps}
            for e in mend.effects
        ],
    }


def _warnings(reading: Reading) -> list[tuple[str, Message]]:
    """What the photo lacks, and what could not be trusted."""
    found: list[tuple[str, Message]] = []
    if reading.mm_per_px is None:
        found.append(("no_scale", Message("warning.no_scale")))
    if not reading.balance_known:
        found.append(("no_neutral", Message("warning.no_neutral")))
    elif not reading.exposure_known:
        found.append(("no_exposure", Message("warning.no_exposure")))
    found += reading.warnings
    if reading.sheen is None:
        found.append(("pattern.sheen.unknown", Message("reason.sheen_unknown")))
    repeat = reading.pattern.repeat
    if repeat is not None and repeat.period_mm is None:
        found.append(("pattern.repeat.period_mm.none", Message("reason.no_repeat")))
    return found


def _plain(value: object) -> object:
    if isinstance(value, tuple):
        return [rounded(v) for v in value]
    if isinstance(value, str):
        return value
    return rounded(value) if isinstance(value, int | float) else None


def together_to_json(together: Together, photos: list[str]) -> dict[str, Any]:
    """Return several photos' common reading: a reading with the keys `photos` and `spread`."""
    result = reading_to_json(together.reading)
    result["photos"] = [
        {
            "photo": name,
            "distance": rounded(together.distances[number]),
            "odd": number in together.odd,
        }
        for number, name in enumerate(photos)
    ]
    result["spread"] = [
        {
            "layer": layer.layer,
            "spread_de00": rounded(layer.spread_de00),
            "labs": [None if lab is None else [rounded(v) for v in lab] for lab in layer.labs],
            "coverages": [None if v is None else rounded(v, 4) for v in layer.coverages],
        }
        for layer in together.layers
    ]
    return result
