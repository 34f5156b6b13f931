"""The whole workspace as one file, and back: jar-tide/backup/1.

A .zip of `backup.json`, `workspace.sqlite` (a consistent copy, taken while the window is open),
the originals under `photos/` and the painter's own tables under `tables/`. Every original is
checked as it is packed, and the file is read back before it is called a backup; what the workspace
lacked stands in `backup.json`. Restoring looks at everything in a folder of its own first; what is
whole is put in place, the rest is told, and what was there before is kept beside it.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import re
import sqlite3
import tempfile
import zipfile
from collections.abc import Callable, Collection
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.exc import DBAPIError

from jartide.errors import WorkspaceError
from jartide.store import tables
from jartide.store.files import is_whole, plain_suffix
from jartide.store.lock import Lock
from jartide.store.restoring import DATABASE, UNPACKED, finish_swap, swap_in
from jartide.store.unpacking import unpacking
from jartide.store.whole import put_in_place, remove_quietly
from jartide.store.workspace import Workspace, now

SCHEMA = "jar-tide/backup/1"
_JSON = "backup.json"
# Suffixes as this version gives them, and as earlier ones kept them.
_PHOTO = re.compile(r"photos/[0-9a-f]{2}/([0-9a-f]{64})(\.[^/\\]{1,40})?")
_TABLE = re.compile(r"tables/[A-Za-z0-9_-]{1,60}\.toml")
_MOST_FILES = 400_000
_MOST_FILE = 8_000_000_000
_MOST_WHOLE = 400_000_000_000
_CHUNK = 1 << 20
Progress = Callable[[float], None]


@dataclass(frozen=True, slots=True, kw_only=True)
class Restored:
    """What a restore did.

    Attributes
    ----------
    kept_in : folder with what was there before; None where there was nothing
    lacking : names of the photos that did not come back whole
    """

    kept_in: Path | None
    lacking: tuple[str, ...]


# ---- out


def write_backup(
    workspace: Workspace, path: Path, progress: Progress = lambda _: None
) -> tuple[str, ...]:
    """Write everything a workspace holds into one file, which replaces an older one only whole.

    Returns the names of the photos that the workspace itself lacks, or holds damaged: they are not
    in the backup.

    Raises
    ------
    WorkspaceError : when it can't be written, or can't be read back as it was written.
    """
    half_done = path.with_name(f".{path.name}.part")
    try:
        with tempfile.TemporaryDirectory() as place:
            copy = Path(place) / DATABASE
            _copy_database(workspace.folder / DATABASE, copy)
            originals = [file for file in workspace.files.all() if is_whole(file, file.name[:64])]
            lacking = _lacking(workspace, {file.name[:64] for file in originals})
            files = [(copy, DATABASE), *((file, _packed_name(file)) for file in originals)]
            for file in sorted((workspace.folder / "tables").glob("*.toml")):
                name = file.relative_to(workspace.folder).as_posix()
                if _TABLE.fullmatch(name):
                    files.append((file, name))
            whole = sum(file.stat().st_size for file, _ in files) or 1
            written = 0
            with zipfile.ZipFile(half_done, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as out:
                about = {"schema": SCHEMA, "made": now(), "version": tables.SCHEMA_VERSION}
                about |= {"files": len(files), "lacking": lacking}
                out.writestr(_JSON, json.dumps(about))
                for file, name in files:
                    packed = zipfile.ZIP_STORED if name.startswith("photos/") else None
                    out.write(file, name, packed)
                    written += file.stat().st_size
                    progress(0.7 * written / whole)
        _read_back(half_done, path.name, progress)
        put_in_place(half_done, path)
    except (OSError, sqlite3.Error, DBAPIError) as error:
        why = getattr(error, "strerror", None) or str(error)
        raise WorkspaceError("error.backup.write", name=path.name, why=why) from error
    finally:
        remove_quietly(half_done)
    return tuple(lacking)


def _packed_name(file: Path) -> str:
    return f"photos/{file.name[:2]}/{file.name[:64]}{plain_suffix(file.name)}"


def _lacking(workspace: Workspace, there: Collection[str]) -> list[str]:
    """Names of the photos in the records whose originals are not there whole, each once."""
    c = tables.photos.c
    rows = workspace.rows(select(c.sha256, c.file_name).where(c.deleted_at.is_(None)))
    return list({sha256: name for sha256, name in rows if sha256 not in there}.values())


def _read_back(path: Path, name: str, progress: Progress) -> None:
    """Read all that was packed once more: what the disk did not keep is no backup."""
    with zipfile.ZipFile(path) as file:
        listed = file.infolist()
        for number, info in enumerate(listed):
            photo = _PHOTO.fullmatch(info.filename)
            try:
                with file.open(info) as packed:
                    found = _digest(packed)
            except (zipfile.BadZipFile, EOFError) as error:
                raise WorkspaceError("error.backup.not_kept", name=name) from error
            if photo is not None and found != photo[1]:
                raise WorkspaceError("error.backup.not_kept", name=name)
            progress(0.7 + 0.3 * (number + 1) / len(listed))


def _digest(file: Any) -> str:
    found = hashlib.sha256()
    while chunk := file.read(_CHUNK):
        found.update(chunk)
    return found.hexdigest()


def _copy_database(source: Path, target: Path) -> None:
    with (
        contextlib.closing(sqlite3.connect(source)) as old,
        contextlib.closing(sqlite3.connect(target)) as new,
    ):
        old.backup(new)


# ---- in


def restore_backup(path: Path, folder: Path, progress: Progress = lambda _: None) -> Restored:
    """Put a backup in place of a workspace that is not open.

    Photos that are not whole in it, or lacking, are left out and told; everything else comes back.

    Raises
    ------
    WorkspaceError : one sentence on what is wrong; the workspace is as it was.
    """
    name = path.name
    lock = Lock.taken(folder)
    if lock is None:
        raise WorkspaceError("error.workspace.read_only")
    try:
        finish_swap(folder)
        fresh = Path(tempfile.mkdtemp(dir=folder, prefix=UNPACKED))
        try:
            _unpack(path, fresh, name, progress)
            lacking = _checked(fresh, name)
            return Restored(kept_in=swap_in(fresh, folder, _aside(folder)), lacking=lacking)
        finally:
            finish_swap(folder)
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise WorkspaceError("error.backup.restore", name=name, why=why) from error
    finally:
        lock.let_go()


def _aside(folder: Path) -> str:
    """A name for the folder of what was there before, that nothing bears yet."""
    first = name = f"before-{now()[:19].replace(':', '-')}"
    number = 2
    while (folder / name).exists():
        name, number = f"{first}.{number}", number + 1
    return name


def _unpack(path: Path, fresh: Path, name: str, progress: Progress) -> None:
    """Unpack what we know into a folder; what leads elsewhere or is too large is refused."""
    with unpacking(name, "error.backup.zip"), zipfile.ZipFile(path) as file:
        listed = file.infolist()
        names = [info.filename for info in listed]
        whole = sum(info.file_size for info in listed)
        if len(listed) > _MOST_FILES or whole > _MOST_WHOLE:
            raise WorkspaceError("error.backup.large", name=name)
        if any(
            one.startswith(("/", "\\")) or ".." in re.split(r"[/\\]", one) or ":" in one
            for one in names
        ):
            raise WorkspaceError("error.backup.path", name=name)
        if len(set(names)) < len(names):
            raise WorkspaceError("error.backup.twice", name=name, what=_twice(names))
        for needed in (_JSON, DATABASE):
            if needed not in names:
                raise WorkspaceError("error.backup.missing", name=name, what=needed)
        _check_about(file.read(_JSON) if file.getinfo(_JSON).file_size < _CHUNK else b"", name)
        done = 0
        for info in listed:
            photo = _PHOTO.fullmatch(info.filename)
            if photo is not None:
                _unpack_photo(file, info, fresh, photo[1], name)
            elif info.filename == DATABASE or _TABLE.fullmatch(info.filename):
                _unpack_one(file, info, fresh / info.filename, name)
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


def _unpack_photo(
    file: zipfile.ZipFile, info: zipfile.ZipInfo, fresh: Path, sha256: str, name: str
) -> None:
    """Unpack an original; one that is not what it was is left out, and shows as lacking."""
    target = fresh / "photos" / sha256[:2] / f"{sha256}{plain_suffix(info.filename)}"
    try:
        with unpacking(name, "error.backup.zip"):
            _unpack_one(file, info, target, name)
        whole = is_whole(target, sha256)
    except WorkspaceError as error:
        if error.message.id == "error.backup.large":
            raise
        whole = False
    if not whole:
        target.unlink(missing_ok=True)


def _unpack_one(file: zipfile.ZipFile, info: zipfile.ZipInfo, target: Path, name: str) -> None:
    if info.file_size > _MOST_FILE:
        raise WorkspaceError("error.backup.large", name=name)
    target.parent.mkdir(parents=True, exist_ok=True)
    size = 0
    with file.open(info) as packed, target.open("wb") as out:
        while chunk := packed.read(_CHUNK):
            size += len(chunk)
            if size > info.file_size:  # it unpacks to more than it says
                raise WorkspaceError("error.backup.zip", name=name)
            out.write(chunk)


def _checked(fresh: Path, name: str) -> tuple[str, ...]:
    """Open what was unpacked as a workspace, read every record; the photos that are lacking."""
    database = fresh / DATABASE
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
        _read_all(workspace)
        lacking = _lacking(workspace, {file.name[:64] for file in workspace.files.all()})
    except Exception as error:  # whatever a damaged record breaks on, nothing is put in place
        raise WorkspaceError("error.backup.database", name=name) from error
    finally:
        workspace.close()
    return tuple(lacking)


def _read_all(workspace: Workspace) -> None:
    """Read every record once: what can't be read now could not be read later."""
    workspace.jobs(), workspace.tins()
    finishes = [f.id for own in workspace.all_finishes().values() for f in own]
    for finish_id in finishes:
        workspace.surfaces(finish_id), workspace.mixes(finish_id), workspace.photos(finish_id)
        workspace.entries([board.id for board in workspace.boards(finish_id)])
    for start in range(0, len(finishes), 500):
        workspace.plans(finishes[start : start + 500])
