"""A workspace of every earlier version is brought up to date, whole or not at all."""

from __future__ import annotations

import contextlib
import os
import re
import sqlite3
import subprocess
import sys
from functools import partial
from pathlib import Path

import pytest

from campaigns.moments import ended_before
from jartide.boards.log import EntryKind
from jartide.devices.source import Source
from jartide.errors import WorkspaceError
from jartide.store import migrate, tables
from jartide.store.records import Stage
from jartide.store.workspace import Workspace

# Made by each version's own code: tools/make_old_workspaces.py.
OLD = Path(__file__).with_name("workspaces")
VERSIONS = sorted(int(path.stem.split("-")[1]) for path in OLD.glob("version-*.sql"))
DATABASE = "workspace.sqlite"


def old_folder(place, version):
    """A workspace's folder as a version left it."""
    folder = place / f"of {version}"
    folder.mkdir()
    with contextlib.closing(sqlite3.connect(folder / DATABASE)) as connection:
        connection.executescript((OLD / f"version-{version}.sql").read_text("utf-8"))
    return folder


def version_of(folder):
    with contextlib.closing(sqlite3.connect(folder / DATABASE)) as connection:
        return connection.execute("PRAGMA user_version").fetchone()[0]


def shape_of(folder):
    """Every table with its columns, and every index, as the database itself knows them."""
    with contextlib.closing(sqlite3.connect(folder / DATABASE)) as connection:
        found = {}
        for kind, name in connection.execute("SELECT type, name FROM sqlite_master").fetchall():
            rows = connection.execute(f"PRAGMA {kind}_info('{name}')").fetchall()
            # Where a column stands depends on when it came in.
            found[kind, name] = sorted(row[1:] if kind == "table" else row[2:] for row in rows)
        return found


def test_there_is_a_workspace_of_every_version():
    assert [*VERSIONS, tables.SCHEMA_VERSION] == list(range(1, tables.SCHEMA_VERSION + 1))


@pytest.mark.parametrize("version", VERSIONS)
def test_an_old_workspace_opens_with_all_it_held(tmp_path, version):
    folder = old_folder(tmp_path, version)
    before = (folder / DATABASE).read_bytes()
    workspace = Workspace.open(folder)
    (job,) = workspace.jobs()
    assert (job.name, job.client, job.archived_at) == ("Hotel Vessary", "The house", None)
    (finish,) = workspace.finishes(job.id)
    assert (finish.name, finish.layers, finish.approval) == ("Bar front", None, None)
    (surface,) = workspace.surfaces(finish.id)
    assert (surface.width_mm, surface.height_mm) == (2400.0, 1100.0)
    (board,) = workspace.boards(finish.id)
    assert board.checks == ()
    slab, stand = workspace.photos(finish.id)
    (patch,) = slab.settings.neutrals
    assert (patch.rect.x, patch.lightness, slab.settings.mm_per_px) == (10.0, 60.0, 0.2)
    assert slab.zones == () and slab.faults == () and slab.stage == Stage()
    # Photos may have come from a stand-in before those were marked.
    assert (slab.source, stand.source) == (Source.FILE, Source.UNKNOWN)
    assert [tin.name for tin in workspace.tins()] == (["White"] if version >= 4 else [])
    assert len(workspace.mixes(finish.id)) == (version >= 4)
    entries = workspace.entries([board.id])
    assert [e.logged.kind for e in entries] == ([EntryKind.CLIMATE] if version >= 5 else [])
    assert all(e.logged.climate.source == Source.STAND_IN for e in entries)
    plans = workspace.plans([finish.id])
    assert [p.work.air_source for p in plans] == ([Source.STAND_IN] if version >= 6 else [])
    assert workspace.preference("language") == "de"
    assert len(workspace.kept_readings(["0b" * 32])) == 1
    workspace.put(job)
    workspace.close()
    assert version_of(folder) == tables.SCHEMA_VERSION
    # The old database is kept beside it, and can be opened by what made it.
    kept = folder / f"workspace.version-{version}.sqlite"
    assert sorted(_dump(kept)) == sorted(_dump_of(before, tmp_path))


def _dump(path):
    with contextlib.closing(sqlite3.connect(path)) as connection:
        version = connection.execute("PRAGMA user_version").fetchone()[0]
        return [str(version), *connection.iterdump()]


def _dump_of(data, place):
    (place / "before.sqlite").write_bytes(data)
    return _dump(place / "before.sqlite")


@pytest.mark.parametrize("version", VERSIONS)
def test_it_then_has_the_tables_of_a_new_one(tmp_path, version):
    folder = old_folder(tmp_path, version)
    Workspace.open(folder).close()
    Workspace.open(tmp_path / "new").close()
    assert shape_of(folder) == shape_of(tmp_path / "new")


def test_steps_do_not_follow_the_tables_of_today():
    """A column that comes in next must not come in with a step of long ago."""
    source = Path(migrate.__file__).read_text("utf-8")
    assert not re.search(r"import tables|sqlalchemy|SCHEMA_VERSION", source)


def test_what_can_not_be_migrated_is_left_as_it_was(tmp_path):
    folder = old_folder(tmp_path, 1)
    with contextlib.closing(sqlite3.connect(folder / DATABASE)) as connection:
        connection.execute("UPDATE photos SET settings = '{' WHERE id = 'photo1'")
        connection.commit()
    before = (folder / DATABASE).read_bytes()
    for _ in range(2):
        with pytest.raises(WorkspaceError, match="left as it was"):
            Workspace.open(folder)
        assert (folder / DATABASE).read_bytes() == before
    assert version_of(folder) == 1
    # The second attempt had the same copy to make: one is enough.
    assert [path.name for path in folder.glob("*version*")] == ["workspace.version-1.sqlite"]


def test_a_copy_that_is_kept_is_never_written_over(tmp_path):
    folder = old_folder(tmp_path, 3)
    (folder / "workspace.version-3.sqlite").write_bytes(b"of another day")
    Workspace.open(folder).close()
    assert (folder / "workspace.version-3.sqlite").read_bytes() == b"of another day"
    assert len(_dump(folder / "workspace.version-3.2.sqlite")) > 20


def test_a_full_disk_leaves_the_old_database_alone(tmp_path, monkeypatch):
    folder = old_folder(tmp_path, 2)
    before = (folder / DATABASE).read_bytes()

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(migrate, "put_in_place", full)
    with pytest.raises(WorkspaceError, match="No space left"):
        Workspace.open(folder)
    assert (folder / DATABASE).read_bytes() == before
    assert {path.name for path in folder.iterdir()} == {"lock", DATABASE}
    monkeypatch.undo()
    Workspace.open(folder).close()
    assert version_of(folder) == tables.SCHEMA_VERSION


def test_ended_at_any_moment_it_opens_all_the_same(tmp_path):
    """Before every statement and every move of a file, until there are no more of them."""
    for moment in range(200):
        place = tmp_path / str(moment)
        place.mkdir()
        folder = old_folder(place, 1)
        path = folder / DATABASE
        work = partial(migrate.migrate, path, 1, tables.SCHEMA_VERSION)
        if not ended_before(moment, work):
            break
        assert version_of(folder) in (1, tables.SCHEMA_VERSION)
        workspace = Workspace.open(folder)
        assert [job.name for job in workspace.jobs()] == ["Hotel Vessary"]
        workspace.close()
        assert version_of(folder) == tables.SCHEMA_VERSION
        assert not [name for name in os.listdir(folder) if name.endswith(".part")]
    assert 15 < moment < 199


def test_a_workspace_of_today_needs_no_steps(tmp_path):
    code = (
        "import sys; from pathlib import Path; from jartide.store.workspace import Workspace;"
        f"Workspace.open(Path({str(tmp_path / 'new')!r})).close();"
        "sys.exit('jartide.store.migrate' in sys.modules)"
    )
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0
