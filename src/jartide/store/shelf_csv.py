"""A shelf as CSV: one row for every swatch read; and its stock as a second CSV joined by name.

Columns are listed in docs/formats.md.
"""

from __future__ import annotations

import csv
import io
from dataclasses import fields, replace

from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.errors import PaintError
from jartide.paint.shelf import Card, Opacity, Shelf, ShelfPaint, Swatch, SwatchKind
from jartide.paint.stock import Binder, Body, Doubt, Kind, Place, Rewets, Stock
from jartide.store.csv_rows import CsvRow, csv_rows
from jartide.wording import tr

SHELF_COLUMNS = (
    "name", "opacity", "swatch", "other", "over",
    "paint_parts", "other_parts", "water_parts", "coats", "L", "a", "b",
)  # fmt: skip
# Optional columns: the reflectance, 0 to 1, at each of these wavelengths.
SPECTRUM_COLUMNS = tuple(f"R{nm}" for nm in range(380, 731, 10))
_CARD_ROW = "card"
_CARD_NAMES = {"white card": Card.WHITE, "black card": Card.BLACK}
STOCK_COLUMNS = ("name", *(field.name for field in fields(Stock)))
_YES = {"yes": True, "no": False, "true": True, "false": False, "1": True, "0": False}


def read_shelf(text: str, file: str) -> Shelf:
    """Return the shelf a CSV lists.

    Raises
    ------
    PaintError : one sentence with line, column and what was expected.
    """
    masstones: dict[str, tuple[CsvRow, ShelfPaint]] = {}
    swatches: dict[str, list[Swatch]] = {}
    named: dict[str, CsvRow] = {}
    others: list[tuple[CsvRow, str]] = []
    cards: dict[Card, Lab] = {}
    for row in csv_rows(text, file, ("name", "swatch", "L", "a", "b")):
        name = row.needed("name")
        key = name.casefold()
        if row.text("swatch").lower() == _CARD_ROW:
            if key not in _CARD_NAMES:
                raise row.wrong("name", tr("csv.expected.word", words=", ".join(_CARD_NAMES)))
            cards[_CARD_NAMES[key]] = _lab(row)
            continue
        swatch = _swatch(row)
        named.setdefault(key, row)
        if swatch.kind is SwatchKind.MASSTONE:
            if key in masstones:
                raise row.wrong("swatch", tr("csv.expected.one_masstone", paint=name))
            opacity = row.maybe_word("opacity", Opacity) or Opacity.SEMI
            masstones[key] = (row, ShelfPaint(name=name, opacity=opacity, swatches=(swatch,)))
        else:
            swatches.setdefault(key, []).append(swatch)
            if swatch.kind is SwatchKind.MIX:
                others.append((row, swatch.other.casefold()))
    for key, row in named.items():
        if key not in masstones:
            raise row.wrong("swatch", tr("csv.expected.masstone", paint=row.text("name")))
    for row, other in others:
        if other not in masstones:
            raise row.wrong("other", tr("csv.expected.paint"))
    if not masstones:
        raise PaintError("error.csv.rows", name=file)
    paints = tuple(
        replace(paint, swatches=(*paint.swatches, *swatches.get(key, ())))
        for key, (_, paint) in masstones.items()
    )
    bare = Shelf(paints=paints)
    return replace(
        bare,
        white_card=cards.get(Card.WHITE, bare.white_card),
        black_card=cards.get(Card.BLACK, bare.black_card),
    )


def _lab(row: CsvRow) -> Lab:
    return (
        row.number("L", least=0, most=105),
        row.number("a", least=-200, most=200),
        row.number("b", least=-200, most=200),
    )


def _swatch(row: CsvRow) -> Swatch:
    kind = row.word("swatch", SwatchKind)
    lab = _lab(row)
    if kind is SwatchKind.MASSTONE:
        return Swatch(kind=kind, lab=lab, spectrum=_spectrum(row), source=Source.FILE)
    paint = row.number("paint_parts", least=0, most=1000, usual=0.0)
    other = row.number("other_parts", least=0, most=1000, usual=0.0)
    if paint <= 0:
        raise row.wrong("paint_parts", tr("csv.expected.parts"))
    if kind is SwatchKind.MIX:
        if other <= 0:
            raise row.wrong("other_parts", tr("csv.expected.parts"))
        return Swatch(
            kind=kind,
            lab=lab,
            other=row.needed("other"),
            paint_parts=paint,
            other_parts=other,
            source=Source.FILE,
        )
    return Swatch(
        kind=kind,
        lab=lab,
        other=row.text("other"),
        over=row.word("over", Card),
        paint_parts=paint,
        other_parts=other,
        water_parts=row.number("water_parts", least=0, most=1000, usual=0.0),
        coats=_coats(row),
        source=Source.FILE,
    )


def _spectrum(row: CsvRow) -> tuple[float, ...]:
    """A measured spectrum: all of its columns or none."""
    given = [column for column in SPECTRUM_COLUMNS if row.text(column)]
    if not given:
        return ()
    if len(given) < len(SPECTRUM_COLUMNS):
        missing = next(column for column in SPECTRUM_COLUMNS if column not in given)
        raise row.wrong(missing, tr("csv.expected.spectrum"))
    return tuple(row.number(column, least=0, most=1.5) for column in SPECTRUM_COLUMNS)


def _coats(row: CsvRow) -> int:
    coats = row.number("coats", least=0, most=50, usual=1.0)
    if coats != int(coats):
        raise row.wrong("coats", tr("csv.expected.whole"))
    # An empty cell means one coat, and some tables write 0 for empty.
    return max(int(coats), 1)


def write_shelf(shelf: Shelf) -> str:
    """Return a shelf as CSV; reading it gives the same shelf, but for what is left out."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    spectra = any(swatch.spectrum for paint in shelf.paints for swatch in paint.swatches)
    writer.writerow((*SHELF_COLUMNS, *(SPECTRUM_COLUMNS if spectra else ())))
    for name, lab in (("white card", shelf.white_card), ("black card", shelf.black_card)):
        writer.writerow([name, "", _CARD_ROW, "", "", "", "", "", "", *_rounded(lab)])
    for paint in shelf.paints:
        for swatch in paint.swatches:
            if swatch.left_out:
                continue
            plain = swatch.kind is SwatchKind.MASSTONE
            writer.writerow(
                [
                    paint.name,
                    paint.opacity.value,
                    swatch.kind.value,
                    swatch.other,
                    swatch.over.value if swatch.over else "",
                    "" if plain else f"{swatch.paint_parts:g}",
                    "" if plain else f"{swatch.other_parts:g}",
                    "" if plain else f"{swatch.water_parts:g}",
                    "" if plain else swatch.coats,
                    *_rounded(swatch.lab),
                    *(f"{value:.4f}" for value in swatch.spectrum),
                ]
            )
    return out.getvalue()


def _rounded(lab: Lab) -> list[str]:
    return [f"{value:.3f}" for value in lab]


def read_stock(text: str, file: str) -> dict[str, Stock]:
    """Return the stock a CSV lists, by the paint's name.

    Raises
    ------
    PaintError : one sentence with line, column and what was expected.
    """
    found: dict[str, Stock] = {}
    for row in csv_rows(text, file, ("name",)):
        name = row.needed("name")
        if name in found:
            raise row.wrong("name", tr("csv.expected.once"))
        found[name] = Stock(
            kind=row.maybe_word("kind", Kind) or Kind.PAINT,
            binder=row.maybe_word("binder", Binder),
            rewets=row.maybe_word("rewets", Rewets),
            open_min=row.maybe_number("open_min", least=0, most=10_000),
            recoat_h=row.maybe_number("recoat_h", least=0, most=1000),
            cure_days=row.maybe_number("cure_days", least=0, most=400),
            spreading_m2_per_l=row.maybe_number("spreading_m2_per_l", least=0.05, most=100),
            thinner=row.text("thinner"),
            thinner_limit=row.maybe_number("thinner_limit", least=0, most=20),
            place=row.maybe_word("place", Place),
            primer_in=_yes(row, "primer_in"),
            clear_in=_yes(row, "clear_in"),
            stands_wear=_yes(row, "stands_wear"),
            body=row.maybe_word("body", Body),
            doubt=row.maybe_word("doubt", Doubt),
            sheen=row.text("sheen"),
            density_g_per_ml=row.maybe_number("density_g_per_ml", least=0.3, most=10),
            tin_ml=row.maybe_number("tin_ml", least=1, most=300_000),
            price=row.maybe_number("price", least=0, most=1e6),
            left_ml=row.maybe_number("left_ml", least=0, most=1e6),
            opened=row.text("opened"),
            batch=row.text("batch"),
            notes=row.text("notes"),
        )
    return found


def _yes(row: CsvRow, column: str) -> bool | None:
    text = row.text(column).lower()
    if not text:
        return None
    if text not in _YES:
        raise row.wrong(column, tr("csv.expected.word", words="yes, no"))
    return _YES[text]


def write_stock(stock: dict[str, Stock]) -> str:
    """Return stock as CSV; reading it gives the same."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(STOCK_COLUMNS)
    for name, own in stock.items():
        writer.writerow([name, *(_cell(getattr(own, column)) for column in STOCK_COLUMNS[1:])])
    return out.getvalue()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float) else str(value)
