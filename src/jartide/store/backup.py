"""The whole workspace as one file, and back: jar-tide/backup/1.

A .zip of `backup.json`, `workspace.sqlite` (a consistent copy, taken while the window is open),
the originals under `photos/` and the painter's own tables under `tables/`. Restoring looks at
everything in a folder of its own first; only a backup that is whole is put in place, and what
was there before is kept beside it.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from sqlalchemy.exc import DBAPIError

from jartide.errors import WorkspaceError
from jartide.store import tables
from jartide.store.unpacking import unpacking
from jartide.store.workspace import Workspace, now

SCHEMA = "jar-tide/backup/1"
_JSON, _DATABASE = "backup.json", "workspace.sqlite"
_PHOTO = re.compile(r"photos/[0-9a-f]{2}/([0-9a-f]{64})(\.[a-z0-9]{1,7})?")
_TABLE = re.compile(r"tables/[A-Za-z0-9_-]{1,60}\.toml")
_MOST_FILES = 400_000
_MOST_FILE = 8_000_000_000
_MOST_WHOLE = 400_000_000_000
_CHUNK = 1 << 20
Progress = Callable[[float], None]


# ---- out


def write_backup(workspace: Workspace, path: Path, progress: Progress = lambda _: None) -> None:
    """Write everything a workspace holds into one file, which replaces an older one only whole.

    Raises
    ------
    WorkspaceError : when it can't be written.
    """
    half_done = path.with_name(f".{path.name}.part")
    try:
        with tempfile.TemporaryDirectory() as place:
            copy = Path(place) / _DATABASE
            _copy_database(workspace.folder / _DATABASE, copy)
            files = [(copy, _DATABASE)]
            for kind, pattern in (("photos", _PHOTO), ("tables", _TABLE)):
                for file in sorted((workspace.folder / kind).rglob("*")):
                    name = file.relative_to(workspace.folder).as_posix()
                    if file.is_file() and pattern.fullmatch(name):
                        files.append((file, name))
            whole = sum(file.stat().st_size for file, _ in files) or 1
            written = 0
            with zipfile.ZipFile(half_done, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as out:
                about = {"schema": SCHEMA, "made": now(), "version": tables.SCHEMA_VERSION}
                out.writestr(_JSON, json.dumps({**about, "files": len(files)}))
                for file, name in files:
                    packed = zipfile.ZIP_STORED if name.startswith("photos/") else None
                    out.write(file, name, packed)
                    written += file.stat().st_size
                    progress(written / whole)
        os.replace(half_done, path)
    except (OSError, sqlite3.Error) as error:
        why = getattr(error, "strerror", None) or str(error)
        raise WorkspaceError("error.backup.write", name=path.name, why=why) from error
    finally:
        half_done.unlink(missing_ok=True)


def _copy_database(source: Path, target: Path) -> None:
    with (
        contextlib.closing(sqlite3.connect(source)) as old,
        contextlib.closing(sqlite3.connect(target)) as new,
    ):
        old.backup(new)


# ---- in


def restore_backup(path: Path, folder: Path, progress: Progress = lambda _: None) -> Path | None:
    """Put a backup in place of a workspace that is not open.

    Returns the folder in which what was there before is kept, None where there was nothing.

    Raises
    ------
    WorkspaceError : one sentence on what is wrong; the workspace is as it was.
    """
    name = path.name
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=folder, prefix=".restore-") as place:
            fresh = Path(place)
            _unpack(path, fresh, name, progress)
            _check(fresh, name)
            return _put_in_place(fresh, folder)
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise WorkspaceError("error.backup.restore", name=name, why=why) from error


def _unpack(path: Path, fresh: Path, name: str, progress: Progress) -> None:
    """Unpack what we know into a folder; what leads elsewhere or is too large is refused."""
    with unpacking(name), zipfile.ZipFile(path) as file:
        listed = file.infolist()
        names = [info.filename for info in listed]
        whole = sum(info.file_size for info in listed)
        if len(listed) > _MOST_FILES or whole > _MOST_WHOLE:
            raise WorkspaceError("error.bundle.large", name=name)
        if any(
            one.startswith(("/", "\\")) or ".." in re.split(r"[/\\]", one) or ":" in one
            for one in names
        ):
            raise WorkspaceError("error.bundle.path", name=name)
        if len(set(names)) < len(names):
            raise WorkspaceError("error.bundle.twice", name=name, what=_twice(names))
        for needed in (_JSON, _DATABASE):
            if needed not in names:
                raise WorkspaceError("error.bundle.missing", name=name, what=needed)
        _check_about(file.read(_JSON) if file.getinfo(_JSON).file_size < _CHUNK else b"", name)
        done = 0
        for info in listed:
            known = info.filename == _DATABASE or _TABLE.fullmatch(info.filename)
            photo = _PHOTO.fullmatch(info.filename)
            if known or photo:
                _unpack_one(file, info, fresh, photo[1] if photo else "", name)
            done += info.file_size
            progress(done / max(whole, 1))


def _twice(names: list[str]) -> str:
    return next(one for one in names if names.count(one) > 1)


def _check_about(data: bytes, name: str) -> None:
    try:
        about: Any = json.loads(data.decode("utf-8"))
    except (ValueError, RecursionError) as error:
        raise WorkspaceError("error.backup.about", name=name) from error
    if not isinstance(about, dict) or about.get("schema") != SCHEMA:
        raise WorkspaceError("error.backup.about", name=name)


def _unpack_one(
    file: zipfile.ZipFile, info: zipfile.ZipInfo, fresh: Path, sha256: str, name: str
) -> None:
    if info.file_size > _MOST_FILE:
        raise WorkspaceError("error.bundle.large", name=name)
    target = fresh / info.filename
    target.parent.mkdir(parents=True, exist_ok=True)
    found, size = hashlib.sha256(), 0
    with file.open(info) as packed, target.open("wb") as out:
        while chunk := packed.read(_CHUNK):
            size += len(chunk)
            if size > info.file_size:  # it unpacks to more than it says
                raise WorkspaceError("error.bundle.zip", name=name)
            found.update(chunk)
            out.write(chunk)
    if sha256 and found.hexdigest() != sha256:
        raise WorkspaceError("error.bundle.photo", name=name, what=info.filename)


def _check(fresh: Path, name: str) -> None:
    """Open what was unpacked as a workspace: its version, its tables, every record, every photo."""
    database = fresh / _DATABASE
    try:
        with contextlib.closing(sqlite3.connect(database)) as connection:
            connection.execute("PRAGMA trusted_schema=OFF")
            whole = connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            other = connection.execute(
                "SELECT count(*) FROM sqlite_master WHERE type IN ('view', 'trigger')"
            ).fetchone()[0]
        if not whole or other:
            raise WorkspaceError("error.backup.database", name=name)
        workspace = Workspace.open(fresh)
    except (sqlite3.Error, DBAPIError) as error:
        raise WorkspaceError("error.backup.database", name=name) from error
    except WorkspaceError as error:
        if error.message.id.startswith("error.backup"):
            raise
        raise WorkspaceError("error.backup.inside", name=name, why=error.message) from error
    try:
        lost = _lost_photo(workspace)
    except Exception as error:  # whatever a damaged record breaks on, nothing is put in place
        raise WorkspaceError("error.backup.database", name=name) from error
    finally:
        workspace.close()
    if lost:
        raise WorkspaceError("error.bundle.missing", name=name, what=lost)


def _lost_photo(workspace: Workspace) -> str:
    """The name of a photo whose file is not there; "" when all are. Reads every record."""
    workspace.jobs(), workspace.tins()
    finishes = [f.id for own in workspace.all_finishes().values() for f in own]
    for finish_id in finishes:
        workspace.surfaces(finish_id), workspace.mixes(finish_id)
        workspace.entries([board.id for board in workspace.boards(finish_id)])
        for photo in workspace.photos(finish_id):
            if workspace.files.path(photo.sha256) is None:
                return photo.file_name
    for start in range(0, len(finishes), 500):
        workspace.plans(finishes[start : start + 500])
    return ""


def _put_in_place(fresh: Path, folder: Path) -> Path | None:
    """Swap the folders' contents; what was there goes aside, and comes back if anything fails."""
    names = (_DATABASE, f"{_DATABASE}-wal", f"{_DATABASE}-shm", "photos", "tables")
    old = [folder / name for name in names if (folder / name).exists()]
    aside = folder / f"before-{now()[:19].replace(':', '-')}"
    number = 2
    while aside.exists():
        aside, number = aside.with_name(f"{aside.name.split('.')[0]}.{number}"), number + 1
    moved: list[tuple[Path, Path]] = []
    try:
        if old:
            aside.mkdir()
        for file in old:
            shutil.move(file, aside / file.name)
            moved.append((file, aside / file.name))
        for name in names:
            if (fresh / name).exists():
                shutil.move(fresh / name, folder / name)
    except OSError:
        for place, kept in moved:
            if place.is_dir():
                shutil.rmtree(place)
            shutil.move(kept, place)
        raise
    return aside if old else None
