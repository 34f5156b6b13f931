"""The exchange formats the command line prints: `jar-tide/reading/1`, `jar-tide/comparison/1`.

The schemas lie in data/schemas. Within version 1 keys may be added, never changed.
"""

from __future__ import annotations

from typing import Any

from jartide.boards.result import Comparison
from jartide.boards.together import Together
from jartide.colour.spaces import srgb_hex
from jartide.reading.measured import Measured
from jartide.reading.paths import measured_values
from jartide.reading.result import (
    SIZES_MM,
    Layer,
    Lines,
    Pattern,
    Reading,
    Relief,
    Spread,
    ZoneReading,
)
from jartide.wording import Message, say

# Parts of the contract this version does not measure yet; printed as null, with the reason.
_NOT_YET_PATTERN = ("patches", "weave", "cells", "grain", "specks", "brush", "repeat")
_NOT_YET_LINES = (
    "halo_mm",
    "contrast_spread_L",
    "spacing_mm",
    "spacing_evenness",
    "directions",
    "junctions_per_dm2",
    "width_variation",
    "tortuosity",
)


def reading_to_json(reading: Reading) -> dict[str, Any]:
    """Return a reading in the form of `jar-tide/reading/1`."""
    measures = list(measured_values(reading.pattern, "pattern"))
    for number, layer in enumerate(reading.layers):
        measures.append((f"layers[{number}].coverage", layer.coverage))
        measures.append((f"layers[{number}].coverage_painted", layer.coverage_painted))
    uncertainty = {
        path: _interval(m.measurement) for path, m in measures if m.measurement is not None
    }
    for number, layer in enumerate(reading.layers):
        if layer.lab is not None:
            uncertainty[f"layers[{number}].lab_de00"] = [0.0, _number(layer.lab_de00)]
    return {
        "schema": "jar-tide/reading/1",
        "algorithm": reading.algorithm,
        "photo": {
            "width_px": reading.photo_size[0],
            "height_px": reading.photo_size[1],
            "mm_per_px": _number(reading.photo_mm_per_px, 6),
            "warnings": [
                {"code": code, "message": say(message)} for code, message in _warnings(reading)
            ],
        },
        "family": reading.family,
        "layers": [_layer(layer) for layer in reading.layers],
        "pattern": _pattern(reading.pattern, reading.sheen),
        "relief": _relief(reading.relief),
        "zones": [_zone(zone) for zone in reading.zones],
        "uncertainty": uncertainty,
        "sampling": {path: _interval(m.sampling) for path, m in measures if m.sampling is not None},
    }


def _layer(layer: Layer) -> dict[str, Any]:
    best = layer.best_lab
    return {
        "id": layer.id,
        "name": say(layer.name),
        "role": layer.role.value,
        "lab": None if best is None else [_number(v) for v in best],
        "lab_photo": None if layer.lab is None else [_number(v) for v in layer.lab],
        "lab_reader": None if layer.reader_lab is None else [_number(v) for v in layer.reader_lab],
        "lab_axes": [[_number(v) for v in axis] for axis in layer.lab_axes],
        "srgb": srgb_hex(best or layer.shown_lab),
        "coverage": _value(layer.coverage),
        "coverage_painted": _value(layer.coverage_painted),
        "contrast_L": _number(layer.contrast_L),
        "gamut_edge": layer.gamut_edge,
        "why": [say(reason) for reason in layer.why],
    }


def _relief(relief: Relief | None) -> dict[str, Any] | None:
    if relief is None:
        return None
    return {"strength": _value(relief.strength), "light_deg": _value(relief.light_deg)}


def _zone(zone: ZoneReading) -> dict[str, Any]:
    return {
        "name": zone.name,
        "kind": zone.kind,
        "family": zone.family,
        "share": _number(zone.share),
        "coverages": [_value(cover) for cover in zone.coverages],
        "layers": [_layer(layer) for layer in zone.layers],
        "pattern": _pattern(zone.pattern, None),
    }


def comparison_to_json(comparison: Comparison) -> dict[str, Any]:
    """Return a comparison in the form of `jar-tide/comparison/1`."""
    return {
        "schema": "jar-tide/comparison/1",
        "viewing_m": comparison.viewing_m,
        "verdict": comparison.verdict.value,
        "distance": _number(comparison.distance),
        "same_from_m": comparison.same_from_m,
        "expected_distance": _number(comparison.expected_distance),
        "light_change_L": _number(comparison.light_change_L),
        "differences": [
            {
                "quantity": d.quantity,
                "target": _plain(d.target),
                "board": _plain(d.board),
                "ratio": _number(d.ratio),
                "delta": _number(d.delta),
                "interval": None if d.interval is None else _interval(d.interval),
                "jnd": _number(d.jnd),
                "significant": d.significant,
                "rank": d.rank,
                "words": say(d.words),
                "advice": None if d.advice is None else say(d.advice),
            }
            for d in comparison.differences
        ],
    }


def _warnings(reading: Reading) -> list[tuple[str, Message]]:
    """What the photo lacks, what could not be trusted, and what is not measured yet."""
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
    not_yet = Message("reason.not_measured")
    found += [(f"pattern.{name}.not_measured", not_yet) for name in _NOT_YET_PATTERN]
    if reading.pattern.lines is not None:
        found += [(f"pattern.lines.{name}.not_measured", not_yet) for name in _NOT_YET_LINES]
    return found


def _pattern(pattern: Pattern, sheen: str | None) -> dict[str, Any]:
    lines = None
    if pattern.lines is not None:
        lines = _lines(pattern.lines)
        lines["by_layer"] = {name: _lines(own) for name, own in pattern.lines_by_layer}
    return {
        "direction_deg": _value(pattern.direction_deg),
        "direction_spread_deg": _value(pattern.direction_spread_deg),
        "directionality": _value(pattern.directionality),
        "correlation_mm": _value(pattern.correlation_mm),
        "lines": lines,
        **dict.fromkeys(_NOT_YET_PATTERN),
        "sheen": sheen,
        "spectrum": [
            {"size_mm": float(size), "share": _value(share)}
            for size, share in zip(SIZES_MM, pattern.spectrum, strict=True)
        ],
        "lay": [_number(share) for share in pattern.lay],
    }


def _lines(lines: Lines) -> dict[str, Any]:
    return {
        "width_mm": _spread(lines.width_mm),
        "length_mm_per_cm2": _value(lines.length_mm_per_cm2),
        "softness_mm": _value(lines.softness_mm),
        "contrast_L": _value(lines.contrast_L),
        "polarity": lines.polarity.value,
        "direction_deg": _value(lines.direction_deg),
        "direction_spread_deg": _value(lines.direction_spread_deg),
        **dict.fromkeys(_NOT_YET_LINES),
    }


def _spread(spread: Spread) -> dict[str, Any]:
    return {
        "p10": _value(spread.p10),
        "median": _value(spread.median),
        "p90": _value(spread.p90),
        "geometric_mean": _value(spread.geometric_mean),
    }


def _value(measured: Measured) -> float | None:
    return _number(measured.value)


def _number(value: float | None, digits: int = 4) -> float | None:
    return None if value is None else round(float(value), digits)


def _interval(pair: tuple[float, float]) -> list[float | None]:
    """An interval; an end that is not finite is null, since JSON knows no infinity."""
    return [_number(v) if abs(v) < 1e12 else None for v in pair]


def _plain(value: object) -> object:
    if isinstance(value, tuple):
        return [_number(v) for v in value]
    return _number(value) if isinstance(value, int | float) else None


def together_to_json(together: Together, photos: list[str]) -> dict[str, Any]:
    """Return several photos' common reading: a reading with the keys `photos` and `spread`."""
    result = reading_to_json(together.reading)
    result["photos"] = [
        {
            "photo": name,
            "distance": _number(together.distances[number]),
            "odd": number in together.odd,
        }
        for number, name in enumerate(photos)
    ]
    result["spread"] = [
        {
            "layer": layer.layer,
            "spread_de00": _number(layer.spread_de00),
            "labs": [None if lab is None else [_number(v) for v in lab] for lab in layer.labs],
            "coverages": [None if v is None else _number(v, 4) for v in layer.coverages],
        }
        for layer in together.layers
    ]
    return result
