"""Bring an older workspace up to this version's tables, one step at a time.

Imported only when there is something to migrate. The old file is copied beside
the new one first, and a step is done whole or not at all.
"""

from __future__ import annotations

import json
import re
import shutil
from collections.abc import Callable
from pathlib import Path

import sqlalchemy as sa
from alembic.migration import MigrationContext
from alembic.operations import Operations

from jartide.devices.source import Source
from jartide.errors import WorkspaceError
from jartide.store import tables


def migrate(path: Path, version: int) -> None:
    """Migrate the database at `path` from `version` to the present one.

    Raises
    ------
    WorkspaceError : when the disk is full or the file damaged; the old file is as it was.
    """
    engine = sa.create_engine(f"sqlite:///{path}")
    kept = path.with_suffix(f".version-{version}.sqlite")
    try:
        shutil.copy2(path, kept)
        with engine.begin() as connection:
            operations = Operations(MigrationContext.configure(connection))
            for step in range(version, tables.SCHEMA_VERSION):
                _STEPS[step](operations, connection)
            connection.exec_driver_sql(f"PRAGMA user_version={tables.SCHEMA_VERSION}")
    except (OSError, sa.exc.DBAPIError) as error:
        engine.dispose()
        if kept.exists():
            shutil.copy2(kept, path)
        why = getattr(error, "strerror", None) or str(getattr(error, "orig", error))
        raise WorkspaceError("error.workspace.migrate", name=str(path.parent), why=why) from error
    finally:
        engine.dispose()


def _from_1(operations: Operations, connection: sa.Connection) -> None:
    """Boards get their ticks; a photo's one grey becomes a list of known patches."""
    operations.add_column(
        "boards", sa.Column("checks", sa.JSON, nullable=False, server_default="[]")
    )
    rows = connection.execute(sa.text("SELECT id, settings FROM photos")).all()
    for photo, text in rows:
        settings = json.loads(text)
        grey = settings.pop("neutral", None)
        settings["neutrals"] = [] if grey is None else [grey]
        connection.execute(
            sa.text("UPDATE photos SET settings = :settings WHERE id = :id"),
            {"settings": json.dumps(settings), "id": photo},
        )


def _from_2(operations: Operations, connection: sa.Connection) -> None:
    """Finishes get what is decided of their layers, photos their zones."""
    operations.add_column("finishes", sa.Column("layers", sa.JSON))
    operations.add_column(
        "photos", sa.Column("zones", sa.JSON, nullable=False, server_default="[]")
    )


def _from_3(operations: Operations, connection: sa.Connection) -> None:
    """The shelf and the jars get their tables."""
    for table in (tables.tins, tables.mixes):
        table.create(connection)


def _from_4(operations: Operations, connection: sa.Connection) -> None:
    """Boards get a log; finishes, boards and photos room for more particulars."""
    tables.entries.create(connection)
    for name in ("finishes", "boards", "photos"):
        operations.add_column(name, sa.Column("body", sa.JSON, nullable=False, server_default="{}"))


def _from_5(operations: Operations, connection: sa.Connection) -> None:
    """Finishes get a plan; surfaces what they are made of and where they are."""
    tables.plans.create(connection)
    operations.add_column(
        "surfaces", sa.Column("body", sa.JSON, nullable=False, server_default="{}")
    )


def _from_6(operations: Operations, connection: sa.Connection) -> None:
    """Jobs get room for more particulars."""
    operations.add_column("jobs", sa.Column("body", sa.JSON, nullable=False, server_default="{}"))


# What the made-up devices and their photos were called before they were marked.
_OLD_AIR = "Bench thermo-hygrometer (simulated)"
_OLD_STAND = re.compile(r"^(stand|stativ) \d+\.jpg$")


def _from_7(operations: Operations, connection: sa.Connection) -> None:
    """What a stand-in said is marked as such; what may come from one, as of unknown source."""
    for table, name in (("entries", "logged"), ("plans", "work")):
        for id, text in connection.execute(sa.text(f"SELECT id, body FROM {table}")).all():
            body = json.loads(text)
            air = body.get(name) or {}
            air = (air.get("climate") or {}) if name == "logged" else air
            key = "source" if name == "logged" else "air_source"
            if air.get(key) == _OLD_AIR:
                air[key] = Source.STAND_IN.value
                _put_body(connection, table, id, body)
    for id, file_name, text in connection.execute(
        sa.text("SELECT id, file_name, body FROM photos")
    ).all():
        if _OLD_STAND.match(file_name):
            body = {**json.loads(text), "source": Source.UNKNOWN.value}
            _put_body(connection, "photos", id, body)


def _put_body(connection: sa.Connection, table: str, id: str, body: dict) -> None:
    connection.execute(
        sa.text(f"UPDATE {table} SET body = :body WHERE id = :id"),
        {"body": json.dumps(body), "id": id},
    )


_STEPS: dict[int, Callable[[Operations, sa.Connection], None]] = {
    1: _from_1,
    2: _from_2,
    3: _from_3,
    4: _from_4,
    5: _from_5,
    6: _from_6,
    7: _from_7,
}
