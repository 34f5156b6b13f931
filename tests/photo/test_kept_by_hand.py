"""Every figure of photos made ready by hand, of swatches, pats, sheen and gloss, as it was."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest

from jartide.photo.column import column_map
from jartide.photo.layout import check_scale, has_scale, layout_of, wants_card
from jartide.photo.neutral import patch_light
from jartide.photo.picture import Picture
from jartide.photo.prepare import prepare_in_full
from jartide.photo.same_thing import length_from
from jartide.photo.settings import (
    CardUse,
    Chart,
    Column,
    KnownLength,
    KnownPatch,
    PhotoSettings,
    Polygon,
    Rect,
    VanishingLines,
)
from jartide.photo.sheen import estimate_sheen, sheen_word
from jartide.photo.spread import read_spread
from jartide.photo.square import aspect_ratio, homography, transform
from jartide.photo.swatches import read_swatches
from jartide.photo.vanishing import plane_from_lines
from tests.kept_values import check
from tests.photo import test_spread, test_swatches
from tests.photo.snapshots import shot_of, taken
from tests.reading.test_kept_measures import cloud, rgb_of

FOLDER = Path(__file__).parent / "kept_by_hand"
LEANS = ((310.0, 240.0), (1290.0, 300.0), (1220.0, 1010.0), (350.0, 930.0))
NO_CARD = PhotoSettings(card=CardUse(ignore=True))
LINES = VanishingLines(
    level=((LEANS[0], LEANS[1]), (LEANS[3], LEANS[2])),
    upright=((LEANS[0], LEANS[3]), (LEANS[1], LEANS[2])),
)
LENGTH = KnownLength(start=(340.0, 300.0), end=(1200.0, 340.0), length_mm=180.0)
ROUND = Column(left=((420.0, 150.0), (450.0, 1050.0)), right=((1180.0, 160.0), (1150.0, 1040.0)))
GREY = KnownPatch(rect=Rect(x=700, y=500, w=120, h=90), lightness=60.0)
TINT = KnownPatch(rect=Rect(x=400, y=700, w=80, h=80), a=2.0, b=7.0)
BY_HAND = {
    "corners": replace(NO_CARD, corners=LEANS, size_mm=(240.0, 180.0)),
    "corners alone": replace(NO_CARD, corners=LEANS, known_length=LENGTH),
    "lines": replace(NO_CARD, lines=LINES, known_length=LENGTH),
    "column by diameter": replace(NO_CARD, column=replace(ROUND, diameter_mm=160.0)),
    "column by height": replace(NO_CARD, column=replace(ROUND, height_mm=220.0)),
    "scale": replace(NO_CARD, mm_per_px=0.21, neutrals=(GREY, TINT)),
    "region": replace(
        NO_CARD, mm_per_px=0.21, carved=True, metal=True,
        region=Rect(x=200, y=220, w=900, h=700),
        leave_out=(Polygon(points=((300.0, 300.0), (520.0, 330.0), (400.0, 640.0))),),
    ),
    "chart": replace(
        NO_CARD, mm_per_px=0.21,
        chart=Chart(
            corners=LEANS, columns=3, rows=2,
            labs=((90.0, 0.0, 0.0), (70.0, 0.0, 0.0), (50.0, 0.0, 0.0),
                  (60.0, 30.0, 20.0), (60.0, -30.0, 20.0), (45.0, 5.0, -30.0)),
        ),
    ),
}  # fmt: skip


def _photo():
    return taken(shot_of())[1]


def _prepared(name):
    settings = BY_HAND[name]
    found = prepare_in_full(_photo(), settings, 90_000)
    return {
        "picture": found.picture,
        "layout": found.layout,
        "where": found.where,
        "before": found.before,
        "asked": (has_scale(settings), wants_card(settings)),
    }


def _squared():
    size, corners = (1600, 1200), np.array(LEANS)
    earlier = _photo()
    later = taken(shot_of(tilt_deg=11.0, card_turn_deg=9.0))[1]
    layout = layout_of(earlier, BY_HAND["corners"], None)
    matrix = homography(corners, np.array([[0, 0], [240, 0], [240, 180], [0, 180]], float))
    return {
        "matrix": matrix,
        "there": transform(matrix, corners + 15.0),
        "shape": [aspect_ratio(corners + moved, size) for moved in (0.0, 40.0)],
        "plane": [
            plane_from_lines(LINES, size, focal, known)
            for focal in (1100.0, 1900.0) for known in (False, True)
        ],
        "column": column_map(replace(ROUND, diameter_mm=160.0), 1500.0, size),
        "length": length_from(earlier, layout, later, "before"),
        "light": [patch_light(earlier, one.rect) for one in (GREY, TINT)],
        "scale": [check_scale(mm) for mm in (0.02, 0.4, 3.0)],
    }  # fmt: skip


def _sheens():
    matt, glossy = (rgb_of(cloud(sigma=(s, s), seed=50)) * 0.4 for s in (4.0, 6.0))
    lit = np.clip(glossy + 0.3 * (cloud(seed=51)[..., None] > 62), 0, 1).astype(np.float32)

    def as_picture(rgb):
        return Picture(
            rgb_linear=rgb, photo_size=rgb.shape[1::-1], mm_per_px=0.5, exposure_known=True
        )

    return {
        "words": [sheen_word(gloss) for gloss in (0.0, 4.0, 12.0, 28.0, 45.0, 75.0, 200.0)],
        "matt": estimate_sheen(as_picture(matt), as_picture(matt)),
        "lit": estimate_sheen(as_picture(matt), as_picture(lit)),
    }


def _painted():
    return {
        "three": read_swatches(test_swatches.photo_of(test_swatches.LABS), 3),
        "one": read_swatches(test_swatches.photo_of(test_swatches.LABS[:1]), 1),
        "pats": [read_spread(test_spread.photo_of(mm)[0]) for mm in (38.0, 55.0)],
    }


CASES = {name: partial(_prepared, name) for name in BY_HAND}
CASES |= {"squared": _squared, "sheens": _sheens, "painted": _painted}


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_photo_made_ready_by_hand_has_changed(case):
    check(FOLDER, case, CASES[case]())
