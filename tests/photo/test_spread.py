"""How far a pat of paste has spread is read from one photo with the card."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.errors import PrepareError
from jartide.photo.card.design import CardSize
from jartide.photo.load import decode_photo
from jartide.photo.spread import read_spread
from jartide.studio.snapshot import take_snapshot
from jartide.studio.truth import Surface, SurfaceTruth
from tests.photo.snapshots import BOARD_MM, camera, shot_of
from tests.photo.test_swatches import _blank

MM_PER_PX = 0.2


def jpeg_of(diameter_mm, *, pat=0.32, board=0.62, ragged=0.04, at=(150.0, 150.0), seed=1):
    """A pat of paste on a board, its edge a little ragged, photographed with the card."""
    side = round(BOARD_MM / MM_PER_PX)
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[:side, :side] * MM_PER_PX
    turn = np.arctan2(y - at[1], x - at[0])
    waves = sum(np.cos(n * turn + rng.uniform(0, 6)) / n for n in range(2, 7))
    radius = diameter_mm / 2 * (1 + ragged * waves)
    there = np.hypot(x - at[0], y - at[1]) < radius
    rgb = np.where(there[..., None], np.array([pat, 0.9 * pat, 0.75 * pat]), board)
    rgb = rgb * rng.normal(1, 0.02, (side, side, 1))
    surface = Surface(
        rgb_linear=np.clip(rgb, 0, 1).astype(np.float32),
        mm_per_px=MM_PER_PX,
        truth=SurfaceTruth(family="auto", layers=(), direction_deg=None),
    )
    true = 2 * np.sqrt(there.sum() / np.pi) * MM_PER_PX
    shot = shot_of(CardSize.WALLET, card_at_mm=(12.0, 12.0), tilt_deg=8.0, falloff=0.06)
    return take_snapshot(surface, shot, seed, camera()).jpeg, true


def photo_of(diameter_mm, **how):
    """The same, decoded."""
    jpeg, true = jpeg_of(diameter_mm, **how)
    return decode_photo(jpeg, "pat.jpg"), true


@pytest.mark.parametrize(("diameter", "pat"), [(30.0, 0.32), (55.0, 0.2), (80.0, 0.85)])
def test_the_width_of_a_pat_is_read_within_three_percent(diameter, pat):
    photo, true = photo_of(diameter, pat=pat, seed=int(diameter))
    assert read_spread(photo) == pytest.approx(true, rel=0.03)


def test_without_a_card_or_a_pat_it_says_so():
    with pytest.raises(PrepareError, match="card"):
        read_spread(_blank())
    nothing, _ = photo_of(0.1, seed=4)
    with pytest.raises(PrepareError, match="pat"):
        read_spread(nothing)
