"""How much work mends a cover: shares to go over, and passes, from what a tool hides and leaves.

A judged board is dry: what is too much is gone over with the tones that are short, what is too
little is laid into the gaps, or at random in passes that each leave a little less to cover.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import log

from jartide.families import family_named
from jartide.reading.result import Reading


class Made(StrEnum):
    """How a rust, a verdigris or a patina came about: what mends it depends on that."""

    PAINTED = "painted"
    REACTION = "reaction"


# Families that a reaction may make.
GROWN = frozenset({"rust", "verdigris", "bronze"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Touch:
    """What a way of laying does where it touches; working values.

    Attributes
    ----------
    hides : share of what lies below that one pass hides, 0..1
    leaves : share of the face that one pass over it leaves covered, 0..1
    by_passes : it is laid at random over all, pass by pass, and not aimed
    """

    hides: float
    leaves: float
    by_passes: bool = False


DABBED = Touch(hides=0.8, leaves=0.7)
DRY_BRUSHED = Touch(hides=0.25, leaves=0.25, by_passes=True)
# More of one tone than this to go over buries what is right: then it is done in passes.
_WHOLE = 1.0


def touch_of(reading: Reading) -> Touch:
    """Return how a finish of a family is laid where nobody says otherwise."""
    return DRY_BRUSHED if family_named(reading.family).lines_role == "brush" else DABBED


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """What is gone over once, as a share (0..1) of the tone or of the face; or so many passes."""

    share: float | None = None
    passes: int | None = None


def to_take_back(target: float, board: float, touch: Touch) -> Work:
    """Return how much of a tone's own patches to go over so that it shows its target's share.

    `target`, `board` are shares of the face, 0..1, the board's the larger.
    """
    left = max(target, 1e-3) / board
    share = (1 - left) / touch.hides
    if touch.by_passes or share > _WHOLE:
        return Work(passes=max(1, round(log(left) / log(1 - touch.hides))))
    return Work(share=share)


def to_add(target: float, board: float, touch: Touch) -> Work:
    """Return over how much of the face to lay a tone so that it shows its target's share."""
    if touch.by_passes:
        left = (1 - min(target, 0.99)) / (1 - board)
        return Work(passes=max(1, round(log(left) / log(1 - touch.leaves))))
    return Work(share=min((target - board) / touch.leaves, 1.0))


# A thin veil in the ground's colour leaves so much of the contrast; three are the most.
VEIL_LEAVES, MOST_VEILS = 0.8, 3


def veils(target: float, board: float) -> int | None:
    """Return how many thin veils bring a contrast down; None where they would not do."""
    if target <= 0 or board <= target:
        return None
    count = max(1, round(log(target / board) / log(VEIL_LEAVES)))
    return count if count <= MOST_VEILS else None
