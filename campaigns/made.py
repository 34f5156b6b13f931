"""A workspace with one of everything, and all that a workspace holds."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image

from jartide.boards.log import Climate, EntryKind, Logged
from jartide.photo.settings import KnownPatch, PhotoSettings, Rect
from jartide.store.jar_records import JarPart, Mix, Tin
from jartide.store.records import Board, Entry, Finish, Job, Photo, PhotoUse, Plan, Surface
from jartide.store.workspace import Workspace, now


def a_photo(seed: int) -> bytes:
    """Return a small JPEG, another one for each seed."""
    out = io.BytesIO()
    code = np.random.default_rng(seed).integers(0, 255, (48, 64, 3), dtype=np.uint8)
    Image.fromarray(code).save(out, "JPEG")
    return out.getvalue()


def fill(workspace: Workspace, seed: int = 1) -> Job:
    """Put a job with one of everything into a workspace."""
    job = Job(name=f"Hotel Vessary {seed}", created_at=now())
    finish = Finish(job_id=job.id, name="Bar front", family="marble")
    board = Board(finish_id=finish.id, number=1, made_at=now())
    tin = Tin(name=f"White {seed}")
    photos = [
        Photo(
            finish_id=finish.id, sha256=workspace.files.add(a_photo(2 * seed + n), "a.jpg"),
            file_name="a.jpg", added_at=now(), position=n,
            use=PhotoUse.BOARD if n else PhotoUse.TARGET, board_id=board.id if n else None,
            settings=PhotoSettings(
                mm_per_px=0.5,
                neutrals=(KnownPatch(rect=Rect(x=1, y=1, w=9, h=9), lightness=60.0),),
            ),
        )
        for n in range(2)
    ]  # fmt: skip
    air = Climate(temperature_c=18.0, humidity_percent=50.0)
    workspace.put(
        job, finish, board, tin, *photos,
        Surface(finish_id=finish.id, name="Front", width_mm=2400, height_mm=1100),
        Mix(finish_id=finish.id, parts=(JarPart(tin_id=tin.id, parts=1.0),)),
        Entry(board_id=board.id, at=now(), logged=Logged(kind=EntryKind.CLIMATE, climate=air)),
        Plan(finish_id=finish.id),
    )  # fmt: skip
    return job


def content_of(workspace: Workspace) -> dict[str, Any]:
    """Return every record of a workspace, by its kind, and the photos that are whole."""
    found: dict[str, Any] = {"jobs": workspace.jobs(), "tins": workspace.tins()}
    finishes = [f for own in workspace.all_finishes().values() for f in own]
    found["finishes"] = finishes
    for name in ("surfaces", "boards", "photos", "mixes"):
        found[name] = [one for f in finishes for one in getattr(workspace, name)(f.id)]
    found["entries"] = workspace.entries([board.id for board in found["boards"]])
    found["plans"] = workspace.plans([finish.id for finish in finishes])
    found["originals"] = {
        photo.sha256 for photo in found["photos"] if workspace.files.path(photo.sha256) is not None
    }
    return found
