"""Write the starter shelf: common pigments by generic names, approximate, painted by simulation.

python tools/make_starter_shelf.py FOLDER
"""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

from jartide.paint.shelf import Opacity
from jartide.paint.stock import Binder, Kind, Stock
from jartide.store.shelf_csv import write_shelf, write_stock
from jartide.studio.pigments import Bench, painted_shelf, pigments

_SEED = 20261126
_DEAR = {"Cobalt blue", "Bright red", "Rose", "Deep violet", "Bright yellow", "Orange"}


def main() -> None:
    """Write both files."""
    folder = Path(sys.argv[1])
    paints = pigments(0)
    shelf = painted_shelf(paints, Bench(), "glaze", _SEED, noise=0.15)
    (folder / "starter_shelf.csv").write_text(write_shelf(shelf), encoding="utf-8")
    stock = {}
    for paint in paints:
        white = paint.name in ("Titanium white", "Warm white", "Pale grey")
        stock[paint.name] = Stock(
            kind=Kind.PAINT,
            binder=Binder.WATER,
            spreading_m2_per_l=11.0 if paint.opacity is Opacity.OPAQUE else 9.0,
            tin_ml=1000.0 if white else 250.0,
            price=24.0 if white else 19.0 if paint.name in _DEAR else 11.0,
        )
    whites = replace(stock["Titanium white"], kind=Kind.PRIMER, price=22.0)
    stock["White primer"] = whites
    stock["Clear glazing medium"] = Stock(
        kind=Kind.CARRIER, binder=Binder.WATER, tin_ml=1000.0, price=21.0, thinner="water"
    )
    stock["Clear coat, matt"] = Stock(
        kind=Kind.CLEAR, binder=Binder.WATER, sheen="matt", tin_ml=1000.0
    )
    stock["Clear coat, satin"] = replace(stock["Clear coat, matt"], sheen="satin")
    stock["Clear wax"] = Stock(kind=Kind.WAX, binder=Binder.WAX, tin_ml=400.0)
    (folder / "starter_stock.csv").write_text(write_stock(stock), encoding="utf-8")


if __name__ == "__main__":
    main()
