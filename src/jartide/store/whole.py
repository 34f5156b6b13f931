"""Files that are there whole or not at all, whatever happens while they are written."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path


def put_in_place(half_done: Path, path: Path) -> None:
    """Give a file that is written its name; it, and its name, outlast a loss of power.

    Raises
    ------
    OSError : the file of that name, if there was one, is as it was.
    """
    with half_done.open("rb") as file:
        os.fsync(file.fileno())
    os.replace(half_done, path)
    settle_folder(path.parent)


def write_whole(path: Path, data: bytes) -> None:
    """Write a small file at once; one that was there before is replaced only by a whole one.

    Raises
    ------
    OSError : nothing is left of the attempt.
    """
    half_done = path.with_name(f".{path.name}.part")
    try:
        half_done.write_bytes(data)
        put_in_place(half_done, path)
    except OSError:
        remove_quietly(half_done)
        raise


def remove_quietly(path: Path) -> None:
    """Take a file away that may not be there; what can't be taken away is cleared another time."""
    with contextlib.suppress(OSError):
        path.unlink(missing_ok=True)


def settle_folder(folder: Path) -> None:
    """Have the names in a folder written to the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    except OSError:
        pass  # some network and memory disks know no such thing
    finally:
        os.close(handle)
