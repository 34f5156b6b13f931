"""What of two readings' intervals counts between them, of one spot and of two.

Of one spot, what another patch may differ by does not count. Of two spots, both were read by one
algorithm: most of what a measure is off by is the same in both.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass, replace
from functools import cache
from typing import Any, TypeVar

from jartide.reading.result import Reading
from jartide.reading.trust.measured import Measured

_T = TypeVar("_T")


# Of a measure's own error so much is not the same in two photos; a working value.
_NOT_SHARED = 0.4


def at_one_spot(reading: Reading) -> Reading:
    """Return a reading that is known up to its measurement alone."""
    return _changed(
        reading, lambda one: one if one.sampling is None else replace(one, sampling=None)
    )


def at_another_spot(reading: Reading) -> Reading:
    """Return a reading without what its measures are off by in any photo alike."""
    return _changed(reading, _repeated)


def _repeated(value: Measured) -> Measured:
    if value.value is None or value.measurement is None:
        return value
    low, high = (value.value + _NOT_SHARED * (end - value.value) for end in value.measurement)
    return replace(value, measurement=(low, high))


def _changed(value: _T, change: Callable[[Measured], Measured]) -> _T:
    """Return a value with every measure in it changed; what holds none is the very same object."""
    if isinstance(value, Measured):
        return change(value)  # type: ignore[return-value]
    if isinstance(value, tuple):
        if not value or isinstance(value[-1], float | int | str):
            return value
        items = tuple(_changed(item, change) for item in value)
        if all(new is old for new, old in zip(items, value, strict=True)):
            return value
        return items  # type: ignore[return-value]
    changes: dict[str, Any] = {}
    kind: Any = type(value)
    for name in _names_of(kind):
        old = getattr(value, name)
        new = _changed(old, change)
        if new is not old:
            changes[name] = new
    return replace(value, **changes) if changes else value  # type: ignore[type-var]


@cache
def _names_of(kind: type) -> tuple[str, ...]:
    """The fields of a dataclass; of anything else none."""
    return tuple(field.name for field in fields(kind)) if is_dataclass(kind) else ()
