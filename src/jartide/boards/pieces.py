"""Two pieces compared by all that is known of them: readings, and how their pictures look."""

from __future__ import annotations

from dataclasses import dataclass

from jartide.boards.compare import VIEWING_M, Paired, judged, pair_up
from jartide.boards.match import match_layers
from jartide.boards.result import Comparison, SeenDifference
from jartide.boards.seen import View, seen_differences, with_seen
from jartide.reading.result import Reading


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Piece:
    """A target or a board: what was read of it, and its flat picture; None without a scale."""

    reading: Reading
    view: View | None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PairSeen:
    """All of a comparison that does not depend on where the eye is."""

    paired: Paired
    seen: tuple[SeenDifference, ...]

    def judged(self, viewing_m: float, tolerance: float) -> Comparison:
        """Return the comparison from a distance in metres; the tolerance is in JND."""
        return with_seen(judged(self.paired, viewing_m, tolerance), self.seen)


def pair_pieces(
    target: Piece, board: Piece, *, same_spot: bool = False, made: str | None = None
) -> PairSeen:
    """Set a board beside its target; pictures count where both have a scale.

    `same_spot` and `made` as `compare` takes them.

    Raises
    ------
    ReadingError : when the readings are of different algorithms.
    """
    paired = pair_up(target.reading, board.reading, same_spot=same_spot, made=made)
    return PairSeen(paired=paired, seen=seen_of(target, board))


def seen_of(target: Piece, board: Piece) -> tuple[SeenDifference, ...]:
    """Return how the pictures of two pieces differ from every distance; () without both."""
    if target.view is None or board.view is None:
        return ()
    gains = match_layers(target.reading, board.reading).gains
    return seen_differences(target.view, board.view, VIEWING_M, gains)
