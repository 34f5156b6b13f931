"""Write the demo job's shelf and jars into a folder, from its photos and readings there.

python tools/make_demo_jars.py src/jartide/data/demo
"""

from __future__ import annotations

import json
import sys
import tomllib
from dataclasses import replace
from pathlib import Path

import numpy as np

from jartide.paint.fit import fit_shelf
from jartide.paint.recipe import Wishes
from jartide.paint.search import find_mixes
from jartide.paint.shelf import Shelf, SwatchKind
from jartide.paint.stock import Kind, Stock
from jartide.store.serialise import reading_from_text
from jartide.store.shelf_csv import write_shelf, write_stock
from jartide.studio.pigments import Bench, painted_shelf, pigments

SEED = 5
# What the demo's painter does not own, and what is known by its masstone only.
NOT_OWNED = {
    "Rose",
    "Orange",
    "Deep violet",
    "Cobalt blue",
    "Violet oxide",
    "Zinc white",
    "Sky blue",
}
ROUGH = {"Burnt umber"}
NO_GLAZE = {"Pale grey", "Bright yellow", "Bright red"}
# Layers of the bar front whose jars are found, and how much of them is mixed, ml.
JARS = {"L1": 830.0, "L2": 80.0, "L3": 30.0}


def owned_shelf() -> Shelf:
    """Return the shelf as its painter has read it."""
    whole = painted_shelf(pigments(SEED), Bench(mirrored=0.02), "glaze", SEED)
    paints = []
    for paint in whole.paints:
        if paint.name in NOT_OWNED:
            continue
        kinds = {SwatchKind.MASSTONE}
        if paint.name not in ROUGH:
            kinds.add(SwatchKind.MIX)
            if paint.name not in NO_GLAZE:
                kinds.add(SwatchKind.GLAZE)
        kept = tuple(swatch for swatch in paint.swatches if swatch.kind in kinds)
        paints.append(replace(paint, swatches=kept))
    return replace(whole, paints=tuple(paints))


def stock_of(shelf: Shelf) -> dict[str, Stock]:
    """Return labels and what is left; some is not known."""
    rng = np.random.default_rng(SEED)
    stock = {}
    for paint in shelf.paints:
        white = "white" in paint.name or "grey" in paint.name
        tin = 2500.0 if white else 500.0
        left = float(10 * round(tin * rng.uniform(0.25, 1.0) / 10))
        stock[paint.name] = Stock(
            tin_ml=tin,
            left_ml=None if paint.name == "Raw sienna" else left,
            price=38.0 if white else 16.0,
            opened="2026-10-12" if left < tin else "",
            spreading_m2_per_l=10.0,
        )
    stock["Clear glazing medium"] = Stock(kind=Kind.CARRIER, tin_ml=1000.0, left_ml=720.0)
    stock["Bonding primer, white"] = Stock(kind=Kind.PRIMER, tin_ml=2500.0, left_ml=1400.0)
    stock["Bronze metal paint"] = Stock(kind=Kind.METAL, tin_ml=250.0, left_ml=250.0)
    stock["Clear coat, satin"] = Stock(kind=Kind.CLEAR, sheen="satin", tin_ml=1000.0, left_ml=600.0)
    stock["White wax"] = Stock(kind=Kind.WAX, tin_ml=400.0, left_ml=310.0)
    return stock


def jars_of(folder: Path, shelf: Shelf) -> str:
    """Return the jars of the bar front as TOML: the best mix of each layer."""
    job = tomllib.loads((folder / "job.toml").read_text(encoding="utf-8"))
    photo = next(p for p in job["photo"] if p["finish"] == "bar-front" and "board" not in p)
    kept = json.loads((folder / "readings.json").read_text(encoding="utf-8"))
    reading = reading_from_text(json.dumps(kept[photo["file"]]))
    fitted = fit_shelf(shelf)
    names = shelf.names()
    text = "# The demo's jars. Written by `make demo-photos`.\n"
    for layer in reading.layers:
        if layer.id not in JARS:
            continue
        best = find_mixes(fitted, layer.best_lab or layer.shown_lab, Wishes())[0]
        parts = ", ".join(f"{json.dumps(names[p.paint])} = {p.parts:g}" for p in best.parts)
        text += (
            f'\n[[jar]]\nfinish = "bar-front"\nlayer = "{layer.id}"\n'
            f"parts = {{{parts}}}\nmixed_ml = {JARS[layer.id]}\n"
        )
    return text


def main(folder: Path) -> None:
    """Write shelf.csv, stock.csv and jars.toml."""
    shelf = owned_shelf()
    (folder / "shelf.csv").write_text(write_shelf(shelf), encoding="utf-8")
    (folder / "stock.csv").write_text(write_stock(stock_of(shelf)), encoding="utf-8")
    (folder / "jars.toml").write_text(jars_of(folder, shelf), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
