"""Even light, what is left out, sheen, and what is said of a bad photo."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import encode_srgb, linear_to_lab
from jartide.errors import PrepareError
from jartide.photo.even_light import light_from_blank, light_from_picture, log_light_over
from jartide.photo.leave_out import Fault, draw_shapes, suggest
from jartide.photo.load import Photo, decode_photo
from jartide.photo.prepare import prepare, prepare_in_full
from jartide.photo.settings import (
    EvenLight,
    KnownPatch,
    LightSource,
    PhotoSettings,
    Polygon,
    Rect,
    Sheen,
    SheenWord,
    Stroke,
)
from jartide.photo.sheen import estimate_sheen, sheen_word
from jartide.studio.camera import Camera, Light, photograph
from jartide.studio.concrete import draw_concrete
from jartide.studio.marble import draw_marble

from .snapshots import found, shot_of

EVERYWHERE = np.ones((480, 480), bool)


def lamp(strength, shape=(480, 480)):
    x = np.linspace(0, 1, shape[1])[None, :, None]
    return (1 - strength * (0.8 * x + 0.2 * x**2)) * np.ones((shape[0], 1, 3))


@pytest.fixture(scope="module")
def surfaces():
    return {
        "marble": draw_marble((240, 240), 0.5, 3).rgb_linear,
        "concrete": draw_concrete((240, 240), 0.5, 3).rgb_linear,
    }


def removed(field, light):
    true = np.log(light[..., 0])
    left = true - log_light_over(field, true.shape)
    return 1 - np.std(left) / np.std(true)


@pytest.mark.parametrize("name", ["marble", "concrete"])
def test_falloff_is_taken_out_and_the_finish_left(surfaces, name):
    rgb, light = surfaces[name], lamp(0.4)
    field = light_from_picture((rgb * light).astype(np.float32), EVERYWHERE)
    assert removed(field, light) > 0.6
    assert field.strength == pytest.approx(0.4, abs=0.13)
    plain = light_from_picture(rgb, EVERYWHERE)
    log = log_light_over(plain, EVERYWHERE.shape)
    evened = rgb * np.exp(-(log - log.mean()))[..., None]
    assert delta_e_2000(linear_to_lab(rgb), linear_to_lab(evened)).mean() < 0.8


def test_a_blank_board_is_the_sure_way():
    rng = np.random.default_rng(1)
    light = lamp(0.4)
    blank = 0.6 * light * (1 + 0.03 * rng.standard_normal((480, 480, 3)))
    field = light_from_blank(blank.astype(np.float32), EVERYWHERE)
    assert removed(field, light) > 0.95
    assert field.told_apart


def test_clouds_as_large_as_the_picture_are_not_told_from_falloff():
    y, x = np.mgrid[0:480, 0:480] / 480
    clouds = 0.3 * np.exp(0.5 * np.sin(5 * x + 1) + 0.4 * np.cos(4 * y))[..., None] * np.ones(3)
    field = light_from_picture(clouds.astype(np.float32), EVERYWHERE)
    assert not field.told_apart
    assert field.log_sd > 0.1
    nothing = light_from_picture(clouds.astype(np.float32), np.zeros((480, 480), bool))
    assert not nothing.told_apart


def photo_of(rgb, name="a"):
    code = np.rint(encode_srgb(np.clip(rgb, 0, 1)) * 255).astype(np.uint8)
    return Photo(code=code, name=name, sha256="", taken=None)


def test_a_photo_is_evened_as_its_settings_say(surfaces):
    lit = photo_of(surfaces["marble"] * lamp(0.35))
    blank = photo_of(0.6 * lamp(0.35))
    usual = PhotoSettings(mm_per_px=0.5)
    as_lit = prepare_in_full(lit, usual)
    assert as_lit.picture.light is None
    assert as_lit.light_seen.strength > 0.15
    assert "uneven_light" in [code for code, _ in as_lit.picture.warnings]
    by_picture = prepare(lit, replace(usual, light=EvenLight()))
    by_blank = prepare(lit, replace(usual, light=EvenLight(source=LightSource.BLANK)), blank=blank)
    for picture in (by_picture, by_blank):
        assert picture.light is not None
        halves = [picture.rgb_linear[:, :160].mean(), picture.rgb_linear[:, -160:].mean()]
        assert halves[0] / halves[1] < 1.25
    with pytest.raises(PrepareError, match="blank board is missing"):
        prepare(lit, replace(usual, light=EvenLight(source=LightSource.BLANK)))
    small = photo_of(0.6 * lamp(0.35, (100, 200)))
    with pytest.raises(PrepareError, match="same place"):
        prepare(lit, replace(usual, light=EvenLight(source=LightSource.BLANK)), blank=small)


def test_a_card_photo_is_evened_by_itself_unless_told_not_to():
    _, photo, card = found(shot_of(falloff=0.35))
    assert prepare(photo, PhotoSettings(), card=card).light is not None
    told = PhotoSettings(light=EvenLight(source=LightSource.NOT))
    assert prepare(photo, told, card=card).light is None


# ---- what is left out


def test_shapes_are_drawn_where_they_lie():
    shapes = (
        Rect(x=10, y=20, w=30, h=10),
        Polygon(points=((60, 10), (90, 10), (75, 40))),
        Stroke(points=((20, 60), (70, 60)), radius_px=5),
        Stroke(points=((85, 80),), radius_px=6),
    )
    mask = draw_shapes(shapes, (100, 100), 1.0)
    assert mask[25, 25] and not mask[25, 45]
    assert mask[15, 75] and not mask[35, 62]
    assert mask[60, 45] and mask[57, 45] and not mask[50, 45]
    assert mask[80, 85] and not mask[80, 95]
    assert mask.sum() == pytest.approx(300 + 450 + 10 * 50 + np.pi * 61, rel=0.15)


def test_left_out_parts_are_not_read(surfaces):
    photo = photo_of(surfaces["marble"])
    half = PhotoSettings(mm_per_px=0.5, leave_out=(Rect(x=0, y=0, w=240, h=480),))
    picture = prepare(photo, half)
    assert picture.valid().mean() == pytest.approx(0.5, abs=0.01)
    assert not picture.valid()[:, :100].any()
    everything = replace(half, leave_out=(Rect(x=-5, y=-5, w=600, h=600),))
    with pytest.raises(PrepareError, match="Nothing is left"):
        prepare(photo, everything)
    flat = replace(half, leave_out=(Polygon(points=((1, 1), (float("nan"), 2), (3, 3))),))
    with pytest.raises(PrepareError, match="no area"):
        prepare(photo, flat)


def test_glare_shadow_and_burnt_spots_are_suggested(surfaces):
    y, x = np.mgrid[0:480, 0:480]
    rgb = surfaces["concrete"] * 0.6
    glare = np.exp(-(((x - 330) / 25) ** 2 + ((y - 120) / 18) ** 2))[..., None]
    shiny = photo_of(rgb + 0.8 * glare)
    kinds = {s.fault for s in suggest(shiny)}
    assert kinds & {Fault.GLARE, Fault.BURNT}
    for spot in suggest(shiny):
        points = np.array(spot.outline.points)
        assert np.hypot(*(points.mean(axis=0) - (330, 120))) < 40
    assert suggest(shiny, besides=Rect(x=250, y=50, w=160, h=140)) == []
    shade = np.where((x > 300)[..., None], 0.35, 1.0)
    assert Fault.SHADOW in {s.fault for s in suggest(photo_of(rgb * shade))}
    assert suggest(photo_of(rgb)) == []


# ---- sheen


def test_words_go_from_blackboard_to_mirror():
    words = [sheen_word(g) for g in (0, 5, 15, 30, 50, 75, 95)]
    assert words == list(SheenWord)


def shine(amount):
    y, x = np.mgrid[0:200, 0:200]
    spot = np.exp(-(((x - 100) / 20) ** 2 + ((y - 100) / 20) ** 2))[..., None]
    rgb = np.full((200, 200, 3), 0.25) + amount * spot
    rgb[150:190, 10:50] = 0.214  # a mid grey
    grey = KnownPatch(rect=Rect(x=15, y=155, w=30, h=30), lightness=53.4)
    settings = PhotoSettings(mm_per_px=1.0, neutrals=(grey,))
    return prepare(photo_of(rgb), settings)


def test_two_photos_tell_how_shiny():
    plain = shine(0.0)
    order = [estimate_sheen(plain, shine(a)).gloss for a in (0.01, 0.1, 0.4, 0.7)]
    assert order == sorted(order)
    assert order[0] < 10 < order[-1]
    unknown = prepare(photo_of(np.full((200, 200, 3), 0.25)), PhotoSettings(mm_per_px=1.0))
    with pytest.raises(PrepareError, match="need the card"):
        estimate_sheen(unknown, plain)


def test_entered_sheen_and_metal_go_along(surfaces):
    settings = PhotoSettings(mm_per_px=0.5, sheen=Sheen(word=SheenWord.SATIN), metal=True)
    picture = prepare(photo_of(surfaces["marble"]), settings)
    assert picture.sheen.word is SheenWord.SATIN
    assert "metal" in [code for code, _ in picture.warnings]


# ---- faults of the photo


def faults(rgb, camera=None, light=None, **settings):
    camera, light = camera or Camera(), light or Light()
    photo = decode_photo(photograph(rgb, 3, light, camera), "a.jpg")
    picture = prepare(photo, PhotoSettings(mm_per_px=0.2, **settings))
    return {code: str(message) for code, message in picture.warnings}


@pytest.mark.parametrize(
    ("fault", "camera", "light"),
    [
        ("blur", Camera(blur_px=3.5), Light()),
        ("noise", Camera(noise=16.0), Light()),
        ("compression", Camera(quality=22), Light()),
        ("clipping", Camera(), Light(exposure=2.6)),
        ("black", Camera(), Light(exposure=0.02)),
        ("uneven_light", Camera(), Light(falloff=0.5)),
    ],
)
def test_each_fault_is_one_sentence_that_says_what_to_do(surfaces, fault, camera, light):
    name = "concrete" if fault in ("clipping", "uneven_light") else "marble"
    said = faults(surfaces[name], camera, light)
    assert fault in said
    assert said[fault].endswith(".") and ":" in said[fault]
    assert fault not in faults(surfaces[name])


def test_a_good_photo_has_no_faults(surfaces):
    assert faults(surfaces["marble"]) == {}
    assert "compression" not in faults(surfaces["marble"], Camera(quality=72))


def test_deep_blue_greens_beyond_srgb_are_pointed_out():
    rgb = np.full((300, 300, 3), (0.0005, 0.12, 0.14))
    rgb[:60, :60] = 0.214
    patch = KnownPatch(rect=Rect(x=5, y=5, w=50, h=50), lightness=53.4)
    picture = prepare(photo_of(rgb), PhotoSettings(mm_per_px=0.2, neutrals=(patch,)))
    assert "gamut" in [code for code, _ in picture.warnings]
