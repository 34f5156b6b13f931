"""The commands that look at photos: read, compare, prepare, card."""

from __future__ import annotations

import argparse
import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from jartide.boards.mends import mending
from jartide.boards.pieces import Piece, pair_pieces
from jartide.boards.result import TOLERANCE
from jartide.boards.seen import view_of
from jartide.boards.strokes import Made
from jartide.boards.surface_state import SurfaceState, as_if
from jartide.boards.together import read_together
from jartide.cli.options import Options, needed, numbers, run, text, write
from jartide.errors import CommandError, ReadingError
from jartide.families import family_named
from jartide.photo.card.design import CardSize
from jartide.photo.card.files import card_file
from jartide.photo.load import load_photo
from jartide.photo.picture import Picture
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import (
    CardUse,
    Chart,
    EvenLight,
    KnownPatch,
    LightSource,
    PhotoSettings,
    Rect,
    Sheen,
    SheenWord,
)
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.read import find_basis, read_basis
from jartide.reading.result import Reading
from jartide.reading.suggest import suggest_zones
from jartide.store.colour_lists import read_card_values, read_chart
from jartide.store.exchange import (
    comparison_to_json,
    reading_from_json,
    reading_to_json,
    together_to_json,
)
from jartide.store.exchange_prepared import prepared_to_json
from jartide.store.layers_out import write_layers
from jartide.store.pictures import picture_png
from jartide.wording import Message

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
    "scan": bool,
    "joints_as_lines": bool,
    "sheen": str,
}
READ_KEYS = {**_PHOTO_KEYS, "photo": "name or names", "family": str, "zones": bool}
PREPARE_KEYS = {**_PHOTO_KEYS, "out": str}
COMPARE_KEYS = {
    "target": "name or names",
    "board": "name or names",
    "mm_per_px_target": float,
    "mm_per_px_board": float,
    **{
        f"{which}_{key}": kind
        for which in ("target", "board")
        for key, kind in _PHOTO_KEYS.items()
        if key not in ("photo", "mm_per_px")
    },
    "made": str,
    "target_state": str,
    "board_state": str,
    "scan": bool,
    "viewing_m": float,
    "family": str,
    "tolerance": float,
    "same_spot": bool,
    "colours_known": bool,
}


def size_of(value: str | list) -> tuple[float, float]:
    """Return (width, height) of "600x400" or of a list of both."""
    parts = value.lower().split("x") if isinstance(value, str) else value
    try:
        width, height = (float(part) for part in parts)
    except (TypeError, ValueError):
        raise CommandError("error.command.size", given=value) from None
    return width, height


def _rect(value: str | list, option: str):
    x, y, w, h = numbers(value, 4, option, "20,30,60,60")
    return Rect(x=x, y=y, w=w, h=h)


def _four_points(value: str | list, option: str) -> Any:
    flat = numbers(value, 8, option, "10,10,900,12,890,700,15,690")
    return tuple(zip(flat[::2], flat[1::2], strict=True))


def _settings(options: Options):
    """Return the photo settings that the options of `read` and `prepare` stand for."""
    corners = size = region = chart = sheen = light = None
    neutrals: tuple = ()
    if "corners" in options:
        if "mm_per_px" in options:
            raise CommandError("error.command.scale_twice")
        corners = _four_points(options["corners"], "--corners")
    if "size" in options:
        if corners is None:
            raise CommandError("error.command.size_needs_corners")
        size = size_of(options["size"])
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
        listed = read_chart(text(options["chart"]), options["chart"])
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
        scan=bool(options.get("scan", False)),
        joints_as_lines=bool(options.get("joints_as_lines", False)),
        sheen=sheen,
    )


def _card_use(options: Options):
    measured: tuple = ()
    if "card_values" in options:
        name = options["card_values"]
        measured = read_card_values(text(name), name)
    return CardUse(
        ignore=bool(options.get("no_card", False)),
        height_mm=options.get("card_height", 0.0),
        check_mm=options.get("card_length"),
        measured=measured,
    )


def _prepared(options: Options):
    """Open a photo and prepare it as the options say."""
    settings = _settings(options)
    photo = load_photo(needed(options, "photo"))
    blank = load_photo(options["blank"]) if "blank" in options else None
    card = card_for(photo, settings)
    return prepare_in_full(photo, settings, card=card, blank=blank), settings


def prepare_photo(options: Options) -> Any:
    """Make a photo flat, write it where wanted, and return what was done, for JSON."""
    prepared, settings = _prepared(options)
    out = options.get("out")
    if out is not None:
        write(Path(out), picture_png(prepared.picture))
    return prepared_to_json(prepared, settings, None if out is None else str(out))


def print_card(arguments: argparse.Namespace) -> int:
    """Write the card of the wanted size as a page to print; return the exit code."""
    if arguments.out is None:
        raise CommandError("error.command.card_out")
    sizes = {size.value.lower(): size for size in CardSize}
    size = sizes.get(arguments.size.lower())
    if size is None:
        known = ", ".join(size.value for size in CardSize)
        raise CommandError("error.command.card_size", given=arguments.size, known=known)
    write(arguments.out, card_file(size, arguments.out.suffix.lower(), arguments.dpi))
    print(arguments.out)
    return 0


def read_command(arguments: argparse.Namespace) -> int:
    """Run `jar-tide read`; the layers are written for one photo only."""
    if arguments.layers_to is None:
        return run(arguments, READ_KEYS, read_photo)
    if arguments.batch is not None or len(arguments.photo) != 1:
        raise CommandError("error.command.layers_to")
    return run(
        arguments,
        READ_KEYS,
        lambda options: read_photo({**options, "layers_to": arguments.layers_to}),
    )


def _reading(options: Options, family: str):
    kind = family_named(family)
    prepared, _ = _prepared(options)
    basis = find_basis(prepared.picture, family)
    reading, layers = read_basis(basis)
    if options.get("zones"):
        zones = suggest_zones(layers, kind)
        reading, _ = read_basis(basis, zones=zones) if zones else (reading, layers)
    if "layers_to" in options:
        _write_layers(options["layers_to"], prepared.picture, layers)
    return reading, prepared.picture


def _write_layers(folder: Path, picture: Picture, layers: LayerMap) -> None:
    try:
        write_layers(folder, picture, layers)
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise CommandError("error.command.write", name=str(folder), why=why) from error


def read_photo(options: Options) -> Any:
    """Read one photo, or several of one finish together."""
    photos, readings = _readings(options)
    if len(readings) == 1:
        return reading_to_json(readings[0])
    return together_to_json(read_together(readings), photos)


def read_together_from(options: Options) -> Reading:
    """Return the common reading of the photos that options name."""
    _, readings = _readings(options)
    return readings[0] if len(readings) == 1 else read_together(readings).reading


def _readings(options: Options) -> tuple[list[str], list[Reading]]:
    family = options.get("family", "auto")
    photos = needed(options, "photo")
    photos = [photos] if isinstance(photos, str) else photos
    if not photos:
        raise CommandError("error.command.missing", option="PHOTO")
    return photos, [_reading({**options, "photo": photo}, family)[0] for photo in photos]


def compare_photos(options: Options) -> Any:
    """Compare a board with its target, each of one photo or several."""
    family = options.get("family", "auto")
    tolerance = options.get("tolerance", TOLERANCE)
    if tolerance <= 0:
        raise CommandError("error.command.tolerance", given=tolerance)
    target, a = _piece(options, "target", "mm_per_px_target", family)
    board, b = _piece(options, "board", "mm_per_px_board", family)
    notes = _notes(target, board, saved=a is None or b is None)
    if options.get("colours_known"):
        target, board = (
            replace(one, balance_known=True, exposure_known=True) for one in (target, board)
        )
    board, foretold = _in_the_targets_state(options, target, board)
    if board.surface_state is not None:
        # Both states were said: nobody need be asked about them.
        target = replace(target, surface_state=board.surface_state)
    if foretold is not None:
        notes.append(foretold)
        b = None
    viewing_m = options.get("viewing_m", 2.0)
    same_spot = bool(options.get("same_spot"))
    first, second = (
        Piece(
            reading=reading,
            view=(None if p is None or p.mm_per_px is None else view_of(p.rgb_linear, p.mm_per_px)),
        )
        for reading, p in ((target, a), (board, b))
    )
    made = options.get("made")
    if made is not None and made not in list(Made):
        raise CommandError("error.command.made", given=made, known=", ".join(Made))
    pair = pair_pieces(first, second, same_spot=same_spot, made=made)
    comparison = pair.judged(viewing_m, tolerance)
    return comparison_to_json(comparison, mending(comparison, target), notes)


def _in_the_targets_state(
    options: Options, target: Reading, board: Reading
) -> tuple[Reading, Message | None]:
    """The board as it would look in the target's state, and what is to be said of that."""
    given: dict[str, SurfaceState] = {}
    known = [state.value for state in SurfaceState]
    for key in ("target_state", "board_state"):
        if key in options and options[key] not in known:
            raise CommandError("error.command.state", given=options[key], known=", ".join(known))
        if key in options:
            given[key] = SurfaceState(options[key])
    if len(given) < 2:
        return board, None
    wanted, was = given["target_state"], given["board_state"]
    seen = as_if(board, was, wanted, target.sheen)
    if wanted is was:
        return seen, None
    return seen, Message("cli.note.foretold", was=was.value, wanted=wanted.value)


def _notes(target: Reading, board: Reading, *, saved: bool) -> list[Message]:
    """What whoever reads a comparison should know of the photos."""
    notes = [Message("cli.note.by_measures")] if saved else []
    for reading, which in ((target, "target"), (board, "board")):
        if any(code == "at_an_angle" for code, _ in reading.warnings):
            notes.append(Message(f"cli.note.at_an_angle.{which}"))
    return notes


def _piece(options: Options, which: str, scale: str, family: str) -> tuple[Reading, Picture | None]:
    """Read the photo, or the photos together, of one piece; with the first one's picture.

    Of readings that were saved there is no picture.
    """
    photos = needed(options, which)
    photos = [photos] if isinstance(photos, str) else photos
    if not photos:
        raise CommandError("error.command.missing", option=which.upper())
    prefix = f"{which}_"
    own: Options = {
        key.removeprefix(prefix): value for key, value in options.items() if key.startswith(prefix)
    }
    own |= {"mm_per_px": options[scale]} if scale in options else {}
    if own and all(map(_is_saved, photos)):
        # What was read once is as it was read: a corner given now would change nothing.
        option = f"{which}_{next(iter(own))}" if "mm_per_px" not in own else scale
        raise CommandError("error.command.saved_as_read", option="--" + option.replace("_", "-"))
    own |= {"scan": options["scan"]} if "scan" in options else {}
    read: list[tuple[Reading, Picture | None]] = [
        (_saved(photo), None) if _is_saved(photo) else _reading({**own, "photo": photo}, family)
        for photo in photos
    ]
    if len(read) == 1:
        return read[0]
    together = read_together([reading for reading, _ in read])
    return together.reading, read[together.lead][1]


def _is_saved(name: str) -> bool:
    return Path(name).suffix.lower() == ".json"


def _saved(name: str) -> Reading:
    """Return a reading that `read --json` has printed."""
    try:
        told = json.loads(text(name))
    except (ValueError, RecursionError) as error:
        raise ReadingError("error.reading.not_saved") from error
    return reading_from_json(told)


def compare_command(arguments: argparse.Namespace) -> int:
    """Carry out `jar-tide compare`."""
    return run(arguments, COMPARE_KEYS, compare_photos)


def prepare_command(arguments: argparse.Namespace) -> int:
    """Carry out `jar-tide prepare`."""
    return run(arguments, PREPARE_KEYS, prepare_photo)
