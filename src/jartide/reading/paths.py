"""Walk over the measured values of a record by their path, such as `lines.width_mm.median`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass

from jartide.reading.measured import Measured
from jartide.reading.result import SIZES_MM, Lines


def measured_values(record: object, path: str) -> Iterator[tuple[str, Measured]]:
    """Yield (path, value) for every `Measured` inside a record, in the order of its fields."""
    if isinstance(record, Measured):
        yield path, record
    elif isinstance(record, tuple):
        for number, item in enumerate(record):
            if isinstance(item, tuple) and len(item) == 2 and isinstance(item[1], Lines):
                yield from measured_values(item[1], f"{path}.{item[0]}")
            elif isinstance(item, Measured):
                yield f"{path}.{SIZES_MM[number]}", item
            elif is_dataclass(item):
                yield from measured_values(item, f"{path}[{number}]")
    elif is_dataclass(record):
        for field in fields(record):
            name = "lines.by_layer" if field.name == "lines_by_layer" else field.name
            yield from measured_values(getattr(record, field.name), f"{path}.{name}")
