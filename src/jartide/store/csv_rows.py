"""Rows of a CSV with their line numbers, and cells read with one clear sentence when wrong."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeVar

from jartide.errors import PaintError
from jartide.wording import tr

_MOST_ROWS = 20_000
Words = TypeVar("Words", bound=StrEnum)


@dataclass(frozen=True, slots=True, kw_only=True)
class CsvRow:
    """One line of a file and how its cells are read; every method may raise PaintError."""

    file: str
    line: int
    cells: dict[str, str]

    def wrong(self, column: str, expected: str) -> PaintError:
        """Return the error that says which cell is wrong and what was expected."""
        given = self.cells.get(column, "")
        return PaintError(
            "error.csv.cell",
            name=self.file,
            line=self.line,
            column=column,
            expected=expected,
            given=given or tr("word.nothing"),
        )

    def text(self, column: str) -> str:
        """Return a cell's text, "" for an empty one."""
        return self.cells.get(column, "")

    def needed(self, column: str) -> str:
        """Return a cell's text, which may not be empty."""
        if not self.text(column):
            raise self.wrong(column, tr("csv.expected.text"))
        return self.text(column)

    def number(
        self, column: str, *, least: float, most: float, usual: float | None = None
    ) -> float:
        """Return a cell's number; of an empty one what is usual, if anything is."""
        text = self.text(column)
        if not text and usual is not None:
            return usual
        try:
            value = float(text.replace(",", ".") if text.count(",") == 1 else text)
        except ValueError:
            value = math.nan
        if not (math.isfinite(value) and least <= value <= most):
            expected = tr("csv.expected.number", least=f"{least:g}", most=f"{most:g}")
            raise self.wrong(column, expected)
        return value

    def maybe_number(self, column: str, *, least: float, most: float) -> float | None:
        """Return a cell's number, None for an empty one."""
        return self.number(column, least=least, most=most) if self.text(column) else None

    def word(self, column: str, words: type[Words]) -> Words:
        """Return a cell's word, one of those listed."""
        try:
            return words(self.text(column).lower())
        except ValueError:
            listed = ", ".join(word.value for word in words)
            raise self.wrong(column, tr("csv.expected.word", words=listed)) from None

    def maybe_word(self, column: str, words: type[Words]) -> Words | None:
        """Return a cell's word, None for an empty cell."""
        return self.word(column, words) if self.text(column) else None


def csv_rows(text: str, file: str, wanted: tuple[str, ...]) -> Iterator[CsvRow]:
    """Yield the rows that are not empty.

    Commas, semicolons and tabs part the columns, whichever the first line uses most.

    Raises
    ------
    PaintError : when a column is missing, or there are no rows or far too many.
    """
    first = text.split("\n", 1)[0]
    parted = max(",;\t", key=first.count)
    try:
        reader = csv.DictReader(io.StringIO(text), delimiter=parted, strict=True)
        columns = [column.strip() for column in reader.fieldnames or ()]
        missing = [column for column in wanted if column not in columns]
        if missing:
            raise PaintError("error.csv.columns", name=file, missing=", ".join(missing))
        reader.fieldnames = columns
        count = 0
        for cells in reader:
            plain = {k: (v or "").strip() for k, v in cells.items() if isinstance(k, str)}
            if not any(plain.values()):
                continue
            count += 1
            if count > _MOST_ROWS:
                raise PaintError("error.csv.rows", name=file)
            yield CsvRow(file=file, line=reader.line_num, cells=plain)
    except csv.Error as error:
        raise PaintError(
            "error.csv.broken", name=file, line=reader.line_num, why=str(error)
        ) from error
    if not count:
        raise PaintError("error.csv.rows", name=file)
