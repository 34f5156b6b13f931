"""The room's colours beside target and board, so that a right finish in a wrong place is seen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.colour.words import Lab, Undertone, beside, undertone
from jartide.reading.result import Reading
from jartide.wording import Message

# Lightness closer than this and the finish melts into its neighbour; farther and it stands off.
_MELTS_L = 8.0
_STANDS_L = 35.0
_SAME_DE00 = 3.0


class Relation(StrEnum):
    """How a neighbour and the finish stand to each other."""

    SAME = "same"
    MELTS = "melts"
    CLASHES = "clashes"
    STANDS_OFF = "stands_off"
    SITS_WELL = "sits_well"


@dataclass(frozen=True, slots=True, kw_only=True)
class Neighbour:
    """A colour of the room beside the finish.

    Attributes
    ----------
    lightness_gap : finish less neighbour, L*
    moves_board : the neighbour stands otherwise to the board than to the target
    shift : which way the neighbour pushes the finish's look (simultaneous contrast), or None
    """

    name: str
    lab: Lab
    to_target: Relation
    to_board: Relation | None
    lightness_gap: float
    moves_board: bool
    shift: Message | None


def mean_colour(reading: Reading) -> Lab:
    """Return a finish's colour from afar: its layers by what each shows, mixed as light is."""
    shares = np.array([layer.coverage.value or 0.0 for layer in reading.layers])
    shown = np.clip(lab_to_linear([layer.shown_lab for layer in reading.layers]), 0, None)
    lab = linear_to_lab(shares @ shown / max(shares.sum(), 1e-9))
    return float(lab[0]), float(lab[1]), float(lab[2])


def picked_colour(rgb_linear: np.ndarray, at: tuple[float, float], side: float = 0.02) -> Lab:
    """Return the median Lab of (H, W, 3) linear light around a spot in shares of width and height.

    `side` is the half width of what is looked at, a share of the width.
    """
    height, width = rgb_linear.shape[:2]
    x, y, half = at[0] * width, at[1] * height, max(1.0, side * width)
    top, left = max(0, int(y - half)), max(0, int(x - half))
    part = rgb_linear[top : int(y + half) + 1, left : int(x + half) + 1].reshape(-1, 3)
    lab = np.median(linear_to_lab(np.asarray(part, float)), axis=0)
    return float(lab[0]), float(lab[1]), float(lab[2])


def neighbours(
    room: Sequence[tuple[str, Lab]], target: Lab, board: Lab | None
) -> tuple[Neighbour, ...]:
    """Return how each colour of the room stands to the target and to the board."""
    found = []
    for name, lab in room:
        to_target = relation(lab, target)
        to_board = None if board is None else relation(lab, board)
        pushed = beside(target, lab)
        found.append(
            Neighbour(
                name=name,
                lab=lab,
                to_target=to_target,
                to_board=to_board,
                lightness_gap=target[0] - lab[0],
                moves_board=to_board is not None and to_board is not to_target,
                shift=None if pushed is None else Message(f"shift.{pushed}"),
            )
        )
    return tuple(found)


def relation(neighbour: Lab, finish: Lab) -> Relation:
    """Return how two colours stand to each other at a joint."""
    if float(delta_e_2000(neighbour, finish)) < _SAME_DE00:
        return Relation.SAME
    gap = abs(neighbour[0] - finish[0])
    warm, cool = Undertone.WARM, Undertone.COOL
    tones = {undertone(neighbour)[0], undertone(finish)[0]}
    if tones == {warm, cool} and gap < _STANDS_L:
        # Two near lightnesses, one warm and one cool: each makes the other look dirty.
        return Relation.CLASHES
    if gap < _MELTS_L:
        return Relation.MELTS
    return Relation.STANDS_OFF if gap > _STANDS_L else Relation.SITS_WELL
