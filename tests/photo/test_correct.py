"""Colour correction against cameras whose making is known here and nowhere else."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import encode_srgb, lab_to_linear, linear_to_lab
from jartide.errors import PrepareError
from jartide.photo.correct import (
    NO_CORRECTION,
    STRAIGHT,
    Grade,
    KnownColours,
    Model,
    fit_correction,
    relit,
    tone_undone,
)
from jartide.photo.load import Photo
from jartide.photo.neutral import correction_by_chart, correction_by_patches
from jartide.photo.settings import Chart, KnownPatch, Rect

GREYS = [(L, 0.0, 0.0) for L in (18, 34, 50, 65, 80, 95)]
COLOURS = [
    (40, 34, 26),
    (62, 12, 46),
    (36, 10, 14),
    (42, -26, 12),
    (60, -26, -4),
    (44, -2, -30),
    (76, 6, 26),
    (28, 20, 10),
]
MIXER = np.array([[0.86, 0.10, 0.02], [0.05, 0.92, 0.06], [0.01, 0.14, 0.80]])


def known(labs, camera, trust=0.3):
    labs = np.array(labs, float)
    return KnownColours(seen=camera(lab_to_linear(labs)), lab=labs, trust=np.full(len(labs), trust))


def off(correction, labs, camera):
    labs = np.array(labs, float)
    return delta_e_2000(linear_to_lab(correction.apply(camera(lab_to_linear(labs)))), labs)


def test_one_grey_gives_exposure_and_white_balance():
    gains = np.array([1.3, 1.0, 0.6]) * 0.7
    correction = fit_correction(known([(60, 0, 0)], lambda rgb: rgb * gains), Grade.PATCH)
    assert correction.model is Model.WHITE
    assert np.diag(correction.matrix) == pytest.approx(1 / gains, rel=1e-6)
    assert correction.left_out_mean is None
    assert off(correction, COLOURS, lambda rgb: rgb * gains).max() < 0.01


def test_a_matrix_camera_is_undone_by_measured_patches():
    def camera(rgb):
        return rgb @ MIXER.T * 0.8

    correction = fit_correction(known(GREYS + COLOURS, camera), Grade.MEASURED)
    assert correction.model in (Model.MATRIX, Model.ROOT_POLYNOMIAL)
    test = [(30, -10, 4), (55, 9, 26), (58, -22, -4), (70, 5, 12)]
    white = fit_correction(known(GREYS, camera), Grade.MEASURED)
    assert np.median(off(correction, test, camera)) < 0.6 * np.median(off(white, test, camera))
    assert correction.left_out_mean < 2
    assert correction.left_out_max >= correction.left_out_mean


def test_a_freer_model_is_never_taken_where_it_predicts_worse():
    rng = np.random.default_rng(3)

    def noisy(rgb):
        return rgb * 0.8 * (1 + 0.12 * rng.standard_normal(rgb.shape))

    for _ in range(8):
        data = known(GREYS + COLOURS, noisy)
        chosen = fit_correction(data, Grade.MEASURED)
        if chosen.model is not Model.WHITE:
            assert chosen.left_out_mean < white_left_out(data)
    greys_alone = KnownColours(seen=data.seen[:6], lab=data.lab[:6], trust=data.trust[:6])
    assert fit_correction(greys_alone, Grade.MEASURED).model is Model.WHITE


def white_left_out(data):
    """The mean error of white balance alone on patches left out, worked out here anew."""
    errors = []
    greys = np.hypot(data.lab[:, 1], data.lab[:, 2]) < 6
    for out in range(len(data.lab)):
        rest = np.arange(len(data.lab)) != out
        part = KnownColours(
            seen=data.seen[rest & greys], lab=data.lab[rest & greys], trust=data.trust[rest & greys]
        )
        fitted = fit_correction(part, Grade.MEASURED)
        errors.append(delta_e_2000(linear_to_lab(fitted.apply(data.seen[out])), data.lab[out]))
    return float(np.mean(errors))


@pytest.mark.parametrize("grade", [Grade.PRINTED, Grade.MEASURED])
def test_a_tone_curve_is_told_by_the_greys(grade):
    def contrasty(rgb):
        p = encode_srgb(rgb * 0.8)
        q = p - 0.10 * p * (1 - p) * (1 - 2 * p)
        return tone_undone(q**2.2, STRAIGHT)

    labs = GREYS + (COLOURS if grade is Grade.MEASURED else [])
    correction = fit_correction(known(labs, contrasty), grade)
    assert correction.tone != STRAIGHT
    dark, light = [(28, 0, 0)], [(74, 0, 0)]
    assert off(correction, dark, contrasty)[0] < 1.2
    assert off(correction, light, contrasty)[0] < 1.2


def printed(stray, seed=4):
    """A camera's view of a print whose inks stray from what is expected of them, CIEDE2000."""
    rng = np.random.default_rng(seed)
    asked = np.array(GREYS + COLOURS, float)
    true = asked.copy()
    true[len(GREYS) :] += rng.normal(0, stray / np.sqrt(3), (len(COLOURS), 3))
    return KnownColours(
        seen=np.clip(lab_to_linear(true), 0, 1) @ MIXER.T,
        lab=asked,
        trust=np.where(np.arange(len(asked)) < len(GREYS), 1.3, 5.0),
    )


def test_inks_of_a_good_print_tell_the_cameras_matrix():
    def camera(rgb):
        return rgb @ MIXER.T

    browns = [(30, 9, 14), (42, 14, 24), (55, 12, 30), (36, 18, 20)]
    with_inks = fit_correction(printed(1.0), Grade.PRINTED)
    alone = fit_correction(known(GREYS, camera), Grade.PRINTED)
    assert with_inks.model is Model.MATRIX
    assert off(with_inks, browns, camera).mean() < 0.6 * off(alone, browns, camera).mean()
    # What the inks themselves stray is the printer's, not the photo's.
    assert with_inks.left_out_mean < 3


@pytest.mark.parametrize("seed", range(4))
def test_inks_of_a_poor_print_do_no_harm(seed):
    def camera(rgb):
        return rgb @ MIXER.T

    colours = [(30, 9, 14), (55, 12, 30), (60, -12, 8), (45, 2, -14), (70, 1, 2)]
    with_inks = fit_correction(printed(9.0, seed), Grade.PRINTED)
    alone = fit_correction(known(GREYS, camera), Grade.PRINTED)
    assert off(with_inks, colours, camera).mean() < off(alone, colours, camera).mean() + 0.5


def test_a_card_as_printed_is_trusted_less_than_one_measured():
    def camera(rgb):
        return rgb @ MIXER.T

    as_printed = fit_correction(known(GREYS + COLOURS, camera), Grade.PRINTED)
    measured = fit_correction(known(GREYS + COLOURS, camera), Grade.MEASURED)
    assert as_printed.chroma_sd > measured.chroma_sd


def test_relighting_goes_through_the_camera_curve():
    tone = (0.0, 0.2, 0.05)
    seen = np.array([0.05, 0.3, 0.7])
    half = relit(seen, 0.5, tone)
    assert tone_undone(half, tone) == pytest.approx(0.5 * tone_undone(seen, tone), rel=2e-3)
    assert relit(seen, 1.0, STRAIGHT) == pytest.approx(seen, abs=1e-6)


def test_tables_are_as_good_as_the_curve_itself():
    tone = (0.03, 0.15, -0.05)
    few = np.random.default_rng(1).random((100, 3))
    many = np.tile(few, (200, 1))
    assert np.abs(tone_undone(many, tone)[:100] - tone_undone(few, tone)).max() < 2e-4


def photo_of(rgb):
    code = np.rint(encode_srgb(rgb) * 255).astype(np.uint8)
    return Photo(code=code, name="a", sha256="", taken=None)


def test_several_patches_share_the_say():
    rgb = np.full((100, 300, 3), 0.3)
    for n, lab in enumerate([(40, 0, 0), (60, 0, 0), (80, 0, 0)]):
        rgb[:, 100 * n : 100 * n + 100] = lab_to_linear(np.array(lab, float)) * (1.1, 0.9, 0.7)
    patches = tuple(
        KnownPatch(rect=Rect(x=100 * n + 20, y=20, w=60, h=60), lightness=L)
        for n, L in enumerate((40.0, 60.0, 80.0))
    )
    correction = correction_by_patches(photo_of(rgb), patches)
    assert correction.grade is Grade.PATCH
    fixed = linear_to_lab(correction.apply(rgb[50, [50, 150, 250]]))
    assert fixed[:, 0] == pytest.approx([40, 60, 80], abs=0.8)
    assert np.abs(fixed[:, 1:]).max() < 0.8


def test_any_chart_corrects_a_photo():
    labs = [*GREYS[:4], *COLOURS[:4]]
    rgb = np.full((240, 440, 3), 0.2)
    for n, lab in enumerate(labs):
        row, column = divmod(n, 4)
        rgb[20 + 100 * row : 120 + 100 * row, 20 + 100 * column : 120 + 100 * column] = (
            lab_to_linear(np.array(lab, float)) * (0.9, 0.8, 0.6)
        )
    chart = Chart(
        corners=((20, 20), (420, 20), (420, 220), (20, 220)),
        columns=4,
        rows=2,
        labs=tuple((float(L), float(a), float(b)) for L, a, b in labs),
    )
    correction = correction_by_chart(photo_of(rgb), chart)
    assert correction.grade is Grade.CHART
    fixed = linear_to_lab(correction.apply(rgb[[70, 170], [70, 170]]))
    assert delta_e_2000(fixed, np.array([labs[0], labs[5]], float)).max() < 1.5
    black = photo_of(np.zeros((240, 440, 3)))
    with pytest.raises(PrepareError, match="Too few"):
        correction_by_chart(black, chart)
    short = Chart(corners=chart.corners, columns=3, rows=2, labs=chart.labs)
    with pytest.raises(PrepareError, match="should have 6"):
        correction_by_chart(photo_of(rgb), short)


def test_no_correction_leaves_light_as_it_is():
    rgb = np.random.default_rng(0).random((4, 5, 3)).astype(np.float32)
    assert np.array_equal(NO_CORRECTION.apply(rgb), rgb)
