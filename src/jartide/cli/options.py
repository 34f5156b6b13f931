"""Options from the command line or a line of a batch file, and what is done with them."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from jartide.cli.refusals import check_signs, sentence
from jartide.errors import CommandError
from jartide.wording import tr

Options = dict[str, Any]


def run(
    arguments: argparse.Namespace, keys: dict[str, Any], command: Callable[[Options], Any]
) -> int:
    """Run a command on its options, or once a line of a batch file; return the exit code."""
    given = {key: getattr(arguments, key) for key in keys}
    given = {key: str(v) if isinstance(v, Path) else v for key, v in given.items()}
    given = {key: value for key, value in given.items() if value not in (None, [])}
    if arguments.batch is None:
        print(json.dumps(command(given), ensure_ascii=False, allow_nan=False))
        return 0
    for number, line in enumerate(lines_of(arguments.batch), start=1):
        print(tr("cli.progress", number=number), file=sys.stderr)
        try:
            result = command({**given, **options_of(line, keys)})
        except BrokenPipeError:
            raise
        except Exception as error:  # one line that nobody foresaw never ends a batch
            result = {"error": sentence(error, f"batch line {number}")}
        print(json.dumps(result, ensure_ascii=False, allow_nan=False), flush=True)
    return 0


def lines_of(path: Path) -> Iterator[str]:
    """Yield the lines of a batch file that hold something."""
    try:
        text = path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        why = getattr(error, "strerror", None) or type(error).__name__
        raise CommandError("error.command.batch_file", name=path.name, why=why) from error
    yield from (line for line in text.splitlines() if line.strip())


_EXAMPLES = {
    "photo": '{"photo": "a.jpg"}',
    "board": '{"target": "a.jpg", "board": "b.jpg"}',
    "base": '{"base": [80, 1, 9], "target": [70, 2, 14]}',
}


def options_of(line: str, keys: dict[str, Any]) -> Options:
    """Return the options of one line of a batch file.

    Raises
    ------
    CommandError : when the line is no JSON object, or a key or value is wrong.
    """
    example = next(
        (text for key, text in _EXAMPLES.items() if key in keys), '{"target": [52, 3, 9]}'
    )
    try:
        options = json.loads(line)
    except (ValueError, RecursionError) as error:
        raise CommandError("error.command.line", example=example) from error
    if not isinstance(options, dict):
        raise CommandError("error.command.line", example=example)
    check_signs(options)
    for key, value in options.items():
        if key not in keys:
            known = ", ".join(keys)
            raise CommandError("error.command.unknown_key", key=key, known=known)
        kind = keys[key]
        if kind in (int, "colour", "parts", "names"):
            _check_paint_option(key, kind, value)
            continue
        if kind is float and (isinstance(value, bool) or not isinstance(value, int | float)):
            raise wrong_value(key, "word.number", value)
        if kind is str and not isinstance(value, str):
            raise wrong_value(key, "word.text", value)
        if kind == "name or names":
            listed = value if isinstance(value, list) else [value]
            if not all(isinstance(name, str) for name in listed):
                raise wrong_value(key, "word.photo_names", value)
            continue
        if kind is bool:
            if not isinstance(value, bool):
                raise wrong_value(key, "word.yes_or_no", value)
            continue
        if kind not in (float, str) and not isinstance(value, str | list):
            raise wrong_value(key, "word.numbers", value)
    return options


def _check_paint_option(key: str, kind: object, value: object) -> None:
    """Raise CommandError when an option of mixes or glazes has the wrong form."""
    if kind is int:
        if isinstance(value, bool) or not isinstance(value, int):
            raise wrong_value(key, "word.whole_number", value)
    elif kind == "parts":
        if not isinstance(value, str | dict):
            raise wrong_value(key, "word.parts", value)
    elif not isinstance(value, str | list):
        raise wrong_value(key, "word.numbers" if kind == "colour" else "word.names", value)


def wrong_value(key: str, kind: str, value: object) -> CommandError:
    """Return the error of a value of another kind than its key takes."""
    return CommandError("error.command.value", key=key, kind=tr(kind), given=json.dumps(value))


def numbers(value: str | list, count: int, option: str, example: str) -> list[float]:
    """Return so many numbers of "a,b,c" or of a list."""
    parts = value.split(",") if isinstance(value, str) else value
    try:
        numbers = [float(part) for part in parts]
    except (TypeError, ValueError):
        numbers = []
    if len(numbers) != count:
        raise CommandError(
            "error.command.numbers", option=option, amount=count, example=example, given=value
        )
    return numbers


def text(path: str) -> str:
    """Return a text file, whatever its byte order mark."""
    try:
        return Path(path).read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        why = getattr(error, "strerror", None) or type(error).__name__
        raise CommandError("error.command.list_file", name=Path(path).name, why=why) from error


def write(path: Path, data: bytes) -> None:
    """Write a file, or say in one sentence why it can't be."""
    try:
        path.write_bytes(data)
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise CommandError("error.command.write", name=str(path), why=why) from error


def needed(options: Options, key: str) -> Any:
    """Return an option that must be given."""
    if key not in options:
        raise CommandError("error.command.missing", option=key.upper())
    return options[key]
