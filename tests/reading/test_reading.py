"""Readings of simulated surfaces against their truth."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear
from jartide.errors import Cancelled, ReadingError
from jartide.photo.picture import Picture
from jartide.reading.read import read_picture
from jartide.reading.result import Role
from jartide.studio.camera import WARM_LAMP
from jartide.studio.concrete import draw_concrete
from jartide.studio.oak import draw_oak
from jartide.studio.verdigris import draw_verdigris
from tests.conftest import MM_PER_PX, SIZE_MM, read_surface


def picture_of(lab, mm_per_px=0.25, **more):
    rgb = lab_to_linear(np.asarray(lab, float)).astype(np.float32)
    height, width = rgb.shape[:2]
    return Picture(rgb_linear=rgb, photo_size=(width, height), mm_per_px=mm_per_px, **more)


@pytest.mark.parametrize("draw", [draw_concrete, draw_verdigris, draw_oak])
def test_surface_is_read_near_its_truth(draw):
    surface = draw(SIZE_MM, 0.2, 6)
    reading, truth = read_surface(surface), surface.truth
    ground = reading.layers[0]
    assert ground.role is Role.GROUND
    assert delta_e_2000(ground.lab, truth.layers[0].lab) < 2
    assert ground.coverage.value == pytest.approx(truth.layers[0].coverage, abs=0.06)
    turned = reading.pattern.direction_deg.value - truth.direction_deg
    assert abs((turned + 90) % 180 - 90) < 4


def test_marble_is_read_near_its_truth(marble, marble_reading):
    reading, truth = marble_reading, marble.truth
    assert len(reading.layers) == len(truth.layers)
    for layer in truth.layers:
        apart = [float(delta_e_2000(r.shown_lab, layer.lab)) for r in reading.layers]
        found = reading.layers[int(np.argmin(apart))]
        assert min(apart) < 2
        assert found.coverage.value == pytest.approx(layer.coverage, abs=0.02)
    lines = reading.pattern.lines
    assert lines.width_mm.median.value == pytest.approx(truth.lines.width_mm, rel=0.2)
    assert lines.contrast_L.value == pytest.approx(truth.lines.contrast_L, abs=8)
    # So small a piece has few veins; `make accuracy` holds 240 mm to 4 degrees.
    assert lines.direction_deg.value == pytest.approx(truth.lines.direction_deg, abs=5)
    assert lines.polarity == "lighter"


def test_shares_add_up_to_one(marble_reading):
    assert sum(x.coverage.value for x in marble_reading.layers) == pytest.approx(1, abs=1e-6)
    assert marble_reading.layers[0].coverage_painted.value == 1
    for layer in marble_reading.layers:
        assert layer.coverage_painted.value >= layer.coverage.value - 1e-9


def test_intervals_hold_their_values(marble_reading):
    lines = marble_reading.pattern.lines
    for m in (lines.width_mm.median, lines.length_mm_per_cm2, lines.contrast_L):
        for low, high in (m.measurement, m.sampling):
            assert low <= m.value <= high
            assert high > low


def test_same_seed_gives_the_same_reading(marble, marble_reading):
    assert read_surface(marble) == marble_reading


def test_veins_drawn_wider_are_read_wider(marble_reading, wide_reading, marble, wide_marble):
    ratio = (
        wide_reading.pattern.lines.width_mm.geometric_mean.value
        / marble_reading.pattern.lines.width_mm.geometric_mean.value
    )
    assert ratio == pytest.approx(1.6, rel=0.15)
    assert wide_marble.truth.lines.width_mm > 1.5 * marble.truth.lines.width_mm


def test_without_a_scale_no_length_is_given(marble):
    reading = read_surface(
        marble.__class__(rgb_linear=marble.rgb_linear, mm_per_px=None, truth=marble.truth)
    )
    assert reading.size_mm is None
    lines = reading.pattern.lines
    for m in (lines.width_mm.median, lines.softness_mm, reading.pattern.correlation_mm):
        assert m.value is None
        assert m.reason.id == "reason.no_scale"
    assert lines.contrast_L.value is not None
    assert reading.pattern.direction_deg.value is not None
    assert any(code == "pattern.correlation_mm.no_scale" for code, _ in reading.warnings)


def test_turning_the_picture_turns_the_direction(marble_reading, marble):
    turned = marble.__class__(
        rgb_linear=np.ascontiguousarray(np.rot90(marble.rgb_linear)),
        mm_per_px=marble.mm_per_px,
        truth=marble.truth,
    )
    found = read_surface(turned).pattern.lines.direction_deg.value
    expected = marble_reading.pattern.lines.direction_deg.value + 90
    assert abs((found - expected + 90) % 180 - 90) < 2.5


def test_warm_light_with_a_grey_card_gives_the_same_colours(marble, marble_reading):
    from jartide.photo.settings import KnownPatch, Rect

    with_chip = marble.rgb_linear.copy()
    with_chip[:60, :60] = lab_to_linear([62, 0, 0])
    surface = marble.__class__(rgb_linear=with_chip, mm_per_px=MM_PER_PX, truth=marble.truth)
    neutral = KnownPatch(rect=Rect(x=15, y=15, w=30, h=30), lightness=62.0)
    reading = read_surface(surface, light=WARM_LAMP, neutrals=(neutral,))
    ground = reading.layers[0].lab
    # Falloff of the lamp is left, so this is not exact.
    assert delta_e_2000(ground, marble_reading.layers[0].lab) < 2


# ---- surfaces drawn in the test itself: nothing shared with the studio


def stripes(width_px, spacing_px, shape=(400, 400), angle=0.0, light=(20, 0, 0), dark=(70, 0, 0)):
    """Sharp straight lines of `light` Lab on `dark`, at an angle, a pixel's cover mixed."""
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]] + 0.5
    across = x * np.sin(np.radians(angle)) + y * np.cos(np.radians(angle))
    away = np.abs(across % spacing_px - spacing_px / 2)
    cover = np.clip(width_px / 2 - away + 0.5, 0, 1)[..., None]
    rgb = lab_to_linear(dark) * (1 - cover) + lab_to_linear(light) * cover
    return rgb.astype(np.float32)


@pytest.mark.parametrize("width_mm", [1.0, 2.0, 4.0])
@pytest.mark.parametrize("angle", [20.0, 90.0, 135.0])
def test_straight_lines_have_their_drawn_width_direction_and_length(width_mm, angle):
    mm = 0.2
    rgb = stripes(width_mm / mm, 20 / mm, angle=angle)
    picture = Picture(rgb_linear=rgb, photo_size=(400, 400), mm_per_px=mm)
    reading, _ = read_picture(picture, "marble")
    lines = reading.pattern.lines
    assert lines.polarity == "darker"
    assert lines.width_mm.median.value == pytest.approx(width_mm, rel=0.08)
    turned = lines.direction_deg.value - angle
    assert abs((turned + 90) % 180 - 90) < 1.5
    # One line every 20 mm: 5 mm of line in each square centimetre.
    assert lines.length_mm_per_cm2.value == pytest.approx(5.0, rel=0.12)
    assert lines.contrast_L.value == pytest.approx(50, abs=3)


def test_spots_are_not_lines():
    y, x = np.mgrid[0:400, 0:400]
    spots = ((x % 50 - 25) ** 2 + (y % 50 - 25) ** 2) < 100
    lab = np.where(spots[..., None], (30, 0, 0), (70, 0, 0))
    reading, _ = read_picture(picture_of(lab), "concrete")
    assert reading.pattern.lines is None
    assert reading.layers[0].lab[0] == pytest.approx(70, abs=0.5)
    assert reading.layers[1].coverage.value == pytest.approx(spots.mean(), abs=0.01)


def test_three_flat_tones_are_three_layers_in_their_shares():
    lab = np.zeros((300, 300, 3)) + (60, 2, 8)
    lab[40:140, 40:140] = (45, -10, 5)
    lab[200:240, 60:200] = (80, 0, 3)
    reading, _ = read_picture(picture_of(lab), "concrete")
    shares = {round(x.lab[0]): x.coverage.value for x in reading.layers}
    assert shares == pytest.approx({60: 0.826, 45: 0.111, 80: 0.062}, abs=0.005)
    assert reading.layers[0].lab[0] == pytest.approx(60, abs=0.3)


def test_tones_an_eye_would_not_part_are_one():
    lab = np.zeros((200, 200, 3)) + (50, 0, 0)
    lab[:, 100:] = (51.5, 0, 0)
    reading, _ = read_picture(picture_of(lab))
    assert len(reading.layers) == 1


def test_a_flat_colour_is_one_layer_without_a_pattern():
    reading, _ = read_picture(picture_of(np.zeros((120, 120, 3)) + (55, 10, 10)))
    assert len(reading.layers) == 1
    assert reading.layers[0].lab == pytest.approx((55, 10, 10), abs=0.1)
    assert reading.pattern.lines is None
    assert reading.pattern.direction_deg.value is None


def test_pure_noise_has_no_direction_and_no_lines():
    rng = np.random.default_rng(1)
    lab = np.zeros((300, 300, 3)) + (50, 0, 0)
    lab[..., 0] += rng.normal(0, 6, (300, 300))
    reading, _ = read_picture(picture_of(lab), "concrete")
    assert reading.pattern.direction_deg.value is None


def test_mask_is_all_that_is_read():
    lab = np.zeros((200, 200, 3)) + (50, 0, 0)
    lab[:, 100:] = (80, 0, 0)
    mask = np.zeros((200, 200), bool)
    mask[:, :95] = True
    reading, _ = read_picture(picture_of(lab, mask=mask))
    assert [round(x.lab[0]) for x in reading.layers] == [50]


@pytest.mark.parametrize("shape", [(1, 2), (7, 200), (12, 12)])
def test_too_little_to_read_gives_one_sentence(shape):
    with pytest.raises(ReadingError, match="pixels are left to read"):
        read_picture(picture_of(np.zeros((*shape, 3)) + (50, 0, 0)))


def test_all_masked_gives_one_sentence():
    lab = np.zeros((100, 100, 3)) + (50, 0, 0)
    with pytest.raises(ReadingError, match="Only 0 pixels"):
        read_picture(picture_of(lab, mask=np.zeros((100, 100), bool)))


def test_reading_stops_when_progress_says_so():
    seen = []

    def stop(fraction):
        seen.append(fraction)
        if fraction > 0.3:
            raise Cancelled

    with pytest.raises(Cancelled):
        read_picture(picture_of(np.zeros((200, 200, 3)) + (50, 0, 0)), progress=stop)
    assert seen == sorted(seen)


def test_a_gradient_is_few_layers_that_add_up():
    slope = np.zeros((240, 240, 3))
    slope[..., 0] = np.linspace(35, 75, 240)[None]
    reading, layers = read_picture(picture_of(slope))
    assert 1 <= len(reading.layers) <= 3
    assert sum(x.coverage.value for x in reading.layers) == pytest.approx(1, abs=1e-6)
    assert reading.relief is None
    assert layers.valid.all()
