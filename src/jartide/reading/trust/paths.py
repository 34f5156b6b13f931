"""Walk over the measured values of a record by their path, such as `lines.width_mm.median`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import TypeVar

from jartide.reading.pattern.records import SIZES_MM, Lines, Patches
from jartide.reading.trust.measured import Measured

_T = TypeVar("_T")


# The power of length in what a field's name ends in; the longest ending that fits counts.
_LENGTHS = {
    "_mm": 1,
    "_mm2": 2,
    "_mm_per_cm2": -1,
    "_per_cm": -1,
    "_per_cm2": -2,
    "_per_dm2": -2,
}


def length_power(name: str) -> int:
    """Return the power of length in a quantity by the name of its field: 2 of an area."""
    fitting = [ending for ending in _LENGTHS if name.endswith(ending)]
    return _LENGTHS[max(fitting, key=len)] if fitting else 0


def with_scale_error(record: _T, relative: float, power: int = 0) -> _T:
    """Return a record whose measurement intervals are wider by a scale's error.

    `relative` is the 90 % bound of the scale's own relative error; a quantity is wrong by it as
    many times as it has lengths in it: an area twice, a number per area twice, too.
    """
    if isinstance(record, Measured):
        if power == 0 or record.value is None or record.measurement is None:
            return record
        low, high = record.measurement
        own = abs(power) * relative * abs(record.value)
        wider = (
            record.value - float(((record.value - low) ** 2 + own**2) ** 0.5),
            record.value + float(((high - record.value) ** 2 + own**2) ** 0.5),
        )
        return replace(record, measurement=(max(0.0, wider[0]), wider[1]))
    if isinstance(record, tuple):
        return tuple(with_scale_error(item, relative, power) for item in record)  # type: ignore[return-value]
    if is_dataclass(record) and not isinstance(record, type):
        changed = {
            f.name: with_scale_error(
                getattr(record, f.name), relative, length_power(f.name) or power
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
