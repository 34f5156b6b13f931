"""How close two colours look, in words: the same up close, at arm's length, at 2 m, or not."""

from __future__ import annotations

from enum import StrEnum


class Closeness(StrEnum):
    """Up to which distance two colours side by side can't be told apart."""

    UP_CLOSE = "up_close"
    ARM = "arm"
    ROOM = "room"
    DIFFERENT = "different"


# CIEDE2000. Touching edges show a difference of 1 to a practised eye; with a gap and in
# ordinary light twice as much passes, and across a room twice that again. Working values.
LIMITS = ((1.0, Closeness.UP_CLOSE), (2.0, Closeness.ARM), (4.0, Closeness.ROOM))


def closeness(de00: float) -> Closeness:
    """Return the word for a CIEDE2000."""
    return next((word for limit, word in LIMITS if de00 <= limit), Closeness.DIFFERENT)
