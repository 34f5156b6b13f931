"""Original photos on disk, untouched, by content: photos/ab/abcdef....jpg."""

from __future__ import annotations

import hashlib
import os
import re
import tempfile
from collections.abc import Callable
from pathlib import Path

from jartide.errors import WorkspaceError
from jartide.photo.kinds import RAW_SUFFIXES
from jartide.store.whole import put_in_place, remove_quietly

# Where photos are written before they bear their names.
_INCOMING = ".incoming"
# What a file begins with, and the suffix it is kept under whatever it was called.
_KINDS = (
    (b"\xff\xd8\xff", ".jpg"),
    (b"\x89PNG\r\n\x1a\n", ".png"),
    (b"II*\x00", ".tif"),
    (b"MM\x00*", ".tif"),
    (b"II+\x00", ".tif"),
    (b"MM\x00+", ".tif"),
    (b"BM", ".bmp"),
    (b"GIF8", ".gif"),
)
_CHUNK = 1 << 20
_PLAIN = re.compile(r"\.[a-z0-9]{1,7}")


class PhotoFiles:
    """The folder of originals.

    `may_write` raises a WorkspaceError where nothing may be added now.
    """

    def __init__(self, folder: Path, may_write: Callable[[], None]) -> None:
        self._folder = folder
        self._may_write = may_write

    def add(self, data: bytes, file_name: str) -> str:
        """Keep a file's bytes and return their SHA-256; the same bytes are kept once.

        A file of that content which was damaged since is replaced.

        Raises
        ------
        WorkspaceError : when the disk is full or can't be written; nothing is left behind.
        """
        self._may_write()
        sha256 = hashlib.sha256(data).hexdigest()
        there = self.path(sha256)
        if there is not None and is_whole(there, sha256):
            return sha256
        place, half_done = self._folder / sha256[:2], None
        path = there or place / (sha256 + suffix_of(data, file_name))
        try:
            place.mkdir(parents=True, exist_ok=True)
            incoming = self._folder / _INCOMING
            incoming.mkdir(exist_ok=True)
            # Written aside and renamed, so that a half-written photo never bears the name.
            handle, half_done = tempfile.mkstemp(dir=incoming)
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            put_in_place(Path(half_done), path)
        except OSError as error:
            if half_done is not None:
                remove_quietly(Path(half_done))
            why = error.strerror or type(error).__name__
            raise WorkspaceError("error.workspace.full", why=why) from error
        return sha256

    def path(self, sha256: str) -> Path | None:
        """Return where a photo lies, or None when it is not there."""
        place = self._folder / sha256[:2]
        try:
            found = next((name for name in os.listdir(place) if name.startswith(sha256)), None)
        except OSError:
            return None
        return None if found is None else place / found

    def all(self) -> list[Path]:
        """Return every original, in the order of their names."""
        found = self._folder.glob("[0-9a-f][0-9a-f]/" + "[0-9a-f]" * 8 + "*")
        return sorted(path for path in found if path.is_file())


def clear_incoming(folder: Path) -> None:
    """Take away what was being written into a folder of originals when the program was ended."""
    for left in (folder / _INCOMING).glob("*"):
        remove_quietly(left)


def suffix_of(data: bytes, file_name: str) -> str:
    """Return a plain suffix for a photo, ".jpg": by what it is, else by its name."""
    named = plain_suffix(file_name)
    if named in RAW_SUFFIXES:
        return named  # many kinds of camera raw begin as a TIFF does
    for begins, suffix in _KINDS:
        if data.startswith(begins):
            return suffix
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return ".webp"
    if data[4:8] == b"ftyp":
        return ".avif" if data[8:12] in (b"avif", b"avis") else ".heic"
    return named


def plain_suffix(file_name: str) -> str:
    """Return a file's suffix in small letters and digits; "" where it has none such."""
    suffix = "." + re.sub(r"[^a-z0-9]", "", Path(file_name).suffix.lower())[:7]
    return suffix if _PLAIN.fullmatch(suffix) else ""


def is_whole(path: Path, sha256: str) -> bool:
    """Whether a file is what it was when it came in."""
    found = hashlib.sha256()
    try:
        with path.open("rb") as file:
            while chunk := file.read(_CHUNK):
                found.update(chunk)
    except OSError:
        return False
    return found.hexdigest() == sha256
