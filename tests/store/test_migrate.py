"""An older workspace is brought up to date, whole or not at all."""

from __future__ import annotations

import contextlib
import json
import sqlite3
import sys

import pytest

from jartide.boards.log import Climate, EntryKind, Logged
from jartide.devices.source import Source
from jartide.errors import WorkspaceError
from jartide.plan.work import Work
from jartide.store import tables
from jartide.store.records import Board, BoardCheck, Entry, Finish, Job, Photo, Plan, Stage
from jartide.store.workspace import Workspace, now

NEUTRAL = {"rect": {"x": 10.0, "y": 20.0, "w": 30.0, "h": 40.0}, "lightness": 60.0}


@pytest.fixture
def old_folder(tmp_path):
    """A workspace as the first version left it: one grey, boards without ticks."""
    folder = tmp_path / "w"
    workspace = Workspace.open(folder)
    job = Job(name="Hotel Vessary", created_at=now())
    finish = Finish(job_id=job.id, name="Bar front")
    board = Board(finish_id=finish.id, number=1, made_at=now())
    photo = Photo(finish_id=finish.id, sha256="ab" * 32, file_name="a.jpg", added_at=now())
    workspace.put(job, finish, board, photo)
    workspace.close()
    settings = {
        "corners": None,
        "size_mm": None,
        "known_length": None,
        "mm_per_px": 0.2,
        "neutral": NEUTRAL,
        "region": None,
    }
    with contextlib.closing(sqlite3.connect(folder / "workspace.sqlite")) as connection:
        connection.execute("ALTER TABLE boards DROP COLUMN checks")
        connection.execute("ALTER TABLE finishes DROP COLUMN layers")
        connection.execute("ALTER TABLE photos DROP COLUMN zones")
        connection.execute("DROP TABLE tins")
        connection.execute("DROP TABLE mixes")
        connection.execute("DROP TABLE entries")
        connection.execute("DROP TABLE plans")
        for name in ("jobs", "finishes", "boards", "photos", "surfaces"):
            connection.execute(f"ALTER TABLE {name} DROP COLUMN body")
        connection.execute("UPDATE photos SET settings = ?", (json.dumps(settings),))
        connection.execute("PRAGMA user_version = 1")
        connection.commit()
    return folder, finish.id


def version_of(folder):
    with contextlib.closing(sqlite3.connect(folder / "workspace.sqlite")) as connection:
        return connection.execute("PRAGMA user_version").fetchone()[0]


def test_an_old_workspace_opens_with_all_it_held(old_folder):
    folder, finish_id = old_folder
    workspace = Workspace.open(folder)
    (photo,) = workspace.photos(finish_id)
    (patch,) = photo.settings.neutrals
    assert (patch.rect.x, patch.lightness) == (10.0, 60.0)
    assert photo.settings.mm_per_px == 0.2
    (board,) = workspace.boards(finish_id)
    assert board.checks == ()
    assert photo.zones == () and photo.faults == () and photo.stage == Stage()
    assert workspace.entries([board.id]) == []
    assert workspace.plans([finish_id]) == []
    workspace.close()
    assert version_of(folder) == tables.SCHEMA_VERSION
    assert (folder / "workspace.version-1.sqlite").exists()  # the old file is kept beside


def test_ticks_are_kept(old_folder):
    folder, finish_id = old_folder
    workspace = Workspace.open(folder)
    (board,) = workspace.boards(finish_id)
    from dataclasses import replace

    workspace.put(replace(board, checks=(BoardCheck.DRY, BoardCheck.CARD_ON_FACE)))
    workspace.close()
    again = Workspace.open(folder)
    assert again.boards(finish_id)[0].checks == (BoardCheck.DRY, BoardCheck.CARD_ON_FACE)
    again.close()


def test_what_can_not_be_migrated_is_left_as_it_was(old_folder):
    folder, _ = old_folder
    with contextlib.closing(sqlite3.connect(folder / "workspace.sqlite")) as connection:
        connection.execute("DROP TABLE boards")
        connection.commit()
    before = (folder / "workspace.sqlite").read_bytes()
    with pytest.raises(WorkspaceError, match="left as it was"):
        Workspace.open(folder)
    assert (folder / "workspace.sqlite").read_bytes() == before
    assert version_of(folder) == 1


def test_migration_tools_are_imported_only_to_migrate(tmp_path):
    import subprocess

    code = (
        "import sys; from pathlib import Path; from jartide.store.workspace import Workspace;"
        f"Workspace.open(Path({str(tmp_path / 'new')!r})).close();"
        "sys.exit('alembic' in sys.modules)"
    )
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0


def test_what_stand_ins_said_before_they_were_marked_is_marked(tmp_path):
    folder = tmp_path / "w"
    workspace = Workspace.open(folder)
    job = Job(name="Hotel Vessary", created_at=now())
    finish = Finish(job_id=job.id, name="Bar front")
    board = Board(finish_id=finish.id, number=1, made_at=now())
    name = "Bench thermo-hygrometer (simulated)"
    airs = [Climate(temperature_c=18.0, humidity_percent=50.0, source=s) for s in (name, "")]
    entries = [
        Entry(
            board_id=board.id,
            at=f"2026-01-0{n + 1}",
            logged=Logged(kind=EntryKind.CLIMATE, climate=air),
        )
        for n, air in enumerate(airs)
    ]
    plan = Plan(finish_id=finish.id, work=Work(air_source=name))
    photos = [
        Photo(finish_id=finish.id, sha256="ab" * 32, file_name=f, added_at=now(), position=n)
        for n, f in enumerate(("stand 2.jpg", "stativ 1.jpg", "bar.jpg"))
    ]
    workspace.put(job, finish, board, *entries, plan, *photos)
    workspace.close()
    with contextlib.closing(sqlite3.connect(folder / "workspace.sqlite")) as connection:
        connection.execute("PRAGMA user_version = 7")
        connection.commit()
    opened = Workspace.open(folder)
    found = sorted(opened.entries([board.id]), key=lambda e: e.at)
    assert [e.logged.climate.source for e in found] == ["stand_in", ""]
    (plan,) = opened.plans([finish.id])
    assert plan.work.air_source == "stand_in"
    marked = [p.source for p in sorted(opened.photos(finish.id), key=lambda p: p.position)]
    assert marked == [Source.UNKNOWN, Source.UNKNOWN, Source.FILE]
    opened.close()
