"""Make a workspace of every earlier version of the tables by that version's own code.

    python tools/make_old_workspaces.py OUT

Each commit's last state before the tables changed is checked out, its code opens a new workspace
and puts one of everything it knows into it; the database is written as SQL to OUT/version-N.sql,
so that what the tests migrate can be read. Needs the project's whole history.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
# The commit in which the next version's tables came in, by version.
CHANGED_IN = {
    1: "9b915db",
    2: "5c91528",
    3: "a309f05",
    4: "deec381",
    5: "74f606e",
    6: "9a67d9e",
    7: "5d19362",
}

# Run by the old code's side: whatever is not there yet in a version is left out of it.
_INSIDE = r"""
import contextlib, dataclasses, importlib, sqlite3, sys
from pathlib import Path
from jartide.store import records, tables
from jartide.store.workspace import Workspace

folder, out = map(Path, sys.argv[1:])
AT = "2026-01-02T08:00:00+00:00"
version = tables.SCHEMA_VERSION
workspace = Workspace.open(folder)


def made(kind, **values):
    names = {f.name for f in dataclasses.fields(kind)}
    return kind(**{k: v for k, v in values.items() if k in names})


def of(module, name):
    try:
        return getattr(importlib.import_module(module), name, None)
    except ImportError:
        return None


settings = of("jartide.photo.settings", "PhotoSettings")
rect, patch = (of("jartide.photo.settings", n) for n in ("Rect", "KnownPatch"))
grey = (patch or of("jartide.photo.settings", "Neutral"))(
    rect=rect(x=10.0, y=20.0, w=30.0, h=40.0), lightness=60.0
)
own = {f.name for f in dataclasses.fields(settings)}
how = {"neutrals": (grey,)} if "neutrals" in own else {"neutral": grey}
job = records.Job(id="job", name="Hotel Vessary", client="The house", created_at=AT)
finish = records.Finish(id="finish", job_id="job", name="Bar front", family="marble")
surface = records.Surface(
    id="surface", finish_id="finish", name="Front", width_mm=2400.0, height_mm=1100.0
)
board = records.Board(id="board", finish_id="finish", number=1, made_at=AT)
photos = [
    made(
        records.Photo, id=f"photo{n}", finish_id="finish", board_id=b, use=records.PhotoUse(use),
        sha256=f"{n}b" * 32, file_name=name, added_at=AT, position=n,
        settings=settings(mm_per_px=0.2, **how),
    )
    for n, (use, name, b) in enumerate(
        [("target", "slab.jpg", None), ("board", "stand 2.jpg", "board")]
    )
]
workspace.put(job, finish, surface, board, *photos)
workspace.set_preference("language", "de")
tin, mix = (of("jartide.store.jar_records", n) for n in ("Tin", "Mix"))
if tin is not None:
    workspace.put(tin(id="tin", name="White", position=0), made(mix, id="mix", finish_id="finish"))
logged, climate, kind = (of("jartide.boards.log", n) for n in ("Logged", "Climate", "EntryKind"))
OLD_AIR = "Bench thermo-hygrometer (simulated)"
if logged is not None:
    air = climate(temperature_c=18.0, humidity_percent=50.0, source=OLD_AIR)
    workspace.put(
        records.Entry(
            id="entry", board_id="board", at=AT, logged=logged(kind=kind.CLIMATE, climate=air)
        )
    )
if hasattr(records, "Plan"):
    work = of("jartide.plan.work", "Work")
    workspace.put(records.Plan(id="plan", finish_id="finish", work=work(air_source=OLD_AIR)))
with workspace._engine.begin() as connection:
    connection.execute(
        tables.readings.insert().values(
            sha256="0b" * 32, settings_revision="r", family="marble", algorithm="2026.1", seed=0,
            made_at=AT, reading="{}",
        )
    )
workspace.close()
with contextlib.closing(sqlite3.connect(folder / "workspace.sqlite")) as connection:
    lines = [f"PRAGMA user_version={version};", f"PRAGMA application_id={tables.APPLICATION_ID};"]
    out.write_text("\n".join([*connection.iterdump(), *lines]) + "\n", encoding="utf-8")
"""


def make(version: int, out: Path) -> None:
    """Write one version's workspace as SQL."""
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place) / "tree"
        git = ["git", "-C", str(ROOT)]
        subprocess.run(
            [*git, "worktree", "add", "-q", "-f", str(tree), f"{CHANGED_IN[version]}^"], check=True
        )
        try:
            subprocess.run(
                [sys.executable, "-c", _INSIDE, str(Path(place) / "w"), str(out.resolve())],
                env={**os.environ, "PYTHONPATH": str(tree / "src")},
                check=True,
            )
        finally:
            subprocess.run([*git, "worktree", "remove", "--force", str(tree)], check=True)


if __name__ == "__main__":
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    for number in CHANGED_IN:
        make(number, folder / f"version-{number}.sql")
        print(f"version {number} written")
