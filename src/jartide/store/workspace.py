"""The workspace: a folder with an SQLite database and the original photos.

Every `put` is one transaction, so what the painter did is either saved whole
or not at all. One window owns a workspace; a second one opens it read-only.
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
from collections.abc import Collection, Iterable, Iterator
from copy import deepcopy
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, TypeVar

from sqlalchemy import URL, Engine, Table, create_engine, event, literal_column, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.exc import DBAPIError

from jartide.errors import WorkspaceError
from jartide.reading.decisions import LayerChoices
from jartide.reading.result import ALGORITHM, Reading
from jartide.store import tables
from jartide.store.files import PhotoFiles, clear_incoming
from jartide.store.jar_records import Mix, Tin
from jartide.store.lock import Lock
from jartide.store.plain_text import cleaned
from jartide.store.records import (
    Board,
    Entry,
    Finish,
    Job,
    Photo,
    Plan,
    ReadingKey,
    Record,
    Surface,
)
from jartide.store.restoring import DATABASE, JOURNAL, finish_swap
from jartide.store.serialise import (
    converter,
    reading_from_text,
    reading_revision,
    reading_to_text,
)

KINDS: dict[type, Table] = {
    Job: tables.jobs,
    Finish: tables.finishes,
    Surface: tables.surfaces,
    Board: tables.boards,
    Photo: tables.photos,
    Tin: tables.tins,
    Mix: tables.mixes,
    Entry: tables.entries,
    Plan: tables.plans,
}
_R = TypeVar("_R", Job, Finish, Surface, Board, Photo, Tin, Mix, Entry, Plan)


def now() -> str:
    """Return the time as records keep it: UTC, ISO 8601."""
    return datetime.now(UTC).isoformat(timespec="seconds")


class Workspace:
    """An open workspace."""

    def __init__(self, folder: Path, engine: Engine, lock: Lock | None) -> None:
        self.folder = folder
        self.files = PhotoFiles(folder / "photos", self._check_writable)
        self._engine = engine
        self._lock = lock
        self._identity = _identity(folder / DATABASE)
        # What was made of each row, with the row.
        self._made: dict[tuple[type, str], tuple[dict[str, Any], Any]] = {}
        # Asked for many times at every change; whoever writes them holds the lock.
        self._preferences: dict[str, Any] | None = None

    @property
    def read_only(self) -> bool:
        """Whether another window owns this workspace."""
        return self._lock is None

    def is_there(self) -> bool:
        """Whether the folder still holds the very database that was opened."""
        return self._identity is not None and _identity(self.folder / DATABASE) == self._identity

    @classmethod
    def open(cls, folder: Path) -> Workspace:
        """Open a workspace, or make a new one in an empty or missing folder.

        Raises
        ------
        WorkspaceError : when it can't be written, is damaged, newer, or another program's.
        """
        # A relative folder would move with the process, and could be taken for an address.
        folder = Path(os.path.abspath(folder))
        lock = Lock.taken(folder)
        try:
            return cls(folder, _opened(folder, lock), lock)
        except Exception as error:
            if lock is not None:
                lock.let_go()
            if isinstance(error, OSError | DBAPIError):
                why = getattr(error, "strerror", None) or str(getattr(error, "orig", error))
                raise WorkspaceError(
                    "error.workspace.unwritable", name=str(folder), why=why
                ) from error
            raise

    def close(self) -> None:
        """Close the database and let go of the folder."""
        self._engine.dispose()
        if self._lock is not None:
            self._lock.let_go()

    # ---- writing

    def put(self, *records: Record) -> None:
        """Save records, new or changed, in one transaction.

        Raises
        ------
        WorkspaceError : when another window owns the workspace or the disk can't be written;
            nothing is changed then.
        """
        self.put_all(records, ())

    def put_all(self, records: Iterable[Record], readings: Iterable[dict[str, Any]]) -> None:
        """Save records and readings that were kept elsewhere, in one transaction.

        Raises
        ------
        WorkspaceError : as for `put`.
        """
        with self._writing() as connection:
            for record in records:
                row = _row_of(cleaned(record))
                statement = insert(KINDS[type(record)]).values(row)
                connection.execute(statement.on_conflict_do_update(index_elements=["id"], set_=row))
            for reading in readings:
                connection.execute(insert(tables.readings).values(reading).on_conflict_do_nothing())

    def put_reading(
        self,
        photo: Photo,
        family: str,
        reading: Reading | str,
        seed: int = 0,
        choices: LayerChoices | None = None,
    ) -> None:
        """Keep a reading of a photo as it is set now; one kept already stays as it is.

        It may be given as the text that `reading_to_text` made of it, away from the asking thread.
        """
        key = self.reading_key(photo, family, seed, choices)
        kept = reading if isinstance(reading, str) else reading_to_text(reading)
        with self._writing() as connection:
            row = {**asdict(key), "made_at": now(), "reading": kept}
            connection.execute(insert(tables.readings).values(row).on_conflict_do_nothing())

    def set_preference(self, name: str, value: Any) -> None:
        """Keep one of the painter's settings."""
        with self._writing() as connection:
            row = {"name": name, "value": value}
            statement = insert(tables.preferences).values(row)
            connection.execute(statement.on_conflict_do_update(index_elements=["name"], set_=row))
        self._preferences = None

    @contextlib.contextmanager
    def _writing(self) -> Iterator[Any]:
        self._check_writable()
        try:
            with self._engine.begin() as connection:
                yield connection
        except DBAPIError as error:
            raise WorkspaceError("error.workspace.full", why=str(error.orig)) from error

    def _check_writable(self) -> None:
        if self.read_only:
            raise WorkspaceError("error.workspace.read_only")
        if not self.is_there():
            # The database that is open may live on without a name: nothing put there would last.
            raise WorkspaceError("error.workspace.gone", name=str(self.folder))

    # ---- reading

    def jobs(self) -> list[Job]:
        """Return all jobs in their order."""
        return self._all(Job, tables.jobs.c.deleted_at.is_(None))

    def finishes(self, job_id: str) -> list[Finish]:
        """Return a job's finishes in their order."""
        c = tables.finishes.c
        return self._all(Finish, (c.job_id == job_id) & c.deleted_at.is_(None))

    def all_finishes(self) -> dict[str, list[Finish]]:
        """Return the finishes of every job in their order, by the job's id."""
        found: dict[str, list[Finish]] = {}
        for finish in self._all(Finish, tables.finishes.c.deleted_at.is_(None)):
            found.setdefault(finish.job_id, []).append(finish)
        return found

    def jobs_with_finishes(self) -> list[tuple[Job, list[Finish]]]:
        """Return all jobs in their order, each with its finishes."""
        finishes = self.all_finishes()
        return [(job, finishes.get(job.id, [])) for job in self.jobs()]

    def rows(self, query: Any) -> list[Any]:
        """Return the rows of a query over `store.tables`, for lists of very many records."""
        with self._engine.connect() as connection:
            return list(connection.execute(query))

    def surfaces(self, finish_id: str) -> list[Surface]:
        """Return the areas of a finish."""
        c = tables.surfaces.c
        return self._all(Surface, (c.finish_id == finish_id) & c.deleted_at.is_(None))

    def boards(self, finish_id: str) -> list[Board]:
        """Return the boards of a finish by number."""
        c = tables.boards.c
        return self._all(Board, (c.finish_id == finish_id) & c.deleted_at.is_(None))

    def photos(self, finish_id: str) -> list[Photo]:
        """Return the photos of a finish, those of its boards among them, in their order."""
        c = tables.photos.c
        return self._all(Photo, (c.finish_id == finish_id) & c.deleted_at.is_(None))

    def tins(self) -> list[Tin]:
        """Return the shelf: every product in its order."""
        return self._all(Tin, tables.tins.c.deleted_at.is_(None))

    def mixes(self, finish_id: str) -> list[Mix]:
        """Return the jars of a finish."""
        c = tables.mixes.c
        return self._all(Mix, (c.finish_id == finish_id) & c.deleted_at.is_(None))

    def entries(self, board_ids: Collection[str]) -> list[Entry]:
        """Return the logs of boards, oldest entry first, those corrected since among them."""
        c = tables.entries.c
        return self._all(Entry, c.board_id.in_(board_ids) & c.deleted_at.is_(None))

    def plans(self, finish_ids: Collection[str]) -> list[Plan]:
        """Return the plans of finishes, one each at most."""
        c = tables.plans.c
        return self._all(Plan, c.finish_id.in_(finish_ids) & c.deleted_at.is_(None))

    def reading_key(
        self, photo: Photo, family: str, seed: int = 0, choices: LayerChoices | None = None
    ) -> ReadingKey:
        """Return what a reading of this photo, as it is set and decided now, is kept under."""
        return ReadingKey(
            sha256=photo.sha256,
            settings_revision=reading_revision(photo.settings, choices, photo.zones),
            family=family,
            algorithm=ALGORITHM,
            seed=seed,
        )

    def reading(
        self, photo: Photo, family: str, seed: int = 0, choices: LayerChoices | None = None
    ) -> Reading | None:
        """Return the kept reading of a photo as it is set and decided now, or None."""
        key = asdict(self.reading_key(photo, family, seed, choices))
        c = tables.readings.c
        with self._engine.connect() as connection:
            query = select(c.reading)
            for name, value in key.items():
                query = query.where(c[name] == value)
            text = connection.execute(query).scalar()
        return None if text is None else reading_from_text(text)

    def kept_readings(self, sha256s: Collection[str]) -> list[dict[str, Any]]:
        """Return the kept readings of photos as rows, oldest first, without their row's number."""
        c = tables.readings.c
        with self._engine.connect() as connection:
            rows = connection.execute(
                select(tables.readings).where(c.sha256.in_(sha256s)).order_by(c.id)
            )
            return [{k: v for k, v in row.items() if k != "id"} for row in rows.mappings()]

    def preference(self, name: str, default: Any = None) -> Any:
        """Return one of the painter's settings."""
        known = self._preferences
        if known is None or self.read_only:
            c = tables.preferences.c
            known = {row[0]: row[1] for row in self.rows(select(c.name, c.value))}
            self._preferences = known
        # What is handed out may be changed by whoever asked.
        return deepcopy(known.get(name, default))

    def photo_bytes(self, photo: Photo) -> bytes:
        """Return the original file of a photo.

        Raises
        ------
        WorkspaceError : when the file is gone.
        """
        path = self.files.path(photo.sha256)
        if path is None:
            raise WorkspaceError("error.workspace.photo_lost", name=photo.file_name)
        return path.read_bytes()

    def _all(self, kind: type[_R], condition: Any) -> list[_R]:
        table = KINDS[kind]
        # What has no order of its own comes as it was made.
        order: Any = next(
            (table.c[name] for name in ("number", "position", "at") if name in table.c),
            literal_column("rowid"),
        )
        with self._engine.connect() as connection:
            rows = connection.execute(
                select(table).where(condition).order_by(order, literal_column("rowid"))
            )
            names = tuple(rows.keys())
            # All at once: between two rows a busy thread in the background may take its turn.
            return [self._record(kind, dict(zip(names, row, strict=True))) for row in rows.all()]

    def _record(self, kind: type[_R], given: dict[str, Any]) -> _R:
        """The record of a row: the very object of the last time, unless the row has changed.

        To make one takes ten times as long as to look whether it is the same.
        """
        known = self._made.get((kind, given["id"]))
        if known is not None and known[0] == given:
            return known[1]
        made = record_of(kind, dict(given))
        self._made[kind, given["id"]] = (given, made)
        return made


def _row_of(record: Record) -> dict[str, Any]:
    """Return a row; particulars that are never searched by share one JSON column."""
    plain = converter().unstructure(record)
    columns = {c.name for c in KINDS[type(record)].columns} - {"body"}
    row = {name: plain.pop(name) for name in columns}
    return {**row, "body": plain} if plain else row


def record_of(kind: type[_R], row: dict[str, Any]) -> _R:
    """Return a record of a row's columns, its JSON decoded."""
    return converter().structure({**row.pop("body", {}), **row}, kind)


def _opened(folder: Path, lock: Lock | None) -> Engine:
    """Return the engine of a workspace that is whole and of this version."""
    path = folder / DATABASE
    if lock is not None:
        finish_swap(folder)
        clear_incoming(folder / "photos")
    elif (folder / JOURNAL).exists():
        raise WorkspaceError("error.workspace.restoring", name=str(folder))
    version = _checked_version(path)
    if version is not None and version < tables.SCHEMA_VERSION:
        if lock is None:
            raise WorkspaceError("error.workspace.older", name=str(folder))
        # Only old workspaces need it.
        from jartide.store.migrate import migrate

        migrate(path, version, tables.SCHEMA_VERSION)
    if version is None:
        if lock is None:
            raise WorkspaceError("error.workspace.begun", name=str(folder))
        _create(path)
    return _engine(path)


def _identity(path: Path) -> tuple[int, int] | None:
    """What tells a file from any other, whatever it is called; None of none."""
    try:
        found = path.stat()
    except (OSError, ValueError):
        return None
    return found.st_dev, found.st_ino


def _engine(path: Path) -> Engine:
    engine = create_engine(URL.create("sqlite", database=os.fspath(path)))

    @event.listens_for(engine, "connect")
    def _set_up(connection: sqlite3.Connection, _: Any) -> None:
        with contextlib.suppress(sqlite3.OperationalError):  # a read-only disk keeps its mode
            connection.execute("PRAGMA journal_mode=WAL")
        connection.execute("PRAGMA synchronous=FULL")

    return engine


def _create(path: Path) -> None:
    """Make the tables: all at once, with the marks that say whose they are."""
    engine = _engine(path)
    try:
        with engine.connect() as connection:
            # What Python's driver begins by itself would leave the tables outside of it.
            raw = connection.connection.dbapi_connection
            assert isinstance(raw, sqlite3.Connection)
            raw.isolation_level = None
            connection.exec_driver_sql("BEGIN IMMEDIATE")
            tables.metadata.create_all(connection, checkfirst=False)
            connection.exec_driver_sql(f"PRAGMA user_version={tables.SCHEMA_VERSION}")
            connection.exec_driver_sql(f"PRAGMA application_id={tables.APPLICATION_ID}")
            connection.exec_driver_sql("COMMIT")
    finally:
        engine.dispose()


def _checked_version(path: Path) -> int | None:
    """Return the schema version, None of a database that is not begun; refuse any other.

    Raises
    ------
    WorkspaceError : of what is damaged, another program's, or newer.
    """
    name = os.fspath(path.parent)
    if not path.exists() or path.stat().st_size == 0:
        return None
    try:
        with contextlib.closing(sqlite3.connect(path)) as connection:
            version = connection.execute("PRAGMA user_version").fetchone()[0]
            application = connection.execute("PRAGMA application_id").fetchone()[0]
            known = connection.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
    except sqlite3.DatabaseError as error:
        raise WorkspaceError("error.workspace.broken", name=name) from error
    if (version, application, known) == (0, 0, 0):
        return None
    if application != tables.APPLICATION_ID:
        raise WorkspaceError("error.workspace.foreign", name=name)
    if version > tables.SCHEMA_VERSION:
        raise WorkspaceError("error.workspace.newer", name=name)
    return int(version)
