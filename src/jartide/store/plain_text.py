"""Text as it comes in: what is no sign to be read, or turns round what is, is left out.

Control characters, lone surrogates (of file names that are no UTF-8) and the marks that override
the direction of what follows (Unicode Technical Report 36, 2.6; CVE-2021-42574) have no place in
the name of a job. Line ends and tabs stay.
"""

from __future__ import annotations

import re
from dataclasses import fields, is_dataclass, replace
from enum import Enum
from typing import Any, TypeVar

_T = TypeVar("_T")
_NO_TEXT = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ufeff]")
_LONE = re.compile("[\ud800-\udfff]")
_LINE_ENDS = re.compile("\r\n?|\u2028|\u2029")


def plain_text(text: str) -> str:
    """Return text without control characters, overrides of direction and half characters."""
    return _LONE.sub("\ufffd", _NO_TEXT.sub("", _LINE_ENDS.sub("\n", text)))


def cleaned(value: _T) -> _T:
    """Return a record with all of its text plain; the record itself where all of it is."""
    found = _cleaned(value)
    return found


def _cleaned(value: Any) -> Any:
    if isinstance(value, Enum):
        return value
    if isinstance(value, str):
        return plain_text(value)
    if isinstance(value, tuple):
        new = [_cleaned(item) for item in value]
        return value if all(a is b or a == b for a, b in zip(new, value, strict=True)) else (
            tuple(new)
        )  # fmt: skip
    if is_dataclass(value) and not isinstance(value, type):
        changes = {}
        for field in fields(value):
            old = getattr(value, field.name)
            new_value = _cleaned(old)
            if new_value is not old and new_value != old:
                changes[field.name] = new_value
        return replace(value, **changes) if changes else value
    return value
