"""Who may change a workspace: one process at a time, by a lock on the file `lock` in it."""

from __future__ import annotations

import fcntl
from pathlib import Path
from typing import IO

from jartide.errors import WorkspaceError


class Lock:
    """The right to change a workspace; it goes with the process that holds it."""

    def __init__(self, file: IO[str]) -> None:
        self._file = file

    @classmethod
    def taken(cls, folder: Path) -> Lock | None:
        """Return the lock of a workspace's folder; None while another holds it.

        Raises
        ------
        WorkspaceError : when the folder can't be made or written.
        """
        try:
            folder.mkdir(parents=True, exist_ok=True)
            file = open(folder / "lock", "a", encoding="utf-8")  # noqa: SIM115 held while open
        except (OSError, ValueError) as error:
            why = getattr(error, "strerror", None) or type(error).__name__
            raise WorkspaceError("error.workspace.unwritable", name=str(folder), why=why) from error
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            file.close()
            return None
        return cls(file)

    def let_go(self) -> None:
        """Let another have it."""
        self._file.close()
