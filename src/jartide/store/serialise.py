"""Records to plain data and back (cattrs): the one place where this happens."""

from __future__ import annotations

import hashlib
import json
from dataclasses import is_dataclass
from functools import lru_cache
from typing import Any, get_args, get_type_hints

from cattrs import Converter
from cattrs.errors import BaseValidationError
from cattrs.preconf.json import make_converter

from jartide.errors import ReadingError
from jartide.figures import as_figure
from jartide.photo.settings import PhotoSettings
from jartide.reading.decisions import LayerChoices
from jartide.reading.result import Reading
from jartide.reading.zones import Zone
from jartide.wording import Message


@lru_cache(maxsize=1)
def converter() -> Converter:
    """Return the converter that knows all our records."""
    made = make_converter()
    made.register_unstructure_hook(Message, _message_out)
    made.register_structure_hook(Message, lambda data, _: _message_in(data))
    return made


def get_ready(*records: Any) -> None:
    """Make what carries readings and these records over, which takes a while the first time."""
    for kind in _kinds_in(Reading, PhotoSettings, *records):
        converter().get_structure_hook(kind)
        converter().get_unstructure_hook(kind)


def _kinds_in(*kinds: Any) -> list[Any]:
    """These types and all that their fields are made of."""
    found: list[Any] = []
    waiting = list(kinds)
    while waiting:
        kind = waiting.pop()
        if kind in found:
            continue
        if is_dataclass(kind):
            found.append(kind)
            waiting += get_type_hints(kind).values()
        waiting += get_args(kind)
    return found


def _message_out(message: Message) -> dict:
    parameters = {
        name: _message_out(value) if isinstance(value, Message) else value
        for name, value in message.parameters.items()
    }
    return {"id": message.id, "count": message.count, "parameters": parameters}


def _message_in(data: dict) -> Message:
    parameters = {name: _parameter_in(value) for name, value in data["parameters"].items()}
    return Message(data["id"], count=data["count"], **parameters)


def _parameter_in(value: object) -> object:
    if isinstance(value, dict):
        return _message_in(value)
    return as_figure(value) if isinstance(value, str) else value


def settings_revision(settings: PhotoSettings) -> str:
    """Return a short name for exactly these settings; undoing an edit brings it back."""
    # Through the types once: 400 and 400.0 are the same size, before saving and after.
    plain = converter().unstructure(settings)
    plain = converter().unstructure(converter().structure(plain, PhotoSettings))
    # Only what was set: a setting that a later version adds must not make all readings stale.
    usual = converter().unstructure(PhotoSettings())
    text = json.dumps({k: v for k, v in plain.items() if v != usual[k]}, sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def reading_revision(
    settings: PhotoSettings, choices: LayerChoices | None, zones: tuple[Zone, ...]
) -> str:
    """Return a short name for settings, decisions and zones together."""
    revision = settings_revision(settings)
    if choices is None and not zones:
        return revision
    plain = converter().unstructure((choices, zones))
    # What a field was left without says nothing of how it is read.
    for zone in plain[1]:
        zone.pop("without", None)
    text = json.dumps([revision, plain], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def reading_to_text(reading: Reading) -> str:
    """Return a reading as JSON text for the workspace; not the exchange format."""
    return json.dumps(converter().unstructure(reading))


def reading_from_text(text: str) -> Reading:
    """Return the reading `reading_to_text` wrote.

    Raises
    ------
    ReadingError : when the text is not one.
    """
    try:
        return converter().structure(json.loads(text), Reading)
    except (ValueError, KeyError, TypeError, BaseValidationError) as error:
        raise ReadingError("error.reading.stored") from error
