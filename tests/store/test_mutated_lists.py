"""Thousands of damaged lists: each is read, or refused in one sentence that names the file."""

from __future__ import annotations

from importlib.resources import files

import numpy as np
import pytest

from jartide.errors import JarTideError
from jartide.store.colour_lists import read_card_values, read_chart
from jartide.store.lab_lists import columns_of, read_lab_list, usual_columns
from jartide.store.shelf_csv import read_shelf, read_stock
from jartide.store.weather_csv import read_weather

SHELF = files("jartide").joinpath("data/starter_shelf.csv").read_text(encoding="utf-8")
STOCK = files("jartide").joinpath("data/starter_stock.csv").read_text(encoding="utf-8")
CARD = "patch,L,a,b,illuminant\npaper,94.8,0.3,-1.4,D50\ngrey-1,19.2,0.4,0.1,D50\n"
CHART = "row,column,L,a,b\n1,1,38,13,14\n1,2,66,17,17\n2,1,50,-4,-22\n2,2,43,-13,22\n"
LIST = "name;L*;a*;b*\nDoor trim;52,5;8;21\nWall;88;0;5\n"
WEATHER = (
    "time,temperature_c,humidity_percent,rain_mm,cloud_percent\n"
    "2026-05-14T09:00,14.5,60,0,40\n2026-05-14T10:00,15.5,58,0.2,90\n"
)


def lab_list(text, name):
    return read_lab_list(text, name, usual_columns(columns_of(text)))


READERS = {
    "shelf": (read_shelf, "\n".join(SHELF.splitlines()[:12]) + "\n"),
    "stock": (read_stock, "\n".join(STOCK.splitlines()[:8]) + "\n"),
    "card": (read_card_values, CARD),
    "chart": (read_chart, CHART),
    "list": (lab_list, LIST),
    "weather": (read_weather, WEATHER),
}
# What files are damaged with: signs that mean something to a CSV, numbers no field has, other text.
PIECES = [
    ",", ";", "\t", '"', "\n", "\r", "\0", "\ufeff", "=1+1", "nan", "inf", "-inf", "1e999", "-1",
    "9" * 400, "\ud7ff", "\U0001f58c", "../../etc", "'", "0x10", "", " ", "L", "name", "é" * 300,
]  # fmt: skip


def damaged(text, rng):
    for _ in range(int(rng.integers(1, 4))):
        at, cut = int(rng.integers(0, len(text) + 1)), int(rng.integers(0, 6))
        text = text[:at] + PIECES[int(rng.integers(len(PIECES)))] + text[at + cut :]
    if rng.random() < 0.1:
        text = text[: int(rng.integers(0, len(text) + 1))]
    if rng.random() < 0.1:
        lines = text.split("\n")
        rng.shuffle(lines)
        text = "\n".join(lines)
    return text


@pytest.mark.parametrize("kind", READERS)
def test_damaged_lists_are_read_or_refused_in_one_sentence(kind, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    read, sound = READERS[kind]
    read(sound, "sound.csv")
    rng = np.random.default_rng(sum(map(ord, kind)))
    refused = 0
    for _ in range(900):
        try:
            read(damaged(sound, rng), "damaged.csv")
        except JarTideError as error:
            words = str(error)
            assert "damaged.csv" in words, words
            assert words.endswith(".") and "\n" not in words, words
            refused += 1
    assert 200 < refused < 900
    assert list(tmp_path.iterdir()) == []
