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


PIECE = (
    "--mm-per-px", "0.25", "--family", "marble", "--piece", "900x1050", "--begins", "2026-05-14",
)  # fmt: skip
SHELF = str(files("jartide").joinpath("data/demo/shelf.csv"))


def test_a_shelf_gives_every_layer_its_mix_in_parts_and_millilitres(capsys, photo):
    plan = run(capsys, photo, *PIECE, "--shelf", SHELF)
    jsonschema.validate(plan, schema())
    jars = {a["layer"]: a for a in plan["amounts"] if a["ware"] == "mix"}
    assert {mix["layer"] for mix in plan["mixes"]} == set(jars)
    for mix in plan["mixes"]:
        # The window mixes up to the next ten, and so does this.
        assert mix["mixed_ml"] == 10 * -(-round(jars[mix["layer"]]["total_ml"], 6) // 10)
        assert sum(mix["ml"].values()) == pytest.approx(mix["mixed_ml"], abs=0.3)
        measured = mix["let_down"]["measured"] if mix["let_down"] else mix["parts"]
        smallest = mix["mixed_ml"] * min(measured.values()) / sum(measured.values())
        assert smallest >= 0.99


def test_what_the_painter_has_otherwise_is_done_and_told(capsys, photo):
    plain = run(capsys, photo, *PIECE)
    number = next(s["id"] for s in plain["steps"] if s["technique"] == "base_roller")
    before = next(s for s in plain["steps"] if s["id"] == number)
    changes = f"{number}.coats=4; {number}.note=Thin ones; {number}.name=My ground"
    plan = run(capsys, photo, *PIECE, "--change", changes)
    jsonschema.validate(plan, schema())
    step = next(s for s in plan["steps"] if s["id"] == number)
    assert step["coats"] == 4 and step["name"] == "My ground"
    assert step["wet_ml"] == pytest.approx(4 / before["coats"] * before["wet_ml"], abs=0.2)
    assert [(o["field"], o["value"], o["proposed"]) for o in plan["overrides"]] == [
        ("coats", 4, before["coats"]), ("note", "Thin ones", ""),
        ("name", "My ground", before["name"]),
    ]  # fmt: skip


def test_a_finding_may_stand_with_its_reason(capsys, photo):
    beside = (*PIECE, "--place", "outside", "--beside", "a brown floor", "--latitude", "59")
    plan = run(capsys, photo, *beside)
    assert plan["steps"][0]["technique"] == "read_beside"
    rules = [finding["rule"] for finding in plan["findings"]]
    assert "beside_unread" not in rules
    # Thinned with as much water as paint, the ground starves: that is found, and may stand.
    number = next(s["id"] for s in plan["steps"] if s["technique"] == "base_roller")
    thin = (*beside, "--change", f"{number}.water=1.0")
    assert "over_thinned_worn" in [f["rule"] for f in run(capsys, photo, *thin)["findings"]]
    stands = run(capsys, photo, *thin, "--let-stand", "over_thinned_worn=a stain is wanted")
    assert "over_thinned_worn" not in [f["rule"] for f in stands["findings"]]
    step = next(s for s in stands["steps"] if s["id"] == number)
    assert {"rule": "over_thinned_worn", "why": "a stain is wanted"} in step["set_aside"]


@pytest.mark.parametrize(
    ("options", "said"),
    [
        (("--change", "S99.coats=2"), "changes nothing"),
        (("--change", "coats=2"), "changes nothing"),
        (("--change", "S3.coats=many"), "can't be read"),
        (("--change", "S3.coats=400"), "A number of the step makes no sense"),
        (("--change", "S3.carrier=nan"), "A number of the step makes no sense"),
        (("--change", "S3.dry_h=inf"), "A number of the step makes no sense"),
        (("--change", "S3.speed_m2_h=1e-300"), "A number of the step makes no sense"),
        (("--change", "S3.tool_mm=-4"), "A number of the step makes no sense"),
        (("--change", "S3.layer=L99"), "can't be read"),
        (("--latitude", "95"), "not between -90 and 90"),
        (("--latitude", "nan"), "not between -90 and 90"),
        (("--let-stand", "wax_outside=why not"), "Nothing in this plan breaks"),
        (("--let-stand", "wax_outside"), "lets nothing stand"),
    ],
)
def test_changes_that_make_no_sense_are_refused(capsys, photo, options, said):
    assert main(["plan", photo, *PIECE, *options, "--json"]) == 2
    assert said in capsys.readouterr().err


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
        (["--piece", "9x9", "--schools", "veins"], "“veins” is not a choice"),
        (["--piece", "9x9", "--schools", "veins=spoon"], "no choice “veins=spoon”"),
        (["--piece", "9x9", "--temperature", "3"], "a coat does not dry at all"),
        (["--piece", "9x9", "--begins", "soon"], "“soon” is not a date"),
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
