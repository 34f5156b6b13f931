"""Shelves and stock as CSV, kept in the workspace, and what is said of broken files."""

from __future__ import annotations

from importlib.resources import files

import pytest

from jartide.errors import PaintError
from jartide.paint.shelf import Card, Opacity, SwatchKind
from jartide.paint.stock import Binder, Kind
from jartide.store.jar_records import JarPart, JarReading, Mix, Tin, shelf_of, tins_of
from jartide.store.mix_cache import mix_index
from jartide.store.shelf_csv import read_shelf, read_stock, write_shelf, write_stock
from jartide.store.workspace import Workspace, now

HEAD = "name,opacity,swatch,other,over,paint_parts,other_parts,water_parts,coats,L,a,b\n"
GOOD = (
    HEAD
    + "white card,,card,,,,,,,94,0,2\n"
    + "White,opaque,masstone,,,,,,,96,-1,2\n"
    + "Umber,semi,masstone,,,,,,,33,4,7\n"
    + "Umber,semi,mix,White,,1,4,,,62,4,8\n"
    + "Umber,semi,glaze,,black,1,3,1,2,24,2,4\n"
)


def starter(name):
    return files("jartide").joinpath(f"data/{name}").read_text(encoding="utf-8")


def test_a_shelf_is_read_as_it_was_painted():
    shelf = read_shelf(GOOD, "my.csv")
    umber = shelf.paints[1]
    assert shelf.names() == ("White", "Umber")
    assert shelf.white_card == (94, 0, 2)
    assert umber.opacity is Opacity.SEMI
    assert umber.masstone == (33, 4, 7)
    mix, glaze = umber.swatches[1:]
    assert (mix.kind, mix.other, mix.paint_share()) == (SwatchKind.MIX, "White", 0.2)
    assert (glaze.over, glaze.water_parts, glaze.coats) == (Card.BLACK, 1, 2)


@pytest.mark.parametrize("separator", [";", "\t"])
def test_other_separators_and_decimal_commas_are_read(separator):
    text = GOOD.replace(",", separator).replace("96", "96,0" if separator != "," else "96")
    assert read_shelf(text, "my.csv") == read_shelf(GOOD, "my.csv")


def test_writing_and_reading_keeps_shelf_and_stock():
    shelf = read_shelf(starter("starter_shelf.csv"), "starter")
    assert read_shelf(write_shelf(shelf), "again") == shelf
    stock = read_stock(starter("starter_stock.csv"), "starter")
    assert read_stock(write_stock(stock), "again") == stock
    assert stock["Clear wax"].binder is Binder.WAX
    assert len(shelf.paints) == 26


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (GOOD.replace("semi,mix", "semi,mux"), "line 5, column swatch: expected one of masstone"),
        (GOOD.replace("62,4,8", "62,x,8"), "line 5, column a: expected a number from -200"),
        (GOOD.replace("62,4,8", "162,4,8"), "line 5, column L: expected a number from 0 to 105"),
        (GOOD.replace("mix,White", "mix,Chalk"), "line 5, column other: expected the name of a"),
        (GOOD.replace("mix,White", "mix,"), "line 5, column other: expected some text"),
        (GOOD.replace(",black,1,3", ",blue,1,3"), "line 6, column over: expected one of white"),
        (GOOD.replace(",black,1,3", ",black,0,3"), "line 6, column paint_parts"),
        (GOOD.replace("1,3,1,2", "1,3,1,2.5"), "line 6, column coats: expected a whole number"),
        (GOOD.replace("Umber,semi,masstone,,,,,,,33,4,7\n", ""), "expected a masstone row"),
        (GOOD + "Umber,semi,masstone,,,,,,,33,4,7\n", "only one masstone of Umber"),
        (HEAD, "has no rows"),
        ("name,swatch\nA,masstone\n", "lacks the column L, a, b;"),
        (GOOD.replace("white card", "grey card"), "line 2, column name: expected one of white"),
        (GOOD.replace("Umber,semi,mix", ",semi,mix"), "line 5, column name: expected some text"),
    ],
)
def test_what_is_wrong_is_said_with_line_and_column(text, said):
    with pytest.raises(PaintError) as refused:
        read_shelf(text, "my.csv")
    assert said in str(refused.value)
    assert "my.csv" in str(refused.value)


@pytest.mark.parametrize(
    ("row", "said"),
    [
        ("White,jam,,", "line 2, column kind: expected one of paint"),
        ("White,paint,-3,", "line 2, column left_ml"),
        ("White,paint,100,maybe", "line 2, column primer_in: expected one of yes, no"),
    ],
)
def test_wrong_stock_is_said_with_line_and_column(row, said):
    with pytest.raises(PaintError, match=said):
        read_stock(f"name,kind,left_ml,primer_in\n{row}\n", "stock.csv")


def test_tins_and_jars_are_kept_and_only_paints_are_mixed(tmp_path):
    stock = read_stock("name,kind,left_ml\nWhite,paint,300\nWax,wax,\n", "stock.csv")
    tins = tins_of(read_shelf(GOOD, "my.csv"), stock)
    assert [tin.name for tin in tins] == ["White", "Umber", "Wax"]
    assert tins[0].stock.left_ml == 300
    assert tins[2].stock.kind is Kind.WAX
    mix = Mix(
        finish_id="finish",
        layer="L2",
        target=(50.0, 1.0, 2.0),
        parts=(JarPart(tin_id=tins[0].id, parts=3.0), JarPart(tin_id=tins[1].id, parts=1.0)),
        readings=(
            JarReading(
                lab=(51.0, 1.0, 2.0),
                parts=(JarPart(tin_id=tins[0].id, parts=3.2),),
                read_at=now(),
            ),
        ),
    )
    workspace = Workspace.open(tmp_path)
    workspace.put(*tins, mix)
    workspace.close()
    again = Workspace.open(tmp_path)
    assert again.tins() == tins
    assert again.mixes("finish") == [mix]
    assert again.mixes("other") == []
    shelf, ids = shelf_of(again.tins())
    again.close()
    assert shelf.names() == ("White", "Umber")
    assert ids == (tins[0].id, tins[1].id)
    shop = Tin(name="Shop", owned=False, swatches=tins[0].swatches)
    assert shelf_of([*tins, shop])[0].names() == ("White", "Umber")


def test_the_index_of_a_large_shelf_is_kept_on_disk(tmp_path, monkeypatch):
    from jartide.paint.fit import fit_shelf
    from jartide.store import mix_cache

    monkeypatch.setattr(mix_cache, "_WORTH_KEEPING", 10)
    fitted = fit_shelf(read_shelf(GOOD, "my.csv"))
    made = mix_index(fitted, [0, 1], 3, 12, folder=tmp_path)
    assert len(list(tmp_path.glob("*.npz"))) == 1
    monkeypatch.setattr(mix_cache, "build_index", None)
    kept = mix_index(fitted, [0, 1], 3, 12, folder=tmp_path)
    assert (kept.lab == made.lab).all()
    assert (kept.mix == made.mix).all()
    monkeypatch.undo()
    monkeypatch.setattr(mix_cache, "_WORTH_KEEPING", 10)
    broken = next(tmp_path.glob("*.npz"))
    broken.write_bytes(b"not an index")
    assert (mix_index(fitted, [0, 1], 3, 12, folder=tmp_path).lab == made.lab).all()


def test_measured_spectra_come_and_go_whole():
    from jartide.store.shelf_csv import SPECTRUM_COLUMNS

    values = [f"{0.1 + 0.02 * n:.4f}" for n in range(36)]
    head = "name,opacity,swatch,L,a,b," + ",".join(SPECTRUM_COLUMNS)
    text = f"{head}\nOchre,semi,masstone,60,10,40,{','.join(values)}\n"
    shelf = read_shelf(text, "s.csv")
    assert shelf.paints[0].swatches[0].spectrum == pytest.approx([float(v) for v in values])
    assert read_shelf(write_shelf(shelf), "again.csv") == shelf
    short = f"{head}\nOchre,semi,masstone,60,10,40,{','.join(values[:-1])},\n"
    with pytest.raises(PaintError, match="R380 to R730"):
        read_shelf(short, "s.csv")
