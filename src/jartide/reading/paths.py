"""Walk over the measured values of a record by their path, such as `lines.width_mm.median`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import TypeVar

from jartide.reading.measured import Measured
from jartide.reading.pattern import SIZES_MM, Lines, Patches

_T = TypeVar("_T")


def with_scale_error(record: _T, relative: float, in_mm: bool = False) -> _T:
    """Return a record whose lengths' measurement intervals are wider by a scale's error.

    `relative` is the 90 % bound of the scale's own relative error; only values
    whose field name ends in `_mm` change.
    """
    if isinstance(record, Measured):
        if not in_mm or record.value is None or record.measurement is None:
            return record
        low, high = record.measurement
        own = relative * abs(record.value)
        wider = (
            record.value - float(((record.value - low) ** 2 + own**2) ** 0.5),
            record.value + float(((high - record.value) ** 2 + own**2) ** 0.5),
        )
        return replace(record, measurement=(max(0.0, wider[0]), wider[1]))
    if isinstance(record, tuple):
        return tuple(with_scale_error(item, relative, in_mm) for item in record)  # type: ignore[return-value]
    if is_dataclass(record) and not isinstance(record, type):
        changed = {
            f.name: with_scale_error(
                getattr(record, f.name), relative, in_mm or f.name.endswith("_mm")
            )
            for f in fields(record)
        }
        return replace(record, **changed)
    return record


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
