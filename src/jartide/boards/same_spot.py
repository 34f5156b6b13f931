"""Two photos of one spot: what another patch may differ by does not count between them."""

from __future__ import annotations

from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from jartide.reading.result import Reading
from jartide.reading.trust.measured import Measured

_T = TypeVar("_T")


def at_one_spot(reading: Reading) -> Reading:
    """Return a reading that is known up to its measurement alone."""
    return _without_sampling(reading)


def _without_sampling(value: _T) -> _T:
    if isinstance(value, Measured):
        return replace(value, sampling=None)
    if isinstance(value, tuple):
        return tuple(_without_sampling(item) for item in value)  # type: ignore[return-value]
    if is_dataclass(value) and not isinstance(value, type):
        changes: dict[str, Any] = {}
        for field in fields(value):
            old = getattr(value, field.name)
            if isinstance(old, tuple) or is_dataclass(old):
                new = _without_sampling(old)
                if new != old:
                    changes[field.name] = new
        return replace(value, **changes) if changes else value
    return value
