"""Where a board stands: its place on the tide, and the row of one difference."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QColor

from jartide.app.elements.tide import ZONE_ENDS
from jartide.app.widgets.differences import DifferenceRow
from jartide.app.words import quantity_words
from jartide.wording import say

if TYPE_CHECKING:
    from jartide.boards.result import Comparison, Difference


def closeness(comparison: Comparison, *, expected: bool = False) -> float:
    """Return where a board stands on the tide, 0..1, the target being 1.

    A zone is reached when the distance as seen from there is within tolerance:
    all of it at 2 m, half at arm's length, a quarter up close. Inside a zone
    the place is linear in the distance, down to the next zone's bound.
    """
    at = comparison.expected_at if expected else comparison.distance_at
    tolerance = comparison.tolerance
    stages = ((2.0, tolerance), (0.7, tolerance / 2), (0.3, tolerance / 4))
    start = 0.0
    for (metres, bound), end in zip(stages, ZONE_ENDS, strict=False):
        distance = at(metres)
        if distance > bound:
            # The farther off, the further back: at four times the bound, the zone's start.
            share = 1 - min((distance / bound - 1) / 3, 1.0)
            return start + (end - start) * max(share, 0.08 if start == 0 else 0.02) * 0.98
        start = end
    bound = tolerance / 4
    return start + (1 - start) * (1 - at(0.3) / bound) * 0.98


def row_of(difference: Difference) -> DifferenceRow:
    """Return a difference as the bench lists it."""
    from jartide.colour.spaces import srgb_hex

    pair = None
    if isinstance(difference.target, tuple) and isinstance(difference.board, tuple):
        pair = (
            QColor(srgb_hex(difference.target)),
            QColor(srgb_hex(difference.board)),
        )
    return DifferenceRow(
        quantity=difference.quantity,
        name=say(difference.name),
        target=quantity_words(difference.quantity, difference.target),
        board=quantity_words(difference.quantity, difference.board),
        words=say(difference.short),
        jnd=difference.jnd,
        amount=difference.amount.value,
        pair=pair,
    )
