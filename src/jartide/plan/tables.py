"""Tables of the craft as TOML: read into frozen records, with one clear sentence per fault.

The words in them are message ids that read as English: what the catalogue has no words for is
shown as it stands, so that a painter's own table needs no catalogue.
"""

from __future__ import annotations

import string
import tomllib
from enum import StrEnum
from functools import lru_cache
from importlib.resources import files
from typing import Any, TypeVar, cast

from cattrs import Converter
from cattrs.errors import BaseValidationError
from cattrs.v import format_exception, transform_error

from jartide.errors import PlanError
from jartide.plan.fact import Facts, in_words
from jartide.wording import Message

_R = TypeVar("_R")


@lru_cache(maxsize=1)
def _converter() -> Converter:
    made = Converter(forbid_extra_keys=True)
    # A number may be written without its point, but a word is no number.
    made.register_structure_hook(float, _as_float)
    made.register_structure_hook(int, _as_int)
    made.register_structure_hook(bool, _as_bool)
    made.register_structure_hook(str, _as_str)
    made.register_structure_hook_func(lambda t: t == float | str, _as_either)
    return made


def _as_float(value: Any, _: type) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise ValueError(f"{value!r} is no number")
    if not abs(value) < 1e9:
        raise ValueError(f"{value!r} is no number")
    return float(value)


def _as_int(value: Any, _: type) -> int:
    if isinstance(value, bool) or not isinstance(value, int):
        raise ValueError(f"{value!r} is no whole number")
    return value


def _as_bool(value: Any, _: type) -> bool:
    if not isinstance(value, bool):
        raise ValueError(f"{value!r} is neither true nor false")
    return value


def _as_either(value: Any, kind: Any) -> float | str:
    return value if isinstance(value, str) else _as_float(value, float)


def _as_str(value: Any, kind: type) -> str:
    """Text, or one of the words of an enumeration of texts."""
    if not isinstance(value, str):
        raise ValueError(f"{value!r} is no text in quotes")
    try:
        return kind(value)
    except ValueError:
        known = ", ".join(word.value for word in cast("type[StrEnum]", kind))
        raise ValueError(f"{value!r} is none of {known}") from None


def shipped(name: str) -> str:
    """Return the text of one of the tables that ship with the application."""
    return files("jartide").joinpath(f"data/plan/{name}").read_text(encoding="utf-8")


def parsed(text: str, name: str) -> dict[str, Any]:
    """Return a TOML file as plain data.

    Raises
    ------
    PlanError : with the line, when it is no TOML.
    """
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise PlanError("error.table.syntax", name=name, why=str(error)) from error


def rows(data: dict[str, Any], key: str, kind: type[_R], name: str) -> tuple[_R, ...]:
    """Return the entries of one list of a table as records.

    Raises
    ------
    PlanError : the file, the entry and what is wrong with it.
    """
    listed = data.get(key, [])
    if not isinstance(listed, list):
        raise PlanError("error.table.entry", name=name, key=key, why=f"[[{key}]] is no list")
    found = []
    for number, row in enumerate(listed, 1):
        own = row.get("id") or row.get("technique") or row.get("group") if row else None
        where = f"{key} {number}" + (f" “{own}”" if isinstance(own, str) else "")
        try:
            found.append(_converter().structure(row, kind))
        except (BaseValidationError, TypeError, ValueError, AttributeError) as error:
            raise PlanError("error.table.entry", name=name, key=where, why=_said(error)) from error
    return tuple(found)


def keys_known(data: dict[str, Any], known: set[str], name: str) -> None:
    """Refuse a table that holds lists nobody reads: a slip of the pen would go unseen.

    Raises
    ------
    PlanError : with the unknown name.
    """
    for key in data:
        if key not in known:
            expected = ", ".join(sorted(known))
            raise PlanError("error.table.key", name=name, key=key, known=expected)


def checked_words(words: Any, known: set[str], name: str, key: str) -> None:
    """Refuse a text with a brace or a measure in braces that does not exist.

    Raises
    ------
    PlanError : with the text and the measures there are.
    """
    for text in words:
        try:
            fields = {field for _, field, _, _ in string.Formatter().parse(text) if field}
        except ValueError as error:
            raise PlanError("error.table.entry", name=name, key=key, why=str(error)) from error
        for field in sorted(fields - known):
            raise PlanError("error.table.measure", name=name, key=key, what=field)


def _said(error: Exception) -> str:
    """The first thing that is wrong, without the library's own words around it."""
    if isinstance(error, BaseValidationError):
        first = transform_error(error, format_exception=_plainly)[0]
        return first.removeprefix("invalid value for type, ").replace(" @ $", " at ").rstrip(". ")
    return str(error).rstrip(".")


def _plainly(error: BaseException, kind: Any) -> str:
    """What one of our own readers says is a sentence already."""
    return str(error) if type(error) is ValueError else format_exception(error, kind)


def told(text: str, facts: Facts) -> Message | None:
    """Return a text of a table with its measures, or None where one of them is not known."""
    fields = [field for _, field, _, _ in string.Formatter().parse(text) if field]
    known = {field: fact for field in fields if (fact := facts.get(field)) is not None}
    if len(known) < len(set(fields)):
        return None
    words: dict[str, Any] = {field: in_words(fact) for field, fact in known.items()}
    return Message(text, **words)
