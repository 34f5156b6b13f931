"""One difference between board and target, as the bench lists it."""

from __future__ import annotations

from PySide6.QtGui import QColor

from jartide.app.widgets.differences import DifferenceRow
from jartide.boards.result import Difference
from jartide.boards.row import Z90
from jartide.colour.spaces import srgb_hex
from jartide.job.words.numbers import quantity_words
from jartide.wording import say


def row_of(difference: Difference) -> DifferenceRow:
    """Return a difference as the bench lists it."""
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
        state=difference.state,
        chance=Z90 * difference.noise_jnd,
        pair=pair,
    )
