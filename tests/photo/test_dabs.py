"""Dabs of paint are read where they are pressed on, corrected by the card beside them."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import linear_to_lab
from jartide.errors import PrepareError
from jartide.photo.dabs import open_dabs, read_dab
from jartide.photo.settings import Rect
from tests.photo.test_swatches import LABS, _blank, photo_of


@pytest.fixture(scope="module")
def dabs():
    return open_dabs(photo_of(LABS))


def box(dabs, x, y, share=0.03):
    """A box about a place of the picture, in shares of its width and height."""
    height, width = dabs.valid.shape
    side = share * min(height, width)
    return Rect(x=x * width - side / 2, y=y * height - side / 2, w=side, h=side)


def strip(dabs, lab):
    """The middle of the strip of a colour, low enough to be clear of the card; shares."""
    height, width = dabs.valid.shape
    row = int(0.75 * height)
    own = linear_to_lab(dabs.rgb_linear[row - 5 : row + 6].mean(axis=0).astype(float))
    near = np.flatnonzero(delta_e_2000(own, np.array(lab)) < 8)
    return float(np.median(near)) / width, row / height


def test_each_dab_reads_its_own_colour(dabs):
    found = [read_dab(dabs, box(dabs, *strip(dabs, lab))) for lab in LABS]
    for lab, true in zip(found, LABS, strict=True):
        assert delta_e_2000(lab, true) < 4
    assert dabs.code.shape == dabs.rgb_linear.shape


def test_an_edge_and_what_is_no_dab_are_refused(dabs):
    x0, y = strip(dabs, LABS[0])
    x1, _ = strip(dabs, LABS[1])
    with pytest.raises(PrepareError, match="Two colours meet there"):
        read_dab(dabs, box(dabs, (x0 + x1) / 2, y))
    with pytest.raises(PrepareError, match="No dab can be read there"):
        read_dab(dabs, box(dabs, 1.2, 0.5))


def test_without_a_card_there_is_nothing_to_correct_by():
    with pytest.raises(PrepareError, match="No photo card"):
        open_dabs(_blank())
