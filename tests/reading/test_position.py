"""Where on its piece a layer sits: told from drawn edges and feet, and from nothing by chance."""

from __future__ import annotations

import json

import numpy as np
import pytest
from PIL import Image

from jartide.cli import main
from jartide.colour.spaces import encode_srgb, lab_to_linear
from jartide.reading.layers.position import measure_position, sits
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


def test_only_a_piece_whose_edges_are_known_has_a_position(tmp_path, capsys):
    down, _ = fields()
    mask = spots(5, np.where(down > 0.6, 0.5, 0.1))[..., None]
    light = lab_to_linear((40, 10, 20)) * mask + lab_to_linear((75, 2, 10)) * (1 - mask)
    path = tmp_path / "panel.png"
    Image.fromarray((encode_srgb(light) * 255).astype(np.uint8)).save(path)
    told = {}
    corners = f"0,0,{SHAPE[1]},0,{SHAPE[1]},{SHAPE[0]},0,{SHAPE[0]}"
    for name, how in (
        ("piece", ["--corners", corners, "--size", "420x300"]),
        ("wall", ["--mm-per-px", "1"]),
    ):
        assert main(["read", str(path), *how, "--family", "rust", "--json"]) == 0
        told[name] = json.loads(capsys.readouterr().out)["layers"]
    # The dark spots are the rust's ground, whatever covers more.
    rust = min(told["piece"], key=lambda layer: layer["lab"][0])
    assert rust["position"]["sits"] == "foot"
    assert rust["position"]["foot"] > 0.4
    assert all(layer["position"] is None for layer in told["wall"])
