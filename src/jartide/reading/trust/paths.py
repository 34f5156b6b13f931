"""Walk over the measured values of a record by their path, such as `lines.width_mm.median`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from jartide.measures.entries import BY_PATH
from jartide.reading.pattern.records import SIZES_MM, Lines, Patches, Pattern, Spread
from jartide.reading.trust.measured import Measured

_T = TypeVar("_T")


def with_scale_error(record: _T, relative: float, block: str = "") -> _T:
    """Return a record whose measurement intervals are wider by a scale's error.

    `relative` is the 90 % bound of the scale's own relative error; a quantity is wrong by it as
    many times as it has lengths in it: an area twice, a number per area twice, too. `block` is
    where the record stands in a pattern: "" for the pattern itself.
    """
    assert is_dataclass(record) and not isinstance(record, type)
    changed = {}
    for field in fields(record):
        name = field.name.removesuffix("_by_layer")
        path = f"{block}.{name}" if block else name
        changed[field.name] = _widened(getattr(record, field.name), relative, path)
    return replace(record, **changed)


def _widened(value: Any, relative: float, path: str) -> Any:
    """What stands at a path of a pattern, wider by the scale's error."""
    if isinstance(value, Measured | Spread):
        measure = BY_PATH.get(path)
        power = 0 if measure is None else measure.length_power
        return _wider_by(value, power * relative)
    if isinstance(value, tuple):
        # Layers stand as (id, record).
        return tuple(
            (item[0], with_scale_error(item[1], relative, path))
            if isinstance(item, tuple) and len(item) == 2 and is_dataclass(item[1])
            else item
            for item in value
        )
    return with_scale_error(value, relative, path) if is_dataclass(value) else value


def _wider_by(value: Any, relative: float) -> Any:
    """A value, or each part of a distribution, with so much of itself added to its interval."""
    if isinstance(value, Spread):
        parts = {f.name: _wider_by(getattr(value, f.name), relative) for f in fields(value)}
        return replace(value, **parts)
    if not relative or value.value is None or value.measurement is None:
        return value
    low, high = value.measurement
    own = abs(relative * value.value)
    below = value.value - float(((value.value - low) ** 2 + own**2) ** 0.5)
    above = value.value + float(((high - value.value) ** 2 + own**2) ** 0.5)
    return replace(value, measurement=(max(0.0, below), above))


def value_at(pattern: Pattern, path: str) -> Measured | None:
    """Return a measure by its path, such as "cells.size_mm"; None where its block is none.

    Of a distribution it is the median.
    """
    found: Any = pattern
    for name in path.split("."):
        found = None if found is None else getattr(found, name)
    return found.median if isinstance(found, Spread) else found


def measured_values(record: object, path: str) -> Iterator[tuple[str, Measured]]:
    """Yield (path, value) for every `Measured` inside a record, in the order of its fields."""
    if isinstance(record, Measured):
        yield path, record
    elif isinstance(record, tuple):
        for number, item in enumerate(record):
            if isinstance(item, tuple) and len(item) == 2 and isinstance(item[1], Lines | Patches):
                yield from measured_values(item[1], f"{path}.{item[0]}")
            elif isinstance(item, Measured):
                yield f"{path}.{SIZES_MM[number]}", item
            elif is_dataclass(item):
                yield from measured_values(item, f"{path}[{number}]")
    elif is_dataclass(record):
        for field in fields(record):
            name = field.name.replace("_by_layer", ".by_layer")
            yield from measured_values(getattr(record, field.name), f"{path}.{name}")
