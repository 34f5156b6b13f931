"""What the foot says while a board lies on the bench, and the buttons for what comes next."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from jartide.app.stations.boards.bench_words import verdict_words, zone_words
from jartide.app.stations.boards.page import BoardPage
from jartide.app.widgets.foot import Action, FootState
from jartide.boards.result import Comparison
from jartide.job.open_job import OpenJob
from jartide.store.records import Board, Photo
from jartide.wording import tr

# With more buttons there is room for the verdict alone.
_MOST_BUTTONS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Presses:
    """What the station does when a button is pressed."""

    add: Callable[[], None]
    begin: Callable[[], None]
    close_page: Callable[[], None]
    open_log: Callable[[], None]
    open_photo: Callable[[], None]
    stop: Callable[[], None]


def bench_foot(
    job: OpenJob,
    chosen: tuple[Board, Photo | None] | None,
    comparison: Comparison | None,
    page: BoardPage | None,
    progress: float,
    presses: Presses,
) -> FootState:
    """Return the foot of the board that was chosen; `progress` is of its reading."""
    number = job.records.next_number("board")
    add = Action(text=tr("boards.add", number=number), run=presses.add, primary=True)
    if chosen is None:
        return FootState(text=tr("boards.empty"), note=tr("boards.empty_note"), actions=(add,))
    board, photo = chosen
    back = Action(text=tr("boards.back"), run=presses.close_page)
    log = Action(text=tr("boards.log"), run=presses.open_log)
    if comparison is not None:
        text, note = verdict_words(job, board, comparison)
        if page is None:
            begin = Action(text=tr("boards.begin"), run=presses.begin)
            return FootState(text=text, note=note, actions=(begin, add))
        actions = (*page.foot_actions(), back)
        if len(actions) > _MOST_BUTTONS:
            text, note = zone_words(board, comparison), ""
        return FootState(text=text, note=note, actions=actions)
    if job.runner.busy:
        stop = Action(text=tr("foot.stop"), run=presses.stop, primary=True)
        busy = tr("boards.busy", number=board.number)
        return FootState(text=busy, progress=progress, actions=(stop,))
    if page is not None:
        text = tr("board.numbered", number=board.number)
        return FootState(text=text, actions=(*page.foot_actions(), back))
    if photo is None:
        words = tr("boards.begun", number=board.number)
        return FootState(text=words, sign="todo", actions=(log, add))
    fix = Action(text=tr("boards.photo"), run=presses.open_photo)
    unread = tr("boards.unread", number=board.number)
    return FootState(text=unread, sign="todo", actions=(fix, log, add))
