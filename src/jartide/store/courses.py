"""The boards of every finish with what was read of them, for the painter's own statistics."""

from __future__ import annotations

from collections.abc import Callable

from jartide.boards.compare import judged, pair_up
from jartide.boards.learning import Course
from jartide.boards.together import read_together
from jartide.errors import ReadingError
from jartide.reading.result import Reading
from jartide.store.records import BoardKind, Finish, Photo, PhotoUse
from jartide.store.workspace import Workspace

# The latest finishes: what was painted ten years ago says little of today.
MOST_FINISHES = 200


def read_courses(
    workspace: Workspace, progress: Callable[[float], None] = lambda _: None
) -> tuple[Course, ...]:
    """Return the courses of finishes whose target and boards are read; nothing is read anew."""
    finishes = [f for own in workspace.all_finishes().values() for f in own][-MOST_FINISHES:]
    courses = []
    for number, finish in enumerate(finishes, 1):
        course = _course(workspace, finish)
        if course is not None:
            courses.append(course)
        progress(number / len(finishes))
    return tuple(courses)


def _course(workspace: Workspace, finish: Finish) -> Course | None:
    boards = [b for b in workspace.boards(finish.id) if b.kind is BoardKind.BOARD]
    if not boards:
        return None
    photos = workspace.photos(finish.id)
    target = _read(workspace, finish, [p for p in photos if p.use is PhotoUse.TARGET])
    if target is None:
        return None
    comparisons, faults, approved = [], [], None
    for board in boards:
        own = [
            p
            for p in photos
            if p.board_id == board.id
            and p.use is PhotoUse.BOARD
            and not p.stage.after
            and not p.stage.series
        ]
        reading = _read(workspace, finish, own)
        if reading is None:
            continue
        try:
            pair = pair_up(target, reading)
            comparisons.append(judged(pair, finish.viewing_m, finish.tolerance))
        except ReadingError:  # read by different versions: said where the board is looked at
            continue
        faults += sorted({fault.kind for photo in own for fault in photo.faults})
        if finish.approval is not None and finish.approval.board_id == board.id:
            approved = len(comparisons)
    return Course(
        finish=finish.id,
        family=finish.family,
        comparisons=tuple(comparisons),
        approved=approved,
        faults=tuple(faults),
    )


def _read(workspace: Workspace, finish: Finish, photos: list[Photo]) -> Reading | None:
    """The common reading of photos; None when one of them is not read as it is set now."""
    readings = []
    for photo in photos:
        choices = finish.layers if photo.use is PhotoUse.TARGET else None
        try:
            reading = workspace.reading(photo, finish.family, choices=choices)
        except ReadingError:
            return None
        if reading is None:
            return None
        readings.append(reading)
    return read_together(readings).reading if readings else None
