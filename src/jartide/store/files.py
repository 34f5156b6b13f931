"""Original photos on disk, untouched, by content: photos/ab/abcdef....jpg."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path

from jartide.errors import WorkspaceError


class PhotoFiles:
    """The folder of originals."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    def add(self, data: bytes, file_name: str) -> str:
        """Keep a file's bytes and return their SHA-256; the same bytes are kept once.

        Raises
        ------
        WorkspaceError : when the disk is full or can't be written; nothing is left behind.
        """
        sha256 = hashlib.sha256(data).hexdigest()
        if self.path(sha256) is not None:
            return sha256
        place = self._folder / sha256[:2]
        suffix = Path(file_name).suffix.lower()[:8]
        half_done = None
        try:
            place.mkdir(parents=True, exist_ok=True)
            # Written aside and renamed, so that a half-written photo never bears the name.
            handle, half_done = tempfile.mkstemp(dir=place)
            with os.fdopen(handle, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            os.replace(half_done, place / (sha256 + suffix))
        except OSError as error:
            if half_done is not None:
                Path(half_done).unlink(missing_ok=True)
            why = error.strerror or type(error).__name__
            raise WorkspaceError("error.workspace.full", why=why) from error
        return sha256

    def path(self, sha256: str) -> Path | None:
        """Return where a photo lies, or None when it is not there."""
        return next((self._folder / sha256[:2]).glob(sha256 + "*"), None)
