"""Lists of named colours out of any CSV: the painter says which column is what."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass

from jartide.colour.adaptation import lab_d50_to_d65
from jartide.errors import PaintError
from jartide.store.csv_rows import csv_rows
from jartide.store.palettes import Swatch

# What columns are called where nobody says otherwise, case-folded; the first that is there counts.
_USUAL = {
    "name": ("name", "colour", "color", "title", "id", "patch", "sample"),
    "lightness": ("l", "l*", "lab_l", "cie_l", "lightness"),
    "a": ("a", "a*", "lab_a", "cie_a"),
    "b": ("b", "b*", "lab_b", "cie_b"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Columns:
    """Which column of a list holds what; `d50` when its values are under D50 and not D65."""

    name: str
    lightness: str
    a: str
    b: str
    d50: bool = False


def columns_of(text: str) -> tuple[str, ...]:
    """Return the headings of a list's columns."""
    first = text.lstrip("\ufeff").split("\n", 1)[0]
    parted = max(",;\t", key=first.count)
    try:
        row = next(csv.reader(io.StringIO(first), delimiter=parted), [])
    except csv.Error:
        return ()
    return tuple(cell.strip() for cell in row if cell.strip())


def usual_columns(headings: tuple[str, ...]) -> Columns:
    """Return a first guess of which column is what; "" where none is called as usual."""
    found: dict[str, str] = {}
    for what, names in _USUAL.items():
        by_name = {heading.casefold(): heading for heading in headings}
        found[what] = next((by_name[name] for name in names if name in by_name), "")
    return Columns(name=found["name"], lightness=found["lightness"], a=found["a"], b=found["b"])


def read_lab_list(text: str, name: str, columns: Columns) -> tuple[Swatch, ...]:
    """Return the colours of a list, Lab D65.

    Raises
    ------
    PaintError : one sentence with the line, when a column is not there or a value is no colour.
    """
    needed = (columns.lightness, columns.a, columns.b)
    if not all(needed) or len(set(needed)) < 3:
        raise PaintError("error.lab_list.columns", name=name)
    found = []
    for row in csv_rows(text.lstrip("\ufeff"), name, needed):
        lightness = row.number(columns.lightness, least=0, most=105)
        a = row.number(columns.a, least=-200, most=200)
        b = row.number(columns.b, least=-200, most=200)
        lab = (lightness, a, b)
        if columns.d50:
            lab = lab_d50_to_d65(lab)
        assert all(map(math.isfinite, lab))
        words = row.text(columns.name) if columns.name else ""
        found.append(Swatch(name=words or f"{lightness:g} {a:g} {b:g}", lab=lab))
    return tuple(found)
