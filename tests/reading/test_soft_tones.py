"""Tones that pass into each other: what they are, how many, and that they stay."""

import numpy as np
import pytest

from accuracy.steady import Palette, palette_distance
from jartide.colour.difference import delta_e_2000
from jartide.colour.perceptual import even_to_lab, lab_to_even
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.photo.picture import Picture
from jartide.reading.layers.judged import reduced
from jartide.reading.layers.soft_tones import (
    blend,
    enough_tones,
    heap_of,
    settled,
    what_is_left,
    with_one_more,
)
from jartide.reading.read import find_basis, read_basis
from jartide.studio.noise import fractal, smoothstep
from jartide.studio.soft import draw_soft

SLATE, BROWN, ORANGE = (38.0, 0.0, -4.0), (42.0, 16.0, 20.0), (60.0, 26.0, 48.0)


def light_of(*labs, blend=1.6, seed=3, side=220):
    """Light (H, W, 3) of tones that pass into each other along one field, and their shares."""
    field = fractal((side, side), 1.0, np.random.default_rng(seed), largest_mm=60, slope=2.2)
    light = np.ones((side, side, 1)) * lab_to_linear(np.array(labs[0]))
    covers = [np.ones((side, side))]
    for number, lab in enumerate(labs[1:]):
        level = np.quantile(field, (number + 1) / len(labs))
        cover = smoothstep(field, level - blend / 4, level + blend / 4)
        light += (lab_to_linear(np.array(lab)) - light) * cover[..., None]
        covers = [own * (1 - cover) for own in covers] + [cover]
    grain = fractal((side, side), 1.0, np.random.default_rng(8), largest_mm=2, slope=0.5)
    light = light * np.exp(0.08 * grain - 0.0032)[..., None]
    return light, np.array([cover.mean() for cover in covers])


def picture(light, mm_per_px=1.0):
    return Picture(
        rgb_linear=np.ascontiguousarray(light, np.float32),
        mm_per_px=mm_per_px,
        mask=None,
        photo_size=(light.shape[1], light.shape[0]),
    )


def heap(light):
    return heap_of(lab_to_even(linear_to_lab(light.reshape(-1, 3))))


def palette(reading):
    return Palette(
        lab=np.array([layer.shown_lab for layer in reading.layers]),
        share=np.array([layer.coverage.value for layer in reading.layers]),
    )


def judged(light, valid):
    small, inside = reduced(light, valid)
    return small[inside]


def nearest(tones, lab):
    return float(delta_e_2000(tones, np.array(lab)).min())


def test_a_colour_between_two_tones_is_told_as_their_blend():
    tones = lab_to_even(np.array([SLATE, ORANGE]))
    for part in (0.0, 0.2, 0.45):
        mixed = tones[0] * (1 - part) + tones[1] * part
        found = blend(mixed[None], tones, cost=0.0)
        assert found.main[0] == 0
        assert found.part[0] == pytest.approx(part, abs=1e-6)
        np.testing.assert_allclose(found.rebuilt(tones)[0], mixed, atol=1e-6)


@pytest.mark.parametrize("family", ["plaster", "stone"])
def test_the_tones_are_found_and_no_more(family):
    surface = draw_soft(family, (120, 120), 0.4, 3)
    basis = find_basis(picture(surface.rgb_linear, 0.4), family)
    assert basis.evidence.blended
    reading, layers = read_basis(basis)
    truth = surface.truth.layers
    assert abs(len(reading.layers) - len(truth)) <= 1
    tones = np.array([layer.shown_lab for layer in reading.layers])
    for layer in truth:
        assert nearest(tones, layer.lab) < (3 if layer.whole else 4)
    told = [layer.coverage.value for layer in reading.layers]
    assert sum(told) == pytest.approx(1, abs=0.01)
    covers = [layers.covers.of(n).mean() for n in range(len(tones))]
    np.testing.assert_allclose(told, covers, atol=0.005)


def test_layers_put_together_again_are_the_picture():
    light, _ = light_of(SLATE, BROWN, ORANGE)
    reading, layers = read_basis(find_basis(picture(light), "rust"))
    tones = np.array([lab_to_linear(np.array(layer.shown_lab)) for layer in reading.layers])
    again = sum(layers.covers.of(n)[..., None] * tone for n, tone in enumerate(tones))
    # As it looks from where it is judged: the grain is no layer's.
    whole = np.ones(light.shape[:2], bool)
    seen = linear_to_lab(judged(light, whole))
    left = delta_e_2000(linear_to_lab(judged(again, whole)), seen)
    spread = delta_e_2000(seen, seen.mean(axis=0))
    assert 0.05 < left.mean() < 0.15 * spread.mean()


def test_one_tone_is_enough_for_one_paint():
    rng = np.random.default_rng(2)
    light = lab_to_linear(np.array(BROWN)) * np.exp(rng.normal(0, 0.02, (160, 160, 1)))
    seen = heap(light)
    assert len(enough_tones(seen, seen)) == 1


def test_an_outermost_colour_that_hardly_occurs_is_no_tone():
    light, _ = light_of(SLATE, BROWN, ORANGE)
    light[:3, :3] = lab_to_linear(np.array((90.0, -60.0, 60.0)))
    seen = heap(light)
    assert nearest(even_to_lab(enough_tones(seen, seen)), (90.0, -60.0, 60.0)) > 15


def test_a_small_tone_unlike_all_others_is_a_layer():
    light, _ = light_of(SLATE, BROWN)
    light[60:125, 60:125] = lab_to_linear(np.array((80.0, -6.0, 10.0)))
    seen = heap(light)
    assert nearest(even_to_lab(enough_tones(seen, seen)), (80.0, -6.0, 10.0)) < 4


def test_one_tone_more_leaves_less_and_fixed_ones_stay():
    seen = heap(light_of(SLATE, BROWN, ORANGE)[0])
    two = with_one_more(seen, np.average(seen.even, axis=0, weights=seen.share)[None])
    three = with_one_more(seen, two)
    assert what_is_left(seen, three, 0.05) < what_is_left(seen, two, 0.05)
    moved = three + 2.0
    held = np.array([True, False, False])
    np.testing.assert_array_equal(settled(seen, moved, fixed=held)[0], moved[0])


def test_what_is_judged_is_the_same_at_half_the_resolution_and_of_a_crop_or_mask():
    light = light_of(SLATE, ORANGE, side=400)[0].astype(np.float32)
    whole = np.ones(light.shape[:2], bool)
    small = light.reshape(200, 2, 200, 2, 3).mean(axis=(1, 3))
    a = judged(light, whole).reshape(-1, 3)
    b = judged(small, whole[::2, ::2]).reshape(-1, 3)
    assert len(a) > 30_000
    for q in (0.05, 0.5, 0.95):
        np.testing.assert_allclose(np.quantile(a, q, axis=0), np.quantile(b, q, axis=0), rtol=0.03)
    part = np.zeros_like(whole)
    part[40:360, 60:340] = True
    masked = judged(light, part)
    cropped = judged(light[40:360, 60:340], whole[40:360, 60:340])
    for q in (0.05, 0.5, 0.95):
        np.testing.assert_allclose(
            np.quantile(masked, q, axis=0), np.quantile(cropped, q, axis=0), rtol=0.03
        )


@pytest.mark.parametrize("family", ["concrete", "stone", "rust", "leather"])
def test_layers_stay_in_other_states_of_the_same_photo(family):
    light = draw_soft(family, (120, 120), 0.4, 3).rgb_linear
    usual, _ = read_basis(find_basis(picture(light), family))
    rng = np.random.default_rng(1)
    turned = np.ascontiguousarray(np.rot90(light))
    half = light.reshape(150, 2, 150, 2, 3).mean(axis=(1, 3))
    noisy = np.clip(light * (1 + rng.normal(0, 0.02, light.shape)), 0, 1)
    for other in (turned, half, noisy, light[12:, :288]):
        found, _ = read_basis(find_basis(picture(other), family))
        assert abs(len(found.layers) - len(usual.layers)) <= 1
        assert palette_distance(palette(usual), palette(found)) < 1.5


def test_the_way_between_two_tones_is_no_tone():
    """A tenth of what is seen lies between the two, and two are found."""
    light, _ = light_of(SLATE, ORANGE, blend=1.2)
    between = linear_to_lab(light)[..., 0]
    assert ((between > 43) & (between < 55)).mean() > 0.1
    reading, _ = read_basis(find_basis(picture(light), "rust"))
    assert [nearest(palette(reading).lab, lab) < 2 for lab in (SLATE, ORANGE)] == [True, True]
    assert len(reading.layers) == 2


def test_tones_no_painter_mixes_apart_are_one_and_their_mottle():
    other = (BROWN[0] + 1.8, BROWN[1] + 1.0, BROWN[2])
    assert delta_e_2000(np.array(BROWN), np.array(other)) < 2.5
    reading, _ = read_basis(find_basis(picture(light_of(BROWN, other)[0]), "rust"))
    assert len(reading.layers) == 1
    assert reading.texture.mottle_L.value == pytest.approx(0.9, abs=0.35)


def test_decisions_hold_where_tones_pass_into_each_other():
    from jartide.reading.decisions import changed, choices_of, merged

    basis = find_basis(picture(light_of(SLATE, BROWN, ORANGE)[0]), "rust")
    reading, _ = read_basis(basis)
    choices = choices_of(reading.layers)
    locked = changed(choices, 0, locked=True)
    again, _ = read_basis(basis, choices=locked)
    assert again.layers[0].shown_lab == pytest.approx(reading.layers[0].shown_lab)
    assert len(again.layers) == len(reading.layers)
    fewer, _ = read_basis(basis, choices=merged(choices, 0, 1))
    assert len(fewer.layers) == len(reading.layers) - 1
    own = reading.layers[0].coverage.value + reading.layers[1].coverage.value
    assert fewer.layers[0].coverage.value == pytest.approx(own, abs=0.12)
