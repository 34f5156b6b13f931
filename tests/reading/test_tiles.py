"""How far densities vary: by the parts of what was read, and of nothing else."""

from dataclasses import replace

import numpy as np
import pytest

from jartide.measures.entries import BY_PATH
from jartide.photo.picture import Picture
from jartide.reading.read import find_basis, read_basis
from jartide.reading.trust.measured import jackknife_half_width
from jartide.reading.trust.paths import with_scale_error
from jartide.reading.trust.tiles import TILES, count_by_tile, density_half_width, tile_of
from jartide.studio.families import draw_family


def points(count, shape, seed=1):
    rng = np.random.default_rng(seed)
    return rng.integers(0, shape[0], count), rng.integers(0, shape[1], count)


@pytest.mark.parametrize("shape", [(7, 9), (101, 203), (400, 300)])
def test_pixels_are_counted_where_their_tile_is(shape):
    mask = np.random.default_rng(0).random(shape) < 0.4
    whole = np.ones(shape, bool)
    rows, columns = np.nonzero(mask)
    np.testing.assert_array_equal(
        count_by_tile(mask, whole), np.bincount(tile_of(rows, columns, whole), minlength=TILES)
    )


def test_of_a_whole_picture_it_is_the_plain_jackknife():
    shape = (400, 400)
    rows, columns = points(300, shape)
    whole = np.ones(shape, bool)
    counts = np.bincount(tile_of(rows, columns, whole), minlength=TILES).astype(float)
    plain = jackknife_half_width(np.arange(TILES), lambda keep: 16 * float(counts[keep].mean()))
    assert density_half_width(rows, columns, whole) * whole.size == pytest.approx(plain)


def test_a_masked_region_varies_as_the_same_region_cut_out():
    shape = (400, 600)
    valid = np.zeros(shape, bool)
    valid[50:250, 100:400] = True
    rows, columns = points(2000, shape)
    use = valid[rows, columns]
    masked = density_half_width(rows[use], columns[use], valid)
    cut = density_half_width(rows[use] - 50, columns[use] - 100, np.ones((200, 300), bool))
    assert masked == pytest.approx(cut)


def test_it_holds_the_density_of_another_patch_nine_times_in_ten():
    shape, held = (240, 240), 0
    # An L of three quarters: four tiles hold nothing.
    valid = np.ones(shape, bool)
    valid[120:, 120:] = False
    for seed in range(200):
        counts = np.random.default_rng(seed).poisson(400, 2)
        pair = [points(count, shape, 2 * seed + n) for n, count in enumerate(counts)]
        mine, other = ((r[valid[r, c]], c[valid[r, c]]) for r, c in pair)
        half = density_half_width(*mine, valid) * valid.sum()
        held += abs(len(mine[0]) - len(other[0])) <= half
    assert 0.84 <= held / 200 <= 0.96


# One quantity of each of the five blocks that count by tile.
FIVE = {
    "marble": ["lines.length_mm_per_cm2", "lines.junctions_per_dm2", "lines.spacing_mm"],
    "rust": ["patches.count_per_dm2"],
    "stone": ["specks.count_per_dm2"],
    "leather": ["cells.count_per_dm2"],
    "wood": ["grain.spacing_mm", "grain.pores_per_cm2"],
}


@pytest.mark.parametrize("family", FIVE)
def test_a_masked_photo_is_as_sure_as_the_same_cut_out(family):
    surface = draw_family(family, (160, 160), 0.25, 2)
    light = np.ascontiguousarray(surface.rgb_linear, np.float32)
    rows, columns = slice(40, 600), slice(60, 580)
    mask = np.zeros(light.shape[:2], bool)
    mask[rows, columns] = True
    whole = Picture(
        rgb_linear=light, mm_per_px=0.25, mask=mask, photo_size=(light.shape[1], light.shape[0])
    )
    cut = replace(whole, rgb_linear=np.ascontiguousarray(light[rows, columns]), mask=None)
    masked, alone = (read_basis(find_basis(p, family))[0].pattern for p in (whole, cut))
    for path in FIVE[family]:
        block, name = path.split(".")
        one, other = (getattr(getattr(p, block), name) for p in (masked, alone))
        width, usual = (m.sampling[1] - m.sampling[0] for m in (one, other))
        assert width == pytest.approx(usual, rel=0.15), path


@pytest.mark.parametrize(
    ("path", "power"),
    [
        ("lines.width_mm", 1),
        ("patches.area_mm2", 2),
        ("patches.count_per_dm2", -2),
        ("grain.pores_per_cm2", -2),
        ("lines.length_mm_per_cm2", -1),
        ("weave.warp_per_cm", -1),
        ("lines.contrast_L", 0),
        ("lines.direction_deg", 0),
    ],
)
def test_an_entry_says_how_many_lengths_are_in_it(path, power):
    assert BY_PATH[path].length_power == power


def test_a_wrong_scale_makes_each_quantity_wrong_by_its_lengths(marble_reading):
    pattern = marble_reading.pattern
    wrong = with_scale_error(pattern, 0.10)

    def added(block, name):
        one, other = (getattr(getattr(p, block), name) for p in (pattern, wrong))
        high, usual = (m.measurement[1] - m.value for m in (other, one))
        return float(np.sqrt(high**2 - usual**2)) / one.value

    assert added("lines", "spacing_mm") == pytest.approx(0.10, rel=0.01)
    assert added("lines", "length_mm_per_cm2") == pytest.approx(0.10, rel=0.01)
    assert added("lines", "junctions_per_dm2") == pytest.approx(0.20, rel=0.01)
    assert added("lines", "contrast_L") == pytest.approx(0.0, abs=1e-6)
    area, wider = (p.clouds.area_mm2.median for p in (pattern, wrong))
    high, usual = (m.measurement[1] - m.value for m in (wider, area))
    assert np.sqrt(high**2 - usual**2) / area.value == pytest.approx(0.20, rel=0.01)
