"""Veils: a thin glaze over a pattern that sets it back by a wanted amount."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import smoothest_reflectance
from jartide.colour.words import Lab
from jartide.errors import PaintError
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import lab_of
from jartide.paint.glaze import CARRIER_PARTS, carrier_number, films
from jartide.paint.hiding import parts_row
from jartide.paint.recipe import Part, as_lab

# Of veils that meet the contrast this nearly, the one with fewest coats is taken.
_NEAR_L = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Veil:
    """A veil and what it leaves.

    Attributes
    ----------
    carrier, water : parts to the mix's whole parts
    coats : films laid
    contrast_L : difference in L* between pattern and ground that stays
    pattern, ground : what they will look like, Lab
    shift_de00 : how far the ground itself moves
    """

    carrier: float
    water: float
    coats: int
    contrast_L: float
    pattern: Lab
    ground: Lab
    shift_de00: float


def find_veil(
    fitted: FittedShelf,
    parts: tuple[Part, ...],
    pattern: Lab,
    ground: Lab,
    contrast_L: float,
    *,
    most_coats: int = 4,
    water: tuple[int, ...] = (0,),
    carrier_name: str = "",
) -> tuple[Veil, ...]:
    """Return veils of one mix that bring a pattern's contrast to `contrast_L`, nearest first.

    `parts` is the mix in the veil, most often the ground's own. One veil for each number
    of coats that gets near.

    Raises
    ------
    PaintError : when the contrast wanted is not below the present one.
    """
    now = abs(pattern[0] - ground[0])
    if not 0 <= contrast_L < now:
        raise PaintError("error.veil.contrast", wanted=round(contrast_L), now=round(now))
    own = parts_row(fitted, parts)
    own = own / own.sum()
    table = np.array(
        [
            (carrier, thin, coats)
            for carrier in (*CARRIER_PARTS, 16, 20, 24, 32)
            for thin in water
            for coats in range(1, most_coats + 1)
        ],
        dtype=float,
    )
    medium = carrier_number(fitted, carrier_name)
    seen = []
    for below in (pattern, ground):
        painted = films(
            np.repeat(own, table.shape[0], axis=0),
            smoothest_reflectance(np.array(below))[0],
            carrier=table[:, 0],
            water=table[:, 1],
            coats=table[:, 2],
            medium=medium,
        )
        seen.append(lab_of(painted, fitted.parameters))
    left = np.abs(seen[0][:, 0] - seen[1][:, 0])
    off = np.abs(left - contrast_L)
    veils = []
    for coats in range(1, most_coats + 1):
        rows = np.flatnonzero(table[:, 2] == coats)
        row = int(rows[off[rows].argmin()])
        on_pattern, on_ground = (as_lab(lab[row]) for lab in seen)
        veils.append(
            Veil(
                carrier=float(table[row, 0]),
                water=float(table[row, 1]),
                coats=coats,
                contrast_L=float(left[row]),
                pattern=on_pattern,
                ground=on_ground,
                shift_de00=float(delta_e_2000(on_ground, ground)),
            )
        )
    return tuple(
        sorted(
            veils,
            key=lambda v: (max(abs(v.contrast_L - contrast_L) - _NEAR_L, 0.0), v.coats),
        )
    )
