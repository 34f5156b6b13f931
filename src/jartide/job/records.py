"""The records of the open workspace: listed once until one is written, changed by undo steps."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any, TypeVar

from jartide.errors import JarTideError
from jartide.job.events import Events
from jartide.job.history import Change, History
from jartide.photo.settings import PhotoSettings
from jartide.store.jar_records import Mix, Tin
from jartide.store.plain_text import cleaned
from jartide.store.records import Board, Entry, Finish, Job, Photo, Plan, Record, Surface
from jartide.store.workspace import Workspace, now

_T = TypeVar("_T")
Jobs = list[tuple[Job, list[Finish]]]


# What is listed of each kind of record. The log of a board is long: it is read once.
_BOARDS = ("boards", "panels", "photos of boards")
_LISTED: dict[type, tuple[str, ...]] = {
    Job: ("jobs",),
    Finish: ("jobs", "plans", "photos", "surfaces", "mixes", *_BOARDS),
    Photo: ("photos", *_BOARDS),
    Board: ("photos", "entries", *_BOARDS),
    Surface: ("surfaces",),
    Tin: ("tins",),
    Mix: ("mixes",),
    Plan: ("plans",),
    Entry: ("entries",),
}


def is_whole(photo: Photo) -> bool:
    """Whether a photo shows the finished board, and no stage of it."""
    return photo.use == "board" and not photo.stage.after and not photo.stage.series


class Records:
    """What the workspace holds, and what of it is open."""

    def __init__(self, events: Events, say: Callable[[Exception], None]) -> None:
        self.events, self.say = events, say
        self.history = History(self._write)
        self.workspace: Workspace | None = None
        self.finish: Finish | None = None
        # Asked for many times at every change: listed once until something is written.
        self._listed: dict[tuple[str, str], Any] = {}
        # Another one whenever the log of a board may be another.
        self.log_state = object()
        # Another object whenever anything was written.
        self.state = object()

    def forget(self) -> None:
        """Something was written: list everything again when it is asked for."""
        self._listed.clear()
        self.log_state = self.state = object()

    def _forget_of(self, records: Iterable[Record]) -> None:
        """These were written: what is listed of their kinds is listed anew."""
        self.state = object()
        kinds = {kind for record in records for kind in _LISTED.get(type(record), ())}
        if "entries" in kinds:
            self.log_state = object()
        for key in [key for key in self._listed if key[0] in kinds]:
            del self._listed[key]

    def _list(self, kind: str, of: str, read: Callable[[Workspace], list[_T]]) -> list[_T]:
        return [] if self.workspace is None else list(self._once(self.workspace, kind, of, read))

    def _once(
        self, workspace: Workspace, kind: str, of: str, read: Callable[[Workspace], _T]
    ) -> _T:
        """What is read of the workspace, once until something is written."""
        key = (kind, of)
        if key not in self._listed:
            self._listed[key] = read(workspace)
        return self._listed[key]

    # ---- what there is

    def jobs(self) -> list[tuple[Job, list[Finish]]]:
        """Return all jobs with their finishes."""
        return self._list("jobs", "", Workspace.jobs_with_finishes)

    def know_jobs(self, jobs: Jobs) -> None:
        """Take what `Workspace.jobs_with_finishes` has listed already."""
        self._listed["jobs", ""] = jobs

    def job(self) -> Job | None:
        """Return the job of the open finish."""
        if self.finish is None:
            return None
        return next((job for job, _ in self.jobs() if job.id == self.finish.job_id), None)

    def finishes(self) -> list[Finish]:
        """Return the finishes of the open job."""
        job = self.job()
        return [] if job is None else next(own for one, own in self.jobs() if one.id == job.id)

    def finish_of(self, photo: Photo) -> Finish:
        """Return the finish that a photo belongs to."""
        if self.finish is not None and self.finish.id == photo.finish_id:
            return self.finish
        for _, finishes in self.jobs():
            for finish in finishes:
                if finish.id == photo.finish_id:
                    return finish
        raise LookupError(photo.finish_id)

    def photos(self, finish: Finish | None = None) -> list[Photo]:
        """Return the photos of a finish; of the open one when none is named."""
        own = finish or self.finish
        if own is None:
            return []
        return self._list("photos", own.id, lambda workspace: workspace.photos(own.id))

    def photo(self, photo_id: str) -> Photo | None:
        """Return a photo of the open finish by its id."""
        return next((p for p in self.photos() if p.id == photo_id), None)

    def targets(self, finish: Finish | None = None) -> list[Photo]:
        """Return the photos that are the target of a finish, read together."""
        return [p for p in self.photos(finish) if p.use == "target"]

    def boards(self, finish: Finish | None = None) -> list[tuple[Board, Photo | None]]:
        """Return the test boards of a finish, each with its photo; panels are no boards."""
        return self._pieces("board", finish)

    def panels(self, finish: Finish | None = None) -> list[tuple[Board, Photo | None]]:
        """Return the panels of the wall, each with its photo."""
        return self._pieces("panel", finish)

    def _pieces(self, kind: str, finish: Finish | None) -> list[tuple[Board, Photo | None]]:
        own = finish or self.finish
        if own is None:
            return []

        def read(workspace: Workspace) -> list[tuple[Board, Photo | None]]:
            boards = workspace.boards(own.id)
            return [(board, self._shown_of(board, own)) for board in boards if board.kind == kind]

        return self._list(f"{kind}s", own.id, read)

    def _shown_of(self, board: Board, finish: Finish) -> Photo | None:
        """The photo a board is judged by: the first of it finished; a stage is no board."""
        return next(iter(self.photos_of_board(board.id, finish)), None)

    def photos_of_board(self, board_id: str | None, finish: Finish | None = None) -> list[Photo]:
        """Return all photos of a board as it is finished; they are read together."""
        own = finish or self.finish
        if board_id is None or own is None or self.workspace is None:
            return []

        def read(_: Workspace) -> dict[str, list[Photo]]:
            found: dict[str, list[Photo]] = {}
            for photo in self.photos(own):
                if photo.board_id is not None and is_whole(photo):
                    found.setdefault(photo.board_id, []).append(photo)
            return found

        by_board = self._once(self.workspace, "photos of boards", own.id, read)
        return list(by_board.get(board_id, ()))

    def surfaces(self, finish: Finish | None = None) -> list[Surface]:
        """Return the areas of a finish; of the open one when none is named."""
        own = finish or self.finish
        if own is None:
            return []
        return self._list("surfaces", own.id, lambda workspace: workspace.surfaces(own.id))

    def tins(self) -> list[Tin]:
        """Return everything on the shelf."""
        return self._list("tins", "", lambda workspace: workspace.tins())

    def mixes(self, finish: Finish | None = None) -> list[Mix]:
        """Return the kept jars of a finish; of the open one when none is named."""
        own = finish or self.finish
        if own is None:
            return []
        return self._list("mixes", own.id, lambda workspace: workspace.mixes(own.id))

    def plans(self) -> list[Plan]:
        """Return the kept plans of all finishes of the open job."""
        job = self.job()
        if job is None:
            return []
        own = [finish.id for finish in self.finishes()]
        return self._list("plans", job.id, lambda workspace: workspace.plans(own))

    def entries(self, board: Board) -> list[Entry]:
        """Return all entries of a board's log, oldest first."""
        return self._list("entries", board.id, lambda workspace: workspace.entries([board.id]))

    def next_number(self, kind: str, finish: Finish | None = None) -> int:
        """Return the number of the next board or panel."""
        return max((b.number for b, _ in self._pieces(kind, finish)), default=0) + 1

    # ---- changes, each an undo step

    def change(
        self, words: str, old: Iterable[Record], new: Iterable[Record], drag: str = ""
    ) -> None:
        """Replace records by changed ones, both lists in the same order.

        Changes of one `drag` name that follow each other are one undo step.
        """
        at = time.monotonic()
        self.history.do(
            Change(words=words, before=tuple(old), after=tuple(new), drag=drag, at_s=at)
        )

    def add(self, words: str, *records: Record) -> None:
        """Add new records."""
        gone = [replace(record, deleted_at=now()) for record in records]
        self.change(words, gone, records)

    def remove(self, words: str, *records: Record) -> None:
        """Remove records; they can be had back by undo."""
        self.change(words, records, [replace(record, deleted_at=now()) for record in records])
        self.events.removed.emit(words)

    def set_settings(
        self, photo: Photo, settings: PhotoSettings, words: str, drag: str = ""
    ) -> None:
        """Change how a photo is squared, scaled and neutralised."""
        if settings != photo.settings:
            self.change(words, [photo], [replace(photo, settings=settings)], drag)

    def set_preference(self, name: str, value: Any) -> None:
        """Keep one of the painter's settings."""
        assert self.workspace is not None
        try:
            self.workspace.set_preference(name, value)
        except JarTideError as error:
            self.say(error)
        self.events.changed.emit()

    def open_finish(self, finish: Finish | None) -> None:
        """Choose the finish that is worked on."""
        self.finish = finish
        self.events.changed.emit()

    def _write(self, records: tuple[Record, ...]) -> bool:
        """Save records and tell of it; False, and a sentence, when it can't be done."""
        assert self.workspace is not None
        self.events.writing.emit()
        records = tuple(cleaned(record) for record in records)
        self._forget_of(records)
        try:
            self.workspace.put(*records)
        except JarTideError as error:
            self.say(error)
            return False
        for record in records:
            if self.finish is not None and record.id == self.finish.id:
                self.finish = record if record.deleted_at is None else None  # type: ignore[assignment]
        self.events.written.emit()
        self.events.changed.emit()
        return True
