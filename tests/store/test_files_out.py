"""Readings, logs and lists of colours out and in, read back by other means."""

from __future__ import annotations

import csv
import io
import json

import pytest

from jartide.boards.log import Climate, EntryKind, Logged, PassDone
from jartide.errors import PaintError
from jartide.store.lab_lists import Columns, columns_of, read_lab_list, usual_columns
from jartide.store.readings_out import log_to_csv, log_to_json, reading_to_csv
from jartide.store.records import Board, Entry


def test_a_reading_as_rows(marble_reading):
    rows = {r["quantity"]: r for r in csv.DictReader(io.StringIO(reading_to_csv(marble_reading)))}
    cover = marble_reading.layers[0].coverage
    row = rows["layers[0].coverage"]
    assert float(row["value"]) == pytest.approx(cover.value, rel=1e-5)
    assert float(row["low"]) <= float(row["value"]) <= float(row["high"])
    width = marble_reading.pattern.lines.width_mm.median
    assert float(rows["pattern.lines.width_mm.median"]["value"]) == pytest.approx(
        width.value, rel=1e-5
    )
    assert float(rows["layers[0].L"]["value"]) == pytest.approx(
        marble_reading.layers[0].best_lab[0], rel=1e-5
    )


def test_a_log_as_rows_and_as_json():
    board = Board(finish_id="f", number=2, made_at="2026-05-01T08:00:00+00:00")
    first = Entry(
        board_id=board.id, at="2026-05-01T08:00:00+00:00",
        logged=Logged(
            kind=EntryKind.PASS, who="Ada", done=PassDone(name="Veins", mix="m", minutes=25.0)
        ),
    )  # fmt: skip
    second = Entry(
        board_id=board.id, at="2026-05-01T09:00:00+00:00", corrects=first.id,
        logged=Logged(
            kind=EntryKind.CLIMATE,
            climate=Climate(temperature_c=19, humidity_percent=55, source="stand_in"),
        ),
    )  # fmt: skip
    given = ([board], [first, second], {"m": "Vein grey"})
    rows = list(csv.DictReader(io.StringIO(log_to_csv(*given))))
    assert rows[0]["pass"] == "Veins" and rows[0]["jar"] == "Vein grey" and rows[0]["board"] == "2"
    assert rows[1]["temperature_c"] == "19" and rows[1]["corrects"] == first.at
    plain = json.loads(log_to_json(*given))
    assert plain["schema"] == "jar-tide/log/1"
    assert plain["entries"][0]["minutes"] == 25.0 and "temperature_c" not in plain["entries"][0]
    assert rows[1]["air_source"] == plain["entries"][1]["air_source"] == "stand_in"
    assert rows[0]["air_source"] == "" and "air_source" not in plain["entries"][0]


LIST = "Ref;CIE_L;CIE_a;CIE_b;Shop\nSage;61,5;-8;10;x\n;30;1;1;y\n"


def test_a_list_whose_columns_are_called_as_usual():
    headings = columns_of(LIST)
    assert headings == ("Ref", "CIE_L", "CIE_a", "CIE_b", "Shop")
    guess = usual_columns(headings)
    assert (guess.name, guess.lightness, guess.a, guess.b) == ("", "CIE_L", "CIE_a", "CIE_b")


def test_the_painter_says_which_column_is_what():
    columns = Columns(name="Ref", lightness="CIE_L", a="CIE_a", b="CIE_b")
    sage, unnamed = read_lab_list(LIST, "list.csv", columns)
    assert sage.name == "Sage" and sage.lab == (61.5, -8.0, 10.0)
    assert unnamed.name == "30 1 1"
    under_d50 = Columns(name="Ref", lightness="CIE_L", a="CIE_a", b="CIE_b", d50=True)
    other = read_lab_list(LIST, "list.csv", under_d50)[0].lab
    assert other != sage.lab and other == pytest.approx(sage.lab, abs=4)


@pytest.mark.parametrize(
    ("text", "columns"),
    [
        (LIST, Columns(name="", lightness="CIE_L", a="CIE_a", b="")),
        (LIST, Columns(name="", lightness="CIE_L", a="CIE_a", b="CIE_a")),
        (LIST, Columns(name="", lightness="Ref", a="CIE_a", b="CIE_b")),
        (LIST, Columns(name="", lightness="Q", a="CIE_a", b="CIE_b")),
        ("L,a,b\n", Columns(name="", lightness="L", a="a", b="b")),
        ("L,a,b\n1e400,0,0\n", Columns(name="", lightness="L", a="a", b="b")),
    ],
)
def test_a_wrong_list_is_refused_in_one_sentence(text, columns):
    with pytest.raises(PaintError) as error:
        read_lab_list(text, "list.csv", columns)
    assert "list.csv" in str(error.value) and "\n" not in str(error.value)
