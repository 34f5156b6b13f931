"""What a long working life costs: 2,000 jobs and 20,000 photos, opened and searched."""

from __future__ import annotations

import json
import random
import statistics
import tempfile
import time
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

JOBS, FINISHES, PHOTOS = 2000, 2, 5  # finishes of a job, photos of a finish
RUNS = 5
_NAMES = ("Hall", "Bar front", "Lobby", "Library", "Terrace", "Stair", "Chapel", "Shop")
_PLACES = ("Harbour Street", "Hill Road", "Old Town", "Mill Lane")
_PAINTS = ("Titanium white", "Lamp black", "Raw umber", "Deep green", "Yellow ochre")


def fill(folder: Path) -> None:
    """Write a workspace of many jobs, every finish with its mix and a reading of its target."""
    from jartide.store.jar_records import JarPart, Mix, Tin
    from jartide.store.records import Board, Finish, Job, Photo, PhotoUse
    from jartide.store.workspace import Workspace, now

    rng = random.Random(1)
    workspace = Workspace.open(folder)
    shipped = files("jartide").joinpath("data/demo/readings.json").read_text(encoding="utf-8")
    texts = [json.dumps(reading) for reading in json.loads(shipped).values()]
    tins = [Tin(name=name) for name in _PAINTS]
    records: list = list(tins)
    rows = []
    for number in range(JOBS):
        year = 2010 + number * 16 // JOBS
        job = Job(
            name=f"{rng.choice(_NAMES)} {number}", place=rng.choice(_PLACES), position=number,
            created_at=f"{year}-{rng.randint(1, 9):02}-11T08:00:00+00:00",
        )  # fmt: skip
        records.append(job)
        for _ in range(FINISHES):
            finish = Finish(job_id=job.id, name=rng.choice(_NAMES), family="marble")
            board = Board(finish_id=finish.id, number=1, made_at=job.created_at)
            paints = rng.sample(tins, 2)
            parts = tuple(JarPart(tin_id=tin.id, parts=1.0) for tin in paints)
            records += [finish, board, Mix(finish_id=finish.id, parts=parts)]
            for place in range(PHOTOS):
                target = place == 0
                photo = Photo(
                    finish_id=finish.id, board_id=None if target else board.id, position=place,
                    use=PhotoUse.TARGET if target else PhotoUse.BOARD, file_name="a.jpg",
                    sha256=f"{rng.getrandbits(256):064x}", added_at=job.created_at,
                )  # fmt: skip
                records.append(photo)
                if target:
                    key = workspace.reading_key(photo, finish.family)
                    rows.append({
                        "sha256": photo.sha256, "settings_revision": key.settings_revision,
                        "family": key.family, "algorithm": key.algorithm, "seed": 0,
                        "made_at": now(), "reading": rng.choice(texts),
                    })  # fmt: skip
    workspace.put_all(records, rows)
    workspace.close()


def logbook_rows() -> Iterator[tuple[str, float, float, str]]:
    """Yield how much longer a full workspace opens than an empty one, and a search in it."""
    from jartide.store.logbook import Wanted, find, read_logbook, with_colours
    from jartide.store.workspace import Workspace

    with tempfile.TemporaryDirectory() as place:
        full, empty = Path(place) / "full", Path(place) / "empty"
        fill(full)
        Workspace.open(empty).close()
        _until_listed(empty)  # what is imported once is no cost of the workspace's size
        pairs = [(_until_listed(full), _until_listed(empty)) for _ in range(RUNS)]
        more = statistics.median(long - short for long, short in pairs)
        yield "2,000 jobs, 20,000 photos: opened and listed, over empty", more, 1.5, "s"
        workspace = Workspace.open(full)
        book = with_colours(workspace, read_logbook(workspace))
        paint = next(tin.id for tin in workspace.tins() if tin.name == "Deep green")
        workspace.close()
        searches = (
            Wanted(words="hill lobby"),
            Wanted(words="2015 lamp black"),
            Wanted(near=(40.0, -20.0, 10.0)),
            Wanted(words="stair", near=(50.0, 10.0, 10.0), paint=paint),
        )
        slowest = 0.0
        for wanted in searches:
            times = []
            for _ in range(RUNS):
                start = time.perf_counter()
                find(book, wanted)
                times.append(time.perf_counter() - start)
            slowest = max(slowest, statistics.median(times))
        yield "a search over 2,000 jobs, slowest of four kinds", slowest * 1000, 50.0, "ms"


def _until_listed(folder: Path) -> float:
    """Seconds from opening a workspace in a window until its job list is there."""
    from PySide6.QtWidgets import QApplication

    from jartide.app.main import make_application, make_window

    make_application()
    application = QApplication.instance()
    assert application is not None
    window = make_window()
    job = window.job
    window.show()
    start = time.perf_counter()
    job.open(folder, demo=False)
    while job.workspace is None or window.station("jobs")._logbook is None:
        application.processEvents()
        time.sleep(0.001)
    window.grab()
    taken = time.perf_counter() - start
    assert (len(window.station("jobs").hits) == JOBS) == bool(window.station("jobs").hits)
    window.close()
    job.close()
    return taken
