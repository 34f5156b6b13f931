"""What the window costs the painter: going from station to station, the bench, a pasted picture.

Each run is a process of its own on a fresh demo workspace; times are the interface thread's own.
"""

from __future__ import annotations

import json
import statistics
import subprocess
import sys
from collections.abc import Iterator

RUNS = 5
# (row, key of the child's answer, goal in milliseconds)
_ROWS = (
    ("a station seen before, the slowest", "again", 50.0),
    ("a station's first visit, the slowest", "first", 150.0),
    ("from day to night", "night", 150.0),
    ("a pasted 12 MP picture, longest hold of the interface", "paste", 50.0),
)


def window_use_rows() -> Iterator[tuple[str, float, float, str]]:
    """Yield the median of several runs of each, in milliseconds."""
    found = []
    for _ in range(RUNS):
        answers: dict[str, float] = {}
        for what in ("stations", "paste"):
            command = [sys.executable, "-m", "benchmarks.window", what]
            child = subprocess.run(command, capture_output=True, text=True, check=True)
            answers |= json.loads(child.stdout.splitlines()[-1])
        found.append(answers)
    for name, key, goal in _ROWS:
        yield name, statistics.median(one[key] for one in found), goal, "ms"


def _child(what: str) -> None:
    import tempfile
    import time
    from pathlib import Path

    import numpy as np
    from PySide6.QtCore import QEventLoop
    from PySide6.QtGui import QImage
    from PySide6.QtWidgets import QApplication

    from jartide.app.main import make_application, make_window, warm_up
    from jartide.app.stations.registry import STATIONS

    class Timed(QApplication):
        """Notes the longest own time of the thread that any one event took."""

        longest = 0.0

        def notify(self, receiver, event) -> bool:  # type: ignore[no-untyped-def]
            start = time.thread_time()
            done = super().notify(receiver, event)
            Timed.longest = max(Timed.longest, time.thread_time() - start)
            return done

    if what == "paste":
        # Each event is timed, which takes some time of its own: stations are timed without.
        Timed(sys.argv[:1])
    application = make_application()
    window = make_window()
    job = window.job
    window.show()

    def settle() -> None:
        quiet = 0
        while quiet < 3:
            application.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
            quiet = 0 if job.workspace is None or job.runner.busy else quiet + 1

    def own_ms(do) -> float:  # type: ignore[no-untyped-def]
        start = time.thread_time()
        do()
        window.grab()
        return 1000 * (time.thread_time() - start)

    with tempfile.TemporaryDirectory() as folder:
        job.open(Path(folder) / "workspace", demo=True)
        # As a start does while the painter looks at the jobs.
        job.runner.start("warm", warm_up, returned=lambda _: None, failed=print)
        settle()
        window.open_finish(job.records.jobs()[0][1][0].id)
        settle()
        answers = {}
        if what == "stations":
            first, again = [], []
            for entry in STATIONS:
                first.append(own_ms(lambda name=entry.name: window.go_to(name)))
                settle()
            for entry in STATIONS:
                again.append(own_ms(lambda name=entry.name: window.go_to(name)))
                settle()
            answers = {"first": max(first), "again": max(again)}
            answers["night"] = own_ms(window.switch_bench)
        else:
            window.go_to("photos")
            settle()
            rng = np.random.default_rng(1)
            small = rng.integers(60, 200, (375, 500, 3), np.uint8)
            code = np.ascontiguousarray(small.repeat(8, axis=0).repeat(8, axis=1))
            height, width = code.shape[:2]
            shape = (width, height, 3 * width, QImage.Format.Format_RGB888)
            QApplication.clipboard().setImage(QImage(code.data, *shape).copy())
            Timed.longest = 0.0
            start = time.thread_time()
            window.paste()
            pressed = time.thread_time() - start
            settle()
            answers["paste"] = 1000 * max(Timed.longest, pressed)
        settle()
        window.close()
    print(json.dumps(answers))


if __name__ == "__main__":
    import os

    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    _child(sys.argv[1])
