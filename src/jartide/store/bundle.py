"""A job as one file: a .zip of job.json (jar-tide/bundle/1) and the original photos.

What comes in is looked at before anything is written: names, sizes, schema, every record, every
reference, every photo's content. A bundle whose records are wrong anywhere is refused in one
sentence and the workspace stays as it was; a photo that is lacking or damaged is told, and the rest
comes in.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
from dataclasses import dataclass, replace
from typing import Any, TypeVar

from cattrs.errors import BaseValidationError
from sqlalchemy import select

from jartide.errors import ReadingError, WorkspaceError
from jartide.store import tables
from jartide.store.files import is_whole, plain_suffix
from jartide.store.fresh_ids import with_fresh_ids
from jartide.store.jar_records import Mix, Tin
from jartide.store.limits import beyond
from jartide.store.records import Board, Entry, Finish, Job, Photo, Plan, Record, Surface
from jartide.store.serialise import converter, reading_from_text
from jartide.store.unpacking import unpacking
from jartide.store.workspace import Workspace, now

SCHEMA = "jar-tide/bundle/1"
_JSON = "job.json"
# Suffixes as this version gives them, and as earlier ones kept them.
_PHOTO = re.compile(r"photos/([0-9a-f]{64})(\.[^/\\]{1,40})?")
_UUID = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")
_MOST_FILES = 5000
_MOST_JSON = 200_000_000
_MOST_PHOTO = 400_000_000
_MOST_WHOLE = 4_000_000_000
# No size, amount or time of a job comes near it.
_MOST_NUMBER = 1e12
LISTS: dict[str, type] = {
    "finishes": Finish,
    "surfaces": Surface,
    "boards": Board,
    "photos": Photo,
    "tins": Tin,
    "mixes": Mix,
    "entries": Entry,
    "plans": Plan,
}
READING_KEYS = (
    "sha256", "settings_revision", "family", "algorithm", "seed", "made_at", "reading",
)  # fmt: skip
_R = TypeVar("_R")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bundle:
    """A job that was read from a bundle, whole and checked.

    Attributes
    ----------
    readings : rows as the workspace keeps them
    files : the photos' bytes with their suffix, by SHA-256
    notes : what was passed over
    lacking : names of the photos whose originals are not in it, or not whole
    """

    job: Job
    records: tuple[Record, ...]
    readings: tuple[dict[str, Any], ...]
    files: dict[str, tuple[bytes, str]]
    notes: tuple[str, ...] = ()
    lacking: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Packed:
    """A bundle's bytes, and the names of photos the workspace lacks or holds damaged."""

    data: bytes
    lacking: tuple[str, ...]


# ---- out


def write_bundle(workspace: Workspace, job: Job) -> Packed:
    """Return a job with everything that belongs to it as one .zip file.

    Each original is checked as it is packed; one that is gone or damaged is left out and told.
    """
    finishes = workspace.finishes(job.id)
    photos = [photo for finish in finishes for photo in workspace.photos(finish.id)]
    boards = [board for finish in finishes for board in workspace.boards(finish.id)]
    mixes = [mix for finish in finishes for mix in workspace.mixes(finish.id)]
    used = {part.tin_id for mix in mixes for part in mix.parts}
    lists: dict[str, list[Any]] = {
        "finishes": finishes,
        "surfaces": [s for finish in finishes for s in workspace.surfaces(finish.id)],
        "boards": boards,
        "photos": photos,
        "tins": [tin for tin in workspace.tins() if tin.id in used],
        "mixes": mixes,
        "entries": workspace.entries([board.id for board in boards]),
        "plans": workspace.plans([finish.id for finish in finishes]),
    }
    by_content = {photo.sha256: photo for photo in photos}
    paths = {sha256: workspace.files.path(sha256) for sha256 in by_content}
    whole = {k: path for k, path in paths.items() if path is not None and is_whole(path, k)}
    lacking = tuple(photo.file_name for k, photo in by_content.items() if k not in whole)
    plain = {
        "schema": SCHEMA,
        "made": now(),
        "lacking": lacking,
        "job": converter().unstructure(job),
        **{name: converter().unstructure(records) for name, records in lists.items()},
        "readings": workspace.kept_readings({photo.sha256 for photo in photos}),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr(_JSON, json.dumps(plain, ensure_ascii=False, indent=1))
        for sha256, path in whole.items():
            # Photos are packed already.
            name = f"photos/{sha256}{plain_suffix(path.name)}"
            file.write(path, name, zipfile.ZIP_STORED)
    return Packed(data=out.getvalue(), lacking=lacking)


# ---- in


def read_bundle(data: bytes, name: str) -> Bundle:
    """Return the job of a bundle, checked from end to end; nothing is written.

    Raises
    ------
    WorkspaceError : one sentence on what is wrong.
    """
    with unpacking(name), zipfile.ZipFile(io.BytesIO(data)) as file:
        infos, notes = _checked_names(file, name)
        if _JSON not in infos:
            raise WorkspaceError("error.bundle.missing", name=name, what=_JSON)
        plain = _json(_unpacked(file, infos[_JSON], _MOST_JSON, name), name)
        files = {}
        for path, info in infos.items():
            found = _PHOTO.fullmatch(path)
            if found is not None:
                packed = _photo(file, info, name)
                if packed is not None and hashlib.sha256(packed).hexdigest() == found[1]:
                    files[found[1]] = (packed, plain_suffix(path))
    return _bundle(plain, files, notes, name)


def _photo(file: zipfile.ZipFile, info: zipfile.ZipInfo, name: str) -> bytes | None:
    """An original's bytes; None of one that can't be unpacked: then it is lacking."""
    try:
        with unpacking(name):
            return _unpacked(file, info, _MOST_PHOTO, name)
    except WorkspaceError as error:
        if error.message.id == "error.bundle.large":
            raise
        return None


def _checked_names(
    file: zipfile.ZipFile, name: str
) -> tuple[dict[str, zipfile.ZipInfo], tuple[str, ...]]:
    """The files we know; paths that climb out are refused, others are passed over."""
    infos: dict[str, zipfile.ZipInfo] = {}
    other = 0
    listed = file.infolist()
    if len(listed) > _MOST_FILES or sum(i.file_size for i in listed) > _MOST_WHOLE:
        raise WorkspaceError("error.bundle.large", name=name)
    for info in listed:
        path = info.filename
        if path.startswith(("/", "\\")) or ".." in re.split(r"[/\\]", path) or ":" in path:
            raise WorkspaceError("error.bundle.path", name=name)
        if path == _JSON or _PHOTO.fullmatch(path):
            if path in infos:
                raise WorkspaceError("error.bundle.twice", name=name, what=path)
            infos[path] = info
        elif not info.is_dir():
            other += 1
    return infos, ((f"{other}",) if other else ())


def _unpacked(file: zipfile.ZipFile, info: zipfile.ZipInfo, most: int, name: str) -> bytes:
    """A file's bytes; what unpacks to more than it says, or than is sane, is no bundle."""
    if info.file_size > most:
        raise WorkspaceError("error.bundle.large", name=name)
    with file.open(info) as packed:
        data = packed.read(info.file_size + 1)
    if len(data) != info.file_size:
        raise WorkspaceError("error.bundle.zip", name=name)
    return data


def _json(data: bytes, name: str) -> dict[str, Any]:
    def refuse(_: str) -> Any:
        raise ValueError("no number")

    try:
        plain = json.loads(data.decode("utf-8"), parse_constant=refuse)
    except (ValueError, RecursionError) as error:
        raise WorkspaceError("error.bundle.json", name=name) from error
    if not isinstance(plain, dict):
        raise WorkspaceError("error.bundle.json", name=name)
    schema = plain.get("schema")
    if schema != SCHEMA:
        given = schema if isinstance(schema, str) else "-"
        raise WorkspaceError("error.bundle.schema", name=name, given=given[:60])
    if not _sane(plain):
        raise WorkspaceError("error.bundle.number", name=name)
    return plain


def _sane(plain: Any) -> bool:
    """Whether all numbers are such as a job can hold."""
    waiting = [plain]
    while waiting:
        one = waiting.pop()
        if isinstance(one, dict):
            waiting += one.values()
        elif isinstance(one, list):
            waiting += one
        elif isinstance(one, int | float) and not abs(one) < _MOST_NUMBER:
            return False
    return True


def _bundle(
    plain: dict[str, Any],
    files: dict[str, tuple[bytes, str]],
    notes: tuple[str, ...],
    name: str,
) -> Bundle:
    job = _structured(plain.get("job"), Job, name, "job")
    records: dict[str, list[Any]] = {}
    for key, kind in LISTS.items():
        listed = plain.get(key, [])
        if not isinstance(listed, list):
            raise WorkspaceError("error.bundle.record", name=name, what=key)
        records[key] = [
            _structured(one, kind, name, f"{key} {n}") for n, one in enumerate(listed, 1)
        ]
        for number, record in enumerate(records[key], 1):
            field = beyond(record)
            if field is not None:
                what = f"{key} {number}, {field},"
                raise WorkspaceError("error.bundle.limit", name=name, what=what)
    everything = [job, *(record for own in records.values() for record in own)]
    ids = [record.id for record in everything]
    if len(set(ids)) < len(ids) or not all(_UUID.fullmatch(one) for one in ids):
        raise WorkspaceError("error.bundle.ids", name=name)
    _check_references(job, records, name)
    photos = {photo.sha256: photo.file_name for photo in records["photos"]}
    return Bundle(
        job=job,
        records=tuple(everything),
        readings=tuple(_checked_reading(row, name) for row in _list(plain, "readings", name)),
        files=files,
        notes=notes,
        lacking=tuple(photos[sha256] for sha256 in photos if sha256 not in files),
    )


def _list(plain: dict[str, Any], key: str, name: str) -> list[Any]:
    found = plain.get(key, [])
    if not isinstance(found, list):
        raise WorkspaceError("error.bundle.record", name=name, what=key)
    return found


def _structured(plain: Any, kind: type[_R], name: str, where: str) -> _R:
    try:
        if not isinstance(plain, dict):
            raise TypeError(where)
        return converter().structure(plain, kind)
    except (BaseValidationError, TypeError, ValueError, KeyError, AttributeError) as error:
        raise WorkspaceError("error.bundle.record", name=name, what=where) from error


def _check_references(job: Job, records: dict[str, list[Any]], name: str) -> None:
    finishes = {finish.id for finish in records["finishes"]}
    boards = {board.id for board in records["boards"]}
    right = all(finish.job_id == job.id for finish in records["finishes"])
    for key in ("surfaces", "boards", "photos", "mixes", "plans"):
        right &= all(record.finish_id in finishes for record in records[key])
    right &= all(photo.board_id is None or photo.board_id in boards for photo in records["photos"])
    right &= all(entry.board_id in boards for entry in records["entries"])
    if not right:
        raise WorkspaceError("error.bundle.references", name=name)


def _checked_reading(row: Any, name: str) -> dict[str, Any]:
    texts = [key for key in READING_KEYS if key != "seed"]
    if (
        not isinstance(row, dict)
        or set(row) != set(READING_KEYS)
        or not isinstance(row["seed"], int)
        or not all(isinstance(row[key], str) for key in texts)
    ):
        raise WorkspaceError("error.bundle.record", name=name, what="readings")
    try:
        reading_from_text(row["reading"])
    except (ReadingError, AttributeError, RecursionError) as error:
        raise WorkspaceError("error.bundle.record", name=name, what="readings") from error
    return dict(row)


# ---- into the workspace


def has_job(workspace: Workspace, bundle: Bundle) -> bool:
    """Whether the workspace holds this very job already."""
    return any(job.id == bundle.job.id for job in workspace.jobs())


def as_copy(bundle: Bundle) -> Bundle:
    """Return the bundle under new ids; whatever refers to one of them goes along."""
    records = with_fresh_ids(bundle.records)
    job = records[0]
    assert isinstance(job, Job)
    return replace(bundle, job=job, records=records)


def put_bundle(workspace: Workspace, bundle: Bundle) -> None:
    """Put a bundle into a workspace: all of it, in one transaction, or nothing.

    A job of the same id is brought up to the bundle's state; tins that stand on the shelf
    already, by their id or their name, stay as they are and are used in the bundle's place.
    Where the bundle bears ids of what belongs to another job here, it comes in as a copy: what
    that job holds is never moved.

    Raises
    ------
    WorkspaceError : when it can't be written.
    """
    if _bears_ids_of_others(workspace, bundle):
        bundle = as_copy(bundle)
    here = {tin.name.casefold(): tin.id for tin in workspace.tins()}
    known = {tin.id for tin in workspace.tins()}
    swaps = {}
    records: list[Record] = []
    for record in bundle.records:
        if isinstance(record, Tin):
            if record.id in known:
                continue
            if record.name.casefold() in here:
                swaps[record.id] = here[record.name.casefold()]
                continue
        records.append(record)
    if swaps:
        records = [_swapped(record, swaps) for record in records]
    for data, suffix in bundle.files.values():
        workspace.files.add(data, f"photo{suffix}")
    workspace.put_all(records, bundle.readings)


# A record is a job's by what it belongs to.
_BELONGS_TO = {
    Finish: (tables.finishes, "job_id"),
    Surface: (tables.surfaces, "finish_id"),
    Board: (tables.boards, "finish_id"),
    Photo: (tables.photos, "finish_id"),
    Mix: (tables.mixes, "finish_id"),
    Plan: (tables.plans, "finish_id"),
    Entry: (tables.entries, "board_id"),
}
_AT_ONCE = 500


def _bears_ids_of_others(workspace: Workspace, bundle: Bundle) -> bool:
    """Whether a record of the bundle bears the id of one that belongs to another job here."""
    own = {record.id for record in bundle.records}
    for kind, (table, owner) in _BELONGS_TO.items():
        ids = [record.id for record in bundle.records if isinstance(record, kind)]
        for start in range(0, len(ids), _AT_ONCE):
            some = table.c.id.in_(ids[start : start + _AT_ONCE])
            if any(row[0] not in own for row in workspace.rows(select(table.c[owner]).where(some))):
                return True
    return False


def _swapped(record: Record, swaps: dict[str, str]) -> Record:
    if not isinstance(record, Mix):
        return record
    text = json.dumps(converter().unstructure(record))
    for old, new in swaps.items():
        text = text.replace(old, new)
    return converter().structure(json.loads(text), Mix)
