"""Hiding: how much of what lies below one coat leaves, and how many coats hide it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import BANDS_NM, smoothest_reflectance
from jartide.colour.words import Lab
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import lab_of
from jartide.paint.glaze import films
from jartide.paint.recipe import Part
from jartide.paint.rows import hiding_layers

# An old colour counts as hidden when what is left of it can't be told at arm's length.
HIDDEN_DE00 = 1.0
MOST_COATS = 12
_BLACK, _WHITE = 0.03, 0.85


class Hides(StrEnum):
    """How strongly one neat coat hides, in words."""

    WELL = "well"
    FAIRLY = "fairly"
    LITTLE = "little"
    HARDLY = "hardly"


@dataclass(frozen=True, slots=True, kw_only=True)
class Coats:
    """Coats until a ground is hidden.

    Attributes
    ----------
    coats : whole neat coats; None when more than `MOST_COATS` would be needed
    left_de00 : what can still be seen of the ground after them
    """

    coats: int | None
    left_de00: float


def parts_row(fitted: FittedShelf, parts: tuple[Part, ...]) -> np.ndarray:
    """Return parts as one row, (1, P), over the shelf."""
    row = np.zeros((1, len(fitted.shelf.paints)))
    for part in parts:
        row[0, part.paint] += part.parts
    return row


def one_coat_hides(fitted: FittedShelf, parts: tuple[Part, ...]) -> float:
    """Return the share of a black and white contrast, 0..1, that one neat coat takes away.

    As contrast ratios are stated (ISO 6504-3:2019), from L* in place of Y.
    """
    row = np.repeat(parts_row(fitted, parts), 2, axis=0)
    ground = np.stack([np.full(BANDS_NM.size, level) for level in (_BLACK, _WHITE)])
    over = lab_of(films(row, ground), fitted.parameters)[:, 0]
    bare = lab_of(films(row * 1e-9, ground, carrier=1.0), fitted.parameters)[:, 0]
    return float(1 - abs(over[1] - over[0]) / abs(bare[1] - bare[0]))


def hides(share: float) -> Hides:
    """Return the word for a share that one coat takes away."""
    if share > 0.93:
        return Hides.WELL
    if share > 0.75:
        return Hides.FAIRLY
    return Hides.LITTLE if share > 0.4 else Hides.HARDLY


def coats_to_hide(
    fitted: FittedShelf, parts: tuple[Part, ...], ground: Lab, *, primer: Lab | None = None
) -> Coats:
    """Return the neat coats until a ground is hidden; with one coat of a tinted primer first.

    The primer is taken to hide as far as it can: its colour is then the ground.
    """
    row = parts_row(fitted, parts)
    whole = lab_of(hiding_layers(row / row.sum()), fitted.parameters)[0]
    below = smoothest_reflectance(np.array(primer if primer is not None else ground))[0]
    counts = np.arange(1, MOST_COATS + 1)
    over = lab_of(films(np.repeat(row, counts.size, 0), below, coats=counts), fitted.parameters)
    left = delta_e_2000(over, whole)
    enough = np.flatnonzero(left < HIDDEN_DE00)
    if not enough.size:
        return Coats(coats=None, left_de00=float(left[-1]))
    return Coats(coats=int(counts[enough[0]]), left_de00=float(left[enough[0]]))
