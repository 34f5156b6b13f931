"""Shelf and stock as files: the starter shelf, lists that come in, lists that go out."""

from __future__ import annotations

from dataclasses import replace
from importlib.resources import files
from pathlib import Path

from jartide.errors import JarTideError
from jartide.job.outside_devices import is_demo
from jartide.job.shelf import Shelf
from jartide.store.jar_records import Tin, shelf_of, tins_of
from jartide.store.shelf_csv import read_shelf, read_stock, write_shelf, write_stock
from jartide.store.workspace import now
from jartide.wording import tr


def add_starter(shelf: Shelf) -> None:
    """Put the starter shelf's tins on the shelf."""
    folder = files("jartide").joinpath("data")
    _add_tins(
        shelf,
        folder.joinpath("starter_shelf.csv").read_text(encoding="utf-8"),
        folder.joinpath("starter_stock.csv").read_text(encoding="utf-8"),
        "starter",
        approximate=True,
    )


def import_file(shelf: Shelf, path: Path) -> None:
    """Add the tins of a shelf or stock CSV; those of a known name are brought up to date."""
    try:
        text = path.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        why = getattr(error, "strerror", None) or type(error).__name__
        shelf.refused.emit(tr("error.command.list_file", name=path.name, why=why))
        return
    header = text.split("\n", 1)[0]
    stock_only = "swatch" not in header
    _add_tins(shelf, "" if stock_only else text, text if stock_only else "", path.name)


def _add_tins(
    shelf: Shelf, swatches: str, stock: str, name: str, *, approximate: bool = False
) -> None:
    try:
        labels = read_stock(stock, name) if stock else {}
        fresh = tins_of(read_shelf(swatches, name), labels) if swatches else []
    except JarTideError as error:
        shelf.refused.emit(str(error))
        return
    if not swatches:
        fresh = [Tin(name=own, stock=label) for own, label in labels.items()]
    known = {tin.name.casefold(): tin for tin in shelf.tins()}
    old: list[Tin] = []
    new: list[Tin] = []
    added: list[Tin] = []
    for tin in fresh:
        before = known.get(tin.name.casefold())
        if before is None:
            place = len(known) + len(added)
            added.append(replace(tin, approximate=approximate, position=place))
            continue
        changed = replace(
            before,
            opacity=tin.opacity if tin.swatches else before.opacity,
            swatches=tin.swatches or before.swatches,
            stock=tin.stock if stock else before.stock,
            approximate=approximate if tin.swatches else before.approximate,
        )
        old.append(before)
        new.append(changed)
    gone = [replace(tin, deleted_at=now()) for tin in added]
    shelf.records.change(tr("undo.import"), [*old, *gone], [*new, *added])


def export_files(shelf: Shelf, path: Path) -> None:
    """Write the shelf as CSV at `path` and its stock beside it."""
    tins = shelf.tins()
    found, _ = shelf_of(tins, made_up=is_demo(shelf.records.workspace))
    beside = path.with_name(f"{path.stem}-stock.csv")
    try:
        path.write_text(write_shelf(found), encoding="utf-8")
        beside.write_text(write_stock({t.name: t.stock for t in tins}), encoding="utf-8")
    except OSError as error:
        why = error.strerror or type(error).__name__
        shelf.refused.emit(tr("error.command.write", name=str(path), why=why))
