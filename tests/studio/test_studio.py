"""The simulated surfaces keep their promises, and the camera does what a camera does."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.photo.load import decode_photo
from jartide.studio.camera import DAYLIGHT, WARM_LAMP, Camera, Light, expose, photograph
from jartide.studio.concrete import draw_concrete
from jartide.studio.lines_truth import axial_mean, weighted_median
from jartide.studio.marble import Marble, draw_marble
from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.oak import draw_oak
from jartide.studio.scene import CHIP_L, View, set_scene, squared_truth
from jartide.studio.strokes import Hand, draw_strokes
from jartide.studio.truth import Easel
from jartide.studio.verdigris import draw_verdigris

DRAW = {
    "marble": draw_marble,
    "concrete": draw_concrete,
    "verdigris": draw_verdigris,
    "wood": draw_oak,
}


@pytest.fixture(scope="module", params=DRAW)
def surface(request):
    return DRAW[request.param]((80.0, 60.0), 0.25, 5)


def test_the_same_seed_draws_the_same_surface(surface):
    again = DRAW[surface.truth.family]((80.0, 60.0), 0.25, 5)
    other = DRAW[surface.truth.family]((80.0, 60.0), 0.25, 6)
    assert np.array_equal(again.rgb_linear, surface.rgb_linear)
    assert again.truth == surface.truth
    assert not np.array_equal(other.rgb_linear, surface.rgb_linear)


def test_size_and_scale(surface):
    assert surface.rgb_linear.shape == (240, 320, 3)
    assert surface.rgb_linear.dtype == np.float32
    assert surface.rgb_linear.min() >= 0


def test_true_shares_add_up_and_the_ground_is_everywhere(surface):
    layers = surface.truth.layers
    assert sum(x.coverage for x in layers) == pytest.approx(1, abs=1e-9)
    assert layers[0].coverage_painted == 1
    assert all(x.coverage <= x.coverage_painted + 1e-9 for x in layers)
    assert layers[0].role == "ground"


def test_wider_lines_are_wider_and_nothing_else_moves():
    stone = draw_marble((120, 120), 0.3, 3)
    wide = draw_marble((120, 120), 0.3, 3, Marble().wider(2.0))
    assert wide.truth.lines.width_mm == pytest.approx(2 * stone.truth.lines.width_mm, rel=0.1)
    assert wide.truth.lines.direction_deg == pytest.approx(stone.truth.lines.direction_deg)
    assert wide.truth.lines.length_mm_per_cm2 == pytest.approx(stone.truth.lines.length_mm_per_cm2)
    clouds = [x.coverage_painted for x in stone.truth.layers[:3]]
    assert [x.coverage_painted for x in wide.truth.layers[:3]] == clouds


def test_an_easel_knows_what_hides_what():
    easel = Easel((100, 100))
    easel.lay("ground", "ground", (30, 0, 0))
    half = np.zeros((100, 100))
    half[:, :50] = 1
    easel.lay("half", "cloud", (60, 0, 0), half)
    quarter = np.zeros((100, 100))
    quarter[:50, :50] = 1
    easel.lay("quarter", "patch", (80, 0, 0), quarter)
    layers = easel.surface("auto", 0.2, None).truth.layers
    assert [x.coverage for x in layers] == [0.5, 0.25, 0.25]
    assert [x.coverage_painted for x in layers] == [1, 0.5, 0.25]
    assert [round(x.lab[0]) for x in layers] == [30, 60, 80]


def test_paint_mixes_in_linear_light():
    easel = Easel((4, 4))
    easel.lay("black", "ground", (0, 0, 0))
    easel.lay("white", "cloud", (100, 0, 0), 0.5)
    assert easel.rgb[0, 0] == pytest.approx([0.5, 0.5, 0.5], abs=1e-4)


def test_a_stroke_covers_half_at_half_its_width():
    hand = Hand(per_dm2=2.0, width_mm=4.0, width_spread=0, softness_mm=0.6, breaks=0, forks=0)
    strokes = draw_strokes((100.0, 100.0), hand, np.random.default_rng(2))
    cover = strokes.cover((400, 400), 0.25)
    assert cover.max() == 1
    middle = len(strokes.x) // 2
    x, y, w = strokes.x[middle], strokes.y[middle], strokes.width[middle]
    across = np.radians(strokes.heading_deg[middle] + 90)
    for side in (-1, 1):
        at = x + side * w / 2 * np.cos(across), y - side * w / 2 * np.sin(across)
        if all(2 < v < 98 for v in at):
            assert cover[int(at[1] / 0.25), int(at[0] / 0.25)] == pytest.approx(0.5, abs=0.35)


def test_seen_width_of_a_wide_stroke_is_its_width():
    hand = Hand(per_dm2=1, width_mm=4.0, softness_mm=0.5)
    strokes = draw_strokes((60.0, 60.0), hand, np.random.default_rng(3))
    wide = strokes.width > 2
    assert strokes.seen_width()[wide] == pytest.approx(strokes.width[wide])
    fine = replace(strokes, width=np.full(5, 0.1))
    assert (fine.seen_width() > 0.1).all()


def test_fractal_has_its_moments_and_its_direction():
    field = fractal(
        (256, 256), 0.5, np.random.default_rng(1), largest_mm=10, direction_deg=30, stretch=4
    )
    assert field.mean() == pytest.approx(0, abs=1e-4)
    assert field.std() == pytest.approx(1, abs=1e-3)
    gy, gx = np.gradient(field)
    direction, _ = axial_mean(np.degrees(np.arctan2(-gy, gx)) + 90, gx**2 + gy**2)
    assert direction == pytest.approx(30, abs=6)


def test_level_for_share_leaves_that_share():
    field = fractal((256, 256), 0.5, np.random.default_rng(2), largest_mm=6)
    assert (field > level_for_share(field, 0.3)).mean() == pytest.approx(0.3, abs=0.02)
    assert smoothstep(np.array([-1.0, 0.5, 2.0]), 0, 1) == pytest.approx([0, 0.5, 1])


def test_weighted_median_of_lengths():
    assert weighted_median(np.array([1.0, 2, 9]), np.array([1.0, 1, 5])) == 9


def test_a_perfect_camera_gives_the_scene_back():
    scene = np.full((40, 40, 3), 0.4, np.float32)
    code = expose(scene, DAYLIGHT, Camera(blur_px=0, noise=0), np.random.default_rng(0))
    lab = linear_to_lab(decode_linear(code))
    assert lab[20, 20] == pytest.approx(linear_to_lab(np.full(3, 0.4)), abs=0.3)


def decode_linear(code):
    from jartide.colour.spaces import decode_srgb

    return decode_srgb(code / 255)


def test_light_tints_and_falls_off():
    scene = np.full((40, 60, 3), 0.4, np.float32)
    light = Light(tint=(1.2, 1.0, 0.7), falloff=0.3, falloff_deg=0)
    code = expose(scene, light, Camera(blur_px=0, noise=0), np.random.default_rng(0))
    seen = decode_linear(code)
    assert seen[20, 0, 0] / seen[20, 0, 2] == pytest.approx(1.2 / 0.7, rel=0.02)
    assert seen[20, -1, 1] / seen[20, 0, 1] == pytest.approx(0.7, abs=0.02)


def test_noise_grows_with_light_and_has_its_size():
    for level in (0.214, 0.8):
        scene = np.full((200, 200, 3), level, np.float32)
        code = expose(scene, DAYLIGHT, Camera(blur_px=0, noise=3), np.random.default_rng(1))
        spread = decode_linear(code)[..., 1].std()
        assert spread == pytest.approx(3 * 0.0033 * np.sqrt(level / 0.214), rel=0.08)


def test_photograph_is_a_jpeg_that_opens(surface):
    photo = decode_photo(photograph(surface.rgb_linear, 1), "a")
    assert photo.size == (320, 240)


def test_scene_shows_the_board_where_it_says():
    surface = draw_concrete((60.0, 60.0), 0.25, 1)
    surface = replace(
        surface,
        rgb_linear=np.broadcast_to(
            lab_to_linear([80, 40, 40]).astype(np.float32), (240, 240, 3)
        ).copy(),
    )
    scene = set_scene(surface, View(size_px=(600, 450), tilt_deg=20, turn_deg=15), 1)
    inside = squared_truth(scene, surface, np.array([[30.0, 30.0], [3.0, 3.0], [57.0, 57.0]]))
    for x, y in inside:
        seen = linear_to_lab(scene.rgb_linear[int(y), int(x)].astype(float))
        assert seen == pytest.approx([80, 40, 40], abs=1)
    chip = scene.chip
    patch = scene.rgb_linear[int(chip.y) : int(chip.y + chip.h), int(chip.x) : int(chip.x + chip.w)]
    assert linear_to_lab(patch.reshape(-1, 3).astype(float)) == pytest.approx(
        np.tile([CHIP_L, 0, 0], (patch.shape[0] * patch.shape[1], 1)), abs=0.05
    )


def test_a_warm_lamp_is_warm():
    red, _, blue = WARM_LAMP.tint
    assert red > 1 > blue
