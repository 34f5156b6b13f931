"""The one sentence that says how a board stands: on the bench, the sheet, the wall, midway."""

from __future__ import annotations

from jartide.boards.result import Comparison, Difference, State, Verdict
from jartide.wording import Message


def worst_row(comparison: Comparison) -> Difference | None:
    """Return the row that an eye notices first, sure or not; None where nothing stands out."""
    first = next(iter(comparison.differences), None)
    stands_out = first is not None and first.state in (State.DIFFERS, State.LOOKS_DIFFERENT)
    return first if stands_out else None


def headline(comparison: Comparison) -> Message:
    """Return what is said of a board first.

    That nothing differs is said only where all that an eye would see is shown to be the same.
    """
    worst = worst_row(comparison)
    if worst is not None:
        return worst.words
    if comparison.verdict is Verdict.MATCH:
        return Message("headline.nothing")
    untold = comparison.of_state(State.UNTOLD)
    if untold:
        return Message("headline.untold", count=len(untold))
    return Message("headline.seen")


def headline_note(comparison: Comparison) -> Message:
    """Return what is said below, where there is no row to mend."""
    if comparison.verdict is Verdict.MATCH:
        return Message("headline.nothing_note")
    untold = comparison.of_state(State.UNTOLD)
    return untold[0].words if untold else Message("headline.seen_note")
