"""A workspace of many years, and a very large finish: opened and settled soon, without a stall.

    python -m campaigns.load [--keep]

Five thousand jobs with ten photos each are listed and the window is at rest within 2 s; a finish of
200 photos, 60 boards, 300 paints and a log of 10,000 entries is opened, and every station of it
shown, without the window standing still for more than 100 ms.
"""

from __future__ import annotations

import argparse
import os
import sys
import time
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtWidgets import QApplication

from campaigns.campaign import Outcome
from campaigns.kept import keep
from campaigns.made import a_photo
from jartide.app.main import make_application, make_window, warm_up
from jartide.app.window import MainWindow
from jartide.boards.log import Climate, EntryKind, Logged
from jartide.photo.settings import PhotoSettings
from jartide.store.jar_records import Tin
from jartide.store.records import Board, Entry, Finish, Job, Photo, PhotoUse, Surface
from jartide.store.workspace import Workspace, now

PROMISE = (
    "5,000 jobs with 50,000 photos are listed within 2 s; a finish of 200 photos, 60 boards, 300"
    " paints and a log of 10,000 is opened and shown without a stall over 100 ms"
)
JOBS, PHOTOS_OF_A_JOB = 5_000, 10
PHOTOS, BOARDS, PAINTS, ENTRIES = 200, 60, 300, 10_000
LISTED_S, STALL_S = 2.0, 0.1
# At rest: nothing was done for so long.
_REST_S = 0.15
# Readings of many boards go on in the background for long: only so much of it is watched.
_MOST_S = 12.0
STATIONS = ("photos", "reading", "jars", "boards", "steps", "sheet")


def many_years(workspace: Workspace, jobs: int = JOBS) -> None:
    """Fill a workspace with jobs of one finish and ten photos each."""
    originals = [workspace.files.add(a_photo(n), "a.jpg") for n in range(PHOTOS_OF_A_JOB)]
    records = []
    for number in range(jobs):
        job = Job(name=f"Hotel Vessary, floor {number}", position=number, created_at=now())
        finish = Finish(job_id=job.id, name="Bar front", family="marble")
        records += [job, finish]
        records += [
            Photo(
                finish_id=finish.id, sha256=sha256, file_name=f"{n}.jpg", added_at=now(),
                position=n, use=PhotoUse.TARGET if n == 0 else PhotoUse.MOOD,
                settings=PhotoSettings(mm_per_px=0.5),
            )
            for n, sha256 in enumerate(originals)
        ]  # fmt: skip
    workspace.put(*records)


def large_finish(workspace: Workspace) -> Finish:
    """Put a job with one very large finish into a workspace."""
    job = Job(name="Hotel Vessary, everything", created_at=now())
    finish = Finish(job_id=job.id, name="Bar front", family="marble")
    boards = [Board(finish_id=finish.id, number=n + 1, made_at=now()) for n in range(BOARDS)]
    air = Climate(temperature_c=18.0, humidity_percent=50.0)
    workspace.put(
        job, finish, *boards,
        Surface(finish_id=finish.id, name="Front", width_mm=2400, height_mm=1100),
        *(Tin(name=f"Paint {n}", position=n) for n in range(PAINTS)),
        *(
            Photo(
                finish_id=finish.id, sha256=workspace.files.add(a_photo(100 + n), f"{n}.jpg"),
                file_name=f"{n}.jpg", added_at=now(), position=n,
                use=PhotoUse.BOARD if n else PhotoUse.TARGET,
                board_id=boards[n % BOARDS].id if n else None,
                settings=PhotoSettings(mm_per_px=0.5),
            )
            for n in range(PHOTOS)
        ),
        *(
            Entry(
                board_id=boards[n % BOARDS].id,
                at=f"2026-{1 + n % 12:02}-{1 + n % 28:02}T{n % 24:02}:{n % 60:02}:00",
                logged=Logged(kind=EntryKind.CLIMATE, climate=air),
            )
            for n in range(ENTRIES)
        ),
    )  # fmt: skip
    return finish


class Looked:
    """One window, watched for how long it does not answer."""

    def __init__(self, application: QApplication) -> None:
        self._application = application
        self.longest_s = 0.0
        warm_up(lambda _: None)
        self.window: MainWindow = make_window()
        self.window.resize(1280, 800)
        self.window.show()
        self.settled()

    def settled(self) -> float:
        """Let it come to rest; seconds until the last thing it did."""
        began = last = time.perf_counter()
        while True:
            before = time.perf_counter()
            self._application.processEvents()
            after = time.perf_counter()
            self.longest_s = max(self.longest_s, after - before)
            if after - before > 0.002 or self.window.job.runner.busy:
                last = after
            if after - last > _REST_S or after - began > _MOST_S:
                return last - began
            time.sleep(0.001)

    def done(self, does: Callable[[], object]) -> tuple[float, float]:
        """Do something and come to rest: (seconds until then, seconds of its longest stall)."""
        self.longest_s = 0.0
        began = time.perf_counter()
        does()
        self.longest_s = time.perf_counter() - began
        at_once = self.longest_s
        return at_once + self.settled(), self.longest_s


def main(given: list[str]) -> int:
    """Measure, tell, and return 1 when a promise is not kept."""
    parser = argparse.ArgumentParser(prog="python -m campaigns.load")
    parser.add_argument("--keep", action="store_true")
    options = parser.parse_args(given)
    began = time.monotonic()
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    application = make_application()
    missed: list[str] = []
    with TemporaryDirectory(prefix="jar-tide-load-") as folder:
        for name, fill in (("years", many_years), ("large", large_finish)):
            workspace = Workspace.open(Path(folder) / name)
            if not workspace.jobs():
                fill(workspace)
            workspace.close()
        looked = Looked(application)
        took, stall = looked.done(
            lambda: looked.window.job.open(Path(folder) / "years", demo=False)
        )
        print(f"{JOBS} jobs listed and at rest in {took:.2f} s (goal {LISTED_S:.0f}),", end=" ")
        print(f"longest stall {1000 * stall:.0f} ms", flush=True)
        if took > LISTED_S:
            missed.append(f"listed in {took:.2f} s")
        looked.done(lambda: looked.window.job.open(Path(folder) / "large", demo=False))
        finish = looked.window.job.records.jobs()[0][1][0]
        told = [("the finish opened", looked.done(lambda: looked.window.open_finish(finish.id)))]
        for turn in ("first", "again"):
            for station in STATIONS:
                shown = looked.done(lambda station=station: looked.window.go_to(station))
                told.append((f"{station}, {turn}", shown))
        for what, (took, stall) in told:
            kept = "" if stall <= STALL_S else "  MISSED"
            print(f"{what:20} at rest in {took:6.2f} s, longest stall {1000 * stall:5.0f} ms{kept}")
            if stall > STALL_S:
                missed.append(f"{what}: stalled {1000 * stall:.0f} ms")
        looked.window.close()
    if options.keep:
        faults = tuple((0, words) for words in missed)
        seconds = time.monotonic() - began
        keep("load", PROMISE, Outcome(seed=0, count=1 + len(told), seconds=seconds, faults=faults))
    return int(bool(missed))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
