"""Count both pictures by the same colours, so that how each was parted into layers drops out.

Two readings of one finish may part a soft border otherwise: a fringe is a layer of its own in
one and lies half with each neighbour in the other. Counting the colours of both pictures by
one common palette tells such a parting from paint that is really missing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.boards.match import LayerMatch
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.reading.result import Reading


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Recount:
    """Shares and mean colours of the common palette in both pictures.

    Attributes
    ----------
    place_of_target, place_of_board : the palette's number by the layer's
    shares : (2, K), of target and board
    labs : (2, K, 3) mean colours in the target's light; NaN where there is none
    """

    place_of_target: dict[int, int]
    place_of_board: dict[int, int]
    shares: np.ndarray
    labs: np.ndarray


def recount(target: Reading, board: Reading, match: LayerMatch) -> Recount | None:
    """Return the recount; None where a reading's colours are not known."""
    if target.colours is None or board.colours is None:
        return None
    own = np.array([layer.shown_lab for layer in target.layers])
    palette: list[np.ndarray] = []
    of_target: dict[int, int] = {}
    of_board: dict[int, int] = {}
    for i, j in match.pairs:
        of_target[i] = of_board[j] = len(palette)
        palette.append((own[i] + match.board_lab[j]) / 2)
    for i in match.missing:
        of_target[i] = len(palette)
        palette.append(own[i])
    for j in match.extra:
        of_board[j] = len(palette)
        palette.append(match.board_lab[j])
    tones = np.array(palette)
    shares, labs = [], []
    for reading, gains in ((target, None), (board, match.gains)):
        assert reading.colours is not None
        seen = np.array(reading.colours.labs, float)
        if gains is not None and np.any(gains != 1):
            seen = linear_to_lab(np.clip(lab_to_linear(seen), 0, None) * gains)
        weight = np.array(reading.colours.shares, float)
        nearest = delta_e_2000(seen[:, None], tones[None]).argmin(axis=1)
        share = np.bincount(nearest, weight, minlength=len(tones))
        with np.errstate(invalid="ignore"):
            mean = np.stack(
                [
                    np.bincount(nearest, weight * seen[:, axis], minlength=len(tones)) / share
                    for axis in range(3)
                ],
                axis=1,
            )
        shares.append(share)
        labs.append(mean)
    return Recount(
        place_of_target=of_target,
        place_of_board=of_board,
        shares=np.array(shares),
        labs=np.array(labs),
    )
