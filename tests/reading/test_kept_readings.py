"""Whole readings of drawn surfaces, and what is suggested and shown of them, as they were."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache, partial
from pathlib import Path

import numpy as np
import pytest

from jartide.families import family_named
from jartide.measures.entries import BY_PATH
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.places import places_of
from jartide.reading.read import find_basis, read_basis
from jartide.reading.suggest import suggest_parts, suggest_zones
from jartide.studio.camera import photograph
from jartide.studio.families import SURFACES, draw_family
from tests.kept_values import check_steady

FOLDER = Path(__file__).parent / "kept_readings"
SIZE_MM, MM_PER_PX, SEED = (110.0, 90.0), 0.3, 3
# Of each pixel, about what single precision leaves open.
_LAST_DIGIT = 4e-7
# Where these were measured is shown to the painter.
_SHOWN = [next(p for p in BY_PATH if BY_PATH[p].block == block)
          for block in ("lines", "patches", "specks", "cells", "grain", "weave")]  # fmt: skip


@lru_cache(maxsize=2)
def _picture(family):
    surface = draw_family(family, SIZE_MM, MM_PER_PX, SEED)
    photo = decode_photo(photograph(surface.rgb_linear, 1), "drawn.jpg")
    return prepare(photo, PhotoSettings(mm_per_px=MM_PER_PX))


def _read(family, digits):
    picture = _picture(family)
    if digits is not None:
        noise = 1 + _LAST_DIGIT * digits.normal(size=picture.rgb_linear.shape)
        picture = replace(picture, rgb_linear=(picture.rgb_linear * noise).astype(np.float32))
    basis = find_basis(picture, family)
    reading, layers = read_basis(basis)[:2]
    return {
        "reading": reading,
        "zones": suggest_zones(layers, family_named(family)),
        "parts": suggest_parts(layers.labels, layers.valid, 4),
        "places": [
            places_of(path, basis, reading, layers)
            for path in _SHOWN
            if getattr(reading.pattern, path.split(".")[0]) is not None
        ],
    }


CASES = {family: partial(_read, family) for family in sorted(SURFACES)}


@pytest.mark.parametrize("case", CASES)
def test_nothing_of_a_reading_has_changed(case):
    check_steady(FOLDER, case, CASES[case](None))
