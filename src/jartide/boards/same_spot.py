"""What of two readings' intervals counts between them, of one spot and of two.

Of one spot, what another patch may differ by does not count. Of two spots, both were read by one
algorithm: most of what a measure is off by is the same in both.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from jartide.reading.result import Reading
from jartide.reading.trust.measured import Measured

_T = TypeVar("_T")


# Of a measure's own error so much is not the same in two photos; a working value.
_NOT_SHARED = 0.4


def at_one_spot(reading: Reading) -> Reading:
    """Return a reading that is known up to its measurement alone."""
    return _changed(reading, lambda value: replace(value, sampling=None))


def at_another_spot(reading: Reading) -> Reading:
    """Return a reading without what its measures are off by in any photo alike."""
    return _changed(reading, _repeated)


def _repeated(value: Measured) -> Measured:
    if value.value is None or value.measurement is None:
        return value
    low, high = (value.value + _NOT_SHARED * (end - value.value) for end in value.measurement)
    return replace(value, measurement=(low, high))


def _changed(value: _T, change: Callable[[Measured], Measured]) -> _T:
    if isinstance(value, Measured):
        return change(value)  # type: ignore[return-value]
    if isinstance(value, tuple):
        return tuple(_changed(item, change) for item in value)  # type: ignore[return-value]
    if is_dataclass(value) and not isinstance(value, type):
        changes: dict[str, Any] = {}
        for field in fields(value):
            old = getattr(value, field.name)
            if isinstance(old, tuple) or is_dataclass(old):
                new = _changed(old, change)
                if new != old:
                    changes[field.name] = new
        return replace(value, **changes) if changes else value
    return value
