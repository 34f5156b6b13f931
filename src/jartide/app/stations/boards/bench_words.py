"""What the bench says of a board: how it stands, what differs most, what mends it."""

from __future__ import annotations

from jartide.app.elements.tide import Mark
from jartide.app.widgets.distance_rail import distance_words
from jartide.boards.closeness import closeness, zone_of
from jartide.boards.headline import headline, headline_note
from jartide.boards.result import Comparison, Difference, State
from jartide.job.open_job import OpenJob
from jartide.store.records import Board, Photo
from jartide.wording import say, tr


def zone_words(board: Board, comparison: Comparison) -> str:
    """Return from where a board passes for its target."""
    zone = zone_of(closeness(comparison))
    return tr(f"verdict.{zone.removeprefix('zone.')}", number=board.number)


def verdict_words(job: OpenJob, board: Board, comparison: Comparison) -> tuple[str, str]:
    """Return how a board stands, and whether it came closer or it is time to stop."""
    text = zone_words(board, comparison)
    if comparison.same_from_m is not None:
        from_m = distance_words(comparison.same_from_m)
        text = f"{text} {tr('boards.same_from', distance=from_m)}"
    if comparison.light_change_L is not None and abs(comparison.light_change_L) >= 1:
        return text, tr("boards.light_unknown")
    boards = job.records.boards()
    photo = next((p for b, p in boards if b.id == board.id), None)
    advice = job.boards.stop_advice(board, photo)
    if advice is not None and advice.stop:
        return text, tr("boards.stop_here")
    earlier = [
        (b, c)
        for b, p in boards
        if b.number < board.number and p is not None and (c := job.comparisons.of(p))
    ]
    if earlier:
        before, its = earlier[-1]
        closer = closeness(comparison) >= closeness(its)
        return text, tr("boards.closer" if closer else "boards.further", number=before.number)
    return text, board.remark


def own_mend(
    job: OpenJob, chosen: tuple[Board, Photo | None] | None, difference: Difference
) -> str:
    """Return the mend with the painter's own paints, once it is worked out; else ""."""
    photo = None if chosen is None else chosen[1]
    found = None if photo is None else job.boards.mends(photo)
    own = [] if found is None else [m for m in found[0] if m.quantity == difference.quantity]
    return own[0].recipes[0] if own and own[0].recipes else ""


def steps_words(difference: Difference) -> str:
    """Return how far it is, in steps an eye can just see, and whether that is sure."""
    sure = "sure" if difference.state is State.DIFFERS else "unsure"
    return tr(f"boards.steps_{sure}", count=max(round(abs(difference.jnd)), 1))


def advice_words(
    comparison: Comparison | None, difference: Difference, row: int, mend: str
) -> tuple[str, str]:
    """Return the headline and what to do; `row` is 0 where the worst difference is looked at."""
    if difference.significant:
        words = "" if difference.advice is None else say(difference.advice)
        return say(difference.words), f"{steps_words(difference)} {words} {mend}".strip()
    if difference.state is State.LOOKS_DIFFERENT:
        return say(difference.words), f"{steps_words(difference)} {tr('boards.photo_first')}"
    if row or comparison is None:
        note = "boards.leave" if difference.state is State.SAME else "boards.photo_first"
        return say(difference.words), tr(note)
    return say(headline(comparison)), say(headline_note(comparison))


def tide_of(
    job: OpenJob, chosen: tuple[Board, Photo | None] | None
) -> tuple[list[Mark], int, float | None]:
    """Return the boards' marks, the place of the chosen one, and how near its mend would bring it.

    The last is None where no mend is known or it would bring it no nearer.
    """
    marks: list[Mark] = []
    place, expected = 0, None
    for board, photo in job.records.boards():
        comparison = None if photo is None else job.comparisons.of(photo)
        if comparison is None:
            continue
        if chosen is not None and board.id == chosen[0].id:
            place = len(marks)
            if comparison.of_state(State.DIFFERS):
                expected = closeness(comparison, expected=True)
        marks.append(Mark(number=board.number, closeness=closeness(comparison)))
    if marks and expected is not None and expected <= marks[place].closeness + 0.01:
        expected = None
    return marks, place, expected
