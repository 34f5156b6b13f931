"""A stone shown as the grey card is doubted; a card or a sheet of paper in usual light is not."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.photo.grey_doubt import grey_warnings, looks_no_grey
from jartide.photo.load import decode_photo
from jartide.photo.neutral import PAPER, PAPER_LAB, correction_by_patches
from jartide.photo.prepare import prepare
from jartide.photo.settings import KnownPatch, PhotoSettings, Rect
from jartide.studio.camera import to_jpeg

CARD = Rect(x=20, y=20, w=60, h=60)
STONE = Rect(x=220, y=160, w=60, h=60)


def photo_of(tint=(1.0, 1.0, 1.0), level=118.0, noise=4.0):
    """A mottled cream stone with a plain grey card on it, in light of a tint, 8 bits."""
    rng = np.random.default_rng(3)
    coarse = rng.normal(0, 14, (30, 40, 1)).repeat(12, axis=0).repeat(12, axis=1)
    code = np.array([196.0, 180.0, 150.0]) + coarse
    slope = 1 + 0.05 * np.linspace(-1, 1, CARD.w)[None, :, None]
    code[20:80, 20:80] = level * slope
    code = code * np.array(tint) ** (1 / 2.2) + rng.normal(0, noise, code.shape)
    return decode_photo(to_jpeg(np.clip(code, 0, 255).astype(np.uint8), quality=95), "shot.jpg")


@pytest.mark.parametrize("tint", [(1, 1, 1), (1.06, 1, 0.93), (0.94, 1, 1.06), (1.12, 1, 0.85)])
def test_a_card_is_a_card_in_any_usual_light(tint):
    assert not looks_no_grey(photo_of(tint), CARD)


def test_a_stone_is_no_grey_card():
    assert looks_no_grey(photo_of(), STONE)
    # A smooth cream one is as coloured as all the rest, and that tells it.
    smooth = Rect(x=220, y=160, w=10, h=10)
    assert looks_no_grey(photo_of(noise=0.0), smooth)
    assert not looks_no_grey(photo_of(noise=0.0), smooth, any_tint=True)


def test_it_is_asked_until_the_painter_is_sure():
    photo, patch = photo_of(), KnownPatch(rect=STONE)
    assert [code for code, _ in grey_warnings(photo, (patch,))] == ["grey_doubt"]
    assert grey_warnings(photo, (replace(patch, sure=True),)) == []
    # A wall of known colour is no grey, and is not taken for one.
    assert grey_warnings(photo, (replace(patch, lightness=70.0, a=2.0, b=18.0),)) == []
    assert grey_warnings(photo, (KnownPatch(rect=CARD),)) == []
    # A stone shown as white paper is no better than one shown as grey.
    L, a, b = PAPER_LAB
    paper = KnownPatch(rect=STONE, lightness=L, a=a, b=b, source=PAPER)
    assert grey_warnings(photo, (paper,)) != []
    assert grey_warnings(photo, (replace(paper, rect=CARD),)) == []


def test_the_doubt_stands_among_what_is_wrong_with_the_photo():
    found = prepare(photo_of(), PhotoSettings(neutrals=(KnownPatch(rect=STONE),)))
    assert "grey_doubt" in dict(found.warnings)


def test_paper_is_trusted_less_than_what_was_measured():
    photo = photo_of(level=225.0)
    L, a, b = PAPER_LAB
    measured = KnownPatch(rect=CARD, lightness=L, a=a, b=b)
    paper = replace(measured, source=PAPER)
    sure, rough = (correction_by_patches(photo, (p,)) for p in (measured, paper))
    assert np.allclose(sure.matrix, rough.matrix)
    assert rough.lightness_sd > 1.5 * sure.lightness_sd
