"""Write the JSON schema of a job's bundle from the records it holds.

python tools/make_schemas.py src/jartide/data/schemas
"""

from __future__ import annotations

import json
import sys
import types
import typing
from dataclasses import MISSING, fields, is_dataclass
from enum import Enum
from pathlib import Path
from typing import Any

from jartide.store.bundle import LISTS, READING_KEYS, SCHEMA
from jartide.store.records import Job
from jartide.wording import Message

NAME = "bundle-1.schema.json"
_PLAIN: dict[Any, dict[str, Any]] = {
    str: {"type": "string"},
    int: {"type": "integer"},
    float: {"type": "number"},
    bool: {"type": "boolean"},
    type(None): {"type": "null"},
    Any: {},
}


class _Schema:
    """Collects what each kind of record is, by its name."""

    def __init__(self) -> None:
        self.kinds: dict[str, dict[str, Any]] = {}

    def of(self, kind: Any) -> dict[str, Any]:
        if kind in _PLAIN:
            return _PLAIN[kind]
        if kind is Message:
            return {"type": "object", "required": ["id", "count", "parameters"]}
        if isinstance(kind, type) and issubclass(kind, Enum):
            return {"enum": [one.value for one in kind]}
        if is_dataclass(kind):
            return self._record(kind)
        origin, inner = typing.get_origin(kind), typing.get_args(kind)
        if origin in (typing.Union, types.UnionType):
            return {"anyOf": [self.of(one) for one in inner]}
        if origin in (tuple, list, frozenset):
            if (len(inner) == 2 and inner[1] is Ellipsis) or origin is not tuple:
                return {"type": "array", "items": self.of(inner[0])}
            parts = [self.of(one) for one in inner]
            size = len(parts)
            return {"type": "array", "prefixItems": parts, "minItems": size, "maxItems": size}
        if origin is dict:
            return {"type": "object", "additionalProperties": self.of(inner[1])}
        raise TypeError(f"no schema for {kind!r}")

    def _record(self, kind: type) -> dict[str, Any]:
        name = kind.__name__
        if name not in self.kinds:
            self.kinds[name] = {}  # a record may hold its own kind
            hints = typing.get_type_hints(kind)
            told = fields(kind)  # type: ignore[arg-type]
            self.kinds[name] = {
                "description": (kind.__doc__ or "").strip().split("\n")[0],
                "type": "object",
                "required": [
                    f.name for f in told if f.default is MISSING and f.default_factory is MISSING
                ],
                "properties": {f.name: self.of(hints[f.name]) for f in told},
                "additionalProperties": False,
            }
        return {"$ref": f"#/$defs/{name}"}


def bundle_schema() -> str:
    """Return the schema of job.json as text."""
    made = _Schema()
    lists = {name: {"type": "array", "items": made.of(kind)} for name, kind in LISTS.items()}
    properties = {
        "schema": {"const": SCHEMA},
        "made": {"type": "string", "format": "date-time"},
        "lacking": {"type": "array", "items": {"type": "string"}},
        "job": made.of(Job),
        **lists,
        "readings": {
            "type": "array",
            "items": {
                "type": "object",
                "required": list(READING_KEYS),
                "properties": {
                    name: {"type": "integer" if name == "seed" else "string"}
                    for name in READING_KEYS
                },
                "additionalProperties": False,
            },
        },
    }
    whole = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": SCHEMA,
        "description": "job.json of a bundle; the photos lie beside it as photos/SHA256.suffix",
        "type": "object",
        "required": list(properties),
        "properties": properties,
        "additionalProperties": False,
        "$defs": dict(sorted(made.kinds.items())),
    }
    return json.dumps(whole, indent=1) + "\n"


def main(folder: Path) -> None:
    (folder / NAME).write_text(bundle_schema(), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
