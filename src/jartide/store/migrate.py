"""Bring an older workspace up to this version's tables: all steps in one transaction, or none.

Each step is its own SQL, as it was right when it was made: later changes to the tables are later
steps. A whole copy of the old database is put beside it first and stays.
"""

from __future__ import annotations

import contextlib
import filecmp
import json
import re
import sqlite3
from collections.abc import Callable, Sequence
from pathlib import Path

from jartide.errors import WorkspaceError
from jartide.store.whole import put_in_place, remove_quietly

# What a step does: statements, or what has to look at each row.
Step = Sequence[str] | Callable[[sqlite3.Connection], None]


def migrate(path: Path, version: int, to_version: int) -> None:
    """Migrate the database at `path` from `version` to `to_version`.

    Raises
    ------
    WorkspaceError : when the disk is full or the file damaged; the old file is as it was.
    """
    try:
        keep_copy(path, version)
        # Without a mode of its own Python begins no transaction behind our back.
        with contextlib.closing(sqlite3.connect(path, isolation_level=None)) as connection:
            connection.execute("PRAGMA synchronous=FULL")
            connection.execute("BEGIN IMMEDIATE")
            for number in range(version, to_version):
                _carry_out(_STEPS[number], connection)
            # The version goes with the tables: both are there after the commit, or neither.
            connection.execute(f"PRAGMA user_version={to_version:d}")
            connection.execute("COMMIT")
    except (OSError, sqlite3.Error, ValueError) as error:
        why = getattr(error, "strerror", None) or str(error)
        raise WorkspaceError("error.workspace.migrate", name=str(path.parent), why=why) from error


def keep_copy(path: Path, version: int) -> Path:
    """Put a whole copy of a database beside it; one that is there already is never touched.

    Raises
    ------
    OSError, sqlite3.Error : nothing is left of the copy.
    """
    half_done = path.with_name(f".{path.stem}.version-{version}.part")
    half_done.unlink(missing_ok=True)
    try:
        with (
            contextlib.closing(sqlite3.connect(path)) as old,
            contextlib.closing(sqlite3.connect(half_done)) as new,
        ):
            old.backup(new)
        kept, number = path.with_suffix(f".version-{version}.sqlite"), 2
        while kept.exists():
            if filecmp.cmp(kept, half_done, shallow=False):
                # Kept by an attempt that came to nothing.
                half_done.unlink()
                return kept
            kept = path.with_suffix(f".version-{version}.{number}.sqlite")
            number += 1
        put_in_place(half_done, kept)
    except (OSError, sqlite3.Error):
        remove_quietly(half_done)
        raise
    return kept


def _carry_out(step: Step, connection: sqlite3.Connection) -> None:
    if callable(step):
        step(connection)
        return
    for statement in step:
        connection.execute(statement)


def _one_grey_to_many(connection: sqlite3.Connection) -> None:
    """Boards get their ticks; a photo's one grey becomes a list of known patches."""
    connection.execute("ALTER TABLE boards ADD COLUMN checks JSON DEFAULT '[]' NOT NULL")
    for photo, text in connection.execute("SELECT id, settings FROM photos").fetchall():
        settings = json.loads(text)
        grey = settings.pop("neutral", None)
        settings["neutrals"] = [] if grey is None else [grey]
        connection.execute(
            "UPDATE photos SET settings = ? WHERE id = ?", (json.dumps(settings), photo)
        )


_LAYERS_AND_ZONES = (
    "ALTER TABLE finishes ADD COLUMN layers JSON",
    "ALTER TABLE photos ADD COLUMN zones JSON DEFAULT '[]' NOT NULL",
)
_SHELF_AND_JARS = (
    """CREATE TABLE tins (
        id VARCHAR NOT NULL, name VARCHAR NOT NULL, position INTEGER NOT NULL,
        body JSON NOT NULL, deleted_at VARCHAR, PRIMARY KEY (id)
    )""",
    """CREATE TABLE mixes (
        id VARCHAR NOT NULL, finish_id VARCHAR NOT NULL, name VARCHAR NOT NULL,
        position INTEGER NOT NULL, body JSON NOT NULL, deleted_at VARCHAR, PRIMARY KEY (id)
    )""",
    "CREATE INDEX ix_mixes_finish_id ON mixes (finish_id)",
)
_LOGS = (
    """CREATE TABLE entries (
        id VARCHAR NOT NULL, board_id VARCHAR NOT NULL, at VARCHAR NOT NULL,
        body JSON NOT NULL, deleted_at VARCHAR, PRIMARY KEY (id)
    )""",
    "CREATE INDEX ix_entries_board_id ON entries (board_id)",
    "ALTER TABLE finishes ADD COLUMN body JSON DEFAULT '{}' NOT NULL",
    "ALTER TABLE boards ADD COLUMN body JSON DEFAULT '{}' NOT NULL",
    "ALTER TABLE photos ADD COLUMN body JSON DEFAULT '{}' NOT NULL",
)
_PLANS = (
    """CREATE TABLE plans (
        id VARCHAR NOT NULL, finish_id VARCHAR NOT NULL, body JSON NOT NULL,
        deleted_at VARCHAR, PRIMARY KEY (id)
    )""",
    "CREATE INDEX ix_plans_finish_id ON plans (finish_id)",
    "ALTER TABLE surfaces ADD COLUMN body JSON DEFAULT '{}' NOT NULL",
)
_JOBS = ("ALTER TABLE jobs ADD COLUMN body JSON DEFAULT '{}' NOT NULL",)

# What the made-up devices and their photos were called before they were marked.
_OLD_AIR = "Bench thermo-hygrometer (simulated)"
_OLD_STAND = re.compile(r"^(stand|stativ) \d+\.jpg$")


def _stand_ins_marked(connection: sqlite3.Connection) -> None:
    """What a stand-in said is marked as such; what may come from one, as of unknown source."""
    for table, name in (("entries", "logged"), ("plans", "work")):
        for id, text in connection.execute(f"SELECT id, body FROM {table}").fetchall():
            body = json.loads(text)
            air = body.get(name) or {}
            air = (air.get("climate") or {}) if name == "logged" else air
            key = "source" if name == "logged" else "air_source"
            if air.get(key) == _OLD_AIR:
                air[key] = "stand_in"
                _put_body(connection, table, id, body)
    photos = connection.execute("SELECT id, file_name, body FROM photos").fetchall()
    for id, file_name, text in photos:
        if _OLD_STAND.match(file_name):
            _put_body(connection, "photos", id, {**json.loads(text), "source": "unknown"})


def _put_body(connection: sqlite3.Connection, table: str, id: str, body: dict) -> None:
    connection.execute(f"UPDATE {table} SET body = ? WHERE id = ?", (json.dumps(body), id))


# By the version that each step starts from.
_STEPS: dict[int, Step] = {
    1: _one_grey_to_many,
    2: _LAYERS_AND_ZONES,
    3: _SHELF_AND_JARS,
    4: _LOGS,
    5: _PLANS,
    6: _JOBS,
    7: _stand_ins_marked,
}
