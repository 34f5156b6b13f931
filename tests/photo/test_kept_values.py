"""Every figure of photos that are taken in: card, pose, light, warnings, as it was."""

from __future__ import annotations

from functools import partial
from pathlib import Path

import numpy as np
import pytest

from jartide.photo.card.design import CardSize
from jartide.photo.even_light import light_from_blank, light_from_picture
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import EvenLight, LightSource, PhotoSettings
from tests.kept_values import check
from tests.photo.snapshots import shot_of, taken

FOLDER = Path(__file__).parent / "kept"
SHOTS = {
    "leaning": shot_of(),
    "small_card": shot_of(CardSize.WALLET, card_at_mm=(60.0, 20.0), tilt_deg=8.0, falloff=0.05),
    "turned": shot_of(card_turn_deg=24.0, tilt_deg=12.0, falloff=0.3),
}


def _prepared(shot, settings):
    _, photo = taken(SHOTS[shot])
    card = card_for(photo, settings)
    found = prepare_in_full(photo, settings, 120_000, card=card)
    return {
        "card": card,
        "picture": found.picture,
        "layout": found.layout,
        "where": found.where,
        "before": found.before,
        "light": found.light_seen,
    }


def _light():
    y, x = np.mgrid[:120, :160] / 160.0
    rng = np.random.default_rng(2)
    field = np.exp(-0.5 * (x - 0.3) ** 2 - 0.8 * (y - 0.2) ** 2)
    plain = (0.5 * field)[..., None] * np.array([1.0, 0.95, 0.85])
    rgb = np.clip(plain * rng.normal(1, 0.05, (120, 160, 1)), 0, 1).astype(np.float32)
    valid = np.ones((120, 160), bool)
    valid[:20, :30] = False
    return {"picture": light_from_picture(rgb, valid), "blank": light_from_blank(rgb, valid)}


NOT = PhotoSettings(light=EvenLight(source=LightSource.NOT))
CASES = {name: partial(_prepared, name, PhotoSettings()) for name in SHOTS}
CASES |= {"uneven": partial(_prepared, "turned", NOT), "light": _light}


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_photo_has_changed(case):
    check(FOLDER, case, CASES[case]())
