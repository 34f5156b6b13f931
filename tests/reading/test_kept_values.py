"""Every figure of whole readings of drawn surfaces, as it was."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache, partial
from pathlib import Path

import numpy as np
import pytest

from jartide.families import family_named
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.decisions import choices_of, moved, parted
from jartide.reading.read import read_picture
from jartide.reading.suggest import suggest_zones
from jartide.reading.suggest_family import suggest_family
from jartide.reading.zones import Zone, ZoneKind, edge_zone
from jartide.studio.camera import photograph
from jartide.studio.families import draw_family
from tests.kept_values import check

FOLDER = Path(__file__).parent / "kept"
FAMILIES = ("marble", "concrete", "rust", "wood", "linen", "leather", "brushed")


@lru_cache(maxsize=16)
def picture_of(family, seed=11):
    surface = draw_family(family, (90.0, 75.0), 0.3, seed)
    photo = decode_photo(photograph(surface.rgb_linear, seed), "drawn.jpg")
    return prepare(photo, PhotoSettings(mm_per_px=0.3))


@lru_cache(maxsize=32)
def reading_of(family, seed=11):
    return read_picture(picture_of(family, seed), family)[0]


def _whole(family):
    reading, layers = read_picture(picture_of(family), family)
    return {
        "reading": reading,
        "labels": layers.labels,
        "covers": layers.covers if hasattr(layers, "covers") else None,
        "zones": suggest_zones(layers, family_named(family)),
        "suggested": suggest_family(layers, reading.pattern),
    }


def _decided():
    """A plate of decisions: one layer moved, one parted, one left out of the order."""
    picture = picture_of("stone", 5)
    first = read_picture(picture, "stone")[0]
    choices = choices_of(first.layers)
    L, a, b = first.layers[0].shown_lab
    halved = ((L - 4, a, b), (L + 4, a, b))
    halves = tuple(
        Zone(kind=ZoneKind.FIELD, name=name, outlines=(ring,))
        for name, ring in (
            ("left", ((0.0, 0.0), (0.5, 0.0), (0.5, 1.0), (0.0, 1.0))),
            ("right", ((0.5, 0.0), (1.0, 0.0), (1.0, 1.0), (0.5, 1.0))),
        )
    )
    return {
        "moved": read_picture(picture, "stone", choices=moved(choices, 1, 0))[0].layers,
        "parted": read_picture(picture, "stone", choices=parted(choices, 0, halved))[0].layers,
        "zones": read_picture(picture, "stone", zones=(*halves, edge_zone()))[0].zones,
    }


def _jointed():
    """Tiles with joints: a stone laid in courses."""
    picture = picture_of("stone", 7)
    rgb = np.array(picture.rgb_linear)
    rgb[::80, :] = rgb[1::80, :] = 0.6
    for row in range(0, rgb.shape[0], 80):
        shift = 0 if row // 80 % 2 else 50
        rgb[row : row + 80, shift::100] = 0.6
    return read_picture(replace(picture, rgb_linear=rgb), "stone")[0].pattern


CASES = {family: partial(_whole, family) for family in FAMILIES}
CASES |= {"decided": _decided, "jointed": _jointed}


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_reading_has_changed(case):
    check(FOLDER, case, CASES[case]())
