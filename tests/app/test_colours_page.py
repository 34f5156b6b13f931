"""Colours that are no layer's: out of palettes and lists, or typed; each gets its jar."""

from __future__ import annotations

import pytest

from jartide.store.palettes import Swatch, write_ase, write_gpl
from jartide.wording import tr

from .conftest import settle
from .test_demo_window import open_finish


@pytest.fixture
def page(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "jars")
    demo.station("jars").open_colours()
    settle(qtbot, demo)
    yield demo.station("jars").colours
    demo.station("jars").colours.close_file()
    demo.station("jars").escape()


def own_jars(demo):
    return {mix.name: mix.target for mix in demo.job.records.mixes() if not mix.layer}


SWATCHES = (Swatch(name="Door trim", lab=(52.0, 8.0, 21.0)), Swatch(name="Wall", lab=(88, 0, 5)))


@pytest.mark.parametrize("kind", ["ase", "gpl"])
def test_a_palette_becomes_jars(qtbot, demo, page, tmp_path, kind):
    file = tmp_path / f"room.{kind}"
    file.write_bytes(write_ase(SWATCHES) if kind == "ase" else write_gpl(SWATCHES, "Room").encode())
    page.open_file(file)
    assert [row.title for row in page.rows] == ["Door trim", "Wall"]
    page.make_jars()
    settle(qtbot, demo)
    found = own_jars(demo)
    assert found["Door trim"] == pytest.approx((52, 8, 21), abs=0.01 if kind == "ase" else 0.6)
    assert set(found) >= {"Door trim", "Wall"}
    # The jars stand on the shelf beside those of the layers, and one undo takes them away.
    demo.job.history.undo()
    assert "Wall" not in own_jars(demo)


def test_columns_of_a_list_are_named_by_the_painter(qtbot, demo, page, tmp_path):
    file = tmp_path / "fan.csv"
    file.write_text("code;light;red;yellow\nA 1;40,5;3;9\nA 2;70;-2;4\n", encoding="utf-8")
    page.open_file(file)
    assert page.rows == [] and page._mapping.isVisible()
    for axis, heading in (("name", "code"), ("lightness", "light"), ("a", "red"), ("b", "yellow")):
        page.choose_column(axis, heading)
    assert [row.title for row in page.rows] == ["A 1", "A 2"]
    page._row_chosen(1)
    page.make_jars()
    assert own_jars(demo)["A 2"] == (70.0, -2.0, 4.0)
    assert "A 1" not in own_jars(demo)


@pytest.mark.parametrize(
    ("name", "data"),
    [("broken.ase", b"ASEF"), ("empty.gpl", b""), ("wrong.csv", b"L,a,b\n900,0,0\n"),
     ("none.csv", b""), ("strange.txt", b"\xff\xfe\x00L")],
)  # fmt: skip
def test_what_can_not_be_read_is_one_sentence(demo, page, tmp_path, name, data):
    before = own_jars(demo)
    file = tmp_path / name
    file.write_bytes(data)
    page.open_file(file)
    assert own_jars(demo) == before
    if name != "strange.txt":  # columns nobody knows: they can still be named
        page.make_jars()
        assert own_jars(demo) == before


def test_a_typed_colour_gets_a_jar_and_nonsense_is_told(qtbot, demo, page):
    for field, words in zip(page._typed, ("44,5", "-12", "6"), strict=True):
        field.setText(words)
    page._typed_name.setText("Shutters")
    page._add_typed()
    assert own_jars(demo)["Shutters"] == (44.5, -12.0, 6.0)
    for words in (("nan", "0", "0"), ("50", "1e300", "0"), ("101", "0", "0"), ("", "", "")):
        for field, word in zip(page._typed, words, strict=True):
            field.setText(word)
        before = own_jars(demo)
        page._add_typed()
        assert demo.foot.shown.text == tr("error.colours.typed")
        assert own_jars(demo) == before
        demo.foot.clear_over()
    # A jar of its own is mixed like any other, and taken away again.
    page._row_chosen(len(own_jars(demo)) - 1)
    page._remove()
    assert "Shutters" not in own_jars(demo)
