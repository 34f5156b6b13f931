"""`jar-tide plan`: a photo and a piece in, a plan that keeps its schema out."""

from __future__ import annotations

import json
from importlib.resources import files

import jsonschema
import pytest

from jartide.cli import main


@pytest.fixture(scope="module")
def photo(tmp_path_factory, marble_jpeg):
    path = tmp_path_factory.mktemp("plan") / "slab.jpg"
    path.write_bytes(marble_jpeg)
    return str(path)


def run(capsys, *arguments):
    assert main(["plan", *arguments, "--json"]) == 0
    return json.loads(capsys.readouterr().out)


def schema():
    text = files("jartide").joinpath("data/schemas/plan-1.schema.json").read_text("utf-8")
    return json.loads(text)


def test_a_plan_is_printed_that_keeps_its_schema(capsys, photo):
    plan = run(
        capsys, photo, "--mm-per-px", "0.25", "--family", "marble", "--piece", "900x1050",
        "--count", "6", "--substrate", "bare_wood", "--wear", "touched", "--workers", "2",
        "--begins", "2026-05-14", "--schools", "veins=brush",
    )  # fmt: skip
    jsonschema.validate(plan, schema())
    names = [step["technique"] for step in plan["steps"]]
    assert names.index("primer_acrylic") < names.index("base_roller") < names.index("vein_brush")
    assert names.index("vein_brush") < names.index("veil") < names.index("clear_gloss")
    assert not [f for f in plan["findings"] if f["grade"] == "stop"]
    ground = next(a for a in plan["amounts"] if a["layer"] == "L1")
    assert ground["laid_ml"] > 2 * 5.67 / 10 * 1000
    blocks = plan["schedule"]["blocks"]
    assert blocks[0]["begins"] == "2026-05-14T08:00"
    assert {worker for block in blocks for worker in block["workers"]} == {1, 2}
    assert 0 <= plan["schedule"]["gap"] < 1


def test_the_golden_example_keeps_the_schema():
    text = files("jartide").joinpath("data/schemas/plan-1.example.json").read_text("utf-8")
    jsonschema.validate(json.loads(text), schema())


@pytest.mark.parametrize(
    ("options", "said"),
    [
        (["--piece", "0x100"], "A side of the piece is not above zero"),
        (["--piece", "wide"], "wide"),
        ([], "PIECE is missing"),
        (["--piece", "9x9", "--substrate", "ice"], "There is no surface “ice”"),
        (["--piece", "9x9", "--place", "moon"], "--place can't be “moon”; use one of inside"),
        (["--piece", "9x9", "--schools", "veins"], "“veins” is no choice"),
        (["--piece", "9x9", "--schools", "veins=spoon"], "no choice “veins=spoon”"),
        (["--piece", "9x9", "--temperature", "3"], "a coat does not dry at all"),
        (["--piece", "9x9", "--begins", "soon"], "“soon” is no date"),
        (["--piece", "9x9", "--workers", "0"], "nobody to work"),
        (["--piece", "9x9", "--count", "0"], "no panel"),
        (["--piece", "9x9", "--place", "outside", "--weather", "none.csv"], "none.csv"),
    ],
)
def test_impossible_input_is_one_sentence(capsys, photo, options, said):
    assert main(["plan", photo, "--mm-per-px", "0.25", "--family", "marble", *options]) == 2
    captured = capsys.readouterr()
    assert captured.out == ""
    (line,) = [one for one in captured.err.splitlines() if one]
    assert said in line


def test_a_batch_goes_on_after_a_line_that_fails(capsys, photo, tmp_path):
    lines = [
        {"photo": photo, "mm_per_px": 0.25, "family": "marble", "piece": "600x400"},
        {"photo": photo, "mm_per_px": 0.25, "family": "marble", "piece": "600x400",
         "substrate": "ice"},
    ]  # fmt: skip
    path = tmp_path / "jobs.jsonl"
    path.write_text("\n".join(map(json.dumps, lines)), "utf-8")
    assert main(["plan", "--batch", str(path), "--json"]) == 0
    good, bad = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    jsonschema.validate(good, schema())
    assert "no surface “ice”" in bad["error"]
