"""Strokes that run two ways: a way that the board lacks is missing, not a turn of the mean."""

from __future__ import annotations

from jartide.reading.result import Reading

# A way the board has none within is missing.
_ANOTHER_WAY_DEG = 20.0


def is_crossed(reading: Reading) -> bool:
    """Whether strokes run two ways or more, so that a mean direction says nothing."""
    brush = reading.pattern.brush
    return brush is not None and len(brush.directions) >= 2


def missing_way(target: Reading, board: Reading) -> float | None:
    """Return the way of the target's strokes, degrees from level, that the board's have none of.

    The strongest, where several are missing; None where none is, or the target's are not crossed.
    """
    own = board.pattern.brush
    if not is_crossed(target) or own is None or target.pattern.brush is None:
        return None
    for way in target.pattern.brush.directions:
        off = [abs((way.deg - there.deg + 90) % 180 - 90) for there in own.directions]
        if min(off, default=90.0) > _ANOTHER_WAY_DEG:
            return way.deg
    return None


def turned(target: Reading, board: Reading) -> tuple[float, float, float] | None:
    """Return (way of the target, its way on the board, turn of all ways in the mean), degrees.

    None where not both are crossed, or a way is missing.
    """
    if not (is_crossed(target) and is_crossed(board)) or missing_way(target, board) is not None:
        return None
    here, there = target.pattern.brush, board.pattern.brush
    assert here is not None and there is not None
    turns, nearest = [], []
    for way in here.directions:
        off = [(own.deg - way.deg + 90) % 180 - 90 for own in there.directions]
        best = min(range(len(off)), key=lambda n: abs(off[n]))
        turns.append(way.share * off[best])
        nearest.append(there.directions[best].deg)
    mean = sum(turns) / max(sum(way.share for way in here.directions), 1e-9)
    return here.directions[0].deg, nearest[0], mean
