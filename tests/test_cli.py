"""The command line as scripts use it: JSON out, one sentence on trouble, exit 0 or 2."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from importlib.resources import files

import jsonschema
import numpy as np
import pytest
from PIL import Image

from jartide.cli import main
from jartide.photo.card.design import CardSize, card_of
from jartide.studio.camera_stand import CameraStand, StandSettings
from jartide.studio.snapshot import PrintedCard


@pytest.fixture(scope="module")
def photos(tmp_path_factory, marble_jpeg, wide_jpeg):
    folder = tmp_path_factory.mktemp("photos")
    (folder / "target.jpg").write_bytes(marble_jpeg)
    (folder / "board.jpg").write_bytes(wide_jpeg)
    return folder


def run(capsys, *arguments):
    status = main([str(a) for a in arguments])
    out, err = capsys.readouterr()
    return status, out, err


def schema(name):
    text = files("jartide").joinpath(f"data/schemas/{name}.schema.json").read_text("utf-8")
    return json.loads(text)


def test_read_prints_a_reading_that_keeps_the_schema(capsys, photos):
    status, out, _ = run(
        capsys, "read", photos / "target.jpg", "--mm-per-px", 0.25, "--family", "marble", "--json"
    )
    assert status == 0
    reading = json.loads(out)
    jsonschema.validate(reading, schema("reading-1"))
    assert reading["photo"]["width_px"] == 800
    assert reading["photo"]["mm_per_px"] == 0.25
    assert reading["layers"][0]["role"] == "ground"
    assert sum(x["coverage"] for x in reading["layers"]) == pytest.approx(1, abs=0.001)
    low, high = reading["uncertainty"]["pattern.lines.width_mm.median"]
    assert low < reading["pattern"]["lines"]["width_mm"]["median"] < high
    codes = [w["code"] for w in reading["photo"]["warnings"]]
    assert not [code for code in codes if "not_measured" in code]
    assert reading["pattern"]["weave"] is None
    assert reading["pattern"]["patches"] is None
    assert reading["pattern"]["clouds"]["by_layer"]
    assert reading["family_confidence"] is None


def test_saved_readings_are_compared_by_their_measures(capsys, photos, tmp_path):
    names = []
    for which in ("target", "board"):
        how = ["--mm-per-px", 0.25, "--family", "marble", "--json"]
        _, out, _ = run(capsys, "read", photos / f"{which}.jpg", *how)
        names.append(tmp_path / f"{which}.json")
        names[-1].write_text(out, encoding="utf-8")
    grid = json.loads(names[0].read_text("utf-8"))["samples"]["grid"]
    assert grid == [8, 8]
    status, out, _ = run(capsys, "compare", *names, "--json")
    assert status == 0
    saved = json.loads(out)
    jsonschema.validate(saved, schema("comparison-1"))
    assert "measures alone" in saved["notes"][0]
    assert saved["seen"] == []
    scales = ["--mm-per-px-target", 0.25, "--mm-per-px-board", 0.25, "--family", "marble"]
    both = [photos / "target.jpg", photos / "board.jpg"]
    _, out, _ = run(capsys, "compare", *both, *scales, "--json")
    by_photos = json.loads(out)
    assert by_photos["notes"] == []
    assert saved["differences"] == by_photos["differences"]
    # What can't change a saved reading is not passed over in silence.
    for given in (["--board-neutral", "1,1,2,2"], ["--mm-per-px-board", 0.25]):
        status, out, err = run(capsys, "compare", *names, *given, "--json")
        assert (status, out) == (2, "")
        assert given[0] in err and "saved reading" in err


def test_what_is_no_saved_reading_is_refused_in_a_sentence(capsys, photos, tmp_path):
    for text, words in (
        ("{", "no reading saved"),
        ("[]", "no reading saved"),
        ('{"schema": "jar-tide/reading/1"}', "read the photo again"),
        ('{"schema": "jar-tide/reading/1", "kept": "{}"}', "read the photo again"),
    ):
        name = tmp_path / "one.json"
        name.write_text(text, encoding="utf-8")
        status, _, err = run(capsys, "compare", name, photos / "board.jpg", "--json")
        assert status == 2 and words in err and err.count("\n") == 1


def test_a_boards_colours_are_predicted_for_the_targets_state(capsys, photos):
    both = [photos / "target.jpg", photos / "board.jpg"]
    how = ["--mm-per-px-target", 0.25, "--mm-per-px-board", 0.25, "--family", "marble"]
    states = ["--target-state", "sealed", "--board-state", "dry"]
    status, out, _ = run(capsys, "compare", *both, *how, *states, "--json")
    assert status == 0
    assert "predicted" in json.loads(out)["notes"][0]
    # Both states were said: a clear coat is not asked about once more.
    assert "First ask" not in out
    status, _, err = run(capsys, "compare", *both, *how, "--board-state", "damp", "--json")
    assert status == 2 and "wet, dry, sealed" in err


def test_golden_examples_keep_the_schemas():
    folder = files("jartide").joinpath("data/schemas")
    for name in ("reading-1", "comparison-1", "prepared-1", "mix-1", "glaze-1", "prediction-1"):
        example = json.loads(folder.joinpath(f"{name}.example.json").read_text("utf-8"))
        jsonschema.validate(example, schema(name))


def test_every_null_of_the_pattern_has_its_reason(capsys, photos):
    _, out, _ = run(capsys, "read", photos / "target.jpg", "--json")
    reading = json.loads(out)
    codes = [w["code"] for w in reading["photo"]["warnings"]]

    def nulls(value, path):
        if value is None:
            yield path
        elif isinstance(value, dict):
            for key, inner in value.items():
                yield from nulls(inner, f"{path}.{key}")

    for path in nulls(reading["pattern"], "pattern"):
        # A block that does not apply needs no reason; a value that can't be trusted does.
        if path.count(".") > 1 and ".by_layer." not in path:
            assert any(code.startswith(path) for code in codes), path
    assert "no_scale" in codes


def test_compare_prints_a_comparison_that_keeps_the_schema(capsys, photos):
    status, out, _ = run(
        capsys,
        "compare",
        photos / "target.jpg",
        photos / "board.jpg",
        "--mm-per-px-target",
        0.25,
        "--mm-per-px-board",
        0.25,
        "--family",
        "marble",
        "--viewing-m",
        0.7,
        "--json",
    )
    assert status == 0
    comparison = json.loads(out)
    jsonschema.validate(comparison, schema("comparison-1"))
    assert comparison["viewing_m"] == 0.7
    assert [s["viewing_m"] for s in comparison["seen"]][:3] == [0.3, 0.5, 0.7]
    assert comparison["tolerance"] == 4
    first = comparison["differences"][0]
    assert (first["quantity"], first["rank"]) == ("lines.width_mm", 1)
    assert first["mend"]["action"] == "tool" and first["mend"]["means"] == "repair"
    assert first["mend"]["amount"] == pytest.approx(1 / first["ratio"], rel=1e-2)
    assert comparison["fresh_board"] is None
    unsure = [d for d in comparison["differences"] if not d["significant"]]
    assert all(d["mend"] is None for d in unsure)
    assert first["ratio"] == pytest.approx(first["board"] / first["target"], rel=1e-2)


def test_corners_region_and_neutral(capsys, photos):
    status, out, _ = run(
        capsys,
        "read",
        photos / "target.jpg",
        "--corners",
        "20,20,620,20,620,620,20,620",
        "--size",
        "150x150",
        "--neutral",
        "100,100,60,60",
        "--neutral-L",
        "30",
        "--region",
        "100,100,400,400",
        "--json",
    )
    assert status == 0
    photo = json.loads(out)["photo"]
    assert photo["mm_per_px"] == pytest.approx(0.25, rel=0.02)
    assert not {"no_scale", "no_neutral"} & {w["code"] for w in photo["warnings"]}


def test_batch_answers_line_by_line(capsys, photos, tmp_path):
    batch = tmp_path / "batch.jsonl"
    target = str(photos / "target.jpg")
    lines = [
        {"photo": target, "mm_per_px": 0.25, "family": "marble"},
        {"photo": str(photos / "missing.jpg")},
        {"photo": target, "corners": [0, 0, 1]},
        {"photo": target, "mm_per_px": "wide"},
        {"foto": target},
        {"photo": target, "family": "granite"},
    ]
    batch.write_text("\n".join(map(json.dumps, lines)) + "\nnot json\n[1]\n")
    status, out, err = run(capsys, "read", "--batch", batch, "--json")
    results = [json.loads(line) for line in out.splitlines()]
    assert status == 0
    assert len(results) == 8
    assert results[0]["schema"] == "jar-tide/reading/1"
    errors = [r["error"] for r in results[1:]]
    assert all(e.endswith(".") and "\n" not in e for e in errors)
    for error, words in zip(
        errors,
        (
            "can't be found",
            "--corners takes 8",
            "mm_per_px takes a number",
            "There is no option “foto”",
            "no finish family",
            "not a JSON object",
            "not a JSON object",
        ),
        strict=True,
    ):
        assert words in error
    assert "line 8" in err


def test_batch_of_comparisons(capsys, photos, tmp_path):
    batch = tmp_path / "batch.jsonl"
    pair = {
        "target": str(photos / "target.jpg"),
        "board": str(photos / "board.jpg"),
        "mm_per_px_target": 0.25,
        "mm_per_px_board": 0.25,
    }
    several = {**pair, "target": [pair["target"], pair["target"]], "same_spot": True}
    lines = (pair, several, {**pair, "target": [3]}, {**pair, "tolerance": 0})
    batch.write_text("\n".join(json.dumps(line) for line in lines))
    _, out, _ = run(capsys, "compare", "--batch", batch, "--family", "marble", "--json")
    alone, together, no_name, no_tolerance = (json.loads(line) for line in out.splitlines())
    assert alone["differences"][0]["quantity"] == "lines.width_mm"
    assert together["differences"][0]["quantity"] == "lines.width_mm"
    # The same spot is known up to its measurement: less goes unseen.
    least = {d["quantity"]: d["least_jnd"] for d in alone["differences"]}
    for d in together["differences"]:
        assert d["least_jnd"] <= least.get(d["quantity"], d["least_jnd"]) + 1e-6
    assert "file name or a list" in no_name["error"]
    assert "tolerance of 0" in no_tolerance["error"]


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["read"], "PHOTO is missing"),
        (["read", "nowhere.jpg"], "can't be found"),
        (["read", "{photo}", "--size", "4x3"], "give --corners too"),
        (["read", "{photo}", "--corners", "0,0,9,0,9,9,0,9", "--mm-per-px", "1"], "not both"),
        (["read", "{photo}", "--neutral", "1,2,3"], "--neutral takes 4"),
        (["read", "{photo}", "--neutral-L", "50"], "give --neutral too"),
        (
            ["read", "{photo}", "--corners", "0,0,900,0,900,900,0,900", "--size", "x"],
            "--size takes",
        ),
        (["read", "{photo}", "--family", "granite"], "no finish family"),
        (["read", "{photo}", "--mm-per-px", "0"], "more than 0"),
        (["read", "--batch", "nowhere.jsonl"], "batch file"),
        (["compare", "{photo}"], "BOARD is missing"),
        (["compare", "{photo}", "{photo}", "--viewing-m", "0"], "viewing distance"),
    ],
)
def test_trouble_is_one_sentence_and_exit_2(capsys, photos, arguments, words):
    given = [a.replace("{photo}", str(photos / "target.jpg")) for a in arguments]
    status, out, err = run(capsys, *given)
    assert status == 2
    assert out == ""
    assert words in err
    assert err.count("\n") == 1


def test_unknown_options_are_one_sentence_too(capsys):
    with pytest.raises(SystemExit) as caught:
        main(["read", "a.jpg", "--colour", "red"])
    assert caught.value.code == 2
    assert capsys.readouterr().err.count("\n") == 1


# ---- the photo card


@pytest.fixture(scope="module")
def card_photo(tmp_path_factory):
    path = tmp_path_factory.mktemp("card") / "shot.jpg"
    stand = CameraStand(settings=StandSettings(size_px=(1600, 1200), falloff=0.25))
    path.write_bytes(stand.take())
    return path


def test_prepare_says_what_it_did_and_writes_the_flat_picture(capsys, tmp_path, card_photo):
    out = tmp_path / "flat.png"
    status, text, _ = run(capsys, "prepare", card_photo, "--out", out, "--json")
    assert status == 0
    done = json.loads(text)
    jsonschema.validate(done, schema("prepared-1"))
    assert done["card"]["size"] == "A6"
    assert len(done["card"]["codes"]) == 4
    assert done["squared"]["by"] == "card"
    assert done["flat"]["width_mm"] == pytest.approx(240, abs=3)
    assert done["colour"]["grade"] == "card as printed"
    assert done["colour"]["left_out_max_de00"] >= done["colour"]["left_out_mean_de00"]
    assert done["light"]["evened_by"] == "picture"
    with Image.open(out) as picture:
        assert picture.size == (done["flat"]["width_px"], done["flat"]["height_px"])
        assert 25.4 / picture.info["dpi"][0] == pytest.approx(done["flat"]["mm_per_px"], rel=0.01)
    # The homography leads the flat picture's corners to its size in millimetres.
    corner = np.array([*done["flat"]["corners_px"][2], 1.0])
    x, y, w = np.array(done["squared"]["homography_px_to_mm"]) @ corner
    assert (x / w, y / w) == pytest.approx(
        (done["flat"]["width_mm"], done["flat"]["height_mm"]), abs=1.0
    )


def test_a_photo_with_the_card_needs_no_scale(capsys, card_photo):
    status, text, _ = run(capsys, "read", card_photo, "--family", "marble", "--json")
    assert status == 0
    reading = json.loads(text)
    jsonschema.validate(reading, schema("reading-1"))
    assert reading["pattern"]["lines"]["width_mm"]["median"] is not None
    codes = [w["code"] for w in reading["photo"]["warnings"]]
    assert "no_scale" not in codes and "no_neutral" not in codes


def test_a_card_can_be_left_unused_and_its_colours_told(capsys, tmp_path, card_photo):
    _, text, _ = run(capsys, "prepare", card_photo, "--no-card", "--json")
    plain = json.loads(text)
    assert plain["card"] is None and plain["colour"]["grade"] == "none"
    printed = PrintedCard()
    rows = ["patch,L,a,b"]
    for patch in card_of(CardSize.A6).patches:
        if not patch.id.startswith(("space", "paper-")):
            L, a, b = printed.patch_lab(patch.srgb)
            rows.append(f"{patch.id},{L:.2f},{a:.2f},{b:.2f}")
    values = tmp_path / "card.csv"
    values.write_text("\n".join(rows), encoding="utf-8")
    _, text, _ = run(capsys, "prepare", card_photo, "--card-values", values, "--as-lit", "--json")
    told = json.loads(text)
    assert told["colour"]["grade"] == "card measured"
    assert told["light"]["evened_by"] is None
    values.write_text("patch,L,a,b\nnonsense,1,2,3\n", encoding="utf-8")
    status, _, err = run(capsys, "prepare", card_photo, "--card-values", values, "--json")
    assert status == 2 and "line 2" in err and "nonsense" in err


def test_several_photos_are_read_together(capsys, photos, card_photo):
    status, text, _ = run(
        capsys,
        *("read", photos / "target.jpg", photos / "target.jpg", photos / "board.jpg"),
        *("--mm-per-px", 0.25, "--family", "marble", "--json"),
    )
    assert status == 0
    together = json.loads(text)
    jsonschema.validate(together, schema("reading-1"))
    assert [p["photo"][-10:] for p in together["photos"]] == ["target.jpg"] * 2 + ["/board.jpg"]
    assert together["spread"][0]["spread_de00"] >= 0
    assert len(together["spread"]) == len(together["layers"])


@pytest.mark.parametrize("kind", ["pdf", "svg", "png"])
def test_a_card_is_printed(capsys, tmp_path, kind):
    out = tmp_path / f"card.{kind}"
    status, text, _ = run(capsys, "card", "--out", out, "--size", "credit-card")
    assert status == 0 and str(out) in text
    assert out.stat().st_size > 2000
    status, _, err = run(capsys, "card", "--out", out, "--size", "A3")
    assert status == 2 and "A6" in err
    status, _, err = run(capsys, "card", "--out", tmp_path / "no" / "card.pdf")
    assert status == 2 and err.endswith(".\n")


def test_a_name_that_no_disk_can_bear_is_refused_in_one_sentence(capsys):
    assert main(["check", "[" * 2000, "--json"]) == 2
    said = capsys.readouterr().err.splitlines()
    assert len(said) == 1 and "can't be reached" in said[0] and len(said[0]) < 200


@pytest.mark.parametrize("key", ["out", "photo"])
def test_a_nul_in_a_batch_line_is_told_and_the_next_line_is_answered(key, capsys, tmp_path, photos):
    lines = [
        {"photo": str(photos / "target.jpg"), "mm_per_px": 0.5, key: "a\0b"},
        {"photo": "none.jpg"},
    ]
    path = tmp_path / "lines.jsonl"
    path.write_text("\n".join(json.dumps(line) for line in lines))
    main(["prepare", "--batch", str(path)])
    told = [json.loads(line)["error"] for line in capsys.readouterr().out.splitlines()]
    assert "NUL" in told[0] and "none.jpg" in told[1]


def test_a_reader_that_has_seen_enough_ends_a_batch_quietly(tmp_path):
    path = tmp_path / "lines.jsonl"
    path.write_text('{"photo": "none.jpg"}\n' * 3)
    here, there = os.pipe()
    os.close(here)
    ended = subprocess.run(
        [sys.executable, "-m", "jartide", "prepare", "--batch", str(path)],
        stdout=there, stderr=subprocess.PIPE, text=True, check=False,
    )  # fmt: skip
    os.close(there)
    assert "went wrong" not in ended.stderr and "Traceback" not in ended.stderr
    # The first answer could not be told: the second line was not begun.
    assert "2" not in ended.stderr
