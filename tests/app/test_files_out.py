"""What a finish gives to other programs, saved from the Sheet station."""

from __future__ import annotations

import csv
import io
import json
import xml.etree.ElementTree as ElementTree
from importlib.resources import files

import jsonschema
import pytest
from PIL import Image

from jartide.colour.spaces import srgb_hex
from jartide.store.palettes import read_palette
from jartide.wording import say, tr

from .conftest import settle
from .test_demo_window import open_finish


@pytest.fixture
def sheet(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "sheet")
    return demo.station("sheet")


def saved(qtbot, demo, what, place):
    demo.station("sheet").save_more(what, place)
    for _ in range(200):
        settle(qtbot, demo)
        if place.exists():
            break
    return place.read_bytes()


def test_every_kind_is_written_and_read_back(qtbot, demo, sheet, tmp_path):
    reading = demo.job.readings.of_target()
    names = [say(layer.name) for layer in reading.layers]
    labs = [layer.best_lab or layer.shown_lab for layer in reading.layers]
    for kind in ("gpl", "ase"):
        found = read_palette(saved(qtbot, demo, kind, tmp_path / f"c.{kind}"), "c")
        assert [one.name for one in found] == names
        for one, lab in zip(found, labs, strict=True):
            assert one.lab == pytest.approx(lab, abs=0.01 if kind == "ase" else 0.9)
    css = saved(qtbot, demo, "css", tmp_path / "c.css").decode()
    assert all(srgb_hex(lab) in css for lab in labs)
    rows = list(csv.DictReader(io.StringIO(
        saved(qtbot, demo, "reading_csv", tmp_path / "r.csv").decode()
    )))  # fmt: skip
    assert len(rows) > 20
    whole = json.loads(saved(qtbot, demo, "reading_json", tmp_path / "r.json"))
    assert whole["schema"] == "jar-tide/reading/1"
    assert [layer["name"] for layer in whole["layers"]] == names
    log = json.loads(saved(qtbot, demo, "log_json", tmp_path / "l.json"))
    folder = files("jartide").joinpath("data/schemas")
    for name, told in (("log-1", log), ("reading-1", whole)):
        text = folder.joinpath(f"{name}.schema.json").read_text(encoding="utf-8")
        jsonschema.Draft202012Validator(json.loads(text)).validate(told)
    lines = saved(qtbot, demo, "log_csv", tmp_path / "l.csv").decode()
    assert len(list(csv.DictReader(io.StringIO(lines)))) == len(log["entries"]) >= 10


def test_the_picture_shows_its_layers(qtbot, demo, sheet, tmp_path):
    svg = saved(qtbot, demo, "picture_svg", tmp_path / "p.svg")
    ElementTree.fromstring(svg)
    for layer in demo.job.readings.of_target().layers:
        assert say(layer.name) in svg.decode()
    with Image.open(io.BytesIO(saved(qtbot, demo, "picture_png", tmp_path / "p.png"))) as picture:
        assert min(picture.size) > 400


def test_a_place_that_can_not_be_written_is_one_sentence(qtbot, demo, sheet, tmp_path):
    demo.station("sheet").save_more("gpl", tmp_path / "no such folder" / "c.gpl")
    settle(qtbot, demo)
    assert "c.gpl" in demo.foot.shown.text
    demo.foot.clear_over()


def test_without_a_reading_it_says_what_to_do(qtbot, demo, tmp_path):
    demo.station("jobs")._new_finish()
    demo.open_finish(demo.station("jobs").chosen_finish().id)
    demo.go_to("sheet")
    settle(qtbot, demo)
    demo.station("sheet").save_more("gpl", tmp_path / "c.gpl")
    assert demo.foot.shown.text == tr("error.files.not_read")
    assert not (tmp_path / "c.gpl").exists()
    demo.foot.clear_over()
