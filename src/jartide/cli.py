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
    _add_photo(read, several=True)
    read.add_argument("--family", metavar="NAME", help=tr("cli.help.family"))
    read.add_argument("--zones", action="store_true", default=None, help=tr("cli.help.zones"))
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

    prepared = commands.add_parser("prepare", help=tr("cli.help.prepare"))
    _add_photo(prepared)
    prepared.add_argument("--out", type=Path, metavar="FLAT.png", help=tr("cli.help.out"))
    _add_output(prepared)
    prepared.set_defaults(run=lambda a: _run(a, _PREPARE_KEYS, _prepare))

    card = commands.add_parser("card", help=tr("cli.help.card"))
    card.add_argument("--out", type=Path, metavar="card.pdf", help=tr("cli.help.card_out"))
    card.add_argument("--size", default="A6", metavar="SIZE", help=tr("cli.help.card_size"))
    card.add_argument("--dpi", type=int, default=300, metavar="N", help=tr("cli.help.dpi"))
    card.set_defaults(run=_card)

    demo = commands.add_parser("demo", help=tr("cli.help.demo"))
    demo.set_defaults(run=_open_demo)
    return parser


def _add_photo(parser: argparse.ArgumentParser, several: bool = False) -> None:
    """The options that say how a photo is squared, scaled, neutralised and evened."""
    parser.add_argument("photo", nargs="*" if several else "?", metavar="PHOTO")
    parser.add_argument("--mm-per-px", type=float, metavar="X", help=tr("cli.help.mm_per_px"))
    parser.add_argument("--corners", metavar="x,y,x,y,x,y,x,y", help=tr("cli.help.corners"))
    parser.add_argument("--size", metavar="WxH", help=tr("cli.help.size"))
    parser.add_argument("--neutral", metavar="x,y,w,h", help=tr("cli.help.neutral"))
    parser.add_argument("--neutral-L", type=float, metavar="L", help=tr("cli.help.neutral_L"))
    parser.add_argument("--region", metavar="x,y,w,h", help=tr("cli.help.region"))
    parser.add_argument("--card-values", metavar="FILE.csv", help=tr("cli.help.card_values"))
    parser.add_argument("--card-height", type=float, metavar="MM", help=tr("cli.help.card_height"))
    parser.add_argument("--card-length", type=float, metavar="MM", help=tr("cli.help.card_length"))
    parser.add_argument(
        "--whole-plane", action="store_true", default=None, help=tr("cli.help.whole_plane")
    )
    parser.add_argument("--no-card", action="store_true", default=None, help=tr("cli.help.no_card"))
    parser.add_argument("--chart", metavar="FILE.csv", help=tr("cli.help.chart"))
    parser.add_argument("--chart-corners", metavar="x,y,x,y,x,y,x,y", help=tr("cli.help.chart_at"))
    parser.add_argument("--even-light", action="store_true", default=None, help=tr("cli.help.even"))
    parser.add_argument("--as-lit", action="store_true", default=None, help=tr("cli.help.as_lit"))
    parser.add_argument("--blank", metavar="PHOTO", help=tr("cli.help.blank"))
    parser.add_argument("--leave-out", metavar="x,y,w,h;...", help=tr("cli.help.leave_out"))
    parser.add_argument("--sheen", metavar="WORD", help=tr("cli.help.sheen"))


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

_PHOTO_KEYS = {
    "photo": str,
    "mm_per_px": float,
    "corners": "list of 8",
    "size": "WxH",
    "neutral": "list of 4",
    "neutral_L": float,
    "region": "list of 4",
    "card_values": str,
    "card_height": float,
    "card_length": float,
    "no_card": bool,
    "whole_plane": bool,
    "chart": str,
    "chart_corners": "list of 8",
    "even_light": bool,
    "as_lit": bool,
    "blank": str,
    "leave_out": "list of 4",
    "sheen": str,
}
_READ_KEYS = {**_PHOTO_KEYS, "photo": "name or names", "family": str, "zones": bool}
_PREPARE_KEYS = {**_PHOTO_KEYS, "out": str}
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
    given = {key: str(v) if isinstance(v, Path) else v for key, v in given.items()}
    given = {key: value for key, value in given.items() if value not in (None, [])}
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
        if kind is bool:
            if not isinstance(value, bool):
                raise _wrong_value(key, "word.yes_or_no", value)
            continue
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


def _rect(value: str | list, option: str):
    from jartide.photo.settings import Rect

    x, y, w, h = _numbers(value, 4, option, "20,30,60,60")
    return Rect(x=x, y=y, w=w, h=h)


def _four_points(value: str | list, option: str) -> Any:
    flat = _numbers(value, 8, option, "10,10,900,12,890,700,15,690")
    return tuple(zip(flat[::2], flat[1::2], strict=True))


def _settings(options: Options):
    """Return the photo settings that the options of `read` and `prepare` stand for."""
    from jartide.photo.settings import (
        Chart,
        EvenLight,
        KnownPatch,
        LightSource,
        PhotoSettings,
        Sheen,
        SheenWord,
    )
    from jartide.store.colour_lists import read_chart

    corners = size = region = chart = sheen = light = None
    neutrals: tuple = ()
    if "corners" in options:
        if "mm_per_px" in options:
            raise CommandError("error.command.scale_twice")
        corners = _four_points(options["corners"], "--corners")
    if "size" in options:
        if corners is None:
            raise CommandError("error.command.size_needs_corners")
        size = _size(options["size"])
    if "neutral" in options:
        rect = _rect(options["neutral"], "--neutral")
        neutrals = (KnownPatch(rect=rect, lightness=options.get("neutral_L")),)
    elif "neutral_L" in options:
        raise CommandError("error.command.neutral_L")
    if "region" in options:
        region = _rect(options["region"], "--region")
    if "chart" in options:
        if "chart_corners" not in options:
            raise CommandError("error.command.chart_corners")
        listed = read_chart(_text(options["chart"]), options["chart"])
        chart = Chart(
            corners=_four_points(options["chart_corners"], "--chart-corners"),
            columns=listed.columns,
            rows=listed.rows,
            labs=listed.labs,
            name=Path(options["chart"]).stem,
        )
    if "blank" in options:
        light = EvenLight(source=LightSource.BLANK)
    elif options.get("even_light"):
        light = EvenLight()
    elif options.get("as_lit"):
        light = EvenLight(source=LightSource.NOT)
    if "sheen" in options:
        words = [word.value for word in SheenWord]
        if options["sheen"] not in words:
            known = ", ".join(words)
            raise CommandError("error.command.sheen", given=options["sheen"], known=known)
        sheen = Sheen(word=SheenWord(options["sheen"]))
    left_out: Any = options.get("leave_out", ())
    if isinstance(left_out, str):
        left_out = [part for part in left_out.split(";") if part.strip()]
    elif left_out and not isinstance(left_out[0], list):
        left_out = [left_out]
    return PhotoSettings(
        corners=corners,
        size_mm=size,
        mm_per_px=options.get("mm_per_px"),
        neutrals=neutrals,
        chart=chart,
        card=_card_use(options),
        light=light,
        leave_out=tuple(_rect(part, "--leave-out") for part in left_out),
        region=region,
        whole_plane=bool(options.get("whole_plane", False)),
        sheen=sheen,
    )


def _card_use(options: Options):
    from jartide.photo.settings import CardUse
    from jartide.store.colour_lists import read_card_values

    measured: tuple = ()
    if "card_values" in options:
        name = options["card_values"]
        measured = read_card_values(_text(name), name)
    return CardUse(
        ignore=bool(options.get("no_card", False)),
        height_mm=options.get("card_height", 0.0),
        check_mm=options.get("card_length"),
        measured=measured,
    )


def _text(path: str) -> str:
    try:
        return Path(path).read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        why = getattr(error, "strerror", None) or type(error).__name__
        raise CommandError("error.command.list_file", name=Path(path).name, why=why) from error


# ---- the commands


def _prepared(options: Options):
    """Open a photo and prepare it as the options say."""
    from jartide.photo.load import load_photo
    from jartide.photo.prepare import card_for, prepare_in_full

    settings = _settings(options)
    photo = load_photo(_needed(options, "photo"))
    blank = load_photo(options["blank"]) if "blank" in options else None
    card = card_for(photo, settings)
    return prepare_in_full(photo, settings, card=card, blank=blank), settings


def _prepare(options: Options) -> Any:
    from jartide.store.exchange_prepared import prepared_to_json
    from jartide.store.pictures import picture_png

    prepared, settings = _prepared(options)
    out = options.get("out")
    if out is not None:
        _write(Path(out), picture_png(prepared.picture))
    return prepared_to_json(prepared, settings, None if out is None else str(out))


def _card(arguments: argparse.Namespace) -> int:
    from jartide.photo.card.design import CardSize
    from jartide.photo.card.files import card_file

    if arguments.out is None:
        raise CommandError("error.command.card_out")
    sizes = {size.value.lower(): size for size in CardSize}
    size = sizes.get(arguments.size.lower())
    if size is None:
        known = ", ".join(size.value for size in CardSize)
        raise CommandError("error.command.card_size", given=arguments.size, known=known)
    _write(arguments.out, card_file(size, arguments.out.suffix.lower(), arguments.dpi))
    print(arguments.out)
    return 0


def _write(path: Path, data: bytes) -> None:
    try:
        path.write_bytes(data)
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise CommandError("error.command.write", name=str(path), why=why) from error


def _reading(options: Options, family: str):
    from jartide.families import family_named
    from jartide.reading.read import find_basis, read_basis
    from jartide.reading.suggest import suggest_zones

    kind = family_named(family)
    prepared, _ = _prepared(options)
    basis = find_basis(prepared.picture, family)
    reading, layers = read_basis(basis)
    if options.get("zones"):
        zones = suggest_zones(layers, kind)
        reading, _ = read_basis(basis, zones=zones) if zones else (reading, layers)
    return reading


def _needed(options: Options, key: str) -> Any:
    if key not in options:
        raise CommandError("error.command.missing", option=key.upper())
    return options[key]


def _read(options: Options) -> Any:
    """Read one photo, or several of one finish together."""
    from jartide.boards.together import read_together
    from jartide.store.exchange import reading_to_json, together_to_json

    family = options.get("family", "auto")
    photos = _needed(options, "photo")
    photos = [photos] if isinstance(photos, str) else photos
    if not photos:
        raise CommandError("error.command.missing", option="PHOTO")
    readings = [_reading({**options, "photo": photo}, family) for photo in photos]
    if len(readings) == 1:
        return reading_to_json(readings[0])
    return together_to_json(read_together(readings), photos)


def _compare(options: Options) -> Any:
    from jartide.boards.compare import compare
    from jartide.store.exchange import comparison_to_json

    family = options.get("family", "auto")
    target, board = _needed(options, "target"), _needed(options, "board")
    readings = []
    for path, scale in ((target, "mm_per_px_target"), (board, "mm_per_px_board")):
        own: Options = {"photo": path}
        if scale in options:
            own["mm_per_px"] = options[scale]
        readings.append(_reading(own, family))
    comparison = compare(readings[0], readings[1], options.get("viewing_m", 2.0))
    return comparison_to_json(comparison)
