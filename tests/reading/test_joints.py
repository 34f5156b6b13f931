"""Joints of boards, bricks and tiles are measured by themselves and are no lines of the finish."""

from __future__ import annotations

import json

import numpy as np
import pytest
from PIL import Image

from jartide.cli import main
from jartide.colour.spaces import encode_srgb, lab_to_linear
from jartide.photo.picture import Picture
from jartide.reading.read import read_picture
from jartide.reading.result import LINE_ROLES
from jartide.studio.noise import fractal

SIDE, MM = 600, 0.5


def ground(seed: int) -> np.ndarray:
    """Clouded grey L*, (H, W)."""
    rng = np.random.default_rng(seed)
    clouds = fractal((SIDE, SIDE), MM, rng, largest_mm=60, smallest_mm=2, slope=2.5)
    return 55 + 5 * clouds / clouds.std()


def units(seed, across_mm, along_mm=None, *, shift=0.5, width_mm=3.0, turn_deg=0.0, L=20.0):
    """Clouded grey with joints: L* (H, W)."""
    y, x = (np.mgrid[:SIDE, :SIDE] + 0.5) * MM
    cos, sin = np.cos(np.radians(turn_deg)), np.sin(np.radians(turn_deg))
    down, right = -x * sin + y * cos, x * cos + y * sin
    course = np.floor(down / across_mm)
    far = across_mm * np.abs(down / across_mm - np.rint(down / across_mm))
    if along_mm is not None:
        place = right / along_mm + shift * (course % 2)
        far = np.minimum(far, along_mm * np.abs(place - np.rint(place)))
    cover = np.clip((width_mm / 2 - far) / 0.7 + 0.5, 0, 1)
    return ground(seed) * (1 - cover) + L * cover


def picture(lightness: np.ndarray, **how) -> Picture:
    lab = np.dstack([lightness, np.full_like(lightness, 1.0), np.full_like(lightness, 4.0)])
    rgb = lab_to_linear(lab).astype(np.float32)
    return Picture(rgb_linear=rgb, photo_size=(SIDE, SIDE), mm_per_px=MM, **how)


@pytest.mark.parametrize("turn", [0.0, 2.2])
def test_bricks_are_told_by_their_size_and_bond(turn):
    reading, _ = read_picture(picture(units(1, 30, 75, turn_deg=turn)), "stone")
    joints = reading.pattern.joints
    assert joints.spacing_mm.value == pytest.approx(30, rel=0.03)
    assert joints.length_mm.value == pytest.approx(75, rel=0.03)
    assert joints.width_mm.value == pytest.approx(3.0, rel=0.15)
    assert joints.bond == "half"
    assert (joints.direction_deg.value + turn + 90) % 180 - 90 == pytest.approx(0, abs=0.6)
    assert joints.polarity == "darker"
    assert joints.lab[0] == pytest.approx(20, abs=3)
    # Where the joints are is left out: nothing of their colour is a layer.
    assert all(layer.role not in LINE_ROLES for layer in reading.layers)
    assert min(layer.shown_lab[0] for layer in reading.layers) > 35


def test_tiles_stand_over_each_other_and_boards_go_all_the_way():
    tiles, _ = read_picture(picture(units(2, 50, 50, shift=0.0, L=85)), "stone")
    joints = tiles.pattern.joints
    assert (joints.bond, joints.polarity) == ("stacked", "lighter")
    assert joints.spacing_mm.value == pytest.approx(50, rel=0.03)
    assert joints.length_mm.value == pytest.approx(50, rel=0.03)
    boards, _ = read_picture(picture(units(3, 45).T), "concrete")
    joints = boards.pattern.joints
    assert joints.bond == "none" and joints.across_direction_deg is None
    assert joints.direction_deg.value == pytest.approx(90, abs=0.6)
    assert joints.length_mm.value is None
    codes = {code for code, _ in boards.warnings}
    assert "pattern.joints.length_mm.few_joints" in codes


def test_joints_are_read_as_lines_when_they_are_wanted():
    bricks = units(4, 30, 75)
    reading, _ = read_picture(picture(bricks, joints_as_lines=True), "stone")
    assert reading.pattern.joints is None
    lines = reading.pattern.lines
    assert lines is not None and lines.width_mm.median.value == pytest.approx(3.0, rel=0.25)


def test_what_has_no_joints_has_none():
    for seed in range(5, 9):
        assert read_picture(picture(ground(seed)), "concrete")[0].pattern.joints is None
    # Cracks and veins wander; threads and strokes lie close by each other.
    y, x = np.mgrid[:SIDE, :SIDE]
    wandering = ground(9)
    for start in range(50, SIDE, 110):
        wander = start + 25 * np.sin(y / 70 + start) + 8 * np.sin(y / 19)
        wandering = np.where(np.abs(x - wander) < 3, 20, wandering)
    assert read_picture(picture(wandering), "marble")[0].pattern.joints is None
    linen = ground(10) - 20 * (x % 12 < 5)
    assert read_picture(picture(linen), "linen")[0].pattern.joints is None


def test_the_command_line_reads_joints_either_way(tmp_path, capsys):
    rgb = picture(units(11, 40, 90)).rgb_linear
    path = tmp_path / "bricks.png"
    Image.fromarray(np.rint(255 * encode_srgb(rgb)).astype(np.uint8)).save(path)
    read = ["read", str(path), "--mm-per-px", str(MM), "--family", "stone", "--json"]
    assert main(read) == 0
    joints = json.loads(capsys.readouterr().out)["pattern"]["joints"]
    assert joints["spacing_mm"] == pytest.approx(40, rel=0.03)
    assert joints["length_mm"] == pytest.approx(90, rel=0.03)
    assert main([*read, "--joints-as-lines"]) == 0
    assert json.loads(capsys.readouterr().out)["pattern"]["joints"] is None
    # Bricks of another size are seen.
    wider = picture(units(12, 52, 90)).rgb_linear
    other = tmp_path / "wider.png"
    Image.fromarray(np.rint(255 * encode_srgb(wider)).astype(np.uint8)).save(other)
    scale = ["--mm-per-px-target", str(MM), "--mm-per-px-board", str(MM)]
    assert main(["compare", str(path), str(other), *scale, "--family", "stone", "--json"]) == 0
    rows = {r["quantity"]: r for r in json.loads(capsys.readouterr().out)["differences"]}
    assert rows["joints.spacing_mm"]["significant"]
    assert rows["joints.spacing_mm"]["ratio"] == pytest.approx(1.3, rel=0.05)
