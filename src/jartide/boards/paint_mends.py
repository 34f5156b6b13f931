"""Mends in the painter's own paints: a veil's ratio, what to add to a jar, a glaze over all."""

from __future__ import annotations

from dataclasses import dataclass

from jartide.boards.mends import Action, Mend
from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.errors import PaintError
from jartide.paint.correct import corrections
from jartide.paint.fitted import FittedShelf
from jartide.paint.glaze import GlazeRecipe, GlazeWishes, find_glazes
from jartide.paint.recipe import Part
from jartide.paint.veil import Veil, find_veil
from jartide.reading.result import LINE_ROLES, Reading

# A glaze is offered when it takes away at least half of what the colour is off.
_LEAST_GAIN = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class PaintMend:
    """One way to make a mend with paint. Exactly one of the three is given.

    Attributes
    ----------
    veil : of the mix in `parts`
    added : parts to add to the layer's jar, on the scale of its own parts
    glaze : over the dry board
    left_de00 : how far the colour will still be off; None for a veil
    """

    veil: Veil | None = None
    parts: tuple[Part, ...] = ()
    added: tuple[Part, ...] = ()
    glaze: GlazeRecipe | None = None
    left_de00: float | None = None


def veil_for(
    fitted: FittedShelf, ground: tuple[Part, ...], board: Reading, wanted_share: float
) -> PaintMend | None:
    """Return the veil of the ground's mix that brings lines to a share of their contrast."""
    lines = [layer for layer in board.layers if layer.role in LINE_ROLES]
    if not lines or not ground:
        return None
    base = board.layers[0].shown_lab
    # The lines that stand off most are the ones that are too stark.
    stark = max(lines, key=lambda layer: abs(layer.shown_lab[0] - base[0]))
    now = abs(stark.shown_lab[0] - base[0])
    try:
        best = find_veil(fitted, ground, stark.shown_lab, base, now * wanted_share)[0]
    except PaintError:
        return None
    return PaintMend(veil=best, parts=ground)


def jar_for(
    fitted: FittedShelf, used: tuple[Part, ...], board: Lab, target: Lab
) -> PaintMend | None:
    """Return what to add to a jar so that it paints the target; None when nothing mends it."""
    if not used:
        return None
    found = corrections(fitted, used, board, target, top=1)
    off = float(delta_e_2000(board, target))
    if not found or not found[0].add or found[0].de00 > (1 - _LEAST_GAIN) * off:
        return None
    return PaintMend(added=found[0].add, left_de00=found[0].de00)


def glaze_for(
    fitted: FittedShelf, board: Lab, target: Lab, most_coats: int = 2
) -> PaintMend | None:
    """Return the complement glaze over a dry board, with its strength; None when none helps."""
    wishes = GlazeWishes(most_coats=most_coats, least_carrier=1, top=1)
    try:
        found = find_glazes(fitted, board, target, wishes)
    except PaintError:
        return None
    off = float(delta_e_2000(board, target))
    if not found or found[0].de00 > (1 - _LEAST_GAIN) * off:
        return None
    return PaintMend(glaze=found[0], left_de00=found[0].de00)


def paint_mends(
    mend: Mend,
    fitted: FittedShelf,
    board: Reading,
    jars: dict[int, tuple[Part, ...]],
    labs: tuple[Lab, Lab] | None,
) -> tuple[PaintMend, ...]:
    """Return how a mend is made with the shelf's paints, the way that undoes least first.

    Parameters
    ----------
    jars : the parts in the jar of each of the target's layers, by its number
    labs : the layer's colour on the board (in the target's light) and on the target
    """
    found: list[PaintMend | None] = []
    if mend.action is Action.VEIL:
        found.append(veil_for(fitted, jars.get(0, ()), board, mend.amount))
    if mend.action is Action.TONE and labs is not None and mend.layer is not None:
        found.append(glaze_for(fitted, *labs))
        found.append(jar_for(fitted, jars.get(mend.layer, ()), *labs))
    return tuple(way for way in found if way is not None)
