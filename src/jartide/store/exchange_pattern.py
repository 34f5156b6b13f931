"""The pattern's part of `jar-tide/reading/1`, and how single values are printed.

The records of `reading/pattern/records.py` bear the names of the contract, so each is printed
field by field; what the contract lays out differently is said here.
"""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from enum import Enum
from math import isfinite
from typing import Any

from jartide.reading.pattern.records import SIZES_MM, Brush, Pattern
from jartide.reading.trust.measured import Measured


def pattern_to_json(pattern: Pattern, sheen: str | None) -> dict[str, Any]:
    """Return a pattern; a block that does not apply is null."""
    printed = plain(pattern)
    for block in ("lines", "patches", "clouds"):
        by_layer = printed.pop(f"{block}_by_layer")
        if printed[block] is not None:
            printed[block]["by_layer"] = dict(by_layer)
    if pattern.brush is not None:
        printed["brush"] = _brush(pattern.brush)
    sizes = zip(SIZES_MM, pattern.spectrum, strict=True)
    printed["spectrum"] = [{"size_mm": float(size), "share": value(v)} for size, v in sizes]
    return {**printed, "sheen": sheen}


def _brush(brush: Brush) -> dict[str, Any]:
    return {
        "directions_deg": [rounded(peak.deg) for peak in brush.directions],
        "shares": [rounded(peak.share) for peak in brush.directions],
        "ridge_spacing_mm": value(brush.ridge_spacing_mm),
    }


def plain(item: Any) -> Any:
    """Return a record, or a part of one, as JSON can hold it."""
    if isinstance(item, Measured):
        return value(item)
    if isinstance(item, Enum):
        return item.value
    if isinstance(item, float):
        return rounded(item)
    if isinstance(item, tuple):
        return [plain(part) for part in item]
    if is_dataclass(item) and not isinstance(item, type):
        return {field.name: plain(getattr(item, field.name)) for field in fields(item)}
    return item


def value(measured: Measured) -> float | None:
    """Return a measured value, or null where it can't be trusted."""
    return rounded(measured.value)


def rounded(given: float | None, digits: int = 4) -> float | None:
    """Return a number rounded for printing; null where it is not finite: JSON knows no infinity."""
    return None if given is None or not isfinite(given) else round(float(given), digits)


def interval(pair: tuple[float, float]) -> list[float | None]:
    """Return an interval; an end that knows no bound is null."""
    return [rounded(v) if abs(v) < 1e12 else None for v in pair]
