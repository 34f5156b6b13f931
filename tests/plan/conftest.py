"""Readings of every family, made once, and plans built from them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.plan.propose import Piece
from jartide.plan.step import made_step
from jartide.plan.technique import techniques
from jartide.reading.read import read_picture
from jartide.studio.camera import photograph
from jartide.studio.families import SURFACES, draw_family

# The nine materials the painters imitate, and the families that stand for them.
MATERIALS = {
    "marble": "marble",
    "stone": "stone",
    "concrete": "concrete",
    "rust": "rust",
    "verdigris": "verdigris",
    "bronze": "bronze",
    "wood grain": "wood",
    "linen": "linen",
    "leather": "leather",
}
_MADE = {}


def reading_of(family):
    """Return the reading of a small drawn surface of a family, read once for all tests."""
    if family not in _MADE:
        surface = draw_family(family, (120.0, 120.0), 0.3, 3)
        photo = decode_photo(photograph(surface.rgb_linear, 1), "drawn.jpg")
        picture = prepare(photo, PhotoSettings(mm_per_px=0.3))
        _MADE[family] = read_picture(picture, family)[0]
    return _MADE[family]


@pytest.fixture(params=sorted(SURFACES))
def any_reading(request):
    return reading_of(request.param)


def step(technique, **parts):
    """Return one step as the table has it."""
    return replace(made_step(techniques()[technique], {}), **parts)


def piece(width=1000.0, height=1000.0, count=1, name="Wall", **parts):
    return Piece(id=name, name=name, width_mm=width, height_mm=height, count=count, **parts)


def rng(seed):
    return np.random.default_rng(seed)
