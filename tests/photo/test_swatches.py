"""Painted swatches are read from one photo with the card beside them."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_xyz, xyz_to_linear
from jartide.errors import PrepareError
from jartide.photo.card.design import CardSize
from jartide.photo.load import decode_photo
from jartide.photo.swatches import read_swatches
from jartide.studio.snapshot import take_snapshot
from jartide.studio.truth import Surface, SurfaceTruth
from tests.photo.snapshots import BOARD_MM, camera, shot_of

LABS = [(38.0, 14.0, 22.0), (70.0, 6.0, 14.0), (55.0, -12.0, 10.0)]


def strips(labs):
    """A board painted with upright strips of plain colours."""
    side = round(BOARD_MM / 0.2)
    rgb = np.empty((side, side, 3), np.float32)
    for n, lab in enumerate(labs):
        columns = slice(n * side // len(labs), (n + 1) * side // len(labs))
        rgb[:, columns] = xyz_to_linear(lab_to_xyz(np.array(lab)))
    rgb *= np.random.default_rng(2).normal(1, 0.01, (side, side, 1)).astype(np.float32)
    truth = SurfaceTruth(family="auto", layers=(), direction_deg=None)
    return Surface(rgb_linear=np.clip(rgb, 0, 1), mm_per_px=0.2, truth=truth)


def photo_of(labs):
    shot = shot_of(CardSize.WALLET, card_at_mm=(78.0, 12.0), tilt_deg=6.0, falloff=0.04)
    return decode_photo(take_snapshot(strips(labs), shot, 3, camera()).jpeg, "swatches.jpg")


def test_a_row_of_swatches_is_read_from_left_to_right():
    found = read_swatches(photo_of(LABS), 3)
    assert delta_e_2000(np.array(found), np.array(LABS)).max() < 4
    alone = read_swatches(photo_of(LABS[:1]), 1)[0]
    assert delta_e_2000(alone, LABS[0]) < 4


def test_without_a_card_a_swatch_is_not_read():
    with pytest.raises(PrepareError, match="No photo card"):
        read_swatches(_blank(), 1)


def _blank():
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(np.full((300, 400, 3), 120, np.uint8)).save(out, "PNG")
    return decode_photo(out.getvalue(), "blank.png")
