"""Single measures against patterns whose value can be worked out by hand."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.reading.layers.shapes import NO_LINES, LineEvidence, shapes_of
from jartide.reading.layers.tones import find_tones
from jartide.reading.lines.blur import (
    SOFT_BY_RUN,
    bar_of,
    peak_cover,
    picture_blur_px,
    without_blur,
)
from jartide.reading.pattern.correlation import correlation_length
from jartide.reading.pattern.direction import axial_mean, axial_spread, lay_of_picture, lay_shares
from jartide.reading.pattern.spectrum import size_spectrum
from jartide.reading.trust.measured import jackknife_half_width, weighted_percentile


def grating(period_px, angle, shape=(400, 400)):
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]]
    across = x * np.sin(np.radians(angle)) + y * np.cos(np.radians(angle))
    return (50 + 10 * np.sin(2 * np.pi * across / period_px)).astype(np.float32)


EVERYWHERE = np.ones((400, 400), bool)


@pytest.mark.parametrize("angle", [0, 30, 77, 120, 179])
def test_grating_has_its_direction(angle):
    lay = lay_of_picture(grating(16, angle), EVERYWHERE)
    assert abs((lay.direction_deg.value - angle + 90) % 180 - 90) < 0.5
    assert lay.directionality.value > 0.95
    assert sum(lay.shares) == pytest.approx(1)
    fullest = (int(np.argmax(lay.shares)) + 0.5) * 6
    assert abs((fullest - angle + 90) % 180 - 90) < 4


@pytest.mark.parametrize("size_mm", [2, 4, 8, 16])
def test_grating_lies_in_the_octave_of_half_its_wavelength(size_mm):
    mm = 0.25
    spectrum = size_spectrum(grating(2 * size_mm / mm, 20), EVERYWHERE, mm)
    shares = dict(zip((1, 2, 4, 8, 16, 32), spectrum, strict=True))
    assert shares[size_mm].value > 0.85


def test_sizes_the_region_can_not_show_are_refused():
    spectrum = size_spectrum(grating(16, 20), EVERYWHERE, 0.1)
    assert spectrum[5].value is None
    assert spectrum[5].reason.id == "reason.size_too_large"
    coarse = size_spectrum(grating(16, 20), EVERYWHERE, 1.5)
    assert coarse[0].reason.id == "reason.size_too_fine"


@pytest.mark.parametrize("length_mm", [2.0, 4.0])
def test_smoothed_noise_has_its_correlation_length(length_mm):
    """White noise under a Gaussian of deviation s correlates as exp(-r^2 / 4 s^2)."""
    from scipy.ndimage import gaussian_filter

    mm = 0.5
    rng = np.random.default_rng(5)
    field = gaussian_filter(rng.standard_normal((600, 600)), length_mm / mm / 2, mode="wrap")
    light = (50 + 8 * field / field.std()).astype(np.float32)
    found = correlation_length(light, np.ones(light.shape, bool), mm)
    assert found.value == pytest.approx(length_mm, rel=0.08)


def test_lines_left_out_do_not_shorten_the_mottle():
    from scipy.ndimage import gaussian_filter

    rng = np.random.default_rng(6)
    field = gaussian_filter(rng.standard_normal((500, 500)), 8, mode="wrap")
    light = (50 + 8 * field / field.std()).astype(np.float32)
    lines = np.zeros(light.shape, bool)
    lines[::40, :] = True
    marked = np.where(lines, 90, light).astype(np.float32)
    clean = correlation_length(light, np.ones(light.shape, bool), 0.5)
    masked = correlation_length(marked, ~lines, 0.5)
    assert masked.value == pytest.approx(clean.value, rel=0.08)


def test_clouds_too_large_for_the_region_are_refused():
    y, _ = np.mgrid[0:200, 0:200]
    found = correlation_length((40 + y / 8).astype(np.float32), np.ones((200, 200), bool), 1.0)
    assert found.value is None


def test_axial_statistics():
    angles = np.array([170.0, 10.0])
    mean, resultant = axial_mean(angles, np.ones(2))
    assert min(mean, 180 - mean) == pytest.approx(0, abs=1e-9)
    assert resultant == pytest.approx(np.cos(np.radians(20)))
    assert axial_mean(np.array([0.0, 90.0]), np.ones(2))[1] == pytest.approx(0, abs=1e-9)
    rng = np.random.default_rng(1)
    wrapped = rng.normal(60, 12, 200_000)
    assert axial_spread(axial_mean(wrapped, np.ones(wrapped.size))[1]) == pytest.approx(
        12, rel=0.02
    )
    assert lay_shares(np.array([3.0, 183.0]), np.ones(2))[0] == 1


@pytest.mark.parametrize("width", [2.0, 5.0, 20.0])
@pytest.mark.parametrize("own", [0.4, 1.5])
@pytest.mark.parametrize("blur", [0.3, 0.8])
def test_blur_is_taken_out_again(width, own, blur):
    """A bar drawn with soft edges and blurred is given back as it was drawn."""
    from scipy.special import ndtr

    x = np.linspace(-60, 60, 48_001)

    def shown(s):
        profile = ndtr((x + width / 2) / s) - ndtr((x - width / 2) / s)
        profile /= profile.max()
        right = x > 0
        at = np.interp([-0.8, -0.5, -0.2], -profile[right], x[right])
        return 2 * at[1], SOFT_BY_RUN * (at[2] - at[0])

    true_width, true_soft = shown(own)
    seen_width, seen_soft = shown(np.hypot(own, blur))
    found = without_blur(np.array([seen_width]), np.array([seen_soft]), blur)
    assert found[0][0] == pytest.approx(true_width, rel=0.03)
    assert found[1][0] == pytest.approx(true_soft, rel=0.06)


def test_a_fine_line_does_not_cover_its_own_centre():
    u, s = bar_of(np.array([2.4, 20.0]), np.array([1.7, 2.56]))
    assert peak_cover(u)[0] < 0.9
    assert peak_cover(u)[1] > 0.99
    assert s[1] == pytest.approx(1, rel=0.03)


def test_no_edge_is_sharper_than_the_blur():
    least, likely, most = picture_blur_px(1.0, sharpest_edge_px=0.5)
    assert least <= likely <= most <= 0.5


def test_jackknife_of_a_mean_is_how_far_two_patches_stray():
    rng = np.random.default_rng(2)
    values = rng.normal(0, 1, 16)
    found = jackknife_half_width(np.arange(16), lambda keep: float(values[keep].mean()))
    assert found == pytest.approx(2**0.5 * 1.753 * values.std(ddof=1) / 4, rel=1e-3)
    assert jackknife_half_width(np.zeros(9, int), lambda keep: 0.0) == float("inf")


def test_weighted_percentile():
    values, weights = np.array([3.0, 1.0, 2.0]), np.array([1.0, 1.0, 8.0])
    assert weighted_percentile(values, weights, 0.5) == 2
    assert np.isnan(weighted_percentile(np.zeros(0), np.zeros(0), 0.5))


def test_find_tones_parts_clear_peaks_and_joins_near_ones():
    rng = np.random.default_rng(3)
    clear = np.concatenate(
        [rng.normal(m, 0.8, (4000, 3)) for m in ((20, 0, 0), (50, 5, 10), (52, 5, 10))]
    )
    tones = find_tones(clear, np.ones(len(clear)))
    assert len(tones) == 2
    assert sorted(round(t[0]) for t in tones) == [20, 51]


def test_find_tones_of_weightless_pixels_still_answers():
    assert len(find_tones(np.zeros((50, 3)) + 40.0, np.zeros(50))) == 1


def test_a_disc_bulges_into_what_it_lies_on():
    y, x = np.mgrid[0:200, 0:200]
    disc = ((x - 100) ** 2 + (y - 100) ** 2 < 900).astype(np.uint8)
    shapes = shapes_of(disc, np.ones(disc.shape, bool), [NO_LINES, NO_LINES], 0.3)
    assert shapes.bulge[1, 0] > 0.02
    assert shapes.bulge[0, 1] == pytest.approx(-shapes.bulge[1, 0])
    assert shapes.roundness[1] > 0.8


def test_even_slender_strokes_are_liker_to_lines_than_blots():
    vein = LineEvidence(area_px=1000, slenderness=40, unevenness=3)
    blot = LineEvidence(area_px=400, slenderness=5, unevenness=7)
    assert vein.likeness(1000, 24) > 0 > blot.likeness(1000, 6)
    assert NO_LINES.likeness(100) < -5
