"""Lists of Lab values as CSV: the patches of a printed card, and the fields of a chart.

Card: columns `patch,L,a,b`, the patch ids as in docs/formats.md. Chart:
columns `row,column,L,a,b`, counted from 1. A column `illuminant` may say D50;
D65 is taken otherwise.
"""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass

from jartide.colour.adaptation import lab_d50_to_d65
from jartide.colour.words import Lab
from jartide.errors import CardError
from jartide.photo.card.design import CardSize, card_of


@dataclass(frozen=True, slots=True, kw_only=True)
class ChartList:
    """A chart's size in fields and its colours along the rows."""

    columns: int
    rows: int
    labs: tuple[Lab, ...]


def _rows(text: str, name: str, wanted: tuple[str, ...]) -> list[tuple[int, dict[str, str]]]:
    reader = csv.DictReader(io.StringIO(text))
    try:
        return _read(reader, name, wanted)
    except csv.Error as error:
        why, line = str(error), max(reader.line_num, 1)
        raise CardError("error.csv.broken", name=name, line=line, why=why) from error


def _read(
    reader: csv.DictReader[str], name: str, wanted: tuple[str, ...]
) -> list[tuple[int, dict[str, str]]]:
    columns = [c.strip() for c in reader.fieldnames or ()]
    missing = [c for c in wanted if c not in columns]
    if missing:
        raise CardError(
            "error.list.columns", name=name, missing=", ".join(missing), wanted=",".join(wanted)
        )
    reader.fieldnames = columns
    rows = [
        (number, {k: (v or "").strip() for k, v in row.items() if k is not None})
        for number, row in enumerate(reader, start=2)
    ]
    rows = [(number, row) for number, row in rows if any(row.values())]
    if not rows or len(rows) > 1000:
        raise CardError("error.list.rows", name=name)
    return rows


def _lab(row: dict[str, str], name: str, line: int) -> Lab:
    try:
        lab = (float(row["L"]), float(row["a"]), float(row["b"]))
    except ValueError:
        raise CardError("error.list.number", name=name, line=line) from None
    if not all(map(math.isfinite, lab)) or not (0 <= lab[0] <= 105 and max(map(abs, lab)) < 200):
        raise CardError("error.list.lab", name=name, line=line)
    if row.get("illuminant", "").upper() == "D50":
        return lab_d50_to_d65(lab)
    return lab


def read_card_values(text: str, name: str) -> tuple[tuple[str, Lab], ...]:
    """Return (patch id, Lab D65) of a card that was read with a colour reader.

    Raises
    ------
    CardError : one sentence with the line, when something in the list is wrong.
    """
    known = {patch.id for size in CardSize for patch in card_of(size).patches}
    found: dict[str, Lab] = {}
    for line, row in _rows(text, name, ("patch", "L", "a", "b")):
        if row["patch"] not in known:
            raise CardError("error.list.patch", name=name, line=line, patch=row["patch"])
        found[row["patch"]] = _lab(row, name, line)
    return tuple(found.items())


def read_chart(text: str, name: str) -> ChartList:
    """Return the chart a CSV lists.

    Raises
    ------
    CardError : one sentence with the line, when a field is missing, double or wrong.
    """
    found: dict[tuple[int, int], Lab] = {}
    for line, row in _rows(text, name, ("row", "column", "L", "a", "b")):
        try:
            place = (int(row["row"]), int(row["column"]))
        except ValueError:
            raise CardError("error.list.number", name=name, line=line) from None
        if min(place) < 1 or max(place) > 40 or place in found:
            raise CardError("error.list.place", name=name, line=line)
        found[place] = _lab(row, name, line)
    rows, columns = max(r for r, _ in found), max(c for _, c in found)
    if len(found) != rows * columns:
        raise CardError("error.list.gaps", name=name, wanted=rows * columns, given=len(found))
    return ChartList(
        columns=columns, rows=rows, labs=tuple(found[place] for place in sorted(found))
    )
