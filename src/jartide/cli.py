"""The command line: the same stages without a window.

Results go to standard output, progress to standard error. Exit status 0, or 2
with one plain sentence. Heavy modules are imported by the command that needs
them, so that the window opens without waiting for the rest.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, NoReturn

from jartide import __version__
from jartide.errors import CommandError, JarTideError
from jartide.wording import tr

Options = dict[str, Any]


class _Parser(argparse.ArgumentParser):
    """An argument parser that says what is wrong in one sentence, without the usage."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{tr('cli.usage', message=message)}\n")


def main(argv: list[str] | None = None) -> int:
    """Run `jar-tide` and return its exit status."""
    arguments = _parser().parse_args(argv)
    try:
        return arguments.run(arguments)
    except JarTideError as error:
        print(error, file=sys.stderr)
        return 2
    except BrokenPipeError:  # whoever read our output has seen enough
        sys.stderr.close()
        return 0


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="jar-tide", description=tr("cli.about"))
    parser.add_argument("--version", action="version", version=f"jar-tide {__version__}")
    parser.add_argument("--workspace", type=Path, help=tr("cli.help.workspace"))
    parser.set_defaults(run=_open_window)
    commands = parser.add_subparsers(metavar="COMMAND", parser_class=_Parser)

    read = commands.add_parser("read", help=tr("cli.help.read"))
    read.add_argument("photo", nargs="?", metavar="PHOTO")
    read.add_argument("--mm-per-px", type=float, metavar="X", help=tr("cli.help.mm_per_px"))
    read.add_argument("--corners", metavar="x,y,x,y,x,y,x,y", help=tr("cli.help.corners"))
    read.add_argument("--size", metavar="WxH", help=tr("cli.help.size"))
    read.add_argument("--neutral", metavar="x,y,w,h", help=tr("cli.help.neutral"))
    read.add_argument("--neutral-L", type=float, metavar="L", help=tr("cli.help.neutral_L"))
    read.add_argument("--family", metavar="NAME", help=tr("cli.help.family"))
    read.add_argument("--region", metavar="x,y,w,h", help=tr("cli.help.region"))
    _add_output(read)
    read.set_defaults(run=lambda a: _run(a, _READ_KEYS, _read))

    compare = commands.add_parser("compare", help=tr("cli.help.compare"))
    compare.add_argument("target", nargs="?", metavar="TARGET")
    compare.add_argument("board", nargs="?", metavar="BOARD")
    compare.add_argument("--mm-per-px-target", type=float, metavar="X")
    compare.add_argument("--mm-per-px-board", type=float, metavar="Y")
    compare.add_argument("--viewing-m", type=float, metavar="M", help=tr("cli.help.viewing"))
    compare.add_argument("--family", metavar="NAME", help=tr("cli.help.family"))
    _add_output(compare)
    compare.set_defaults(run=lambda a: _run(a, _COMPARE_KEYS, _compare))

    demo = commands.add_parser("demo", help=tr("cli.help.demo"))
    demo.set_defaults(run=_open_demo)
    return parser


def _add_output(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--json", action="store_true", help=tr("cli.help.json"))
    parser.add_argument("--batch", type=Path, metavar="FILE.jsonl", help=tr("cli.help.batch"))


# ---- the window


def _open_window(arguments: argparse.Namespace) -> int:
    from jartide.app.main import run_app

    return run_app(arguments.workspace)


def _open_demo(arguments: argparse.Namespace) -> int:
    from jartide.app.main import run_app

    return run_app(arguments.workspace, demo=True)


# ---- options, from the command line or a line of a batch file

_READ_KEYS = {
    "photo": str,
    "mm_per_px": float,
    "corners": "list of 8",
    "size": "WxH",
    "neutral": "list of 4",
    "neutral_L": float,
    "family": str,
    "region": "list of 4",
}
_COMPARE_KEYS = {
    "target": str,
    "board": str,
    "mm_per_px_target": float,
    "mm_per_px_board": float,
    "viewing_m": float,
    "family": str,
}


def _run(
    arguments: argparse.Namespace, keys: dict[str, Any], command: Callable[[Options], Any]
) -> int:
    given = {key: getattr(arguments, key) for key in keys}
    given = {key: value for key, value in given.items() if value is not None}
    if arguments.batch is None:
        print(json.dumps(command(given), ensure_ascii=False, allow_nan=False))
        return 0
    for number, line in enumerate(_lines_of(arguments.batch), start=1):
        print(tr("cli.progress", number=number), file=sys.stderr)
        try:
            result = command({**given, **_options_of(line, keys)})
        except JarTideError as error:
            result = {"error": str(error)}
        print(json.dumps(result, ensure_ascii=False, allow_nan=False), flush=True)
    return 0


def _lines_of(path: Path) -> Iterator[str]:
    try:
        text = path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        why = getattr(error, "strerror", None) or type(error).__name__
        raise CommandError("error.command.batch_file", name=path.name, why=why) from error
    yield from (line for line in text.splitlines() if line.strip())


def _options_of(line: str, keys: dict[str, Any]) -> Options:
    """Return the options of one line of a batch file.

    Raises
    ------
    CommandError : when the line is no JSON object, or a key or value is wrong.
    """
    example = '{"photo": "a.jpg"}' if "photo" in keys else '{"target": "a.jpg", "board": "b.jpg"}'
    try:
        options = json.loads(line)
    except ValueError as error:
        raise CommandError("error.command.line", example=example) from error
    if not isinstance(options, dict):
        raise CommandError("error.command.line", example=example)
    for key, value in options.items():
        if key not in keys:
            known = ", ".join(keys)
            raise CommandError("error.command.unknown_key", key=key, known=known)
        kind = keys[key]
        if kind is float and (isinstance(value, bool) or not isinstance(value, int | float)):
            raise _wrong_value(key, "word.number", value)
        if kind is str and not isinstance(value, str):
            raise _wrong_value(key, "word.text", value)
        if kind not in (float, str) and not isinstance(value, str | list):
            raise _wrong_value(key, "word.numbers", value)
    return options


def _wrong_value(key: str, kind: str, value: object) -> CommandError:
    return CommandError("error.command.value", key=key, kind=tr(kind), given=json.dumps(value))


def _numbers(value: str | list, count: int, option: str, example: str) -> list[float]:
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


def _size(value: str | list) -> tuple[float, float]:
    parts = value.lower().split("x") if isinstance(value, str) else value
    try:
        width, height = (float(part) for part in parts)
    except (TypeError, ValueError):
        raise CommandError("error.command.size", given=value) from None
    return width, height


def _settings(options: Options):
    """Return the photo settings that the options of `read` stand for."""
    from jartide.photo.settings import Neutral, PhotoSettings, Rect

    corners = size = neutral = region = None
    if "corners" in options:
        if "mm_per_px" in options:
            raise CommandError("error.command.scale_twice")
        flat = _numbers(options["corners"], 8, "--corners", "10,10,900,12,890,700,15,690")
        corners = tuple(zip(flat[::2], flat[1::2], strict=True))
    if "size" in options:
        if corners is None:
            raise CommandError("error.command.size_needs_corners")
        size = _size(options["size"])
    if "neutral" in options:
        rect = Rect(
            **dict(
                zip(
                    "xywh", _numbers(options["neutral"], 4, "--neutral", "20,30,60,60"), strict=True
                )
            )
        )
        neutral = Neutral(rect=rect, lightness=options.get("neutral_L"))
    elif "neutral_L" in options:
        raise CommandError("error.command.neutral_L")
    if "region" in options:
        numbers = _numbers(options["region"], 4, "--region", "100,100,800,600")
        region = Rect(**dict(zip("xywh", numbers, strict=True)))
    return PhotoSettings(
        corners=corners,  # type: ignore[arg-type]  # four pairs, by the count of eight
        size_mm=size,
        mm_per_px=options.get("mm_per_px"),
        neutral=neutral,
        region=region,
    )


# ---- the commands


def _reading(path: str, settings, family: str):
    from jartide.families import family_named
    from jartide.photo.load import load_photo
    from jartide.photo.prepare import prepare
    from jartide.reading.read import read_picture

    family_named(family)
    reading, _ = read_picture(prepare(load_photo(path), settings), family)
    return reading


def _needed(options: Options, key: str) -> Any:
    if key not in options:
        raise CommandError("error.command.missing", option=key.upper())
    return options[key]


def _read(options: Options) -> Any:
    from jartide.store.exchange import reading_to_json

    photo = _needed(options, "photo")
    return reading_to_json(_reading(photo, _settings(options), options.get("family", "auto")))


def _compare(options: Options) -> Any:
    from jartide.boards.compare import compare
    from jartide.photo.settings import PhotoSettings
    from jartide.store.exchange import comparison_to_json

    family = options.get("family", "auto")
    target, board = _needed(options, "target"), _needed(options, "board")
    readings = [
        _reading(path, PhotoSettings(mm_per_px=options.get(scale)), family)
        for path, scale in ((target, "mm_per_px_target"), (board, "mm_per_px_board"))
    ]
    comparison = compare(readings[0], readings[1], options.get("viewing_m", 2.0))
    return comparison_to_json(comparison)
