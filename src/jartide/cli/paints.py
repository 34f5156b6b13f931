"""The commands that look at paints: mix and glaze, each to find recipes or to predict one."""

from __future__ import annotations

import argparse
import json
import sys
from functools import lru_cache
from pathlib import Path
from typing import Any

from jartide.cli.options import Options, needed, numbers, run, text
from jartide.colour.words import Lab
from jartide.errors import CommandError
from jartide.paint.batch import Held, amounts
from jartide.paint.enumeration import count_mixes
from jartide.paint.fit import fit_shelf
from jartide.paint.fitted import FittedShelf
from jartide.paint.glaze import GlazeWishes, find_glazes, predict_glaze
from jartide.paint.hiding import coats_to_hide, one_coat_hides, parts_row
from jartide.paint.let_down import find_let_down
from jartide.paint.mix_index import MOST_MIXES, MixIndex
from jartide.paint.predict import predict
from jartide.paint.recipe import Part, Wishes
from jartide.paint.rows import hiding_layers
from jartide.paint.search import find_mixes
from jartide.paint.shelf import black_paints
from jartide.paint.stock import MIXABLE, Stock
from jartide.store.exchange_mixes import (
    glazes_to_json,
    let_down_to_json,
    mixes_to_json,
    prediction_to_json,
)
from jartide.store.mix_cache import mix_index
from jartide.store.shelf_csv import read_shelf, read_stock
from jartide.wording import tr

MIX_KEYS = {
    "shelf": str,
    "stock": str,
    "target": "colour",
    "parts": "parts",
    "max_paints": int,
    "max_parts": int,
    "top": int,
    "include": "names",
    "exclude": "names",
    "keep": "names",
    "own_black": bool,
    "amount_ml": float,
    "spoon_ml": float,
    "over": "colour",
    "primer": "colour",
    "let_down": bool,
}
GLAZE_KEYS = {
    "shelf": str,
    "base": "colour",
    "target": "colour",
    "parts": "parts",
    "max_coats": int,
    "max_paints": int,
    "max_parts": int,
    "top": int,
    "include": "names",
    "exclude": "names",
    "carrier": float,
    "carrier_name": str,
    "water": float,
    "no_water": bool,
    "coats": int,
}
# So many mixes take a moment to prepare.
_WORTH_SAYING = 2_000_000
_LEAST_L, _MOST_L, _MOST_AB = 0.0, 105.0, 200.0


@lru_cache(maxsize=4)
def _fitted(path: str, _changed: float) -> FittedShelf:
    return fit_shelf(read_shelf(text(path), Path(path).name))


def shelf_of(options: Options) -> FittedShelf:
    """Return the fitted shelf of a command, kept for the next line of a batch."""
    path = needed(options, "shelf")
    try:
        changed = Path(path).stat().st_mtime
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise CommandError("error.command.list_file", name=Path(path).name, why=why) from error
    return _fitted(path, changed)


_indexes: dict[tuple[int, tuple[int, ...], int, int], MixIndex | None] = {}


def _index(fitted: FittedShelf, paints: list[int], most_paints: int, most_parts: int) -> Any:
    """Return the index of a shelf, kept for the next line of a batch."""
    key = (id(fitted), tuple(paints), most_paints, most_parts)
    if key not in _indexes:
        many = count_mixes(len(paints), min(most_paints, 3), most_parts)
        if _WORTH_SAYING < many <= MOST_MIXES:
            print(tr("cli.preparing_mixes"), file=sys.stderr)
        _indexes.clear()
        _indexes[key] = mix_index(fitted, paints, most_paints, most_parts)
    return _indexes[key]


def _colour(fitted: FittedShelf, options: Options, key: str) -> Lab:
    """Return the colour of an option: three numbers, or the name of a paint on the shelf."""
    value = needed(options, key)
    option = f"--{key}"
    shelf = fitted.shelf
    if isinstance(value, str) and value.strip().casefold() in map(str.casefold, shelf.names()):
        return shelf.paints[shelf.number_of(value)].masstone
    lightness, a, b = numbers(value, 3, option, "52,3,9")
    if not (_LEAST_L <= lightness <= _MOST_L and max(abs(a), abs(b)) <= _MOST_AB):
        raise CommandError("error.command.colour", option=option, given=_shown(value))
    return lightness, a, b


def _shown(value: Any) -> str:
    return value if isinstance(value, str) else json.dumps(value)


def _parts(fitted: FittedShelf, value: Any) -> tuple[Part, ...]:
    """Return parts given as "NAME=3,NAME=1" or as an object."""
    pairs: list[tuple[str, Any]]
    if isinstance(value, dict):
        pairs = list(value.items())
    else:
        # A paint's name may hold commas, a number of parts may not.
        pairs, name = [], ""
        for piece in str(value).split(","):
            name = f"{name},{piece}" if name else piece
            if "=" in piece:
                left, _, right = name.rpartition("=")
                pairs.append((left, right))
                name = ""
        if name:
            pairs.append((name, None))
    found: dict[int, float] = {}
    for name, count in pairs:
        try:
            amount = float(count)
        except (TypeError, ValueError):
            raise CommandError("error.command.parts", given=_shown(value)) from None
        if isinstance(count, bool) or not 0 <= amount < 1e6:
            raise CommandError("error.command.parts", given=_shown(value))
        number = fitted.shelf.number_of(name)
        found[number] = found.get(number, 0.0) + amount
    if sum(found.values()) <= 0:
        raise CommandError("error.command.parts", given=_shown(value))
    return tuple(Part(paint=n, parts=p) for n, p in found.items() if p > 0)


def _names(fitted: FittedShelf, value: Any) -> frozenset[int]:
    names = value.split(",") if isinstance(value, str) else value
    return frozenset(fitted.shelf.number_of(str(name)) for name in names)


def _count(options: Options, key: str, usual: int, least: int, most: int) -> int:
    value = options.get(key, usual)
    if isinstance(value, bool) or value != int(value) or not least <= value <= most:
        option = "--" + key.replace("_", "-")
        raise CommandError("error.command.count", option=option, least=least, most=most)
    return int(value)


def _allowed(fitted: FittedShelf, options: Options) -> frozenset[int]:
    """Return the paints that may be used."""
    paints = frozenset(range(len(fitted.shelf.paints)))
    if "include" in options:
        paints = _names(fitted, options["include"])
    if "exclude" in options:
        paints -= _names(fitted, options["exclude"])
    if options.get("own_black"):
        paints -= black_paints(fitted.shelf)
    return paints


def _stock(options: Options) -> dict[str, Stock]:
    if "stock" not in options:
        return {}
    path = options["stock"]
    return {name.casefold(): own for name, own in read_stock(text(path), Path(path).name).items()}


def mix(options: Options) -> Any:
    """Find mixes for a target, or predict given parts."""
    fitted = shelf_of(options)
    if "parts" in options:
        parts = _parts(fitted, options["parts"])
        row = parts_row(fitted, parts)
        found = prediction_to_json(predict(fitted, hiding_layers(row / row.sum())))
        return {**found, **_coats(fitted, parts, options)} if "over" in options else found
    target = _colour(fitted, options, "target")
    stock = _stock(options)
    allowed = _allowed(fitted, options) - _not_for_mixing(fitted, stock)
    amount = options.get("amount_ml", 0.0)
    wishes = Wishes(
        most_paints=_count(options, "max_paints", 3, 1, 6),
        most_parts=_count(options, "max_parts", 12, 1, 40),
        top=_count(options, "top", 5, 1, 100),
        paints=allowed,
        keep=_names(fitted, options["keep"]) if "keep" in options else frozenset(),
        least_share=options.get("spoon_ml", 0.0) / amount if amount > 0 else 0.0,
    )
    index = _index(fitted, sorted(allowed), wishes.most_paints, wishes.most_parts)
    recipes = find_mixes(fitted, target, wishes, index)
    extra = [_costs(fitted, recipe, stock, amount) for recipe in recipes]
    found = mixes_to_json(fitted.shelf, target, recipes, extra)
    if options.get("let_down"):
        let_down = find_let_down(fitted, target, recipes, wishes)
        found["let_down"] = None if let_down is None else let_down_to_json(fitted.shelf, let_down)
    return found


def _coats(fitted: FittedShelf, parts: tuple[Part, ...], options: Options) -> dict[str, Any]:
    """Return the coats that hide an old colour, without and with a tinted primer."""
    over = _colour(fitted, options, "over")
    found: dict[str, Any] = {"coats_to_hide": coats_to_hide(fitted, parts, over).coats}
    if "primer" in options:
        primer = _colour(fitted, options, "primer")
        found["coats_over_primer"] = coats_to_hide(fitted, parts, over, primer=primer).coats
    return found


def _not_for_mixing(fitted: FittedShelf, stock: dict[str, Stock]) -> frozenset[int]:
    """Return metals, waxes and the like: their colour does not mix as the model has it."""
    names = fitted.shelf.names()
    return frozenset(
        n
        for n, name in enumerate(names)
        if name.casefold() in stock and stock[name.casefold()].kind not in MIXABLE
    )


def _costs(
    fitted: FittedShelf, recipe: Any, stock: dict[str, Stock], amount_ml: float
) -> dict[str, Any]:
    """Return how well a mix hides and, where the stock is known, what it costs and lacks."""
    found: dict[str, Any] = {"hides": round(one_coat_hides(fitted, recipe.parts), 3)}
    if not stock or amount_ml <= 0:
        return found
    names = fitted.shelf.names()
    parts = tuple((names[part.paint], part.parts) for part in recipe.parts)
    held = {
        name: Held(left_ml=own.left_ml, tin_ml=own.tin_ml, tin_price=own.price)
        for name, _ in parts
        if (own := stock.get(name.casefold())) is not None
    }
    batch = amounts(parts, amount_ml, held)
    found["ml"] = {amount.name: round(amount.ml, 1) for amount in batch}
    prices = [amount.price for amount in batch]
    found["price"] = None if None in prices else round(sum(p for p in prices if p is not None), 2)
    found["missing_ml"] = {a.name: round(a.missing_ml, 1) for a in batch if a.missing_ml > 0}
    return found


def glaze(options: Options) -> Any:
    """Find glazes that bring a base to a target, or predict one."""
    fitted = shelf_of(options)
    base = _colour(fitted, options, "base")
    carrier_name = options.get("carrier_name", "")
    if "parts" in options:
        for key in ("carrier", "water"):
            if not 0 <= options.get(key, 0) < 1e6:
                raise CommandError("error.command.not_negative", option=f"--{key}")
        predicted = predict_glaze(
            fitted,
            _parts(fitted, options["parts"]),
            base,
            carrier=float(options.get("carrier", 0)),
            water=float(options.get("water", 0)),
            coats=_count(options, "coats", 1, 1, 50),
            carrier_name=carrier_name,
        )
        return prediction_to_json(predicted)
    target = _colour(fitted, options, "target")
    wishes = GlazeWishes(
        paints=_allowed(fitted, options),
        most_parts=_count(options, "max_parts", 16, 1, 60),
        most_coats=_count(options, "max_coats", 3, 1, 12),
        most_paints=_count(options, "max_paints", 2, 1, 2),
        water=(0,) if options.get("no_water") else (0, 1, 2),
        carrier_name=carrier_name,
        top=_count(options, "top", 5, 1, 100),
    )
    return glazes_to_json(fitted.shelf, base, target, find_glazes(fitted, base, target, wishes))


def mix_command(arguments: argparse.Namespace) -> int:
    """Carry out `jar-tide mix`."""
    return run(arguments, MIX_KEYS, mix)


def glaze_command(arguments: argparse.Namespace) -> int:
    """Carry out `jar-tide glaze`."""
    return run(arguments, GLAZE_KEYS, glaze)
