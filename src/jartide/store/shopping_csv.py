"""The shopping list as CSV: product, needed, left and missing in millilitres, tins, price."""

from __future__ import annotations

import csv
import io

from jartide.plan.quantities import Line

COLUMNS = ("product", "needed_ml", "left_ml", "missing_ml", "tins", "price")


def write_shopping(lines: tuple[Line, ...]) -> str:
    """Return the list; unknown amounts and prices stay empty."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(COLUMNS)
    for line in lines:
        tins = " + ".join(f"{number} x {size:g} ml" for size, number in line.tins)
        writer.writerow(
            [
                line.name,
                f"{line.needed_ml:.0f}",
                "" if line.left_ml is None else f"{line.left_ml:.0f}",
                f"{line.missing_ml:.0f}",
                tins,
                "" if line.price is None else f"{line.price:.2f}",
            ]
        )
    return text.getvalue()
