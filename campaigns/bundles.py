"""Bundles and backups with faults in them: brought in, or refused with nothing changed."""

from __future__ import annotations

import contextlib
import io
import json
import zipfile
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np

from campaigns.attempt import fault_of
from campaigns.campaign import Campaign
from campaigns.made import content_of, fill
from campaigns.mutations import mutated, mutated_json
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.job.runner import AtOnce
from jartide.store.backup import restore_backup, write_backup
from jartide.store.bundle import put_bundle, read_bundle, write_bundle
from jartide.store.fresh_ids import with_fresh_ids
from jartide.store.records import Job
from jartide.store.workspace import Workspace


@dataclass(frozen=True, slots=True, kw_only=True)
class _Seeds:
    bundle: bytes
    backup: bytes


def _seeds(place: Path) -> _Seeds:
    workspace = Workspace.open(place / "seed")
    job = fill(workspace)
    _with_plan(workspace, job, place)
    bundle = write_bundle(workspace, job).data
    write_backup(workspace, place / "seed.zip")
    workspace.close()
    return _Seeds(bundle=bundle, backup=(place / "seed.zip").read_bytes())


def _with_plan(workspace: Workspace, job: Job, place: Path) -> None:
    """Give a job a finish with a plan, surfaces, boards and jars: one of the demo's, no photos."""
    model = OpenJob(AtOnce())
    model.open(place / "demo", demo=True)
    finish = next(f for _, own in model.records.jobs() for f in own if f.name == "Bar front")
    model.records.open_finish(finish)
    model.plan.take_proposal()
    model.close()
    demo = Workspace.open(place / "demo")
    boards = demo.boards(finish.id)
    records = [
        replace(finish, job_id=job.id), *demo.surfaces(finish.id), *boards,
        *demo.mixes(finish.id), *demo.entries([board.id for board in boards]),
        *demo.plans([finish.id]),
    ]  # fmt: skip
    workspace.put(*demo.tins(), *with_fresh_ids(records))
    demo.close()


def _bundle_attack(seeds: _Seeds, own: Path, rng: np.random.Generator) -> str | None:
    data = seeds.bundle
    wrong = mutated(data, rng) if rng.random() < 0.3 else _wrong_json(data, rng)
    return fault_of(partial(_bring, wrong, own))


def _wrong_json(data: bytes, rng: np.random.Generator) -> bytes:
    """The bundle with a job.json that is sound as JSON and wrong as a job, or nearly JSON."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            packed = old.read(name)
            if name == "job.json":
                plain = mutated_json(json.loads(packed), rng)
                packed = json.dumps(plain).encode("utf-8", "surrogatepass")
                packed = mutated(packed, rng) if rng.random() < 0.2 else packed
            new.writestr(name, packed)
    return out.getvalue()


def _bring(data: bytes, own: Path) -> None:
    """Bring a bundle into an empty workspace, and use all that came in."""
    workspace = Workspace.open(own / "w")
    try:
        bundle = read_bundle(data, "wrong.zip")
    except JarTideError:
        assert workspace.jobs() == [], "something came in of what was refused"
        workspace.close()
        raise
    put_bundle(workspace, bundle)
    content_of(workspace)
    for job in workspace.jobs():
        write_bundle(workspace, job)
    workspace.close()
    _use(own / "w")


def _use(folder: Path) -> None:
    """What the window works out of every finish as soon as it is opened."""
    model = OpenJob(AtOnce())
    model.open(folder, demo=False)
    for _, finishes in model.records.jobs():
        for finish in finishes:
            model.records.open_finish(finish)
            for work in (model.plan.timed, model.sheet.content, model.jars.names):
                # What can't be planned is said in a sentence.
                with contextlib.suppress(JarTideError):
                    work()
    model.close()


def _backup_attack(seeds: _Seeds, own: Path, rng: np.random.Generator) -> str | None:
    (own / "wrong.zip").write_bytes(mutated(seeds.backup, rng))
    return fault_of(partial(_restore, own))


def _restore(own: Path) -> None:
    try:
        restore_backup(own / "wrong.zip", own / "w")
    except JarTideError:
        left = {path.name for path in (own / "w").iterdir()} - {"lock"}
        assert not left, f"{left} was left of what was refused"
        raise
    workspace = Workspace.open(own / "w")
    content_of(workspace)
    workspace.close()


BUNDLES = Campaign(
    name="bundles",
    promise="a wrong bundle is refused in one sentence with nothing changed, or can be used",
    made=_seeds,
    attack=_bundle_attack,
    slice_count=80,
)
BACKUPS = Campaign(
    name="backups",
    promise="a wrong backup is refused with nothing changed, or comes back whole",
    made=_seeds,
    attack=_backup_attack,
    slice_count=60,
)
