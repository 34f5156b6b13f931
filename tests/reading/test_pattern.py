"""Every measure of a pattern against drawn truth, and what it says where there is nothing."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from jartide.colour.spaces import decode_srgb, linear_to_lab
from jartide.photo.picture import Picture
from jartide.reading.lines.crossings import evenness, spacing_px, walk_across
from jartide.reading.lines.ridges import find_centre_lines
from jartide.reading.lines.skeletons import forks, skeleton_of, with_missed
from jartide.reading.lines.wander import tortuosity
from jartide.reading.pattern.knots import find_knots
from jartide.reading.pattern.patches import measure_patches
from jartide.reading.pattern.peaks import direction_peaks
from jartide.reading.pattern.pieces import clark_evans, nearest_px, pieces_of
from jartide.reading.pattern.repeat import measure_repeat
from jartide.reading.pattern.specks import measure_specks
from jartide.reading.pattern.weave import find_threads
from jartide.reading.places import places_of
from jartide.reading.read import find_basis, read_basis, read_picture
from jartide.reading.trust.measured import measured, unknown
from jartide.reading.trust.own_error import judged, least_change
from jartide.studio.families import draw_family
from jartide.studio.oak import Oak, draw_oak

MM = 0.25
SIZE = (130.0, 130.0)


def light_of(surface):
    return np.ascontiguousarray(linear_to_lab(surface.rgb_linear)[..., 0], np.float32)


def read(family, **changes):
    """Read a drawn surface without a camera between: basis, reading, map and truth."""
    surface = draw_family(family, SIZE, MM, 7, **changes)
    height, width = surface.rgb_linear.shape[:2]
    picture = Picture(rgb_linear=surface.rgb_linear, photo_size=(width, height), mm_per_px=MM)
    basis = find_basis(picture, family)
    reading, layers = read_basis(basis)
    return basis, reading, layers, surface.truth


@pytest.fixture(scope="module")
def linen():
    return read("linen", turn_deg=4.0, warp_per_cm=4.2)


@pytest.fixture(scope="module")
def leather():
    return read("leather")


@pytest.fixture(scope="module")
def brushed():
    return read("brushed", mid_deg=70.0, light_deg=15.0)


@pytest.fixture(scope="module")
def marble():
    return read("marble")


@pytest.fixture(scope="module")
def oak():
    return read("wood", knots=1)


def test_threads_are_counted_and_their_angles_told(linen):
    _, reading, _, truth = linen
    weave = reading.pattern.weave
    assert weave.warp_per_cm.value == pytest.approx(truth.weave.warp_per_cm, rel=0.01)
    assert weave.weft_per_cm.value == pytest.approx(truth.weave.weft_per_cm, rel=0.01)
    assert weave.warp_direction_deg.value == pytest.approx(94.0, abs=0.7)
    assert weave.weft_direction_deg.value == pytest.approx(4.0, abs=0.7)
    assert 0.7 < weave.evenness.value <= 1


def test_what_is_not_woven_has_no_threads(leather):
    assert leather[1].pattern.weave is None
    noise = np.random.default_rng(1).normal(50, 5, (300, 300)).astype(np.float32)
    assert find_threads(noise, np.ones(noise.shape, bool)) is None


def test_cells_are_measured_from_groove_centre_to_groove_centre(leather):
    _, reading, _, truth = leather
    cells = reading.pattern.cells
    assert cells.size_mm.median.value == pytest.approx(truth.cells.size_mm, rel=0.07)
    assert cells.size_mm.p10.value < cells.size_mm.median.value < cells.size_mm.p90.value
    assert cells.elongation.value < 2


def test_both_ways_of_a_crossed_brush_are_told(brushed):
    brush = brushed[1].pattern.brush
    found = sorted(peak.deg for peak in brush.directions)
    assert found == pytest.approx([15.0, 70.0], abs=3)
    assert sum(peak.share for peak in brush.directions) == pytest.approx(1)
    assert brush.ridge_spacing_mm.value > 0


def test_grain_tells_its_spacing_and_its_knots(oak):
    _, reading, _, truth = oak
    grain = reading.pattern.grain
    assert grain.spacing_mm.value == pytest.approx(truth.grain.spacing_mm, rel=0.2)
    assert grain.knots.value == 1
    assert grain.direction_deg.value == pytest.approx(truth.direction_deg, abs=4)
    assert grain.contrast_L.value > 5


@pytest.mark.parametrize("knots", [0, 3])
def test_knots_are_counted(knots):
    light = light_of(draw_oak((200.0, 200.0), 0.4, 2, Oak(knots=knots)))
    assert len(find_knots(light, np.ones(light.shape, bool), 0.4)) == knots


def test_a_stamped_pattern_repeats_and_an_honest_one_does_not():
    light = light_of(draw_family("stone", SIZE, MM, 3))
    valid = np.ones(light.shape, bool)
    honest = measure_repeat(light, valid, MM)
    assert honest.period_mm is None
    assert honest.strength.value == 0
    motif = light[:200, :160]
    stamped = np.tile(motif, (3, 4))[: light.shape[0], : light.shape[1]]
    rough = stamped + np.random.default_rng(0).normal(0, 2, stamped.shape).astype(np.float32)
    repeat = measure_repeat(rough, np.ones(rough.shape, bool), MM)
    right, down = repeat.period_mm
    assert np.hypot(right, down) == pytest.approx(160 * MM, rel=0.03)
    assert repeat.strength.value > 0.4


def discs(centres, radius, size=400):
    mask = np.zeros((size, size), np.uint8)
    for x, y in centres:
        cv2.circle(mask, (int(x), int(y)), radius, 1, -1)
    return mask > 0


def test_patches_are_counted_once_however_the_region_is_cut():
    centres = [(x, y) for x in range(0, 401, 50) for y in range(0, 401, 50)]
    mask = discs(centres, 10)
    valid = np.ones(mask.shape, bool)
    # 8 x 8 of them have their right and lower border inside.
    assert pieces_of(mask, valid, 5).counted.sum() == 64
    left, right = valid.copy(), valid.copy()
    left[:, 200:], right[:, :200] = False, False
    halves = [pieces_of(mask & part, part, 5).counted.sum() for part in (left, right)]
    assert sum(halves) == 64


def test_patches_tell_number_size_distance_and_softness():
    centres = [(x + 20, y + 20) for x in range(0, 400, 40) for y in range(0, 400, 40)]
    mask = discs(centres, 8)
    light = cv2.GaussianBlur(np.where(mask, 0.6, 0.2).astype(np.float32), (0, 0), 2.0)
    found = measure_patches([mask], light, np.ones(mask.shape, bool), MM, 1.0)
    assert found.count_per_dm2.value == pytest.approx(100)
    assert found.spacing_mm.value == pytest.approx(40 * MM, rel=0.01)
    assert found.area_mm2.median.value == pytest.approx(np.pi * 64 * MM**2, rel=0.05)
    assert found.elongation.value == pytest.approx(1, abs=0.05)
    assert found.clustering.value > 1.5  # on a grid: far more even than at random
    assert found.softness_mm.value == pytest.approx(2.563 * 2.0 * MM, rel=0.15)
    long = cv2.resize(mask.astype(np.uint8), None, fx=1, fy=3)[:400] > 0
    down = measure_patches([long], light, np.ones(mask.shape, bool), MM, 1.0)
    assert down.runs_down.value > 0.4
    assert down.elongation.value == pytest.approx(3, rel=0.1)


def test_sizes_by_area_are_what_an_eye_means():
    # Four clouds of 30 mm hold nearly all the area; three hundred crumbs hardly any.
    big = discs([(200, 200), (200, 600), (600, 200), (600, 600)], 60, size=800)
    rng = np.random.default_rng(3)
    crumbs = discs(rng.uniform(320, 480, (60, 2)), 3, size=800)
    valid = np.ones(big.shape, bool)
    light = np.where(big | crumbs, 0.6, 0.2).astype(np.float32)
    found = measure_patches([big | crumbs], light, valid, MM, 1.0)
    across = found.size_by_area_mm
    assert across.median.value == pytest.approx(120 * MM, rel=0.02)
    assert across.p90.value == pytest.approx(120 * MM, rel=0.02)
    assert found.area_mm2.median.value < 100  # by number the crumbs win


def test_a_few_clouds_have_a_size_though_no_usual_distance():
    big = discs([(100, 100), (300, 280)], 50)
    valid = np.ones(big.shape, bool)
    found = measure_patches([big], np.where(big, 0.6, 0.2).astype(np.float32), valid, MM, 1.0)
    assert found.spacing_mm.value is None
    assert found.size_by_area_mm.median.value == pytest.approx(100 * MM, rel=0.03)


def test_ragged_crumbs_belong_to_their_flake():
    centres = [(x + 50, y + 50) for x in range(0, 800, 200) for y in range(0, 800, 200)]
    flakes = discs(centres, 30, size=800)
    ring = [
        (x + 42 * np.cos(t), y + 42 * np.sin(t)) for x, y in centres for t in np.arange(0, 6, 0.7)
    ]
    crumbs = discs(ring, 3, size=800)
    valid = np.ones(flakes.shape, bool)
    light = np.where(flakes | crumbs, 0.6, 0.2).astype(np.float32)
    bare = measure_patches([flakes], light, valid, MM, 1.0)
    ragged = measure_patches([flakes | crumbs], light, valid, MM, 1.0)
    assert ragged.count_per_dm2.value == bare.count_per_dm2.value
    assert ragged.spacing_mm.value == pytest.approx(bare.spacing_mm.value, rel=0.02)
    # Farther from a flake than it is wide a crumb is a patch of its own.
    lonely = discs([(150, 150), (350, 350), (550, 550)], 3, size=800)
    apart = measure_patches([flakes | lonely], light, valid, MM, 1.0)
    assert apart.count_per_dm2.value > bare.count_per_dm2.value


def test_clouds_have_a_block_of_their_own(marble):
    pattern = marble[1].pattern
    assert pattern.patches is None
    assert pattern.clouds.coverage.value == pytest.approx(
        sum(x.coverage.value for x in marble[1].layers if x.role == "cloud"), abs=0.02
    )
    assert {id for id, _ in pattern.clouds_by_layer} == {
        x.id for x in marble[1].layers if x.role == "cloud"
    }


def test_specks_are_round_and_counted():
    rng = np.random.default_rng(5)
    mask = discs(rng.uniform(20, 380, (40, 2)), 5)
    cv2.line(rgb := mask.astype(np.uint8), (20, 390), (380, 390), 1, 3)
    found = measure_specks([rgb > 0], np.ones(mask.shape, bool), MM)
    assert found.count_per_dm2.value == pytest.approx(40, rel=0.12)
    assert found.diameter_mm.median.value == pytest.approx(10.5 * MM, rel=0.1)


def test_too_few_to_measure_are_refused_with_the_reason():
    mask = discs([(100, 100), (200, 200)], 10)
    valid = np.ones(mask.shape, bool)
    light = np.where(mask, 0.6, 0.2).astype(np.float32)
    patches = measure_patches([mask], light, valid, MM, 1.0)
    assert patches.spacing_mm.value is None
    assert patches.spacing_mm.reason.id == "reason.few_patches"
    assert patches.coverage.value == pytest.approx(mask.mean())
    assert measure_patches([mask], light, valid, None, 1.0).area_mm2.median.value is None
    assert measure_specks([mask], valid, None).count_per_dm2.reason.id == "reason.no_scale"
    assert measure_patches([], light, valid, MM, 1.0) is None


def test_points_at_random_are_neither_bunched_nor_even():
    points = np.random.default_rng(2).uniform(0, 1000, (400, 2))
    ratio = clark_evans(nearest_px(points[:, 0], points[:, 1]), 1e6, 4000)
    assert ratio == pytest.approx(1, abs=0.06)


@pytest.mark.parametrize(("places", "even"), [(np.arange(10, 390, 20), 2.0), (None, 1.0)])
def test_walks_tell_how_far_apart_lines_are_and_how_evenly(places, even):
    if places is None:
        places = np.sort(np.random.default_rng(8).uniform(0, 12000, 220)).astype(int)
    width = int(places.max()) + 10
    row = np.tile(np.arange(300), len(places))
    column = np.repeat(places, 300)
    walk = walk_across(row, column, 90.0, np.ones((300, width), bool))
    mean = spacing_px(np.array([walk.row.size]), np.array([walk.walk_row.size]))
    assert mean == pytest.approx(width / len(np.unique(places)), rel=0.1)
    assert evenness(walk.nearest_px, mean) == pytest.approx(even, abs=0.15)


def test_forks_and_crossings_count_once_and_burrs_do_not():
    sheet = np.zeros((300, 300), np.uint8)
    cv2.line(sheet, (20, 150), (280, 150), 1, 7)
    cv2.line(sheet, (80, 40), (160, 260), 1, 7)  # crosses
    cv2.line(sheet, (220, 150), (270, 40), 1, 5)  # forks
    cv2.line(sheet, (50, 150), (50, 157), 1, 2)  # a burr
    rows, _ = forks(*skeleton_of(sheet > 0))
    assert rows.size == 2


def test_two_ways_are_parted_and_one_is_not():
    rng = np.random.default_rng(0)
    angles = np.concatenate([rng.normal(30, 8, 3000), rng.normal(110, 8, 1500)])
    peaks = direction_peaks(angles, np.ones(angles.size))
    assert [peak.deg for peak in peaks] == pytest.approx([30, 110], abs=1)
    assert peaks[0].share == pytest.approx(2 / 3, abs=0.03)
    (only,) = direction_peaks(rng.normal(178, 10, 3000), np.ones(3000))
    assert only.deg == pytest.approx(178, abs=1)
    assert direction_peaks(rng.uniform(0, 180, 20000), np.ones(20000)) == ()


def test_a_larger_piece_tells_smaller_changes():
    wide = judged("lines.spacing_mm", 10.0, 2.0)
    narrow = judged("lines.spacing_mm", 10.0, 1.0)
    assert least_change(narrow) < least_change(wide)
    assert least_change(unknown("reason.no_scale")) is None
    assert least_change(measured(5.0, 0.3, 0.4)) == pytest.approx(np.hypot(0.3, 0.5))


@pytest.mark.parametrize(
    ("finish", "path", "kind"),
    [
        ("leather", "cells.size_mm", "rings"),
        ("leather", "patches.coverage", "rings"),
        ("linen", "weave.warp_per_cm", "strokes"),
        ("brushed", "brush.directions", "rings"),
        ("oak", "grain.knots", "spots"),
        ("oak", "grain.spacing_mm", "points"),
    ],
)
def test_every_measure_shows_its_places_on_the_surface(finish, path, kind, request):
    basis, reading, layers, _ = request.getfixturevalue(finish)
    places = places_of(path, basis, reading, layers)
    shown = getattr(places, kind)
    assert len(shown) > 0
    if kind == "points":
        assert (shown >= 0).all()
        assert (shown <= 1).all()
    if path == "weave.warp_per_cm":
        per_cm = reading.pattern.weave.warp_per_cm.value
        assert len(shown) == pytest.approx(per_cm * SIZE[0] / 10, rel=0.15)


def test_what_was_left_out_of_the_photo_is_neither_line_nor_cell():
    surface = draw_family("marble", SIZE, MM, 7)
    height, width = surface.rgb_linear.shape[:2]
    mask = np.ones((height, width), bool)
    mask[:, width // 2 :] = False
    picture = Picture(
        rgb_linear=surface.rgb_linear, photo_size=(width, height), mm_per_px=MM, mask=mask
    )
    basis = find_basis(picture, "marble")
    reading, layers = read_basis(basis)
    assert not np.any([own[:, width // 2 :] for own in layers.masks()])
    places = places_of("lines.junctions_per_dm2", basis, reading, layers)
    assert (places.spots[:, 0] <= 0.5).all()
    lines = places_of("lines.width_mm", basis, reading, layers)
    assert lines.points[:, 0].max() < 0.51
    assert np.isfinite(lines.widths).mean() > 0.8


def test_a_faint_line_that_has_no_crest_is_taken_from_its_layer():
    none = find_centre_lines(np.full((200, 200), 50.0, np.float32), np.ones((200, 200), bool))
    mask = np.zeros((200, 200), np.uint8)
    cv2.line(mask, (20, 60), (180, 140), 1, 6)
    lines, owner = with_missed(none, [(*skeleton_of(mask > 0), -1)])
    assert (owner == 0).all()
    assert lines.step_px.sum() == pytest.approx(np.hypot(160, 80), rel=0.06)
    turn = np.degrees(np.arctan2(-80, 160)) % 180
    assert np.median((lines.normal_deg + 90) % 180) == pytest.approx(turn, abs=1)
    assert (lines.sign == -1).all()


@pytest.mark.parametrize(("bend", "true"), [(0.0, 1.0), (12.0, 1.216)])
def test_wandering_is_length_over_the_straight_way(bend, true):
    """A sine of slope 1 is 1.216 times as long as its axis, over whole waves of it."""
    x = np.arange(620)
    light = np.full((200, 640), 30.0, np.float32)
    points = np.column_stack([x + 10, 100 + bend * np.sin(x / 12)])
    cv2.polylines(light, [np.rint(points * 16).astype(np.int32)], False, 70.0, 4, cv2.LINE_8, 4)
    found = find_centre_lines(cv2.GaussianBlur(light, (0, 0), 1), np.ones(light.shape, bool))
    found = found.kept(found.sign > 0)
    # Stretches of eight widths: one wave, measured along it.
    ratio, _, _ = tortuosity(found, 2 * np.pi * 12 * true / 8)
    assert ratio.mean() == pytest.approx(true, rel=0.05)


@pytest.mark.parametrize("family", ["marble", "linen", "wood"])
def test_a_family_is_told_by_the_picture_itself(family):
    surface = draw_family(family, SIZE, MM, 9)
    height, width = surface.rgb_linear.shape[:2]
    picture = Picture(rgb_linear=surface.rgb_linear, photo_size=(width, height), mm_per_px=MM)
    reading, _ = read_picture(picture)
    assert reading.family == family
    assert 0.5 <= reading.family_confidence <= 1
    said, _ = read_picture(picture, family)
    assert said.family_confidence is None
    assert [layer.role for layer in said.layers] == [layer.role for layer in reading.layers]


def test_a_plain_colour_and_a_gradient_have_no_pattern_and_no_family():
    ramp = np.linspace(20, 220, 300).astype(np.uint8)
    for code in (np.full((300, 300), 120, np.uint8), np.tile(ramp, (300, 1))):
        rgb = decode_srgb(np.repeat(code[..., None], 3, axis=2) / 255.0).astype(np.float32)
        picture = Picture(rgb_linear=rgb, photo_size=(300, 300), mm_per_px=MM)
        reading, _ = read_picture(picture)
        pattern = reading.pattern
        assert reading.family == "auto"
        assert pattern.weave is pattern.lines is pattern.specks is pattern.cells is None
        assert pattern.repeat is None or pattern.repeat.period_mm is None


def test_noise_is_neither_cloth_nor_stamped():
    code = np.random.default_rng(0).integers(0, 255, (300, 300, 3)) / 255.0
    picture = Picture(
        rgb_linear=decode_srgb(code).astype(np.float32), photo_size=(300, 300), mm_per_px=MM
    )
    reading, _ = read_picture(picture, "linen")
    assert reading.pattern.weave is None
    assert reading.pattern.repeat.period_mm is None
