"""jar-tide mix and glaze, as scripts use them."""

from __future__ import annotations

import json
from importlib.resources import as_file, files

import pytest

from jartide.cli import main

SHELF = "data/demo/shelf.csv"
STOCK = "data/demo/stock.csv"


@pytest.fixture
def shelf():
    with as_file(files("jartide").joinpath(SHELF)) as path:
        yield str(path)


def printed(capsys, *arguments):
    assert main(list(arguments)) == 0
    return json.loads(capsys.readouterr().out)


def test_mix_prints_recipes_that_keep_the_contract(capsys, shelf):
    found = printed(capsys, "mix", "--shelf", shelf, "--target", "52,3,9", "--json")
    assert found["schema"] == "jar-tide/mix/1"
    assert found["target"] == [52, 3, 9]
    assert len(found["recipes"]) == 5
    for recipe in found["recipes"]:
        assert len(recipe["parts"]) <= 3
        assert sum(recipe["parts"].values()) <= 12
        assert all(isinstance(count, int) for count in recipe["parts"].values())
        assert recipe["uncertainty_de00"] > 0
    assert [r["de00"] for r in found["recipes"]] == sorted(r["de00"] for r in found["recipes"])


def test_a_printed_recipe_is_predicted_the_same(capsys, shelf):
    best = printed(capsys, "mix", "--shelf", shelf, "--target", "52,3,9")["recipes"][0]
    parts = ",".join(f"{name}={count}" for name, count in best["parts"].items())
    again = printed(capsys, "mix", "--shelf", shelf, "--parts", parts)
    assert again["schema"] == "jar-tide/prediction/1"
    assert again["lab"] == pytest.approx(best["lab"], abs=0.002)
    assert again["uncertainty_de00"] == pytest.approx(best["uncertainty_de00"], abs=0.002)


def test_limits_and_stock_are_kept(capsys, shelf):
    with as_file(files("jartide").joinpath(STOCK)) as stock:
        found = printed(
            capsys, "mix", "--shelf", shelf, "--stock", str(stock), "--target", "40,5,8",
            "--max-paints", "2", "--max-parts", "6", "--top", "3", "--own-black",
            "--exclude", "Raw umber", "--amount-ml", "400", "--json",
        )  # fmt: skip
    assert len(found["recipes"]) == 3
    for recipe in found["recipes"]:
        assert len(recipe["parts"]) <= 2
        assert sum(recipe["parts"].values()) <= 6
        assert not {"Lamp black", "Iron black", "Raw umber"} & set(recipe["parts"])
        assert sum(recipe["ml"].values()) == pytest.approx(400, abs=1)


def test_glaze_finds_and_predicts(capsys, shelf):
    found = printed(
        capsys, "glaze", "--shelf", shelf, "--base", "80,1,9", "--target", "70,4,20",
        "--max-coats", "2",
    )  # fmt: skip
    assert found["schema"] == "jar-tide/glaze/1"
    best = found["recipes"][0]
    assert best["coats"] <= 2
    parts = ",".join(f"{name}={count}" for name, count in best["parts"].items())
    again = printed(
        capsys, "glaze", "--shelf", shelf, "--base", "80,1,9", "--parts", parts,
        "--carrier", str(best["carrier"]), "--water", str(best["water"]),
        "--coats", str(best["coats"]), "--json",
    )  # fmt: skip
    assert again["lab"] == pytest.approx(best["lab"], abs=0.002)
    named = printed(
        capsys, "glaze", "--shelf", shelf, "--base", "titanium white", "--parts", "Raw umber=1",
        "--carrier", "4", "--water", "1", "--coats", "2",
    )  # fmt: skip
    assert named["lab"][0] < 90


def test_a_batch_goes_on_past_lines_that_fail(capsys, shelf, tmp_path):
    lines = [
        {"target": [52, 3, 9], "max_paints": 2},
        {"parts": {"Raw umber": 3, "Titanium white": 1}},
        {"target": "Yellow ochre"},
        {"target": [52, 3]},
        {"parts": {"Nothing": 1}},
        {"target": [52, 3, 9], "max_paints": 0},
        {"target": [52, 3, 9], "max_paint": 2},
    ]
    file = tmp_path / "mixes.jsonl"
    file.write_text("\n".join(map(json.dumps, lines)), encoding="utf-8")
    assert main(["mix", "--shelf", shelf, "--batch", str(file)]) == 0
    out = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [next(iter(one)) for one in out] == ["schema"] * 3 + ["error"] * 4
    assert out[2]["recipes"][0]["parts"] == {"Yellow ochre": 1}
    assert "3 numbers" in out[3]["error"]
    assert "no paint “Nothing”" in out[4]["error"]
    assert "from 1 to 6" in out[5]["error"]
    glazes = tmp_path / "glazes.jsonl"
    line = {"parts": {"Raw umber": 1}, "carrier": 4, "water": 1, "coats": 2, "base": [80, 1, 9]}
    glazes.write_text(json.dumps(line), encoding="utf-8")
    assert main(["glaze", "--shelf", shelf, "--batch", str(glazes)]) == 0
    assert json.loads(capsys.readouterr().out)["schema"] == "jar-tide/prediction/1"


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["mix", "--target", "50,0,0"], "SHELF"),
        (["mix", "--shelf", "nowhere.csv", "--target", "50,0,0"], "nowhere.csv"),
        (["mix", "--shelf", "SHELF"], "TARGET"),
        (["mix", "--shelf", "SHELF", "--target", "150,0,0"], "not a colour that a surface"),
        (["mix", "--shelf", "SHELF", "--parts", "Raw umber"], "NAME=3,NAME=1"),
        (["mix", "--shelf", "SHELF", "--parts", "Raw umber=-1"], "0 or more"),
        (["mix", "--shelf", "SHELF", "--target", "50,0,0", "--include", "Chalk"], "Chalk"),
        (["glaze", "--shelf", "SHELF", "--target", "50,0,0"], "BASE"),
        (["glaze", "--shelf", "SHELF", "--base", "80,0,0", "--parts", "Raw umber=1",
          "--carrier", "-2"], "below 0"),
        (["glaze", "--shelf", "SHELF", "--base", "80,0,0", "--target", "70,0,0",
          "--carrier-name", "beeswax"], "beeswax"),
    ],
)  # fmt: skip
def test_trouble_is_one_sentence_and_exit_2(capsys, shelf, arguments, said):
    assert main([shelf if a == "SHELF" else a for a in arguments]) == 2
    captured = capsys.readouterr()
    assert captured.out == ""
    assert said in captured.err
    assert captured.err.count("\n") == 1
