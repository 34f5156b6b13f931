"""Look a whole workspace over: database, records, what belongs to what, every original photo.

Nothing is changed unless it is asked to repair, and then nothing is thrown away: damaged files are
moved aside, and what belongs to nothing is only taken off the lists.
"""

from __future__ import annotations

import contextlib
import json
import os
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from cattrs.errors import BaseValidationError
from sqlalchemy.exc import SQLAlchemyError

from jartide.errors import JarTideError, WorkspaceError
from jartide.store import tables
from jartide.store.files import is_whole
from jartide.store.restoring import DATABASE
from jartide.store.serialise import reading_from_text
from jartide.store.whole import settle_folder
from jartide.store.workspace import KINDS, Workspace, now, record_of
from jartide.wording import Message

DAMAGED = "damaged"
# What each kind of record belongs to: its column, the table it is found in.
_OWNERS = {
    "finishes": ("job_id", "jobs"),
    "surfaces": ("finish_id", "finishes"),
    "boards": ("finish_id", "finishes"),
    "photos": ("finish_id", "finishes"),
    "mixes": ("finish_id", "finishes"),
    "plans": ("finish_id", "finishes"),
    "entries": ("board_id", "boards"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing that is wrong.

    Attributes
    ----------
    kind : "database", "schema", "record", "reference", "reading", "photo_damaged", "photo_lost" or
        "left_over"
    words : what and where, in one sentence
    repaired : whether it is put right now
    """

    kind: str
    words: Message
    repaired: bool = False


def check_workspace(folder: Path, *, repair: bool = False) -> tuple[Finding, ...]:
    """Return all that is wrong with a workspace; nothing of one that is well.

    Raises
    ------
    WorkspaceError : when there is none, or it can't be opened at all; to repair, also while it is
        open in a window.
    """
    path = folder / DATABASE
    if not path.is_file():
        raise WorkspaceError("error.check.none", name=str(folder))
    left = list(_left_over(folder))
    workspace = Workspace.open(folder)
    try:
        if repair and workspace.read_only:
            raise WorkspaceError("error.workspace.read_only")
        with contextlib.closing(sqlite3.connect(path)) as connection:
            found = [
                *(
                    # Opening it has put these right.
                    Finding(kind="left_over", words=words, repaired=not workspace.read_only)
                    for words in left
                ),
                *_database(connection),
            ]
            if not any(finding.kind == "database" for finding in found):
                found += _records(connection, repair=repair)
                found += _references(connection, repair=repair)
                found += _readings(connection, repair=repair)
                found += _photos(connection, workspace, repair=repair)
                connection.commit()
    except (sqlite3.Error, SQLAlchemyError) as error:
        raise WorkspaceError("error.workspace.broken", name=str(folder)) from error
    finally:
        workspace.close()
    return tuple(found)


def _left_over(folder: Path) -> Iterator[Message]:
    for pattern in ("restoring.json", ".restore-*", "photos/.incoming/*"):
        for path in folder.glob(pattern):
            yield Message("check.left_over", name=path.name)


def _database(connection: sqlite3.Connection) -> Iterator[Finding]:
    try:
        told = connection.execute("PRAGMA integrity_check(5)").fetchall()
    except sqlite3.DatabaseError as error:
        told = [(str(error),)]
    if told != [("ok",)]:
        yield Finding(kind="database", words=Message("check.database", what=str(told[0][0])[:200]))
        return
    for table in tables.metadata.sorted_tables:
        rows = connection.execute(f"PRAGMA table_info('{table.name}')").fetchall()
        lacking = {column.name for column in table.columns} - {row[1] for row in rows}
        if lacking:
            what = f"{table.name}: {', '.join(sorted(lacking))}"
            yield Finding(kind="schema", words=Message("check.schema", what=what))


def _records(connection: sqlite3.Connection, *, repair: bool) -> Iterator[Finding]:
    """Records that can't be understood; repaired they are taken off the lists, not away."""
    for kind, table in KINDS.items():
        names = [column.name for column in table.columns]
        as_json = [n for n in names if str(table.c[n].type) == "JSON"]
        for row in _live(connection, table.name, names):
            plain = dict(zip(names, row, strict=True))
            try:
                for name in as_json:
                    plain[name] = None if plain[name] is None else json.loads(plain[name])
                record_of(kind, plain)
            except (BaseValidationError, ValueError, TypeError, KeyError, AttributeError):
                words = Message("check.record", what=table.name, which=str(plain["id"])[:60])
                yield _off_the_lists(connection, "record", words, table.name, plain["id"], repair)


def _references(connection: sqlite3.Connection, *, repair: bool) -> Iterator[Finding]:
    for name, (column, owner) in _OWNERS.items():
        there = {row[0] for row in connection.execute(f"SELECT id FROM {owner}")}
        for id, owned_by in _live(connection, name, ["id", column]):
            if owned_by not in there:
                words = Message("check.reference", what=name, which=str(id)[:60])
                yield _off_the_lists(connection, "reference", words, name, id, repair)


def _live(connection: sqlite3.Connection, table: str, names: list[str]) -> list[Any]:
    asked = ", ".join(f'"{name}"' for name in names)
    return connection.execute(f"SELECT {asked} FROM {table} WHERE deleted_at IS NULL").fetchall()


def _off_the_lists(
    connection: sqlite3.Connection, kind: str, words: Message, table: str, id: str, repair: bool
) -> Finding:
    if repair:
        connection.execute(f"UPDATE {table} SET deleted_at = ? WHERE id = ?", (now(), id))
    return Finding(kind=kind, words=words, repaired=repair)


def _readings(connection: sqlite3.Connection, *, repair: bool) -> Iterator[Finding]:
    """Kept readings that can't be read: repaired they are made again from the photo."""
    broken = []
    for id, text in connection.execute("SELECT id, reading FROM readings"):
        try:
            reading_from_text(text)
        except (JarTideError, ValueError, TypeError, AttributeError, RecursionError):
            broken.append((id,))
    if broken:
        if repair:
            connection.executemany("DELETE FROM readings WHERE id = ?", broken)
        words = Message("check.readings", count=len(broken))
        yield Finding(kind="reading", words=words, repaired=repair)


def _photos(
    connection: sqlite3.Connection, workspace: Workspace, *, repair: bool
) -> Iterator[Finding]:
    whole = set()
    for path in workspace.files.all():
        sha256 = path.name[:64]
        if is_whole(path, sha256):
            whole.add(sha256)
            continue
        if repair:
            _move_aside(path, workspace.folder / DAMAGED)
        words = Message("check.photo_damaged", name=path.name)
        yield Finding(kind="photo_damaged", words=words, repaired=repair)
    names = dict(_live(connection, "photos", ["sha256", "file_name"]))
    for sha256, name in names.items():
        if sha256 not in whole:
            yield Finding(kind="photo_lost", words=Message("check.photo_lost", name=name))


def _move_aside(path: Path, folder: Path) -> None:
    folder.mkdir(exist_ok=True)
    target, number = folder / path.name, 2
    while target.exists():
        target, number = folder / f"{path.stem}.{number}{path.suffix}", number + 1
    os.rename(path, target)
    settle_folder(folder)
