"""What the demo job's sheets cost: each gathered, written as PDF and drawn for the screen."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

RUNS = 3


def sheet_rows() -> Iterator[tuple[str, float, float, str]]:
    """Yield the slowest of the four finishes' whole sheets."""
    from PySide6.QtWidgets import QApplication

    from jartide.app.main import make_application, make_window
    from jartide.job.sheet import pages_of
    from jartide.sheet.content import Part
    from jartide.sheet.job_sheet import Paper, job_sheet_pdf

    make_application()
    application = QApplication.instance()
    assert application is not None
    window = make_window()
    job = window.job
    window.show()

    def settle() -> None:
        for _ in range(5):
            application.processEvents()
            while job.runner.busy:
                application.processEvents()
                time.sleep(0.005)

    with tempfile.TemporaryDirectory() as place:
        job.open(Path(place) / "demo", demo=True)
        while job.workspace is None:
            application.processEvents()
        slowest = 0.0
        for finish in [f for _, own in job.records.jobs() for f in own]:
            window.open_finish(finish.id)
            for station in ("jars", "steps", "boards", "sheet"):
                window.go_to(station)
                settle()
            times = []
            for _ in range(RUNS):
                start = time.perf_counter()
                content = window.job.sheet.content()
                assert content is not None
                pages_of(job_sheet_pdf(content, Paper.A4, tuple(Part)), 110)
                times.append(time.perf_counter() - start)
            slowest = max(slowest, statistics.median(times))
        window.close()
        job.close()
    yield "job sheet of a demo finish, slowest of four", slowest, 2.0, "s"
