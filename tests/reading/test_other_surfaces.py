"""Surfaces drawn by other ideas than the studio's: cells, ellipses, hatching, rings."""

from __future__ import annotations

import io

import cv2
import numpy as np
import pytest
from PIL import Image

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import encode_srgb, lab_to_linear
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
from jartide.reading.result import LINE_ROLES, Role

MM = 0.25


def read(rgb_linear, family="auto", quality=92, mm_per_px=MM):
    """Save as JPEG, open and read: as a photo would come."""
    out = io.BytesIO()
    code = np.rint(encode_srgb(rgb_linear) * 255).astype(np.uint8)
    Image.fromarray(code).save(out, "JPEG", quality=quality)
    picture = prepare(decode_photo(out.getvalue(), "a"), PhotoSettings(mm_per_px=mm_per_px))
    return read_picture(picture, family)[0]


def cells(labs, shares, size=480, count=220, seed=1):
    """Nearest-point cells, each painted with one of the tones; returns picture and true shares."""
    rng = np.random.default_rng(seed)
    points = rng.uniform(0, size, (count, 2))
    tones = rng.choice(len(labs), count, p=shares)
    y, x = np.mgrid[0:size, 0:size] + 0.5
    from scipy.spatial import cKDTree

    _, nearest = cKDTree(points).query(np.column_stack([x.ravel(), y.ravel()]))
    label = tones[nearest].reshape(size, size)
    grain = 1 + 0.03 * rng.standard_normal((size, size, 1))
    true = np.bincount(label.ravel(), minlength=len(labs)) / size**2
    return (lab_to_linear(labs)[label] * grain).astype(np.float32), true


RUST = [(32, 14, 14), (46, 26, 34), (60, 24, 48)]


@pytest.fixture(scope="module")
def rust():
    return cells(RUST, (0.5, 0.3, 0.2))


@pytest.mark.parametrize("family", ["auto", "rust", "stone"])
def test_cells_of_three_tones_are_found_in_their_shares(rust, family):
    rgb, true = rust
    reading = read(rgb, family)
    assert len(reading.layers) == 3
    for lab, share in zip(RUST, true, strict=True):
        apart = [float(delta_e_2000(x.shown_lab, lab)) for x in reading.layers]
        found = reading.layers[int(np.argmin(apart))]
        assert min(apart) < 1.5
        assert found.coverage.value == pytest.approx(share, abs=0.02)


def test_rust_lies_on_its_darkest_broad_tone(rust):
    reading = read(rust[0], "rust")
    assert reading.layers[0].role is Role.GROUND
    assert reading.layers[0].lab[0] == pytest.approx(32, abs=1)


def by_lightness(reading):
    return sorted(reading.layers, key=lambda layer: layer.shown_lab[0])


@pytest.mark.parametrize("quality", [75, 98])
def test_file_quality_does_not_move_the_layers(rust, quality):
    usual, other = read(rust[0]), read(rust[0], quality=quality)
    assert len(usual.layers) == len(other.layers)
    # JPEG 75 rounds the colour of a grainy tone by up to 1.0, measured.
    # Nothing tells which of two tones side by side lies higher, so they are paired by lightness.
    for a, b in zip(by_lightness(usual), by_lightness(other), strict=True):
        assert delta_e_2000(a.shown_lab, b.shown_lab) < 1.2
        assert a.coverage.value == pytest.approx(b.coverage.value, abs=0.015)


def test_half_the_resolution_does_not_move_the_layers(rust):
    small = rust[0].reshape(240, 2, 240, 2, 3).mean((1, 3))
    usual, half = read(rust[0]), read(small, mm_per_px=2 * MM)
    assert len(usual.layers) == len(half.layers)
    for a, b in zip(by_lightness(usual), by_lightness(half), strict=True):
        assert delta_e_2000(a.shown_lab, b.shown_lab) < 0.7
        assert a.coverage.value == pytest.approx(b.coverage.value, abs=0.02)


def ellipses(angle, size=480, count=60, seed=2):
    """Long soft-free ellipses all one way; returns the picture and what they cover."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:size, 0:size] + 0.5
    cover = np.zeros((size, size), bool)
    turn = np.radians(angle)
    for cx, cy in rng.uniform(0, size, (count, 2)):
        u = (x - cx) * np.cos(turn) - (y - cy) * np.sin(turn)
        v = (x - cx) * np.sin(turn) + (y - cy) * np.cos(turn)
        cover |= (u / 30) ** 2 + (v / 12) ** 2 < 1
    rgb = np.where(cover[..., None], lab_to_linear((70, -8, 2)), lab_to_linear((40, 6, 10)))
    return rgb.astype(np.float32), cover.mean()


@pytest.mark.parametrize("angle", [0, 35, 90, 150])
def test_long_blots_have_their_direction_and_lie_over_the_ground(angle):
    rgb, share = ellipses(angle)
    reading = read(rgb, "stone")
    found = reading.pattern.direction_deg.value
    assert abs((found - angle + 90) % 180 - 90) < 4
    assert reading.layers[0].lab[0] == pytest.approx(40, abs=0.7)
    assert reading.layers[1].role not in LINE_ROLES
    assert reading.layers[1].coverage.value == pytest.approx(share, abs=0.01)


def test_cross_hatching_is_lines_both_ways():
    y, x = np.mgrid[0:480, 0:480]
    lines = (x % 48 < 6) | (y % 48 < 6)
    rgb = np.where(lines[..., None], lab_to_linear((80, 0, 5)), lab_to_linear((50, 0, 5)))
    reading = read(rgb.astype(np.float32), "linen")
    lines = reading.pattern.lines
    assert reading.layers[1].role is Role.THREAD
    assert lines.polarity == "lighter"
    assert lines.width_mm.median.value == pytest.approx(6 * MM, rel=0.1)
    # As much one way as the other: no direction can be named, or hardly.
    assert lines.direction_deg.value is None or lines.direction_spread_deg.value > 45


def test_rings_run_every_way():
    y, x = np.mgrid[0:480, 0:480] - 240
    rings = np.hypot(x, y) % 40 < 8
    rgb = np.where(rings[..., None], lab_to_linear((30, 5, 10)), lab_to_linear((70, 5, 15)))
    reading = read(rgb.astype(np.float32), "marble")
    lines = reading.pattern.lines
    assert lines.width_mm.median.value == pytest.approx(8 * MM, rel=0.1)
    assert lines.direction_deg.value is None or lines.direction_spread_deg.value > 40
    assert max(reading.pattern.lay) < 0.12


def test_layers_keep_their_names_apart(rust):
    from jartide.wording import say

    names = [say(layer.name) for layer in read(rust[0], "rust").layers]
    assert len(set(names)) == 3
    assert names[0].endswith(" ground")
    assert all("patches" in name or "specks" in name for name in names[1:])


def test_a_rare_but_distinct_layer_survives(rust):
    rgb = rust[0].copy()
    rgb[200:248, 200:248] = lab_to_linear((85, -10, 30))  # one hundredth of the surface
    reading = read(rgb, "rust")
    lightest = max(reading.layers, key=lambda layer: layer.shown_lab[0])
    assert lightest.lab[0] == pytest.approx(85, abs=1.5)
    assert lightest.coverage.value == pytest.approx(0.01, abs=0.003)


def test_on_weathered_metal_what_is_long_and_upright_is_a_drip():
    rng = np.random.default_rng(8)
    mask = np.zeros((480, 480), bool)
    for x, y in rng.uniform((10, 0), (470, 300), (26, 2)):
        mask[int(y) : int(y) + 170, int(x) : int(x) + 4] = True
    rgb = np.where(mask[..., None], lab_to_linear((72, -16, 2)), lab_to_linear((30, 6, 14)))
    for turned, family, role in (
        (False, "verdigris", "run"),
        (True, "verdigris", "crack"),
        (False, "plaster", "crack"),
    ):
        picture = np.rot90(rgb) if turned else rgb
        light = np.ascontiguousarray(picture, np.float32)
        layers = read(light, family).layers
        pale = max(layers, key=lambda layer: layer.shown_lab[0])
        assert pale.role == role


def woven(slubs, seed=3, size=480):
    """An even weave of 3 threads per cm both ways, with thick places at as many spots."""
    y, x = np.mgrid[0:size, 0:size].astype(float)
    period = 10 / 3 / MM
    gap = (np.abs(x / period % 1 - 0.5) > 0.3) & (np.abs(y / period % 1 - 0.5) > 0.3)
    thread = np.where(gap, 0.0, 1.0)
    rng = np.random.default_rng(seed)
    places = rng.permutation([(i, j) for i in range(2, 14, 2) for j in range(2, 14, 2)])[:slubs]
    for i, j in places * size / 15:
        thread[int(i) : int(i + 3 * period), int(j) : int(j + 2 * period)] = 1.0
    thread = cv2.GaussianBlur(thread, (0, 0), 1.5)
    rgb = lab_to_linear((35, 4, 12)) + thread[..., None] * (
        lab_to_linear((75, 2, 12)) - lab_to_linear((35, 4, 12))
    )
    return rgb.astype(np.float32)


def test_slubs_are_counted_where_they_are():
    dm2 = (480 * MM / 100) ** 2
    none, some = (read(woven(n), "linen").pattern.weave for n in (0, 18))
    assert none.slubs_per_dm2.value * dm2 < 3
    assert some.slubs_per_dm2.value * dm2 == pytest.approx(18, rel=0.35)
