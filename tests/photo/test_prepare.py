"""Squaring, scale, neutral and region, against scenes whose geometry is known."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import encode_srgb, lab_to_linear, linear_to_lab
from jartide.errors import PrepareError
from jartide.photo.layout import has_scale
from jartide.photo.load import Photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import KnownLength, KnownPatch, PhotoSettings, Rect
from jartide.photo.square import aspect_ratio, homography, transform
from jartide.studio.camera import WARM_LAMP, Camera, expose
from jartide.studio.scene import CHIP_L, View, set_scene
from jartide.studio.truth import Surface, SurfaceTruth


def photo_of(rgb_linear):
    code = np.rint(encode_srgb(rgb_linear) * 255).astype(np.uint8)
    return Photo(code=code, name="a", sha256="", taken=None)


def checkerboard(columns=8, rows=6, cell=50):
    """A board of two greens, 50 px a cell."""
    y, x = np.mgrid[0 : rows * cell, 0 : columns * cell]
    dark = (x // cell + y // cell) % 2 == 0
    colours = lab_to_linear([[30, -10, 4], [60, -15, 6]])
    return np.where(dark[..., None], colours[0], colours[1]).astype(np.float32)


@pytest.fixture(scope="module")
def board_scene():
    surface = Surface(
        rgb_linear=checkerboard(),
        mm_per_px=1.0,
        truth=SurfaceTruth(family="auto", layers=(), direction_deg=None),
    )
    return set_scene(surface, View(size_px=(1200, 900), tilt_deg=25, turn_deg=-18), seed=1)


def test_squaring_a_tilted_board_puts_every_corner_in_place(board_scene):
    code = expose(board_scene.rgb_linear, WARM_LAMP, Camera(), np.random.default_rng(1))
    photo = Photo(code=code, name="a", sha256="", taken=None)
    settings = PhotoSettings(
        corners=board_scene.corners,
        size_mm=(400, 300),
        neutrals=(KnownPatch(rect=board_scene.chip, lightness=CHIP_L),),
    )
    picture = prepare(photo, settings)
    height, width = picture.shape
    assert width * picture.mm_per_px == pytest.approx(400, rel=0.005)
    assert height * picture.mm_per_px == pytest.approx(300, rel=0.005)
    # The middle of each cell has its cell's colour: nothing has shifted by half a cell.
    worst = 0.0
    for row in range(6):
        for column in range(8):
            y = int((row + 0.5) * 50 / picture.mm_per_px)
            x = int((column + 0.5) * 50 / picture.mm_per_px)
            lab = linear_to_lab(picture.rgb_linear[y - 3 : y + 3, x - 3 : x + 3].mean((0, 1)))
            true = [30, -10, 4] if (row + column) % 2 == 0 else [60, -15, 6]
            worst = max(worst, float(delta_e_2000(lab, true)))
    # The lamp's own falloff stays: a few units, but never the other cell's colour.
    assert worst < 6
    assert picture.exposure_known


def test_edges_between_cells_lie_where_they_should(board_scene):
    code = np.rint(encode_srgb(board_scene.rgb_linear) * 255).astype(np.uint8)
    photo = Photo(code=code, name="a", sha256="", taken=None)
    picture = prepare(photo, PhotoSettings(corners=board_scene.corners, size_mm=(400, 300)))
    row = picture.rgb_linear[int(25 / picture.mm_per_px), :, 1]
    steps = np.abs(np.diff(row))
    for number in range(1, 8):
        expected = number * 50 / picture.mm_per_px
        near = slice(int(expected) - 15, int(expected) + 15)
        found = near.start + 1 + np.average(np.arange(29), weights=steps[near][:29] ** 2)
        assert found == pytest.approx(expected, abs=1.5)


def test_aspect_ratio_is_found_without_the_size(board_scene):
    found = aspect_ratio(np.array(board_scene.corners), (1200, 900))
    # The scene's camera is not centred on the board, so this is a check of the method, not of it.
    assert found == pytest.approx(4 / 3, rel=0.08)


def test_known_length_sets_the_scale_of_a_squared_photo(board_scene):
    flat = np.array([[0.1, 0.5], [0.6, 0.5]])
    back = homography(np.array([[0, 0], [1, 0], [1, 1], [0, 1.0]]), np.array(board_scene.corners))
    start, end = transform(back, flat)
    settings = PhotoSettings(
        corners=board_scene.corners,
        known_length=KnownLength(start=tuple(start), end=tuple(end), length_mm=200),
    )
    picture = prepare(photo_of(board_scene.rgb_linear), settings)
    assert picture.shape[1] * picture.mm_per_px == pytest.approx(400, rel=0.01)


def test_homography_carries_points_there_and_back():
    rng = np.random.default_rng(3)
    source = np.array([[0, 0], [4, 0], [4, 3], [0, 3.0]])
    target = source + rng.normal(0, 0.3, (4, 2))
    matrix = homography(source, target)
    points = rng.random((20, 2)) * (4, 3)
    assert transform(matrix, source) == pytest.approx(target)
    assert transform(np.linalg.inv(matrix), transform(matrix, points)) == pytest.approx(points)


def test_reducing_averages_light_and_keeps_the_scale():
    rng = np.random.default_rng(2)
    rgb = rng.random((1200, 1600, 3)).astype(np.float32)
    photo = photo_of(rgb)
    picture = prepare(photo, PhotoSettings(mm_per_px=0.1), max_pixels=100_000)
    assert picture.rgb_linear.mean() == pytest.approx(photo.linear().mean(), rel=1e-3)
    assert picture.shape[1] * picture.mm_per_px == pytest.approx(160)
    assert picture.reduced == pytest.approx(1600 / picture.shape[1])


def test_a_large_photo_reduced_in_strips_is_as_if_reduced_whole():
    import cv2

    rng = np.random.default_rng(4)
    photo = photo_of(rng.random((2000, 2000, 3)).astype(np.float32))
    picture = prepare(photo, PhotoSettings(), max_pixels=500 * 500)
    whole = cv2.resize(photo.linear(), picture.shape[::-1], interpolation=cv2.INTER_AREA)
    assert np.abs(picture.rgb_linear - whole).max() < 1e-5


@pytest.mark.parametrize("lightness", [None, 62.0])
def test_neutral_takes_the_tint_out(lightness):
    rgb = np.ones((60, 80, 3), np.float32) * lab_to_linear([50, 0, 0])
    rgb[20:40, 20:40] = lab_to_linear([62, 0, 0])
    photo = photo_of(rgb * (1.2, 1.0, 0.7))
    rect = Rect(x=22, y=22, w=16, h=16)
    picture = prepare(photo, PhotoSettings(neutrals=(KnownPatch(rect=rect, lightness=lightness),)))
    lab = linear_to_lab(picture.rgb_linear[5, 5].astype(float))
    assert np.hypot(lab[1], lab[2]) < 0.8
    assert picture.balance_known
    assert picture.exposure_known is (lightness is not None)
    if lightness is not None:
        assert lab[0] == pytest.approx(50, abs=0.5)


def test_region_is_cut_from_a_flat_photo_and_masks_a_squared_one(board_scene):
    photo = photo_of(board_scene.rgb_linear)
    flat = prepare(photo, PhotoSettings(region=Rect(x=100, y=50, w=300, h=200)))
    assert flat.shape == (200, 300)
    settings = PhotoSettings(
        corners=board_scene.corners,
        size_mm=(400, 300),
        region=Rect(x=300, y=200, w=300, h=300),
    )
    picture = prepare(photo, settings)
    assert 0.05 < picture.mask.mean() < 0.9


def test_input_is_not_changed(board_scene):
    photo = photo_of(board_scene.rgb_linear)
    before = photo.code.copy()
    prepare(photo, PhotoSettings(corners=board_scene.corners, size_mm=(400, 300)))
    assert np.array_equal(photo.code, before)


GOOD = ((100, 100), (500, 110), (490, 400), (110, 390))


@pytest.mark.parametrize(
    ("settings", "words"),
    [
        (PhotoSettings(corners=GOOD[::-1]), "run the wrong way"),
        (PhotoSettings(corners=(GOOD[0], GOOD[2], GOOD[1], GOOD[3])), "cross each other"),
        (PhotoSettings(corners=((0, 0), (5, 0), (5, 5), (0, 5))), "within 8 pixels"),
        (PhotoSettings(corners=((-9e3, 0), (5, 0), (5, 5), (0, 5))), "far outside"),
        (PhotoSettings(corners=GOOD, size_mm=(0, 300)), "board size must be more than 0"),
        (PhotoSettings(corners=GOOD, size_mm=(float("nan"), 3)), "board size must be"),
        (PhotoSettings(mm_per_px=-1), "scale must be more than 0"),
        (
            PhotoSettings(known_length=KnownLength(start=(5, 5), end=(6, 6), length_mm=10)),
            "closer than 8 pixels",
        ),
        (
            PhotoSettings(neutrals=(KnownPatch(rect=Rect(x=9e3, y=0, w=50, h=50)),)),
            "grey patch lies outside",
        ),
        (PhotoSettings(region=Rect(x=0, y=0, w=1, h=1)), "region to read lies outside"),
        (
            PhotoSettings(corners=GOOD, region=Rect(x=0, y=0, w=40, h=40)),
            "region to read lies outside the corners",
        ),
    ],
)
def test_settings_that_make_no_sense_give_one_sentence(settings, words):
    photo = photo_of(np.full((500, 700, 3), 0.3, np.float32))
    with pytest.raises(PrepareError, match=words):
        prepare(photo, settings)


@pytest.mark.parametrize(("value", "words"), [(1.0, "burnt out"), (0.0, "almost black")])
def test_a_useless_grey_patch_is_refused(value, words):
    photo = photo_of(np.full((60, 60, 3), value, np.float32))
    rect = Rect(x=10, y=10, w=30, h=30)
    with pytest.raises(PrepareError, match=words):
        prepare(photo, PhotoSettings(neutrals=(KnownPatch(rect=rect),)))


def test_what_counts_as_a_scale():
    known = KnownLength(start=(0, 0), end=(100, 0), length_mm=50)
    assert has_scale(PhotoSettings(mm_per_px=0.2))
    assert has_scale(PhotoSettings(known_length=known))
    assert has_scale(PhotoSettings(corners=GOOD, size_mm=(4, 3)))
    assert not has_scale(PhotoSettings(corners=GOOD))
