"""The disk is full or turns read-only at some moment: one sentence, nothing half done."""

from __future__ import annotations

import errno
import os
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from campaigns.attempt import fault_of
from campaigns.campaign import Campaign
from campaigns.made import content_of, fill
from jartide.errors import JarTideError
from jartide.store.backup import restore_backup, write_backup
from jartide.store.checking import check_workspace
from jartide.store.records import Job
from jartide.store.workspace import Workspace, now

_CHANGES = ("replace", "rename", "fsync", "mkdir", "unlink")
_WORKS = ("add", "back up", "restore", "start")


def _none(_: Path) -> None:
    return None


def _attack(_: None, own: Path, rng: np.random.Generator) -> str | None:
    what = _WORKS[int(rng.integers(0, len(_WORKS)))]
    workspace = Workspace.open(own / "w")
    fill(workspace)
    write_backup(workspace, own / "first.zip")
    workspace.close()
    code = (errno.ENOSPC, errno.EROFS, errno.EIO)[int(rng.integers(0, 3))]
    fault = fault_of(partial(_work, what, own, int(rng.integers(0, 12)), code))
    if fault is not None:
        return f"{what}: {fault}"
    # With room again everything is as it was, or as it was meant.
    after = Workspace.open(own / "w")
    jobs = [job.name for job in content_of(after)["jobs"]]
    after.close()
    if "Hotel Vessary 1" not in jobs:
        return f"{what}: the job is gone ({jobs})"
    found = check_workspace(own / "w")
    return f"{what}: {[str(one.words) for one in found]}" if found else None


def _work(what: str, own: Path, moment: int, code: int) -> None:
    """Work on a disk that fails from its nth change on; nobody is left with half of it."""
    left = [moment]

    def failing(real: Callable[..., Any]) -> Callable[..., Any]:
        def wrapped(*given: Any, **named: Any) -> Any:
            left[0] -= 1
            if left[0] < 0:
                raise OSError(code, os.strerror(code))
            return real(*given, **named)

        return wrapped

    if what == "start":
        folder = own / "new"
    else:
        folder = own / "w"
    for name in _CHANGES:
        setattr(os, name, failing(getattr(os, name)))
    try:
        if what == "restore":
            restore_backup(own / "first.zip", folder)
            return
        workspace = Workspace.open(folder)
        if what == "add":
            fill(workspace, 7)
        elif what == "back up":
            write_backup(workspace, own / "again.zip")
        else:
            workspace.put(Job(name="New", created_at=now()))
        workspace.close()
    except JarTideError:
        if what == "back up" and (own / "again.zip").exists():
            raise AssertionError("half a backup bears its name") from None
        raise


CAMPAIGN = Campaign(
    name="disks",
    promise="a disk that fills up or turns read-only costs one sentence and no work",
    made=_none,
    attack=_attack,
    slice_count=30,
)
