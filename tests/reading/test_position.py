"""Where on its piece a layer sits: told from drawn edges and feet, and from nothing by chance."""

from __future__ import annotations

import json

import numpy as np
import pytest
from PIL import Image

from jartide.cli import main
from jartide.colour.spaces import encode_srgb, lab_to_linear
from jartide.reading.layers.position import measure_position, sits, times_as_much
from jartide.reading.result import Sits

SHAPE = (300, 420)


def spots(seed, there):
    """Random spots, more of them where `there`, (H, W) 0..1, says so."""
    rng = np.random.default_rng(seed)
    coarse = rng.random((SHAPE[0] // 4, SHAPE[1] // 4)) < there[::4, ::4]
    return np.kron(coarse, np.ones((4, 4)))


def fields():
    y, x = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]] + 0.5
    inwards = np.minimum(np.minimum(x, SHAPE[1] - x), np.minimum(y, SHAPE[0] - y)) / SHAPE[0]
    return y / SHAPE[0], inwards


def read(cover):
    return measure_position(cover, np.ones(SHAPE, bool))


def test_worn_edges_and_rusted_feet_are_told_with_their_strength():
    down, inwards = fields()
    # Four times as much in the rim as inside: (0.4 - 0.1) / (0.4 + 0.1).
    worn = read(spots(1, np.where(inwards < 0.15, 0.4, 0.1)))
    assert worn.edges.value == pytest.approx(0.6, rel=0.15)
    assert sits(worn) is Sits.EDGES
    rusted = read(spots(2, np.where(down > 0.6, 0.45, 0.15)))
    assert rusted.foot.value == pytest.approx(0.5, rel=0.15)
    assert sits(rusted) is Sits.FOOT
    assert sits(read(spots(3, np.where(down > 0.6, 0.15, 0.45)))) is Sits.TOP
    assert sits(read(spots(4, np.where(inwards < 0.15, 0.08, 0.4)))) is Sits.MIDDLE


def test_corners_bands_and_hollows_are_told_too():
    down, inwards = fields()
    y, x = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]] + 0.5
    corner = (np.minimum(x, SHAPE[1] - x) < 55) & (np.minimum(y, SHAPE[0] - y) < 55)
    found = read(spots(5, np.where(corner, 0.5, 0.1)))
    assert found.corners.value == pytest.approx(0.4 / 0.6, rel=0.15)
    # Cover from the edges inwards, and from the foot up.
    rusted = read(spots(6, np.where(down > 0.6, 0.45, 0.15)))
    assert rusted.by_height == pytest.approx([0.45, 0.45, 0.15, 0.15, 0.15], abs=0.03)
    worn = read(spots(7, np.where(inwards < 0.1, 0.4, 0.1)))
    assert worn.by_edge == pytest.approx([0.4, 0.4, 0.1, 0.1, 0.1], abs=0.03)
    # A piece whose edges are not known may have hollows and ridges that are.
    low = np.sin(x / 25) < 0
    carved = measure_position(
        spots(8, np.where(low, 0.5, 0.1)),
        np.ones(SHAPE, bool),
        whole_piece=False,
        hollows=low,
        ridges=~low,
    )
    assert carved.hollows.value == pytest.approx(0.4 / 0.6, rel=0.15)
    assert carved.edges.value is None and carved.by_height == ()
    assert sits(carved) is Sits.HOLLOWS
    assert times_as_much(carved, Sits.HOLLOWS) == pytest.approx(5, rel=0.2)
    assert measure_position(low.astype(float), np.ones(SHAPE, bool), whole_piece=False) is None


def test_what_lies_anywhere_is_even():
    found = [sits(read(spots(seed, np.full(SHAPE, 0.2)))) for seed in range(30)]
    assert sum(one is not Sits.EVEN for one in found) <= 1
    # Nor do a few large clouds make a foot: they happen to lie where they lie.
    rng = np.random.default_rng(7)
    wrong = 0
    for _ in range(30):
        cover = np.zeros(SHAPE)
        for x, y in rng.uniform(0, 1, (5, 2)) * (SHAPE[1], SHAPE[0]):
            cover[int(max(y - 40, 0)) : int(y + 40), int(max(x - 40, 0)) : int(x + 40)] = 1
        wrong += sits(read(cover)) is not Sits.EVEN
    assert wrong <= 4


def panel(path, there, spot, ground):
    """Save a panel of spots that lie where `there`, (H, W) 0..1, says."""
    mask = spots(9, there)[..., None]
    light = lab_to_linear(spot) * mask + lab_to_linear(ground) * (1 - mask)
    Image.fromarray((encode_srgb(light) * 255).astype(np.uint8)).save(path)


PIECE = f"0,0,{SHAPE[1]},0,{SHAPE[1]},{SHAPE[0]},0,{SHAPE[0]}"


def test_boards_are_compared_and_steps_planned_by_where_layers_sit(tmp_path, capsys):
    down, _ = fields()
    target, board, same = (tmp_path / f"{name}.png" for name in ("target", "board", "same"))
    colours = {"spot": (75, 20, 40), "ground": (40, 2, 10)}
    panel(target, np.where(down > 0.6, 0.5, 0.1), **colours)
    panel(board, np.full(SHAPE, 0.26), **colours)
    panel(same, np.where(down > 0.6, 0.5, 0.1) + 1e-3, **colours)
    how = ["--size", "420x300", "--corners", PIECE]
    both = [
        f"--{which}-{key[2:]}={value}"
        for which in ("target", "board")
        for key, value in (how[:2], how[2:])
    ]
    rows = {}
    for other in (board, same):
        command = ["compare", str(target), str(other), *both, "--family", "rust", "--json"]
        assert main(command) == 0
        told = json.loads(capsys.readouterr().out)["differences"]
        rows[other.stem] = {r["quantity"]: r for r in told}
    (differing,) = [q for q, r in rows["board"].items() if "foot" in q and r["significant"]]
    assert differing.startswith("layers[1].position")
    assert "high on the piece" in rows["board"][differing]["words"]
    assert "towards the foot" in rows["board"][differing]["advice"]
    assert not any(r["significant"] for q, r in rows["same"].items() if "position" in q)
    # The plan begins at the foot.
    photo = ["plan", str(target), *how, "--family", "rust", "--piece", "1000x2000", "--json"]
    assert main(photo) == 0
    assert "Most of it at the foot" in capsys.readouterr().out


def test_only_a_piece_whose_edges_are_known_has_a_position(tmp_path, capsys):
    down, _ = fields()
    path = tmp_path / "panel.png"
    panel(path, np.where(down > 0.6, 0.5, 0.1), spot=(40, 10, 20), ground=(75, 2, 10))
    told = {}
    for name, how in (
        ("piece", ["--corners", PIECE, "--size", "420x300"]),
        ("wall", ["--mm-per-px", "1"]),
    ):
        assert main(["read", str(path), *how, "--family", "rust", "--json"]) == 0
        told[name] = json.loads(capsys.readouterr().out)["layers"]
    # The dark spots are the rust's ground, whatever covers more.
    rust = min(told["piece"], key=lambda layer: layer["lab"][0])
    assert rust["position"]["sits"] == "foot"
    assert rust["position"]["foot"] > 0.4
    assert all(layer["position"] is None for layer in told["wall"])
