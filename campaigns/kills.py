"""Work ended by force: what was acknowledged is there, the rest is there whole or not at all."""

from __future__ import annotations

import os
import random
import select
import signal
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np

from campaigns.campaign import Campaign
from campaigns.made import a_photo, content_of, fill
from campaigns.moments import ended_before
from jartide.store.backup import restore_backup, write_backup
from jartide.store.bundle import put_bundle, read_bundle, write_bundle
from jartide.store.checking import check_workspace
from jartide.store.records import Job
from jartide.store.workspace import Workspace, now

_OLD = Path(__file__).resolve().parents[1] / "tests/store/workspaces"


def _none(_: Path) -> None:
    return None


# ---- at any time while somebody edits


def _edit(folder: Path, told: int, seed: int) -> None:
    """Change and add without end; each change that is saved is told through a pipe."""
    chance = random.Random(seed)
    workspace = Workspace.open(folder)
    jobs: list[Job] = []
    for number in range(100_000):
        if jobs and chance.random() < 0.6:
            job = replace(chance.choice(jobs), place=f"Room {number}")
        elif chance.random() < 0.3:
            workspace.files.add(a_photo(seed + number), "a.jpg")
            continue
        else:
            job = Job(name=f"Job {number}", created_at=now())
            jobs.append(job)
        jobs = [job if one.id == job.id else one for one in jobs]
        workspace.put(job)
        os.write(told, f"{job.id} {job.place}\n".encode())


def _kill_editing(_: None, own: Path, rng: np.random.Generator) -> str | None:
    came, told = os.pipe()
    seed = int(rng.integers(0, 1 << 30))
    child = os.fork()
    if child == 0:
        os.close(came)
        try:
            _edit(own / "w", told, seed)
        finally:
            os._exit(3)
    os.close(told)
    time.sleep(float(rng.uniform(0.02, 0.5)))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    words = b""
    while select.select([came], [], [], 0)[0] and (some := os.read(came, 65536)):
        words += some
    os.close(came)
    acknowledged = dict(line.split(" ", 1) for line in words.decode().splitlines() if " " in line)
    workspace = Workspace.open(own / "w")
    there = {job.id: job.place for job in workspace.jobs()}
    workspace.close()
    lost = [id for id in acknowledged if id not in there]
    if lost:
        return f"{len(lost)} of {len(acknowledged)} acknowledged jobs lost"
    # The last one told may have been changed once more before it was told.
    last = list(acknowledged)[-1:] if acknowledged else []
    changed = [i for i, place in acknowledged.items() if there[i] != place and i not in last]
    if len(changed) > 1:
        return f"{len(changed)} acknowledged changes lost"
    return _is_well(own / "w")


def _is_well(folder: Path) -> str | None:
    found = check_workspace(folder)
    return f"check: {[str(one.words) for one in found]}" if found else None


# ---- at a moment of work that has an end


def _at_a_moment(
    prepare: Callable[[Path], Callable[[], object]], most: int
) -> Callable[[None, Path, np.random.Generator], str | None]:
    """An attack that ends work before one of its statements or file changes, by chance."""

    def attack(_: None, own: Path, rng: np.random.Generator) -> str | None:
        work = prepare(own)
        ended_before(int(rng.integers(0, most)), work)
        folder = own / "w"
        workspace = Workspace.open(folder)
        content = content_of(workspace)
        workspace.put(Job(name="After", created_at=now()))
        workspace.close()
        left = [p.name for p in folder.rglob("*") if p.name.startswith((".restore-", "restoring"))]
        if left:
            return f"left over: {left}"
        if any(job.name.startswith("Before") for job in content["jobs"]) is False and (
            (own / "had").exists()
        ):
            kept = [p for p in folder.iterdir() if p.name.startswith("before-")]
            if not kept:
                return "what was there before is neither there nor kept"
        return _is_well(folder)

    return attack


def _importing(own: Path) -> Callable[[], object]:
    source = Workspace.open(own / "source")
    bundle = read_bundle(write_bundle(source, fill(source)).data, "a.zip")
    source.close()

    def work() -> None:
        workspace = Workspace.open(own / "w")
        put_bundle(workspace, bundle)
        workspace.close()

    return work


def _backing_up(own: Path) -> Callable[[], object]:
    workspace = Workspace.open(own / "w")
    fill(workspace)
    workspace.close()

    def work() -> None:
        again = Workspace.open(own / "w")
        write_backup(again, own / "all.zip")
        again.close()

    return work


def _restoring(own: Path) -> Callable[[], object]:
    source = Workspace.open(own / "source")
    fill(source, 2)
    write_backup(source, own / "all.zip")
    source.close()
    here = Workspace.open(own / "w")
    here.put(Job(name="Before", created_at=now()))
    here.close()
    (own / "had").touch()
    return lambda: restore_backup(own / "all.zip", own / "w")


def _migrating(own: Path) -> Callable[[], object]:
    import contextlib
    import sqlite3

    version = 1 + len(str(own)) % 7
    (own / "w").mkdir()
    with contextlib.closing(sqlite3.connect(own / "w/workspace.sqlite")) as connection:
        connection.executescript((_OLD / f"version-{version}.sql").read_text("utf-8"))
        connection.execute("DELETE FROM photos")
        connection.execute("DELETE FROM readings")
        connection.commit()
    return lambda: Workspace.open(own / "w").close()


def _starting(own: Path) -> Callable[[], object]:
    return lambda: fill(Workspace.open(own / "w"))


_PROMISE = "nothing acknowledged is lost, and the workspace opens and is whole after a kill "
CAMPAIGNS = (
    Campaign(
        name="kills-editing",
        promise=_PROMISE + "while editing",
        made=_none,
        attack=_kill_editing,
        slice_count=10,
    ),
    *(
        Campaign(
            name=f"kills-{name}",
            promise=_PROMISE + f"while {name}",
            made=_none,
            attack=_at_a_moment(prepare, most),
            slice_count=10,
        )
        for name, prepare, most in (
            ("importing", _importing, 66),
            ("backing-up", _backing_up, 18),
            ("restoring", _restoring, 44),
            ("migrating", _migrating, 34),
            ("starting", _starting, 58),
        )
    ),
)
