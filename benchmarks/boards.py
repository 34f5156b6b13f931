"""What comparing costs: two prepared photos, and the distance that is moved."""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

RUNS = 7


def comparing_rows(photo: Path) -> Iterator[tuple[str, float, float, str]]:
    """Yield the time of a comparison, its pictures seen from there, with readings at hand."""
    from jartide.boards.compare import judged, pair_up
    from jartide.boards.match import match_layers
    from jartide.boards.seen import seen_differences, view_of, with_seen
    from jartide.boards.where import where_differs
    from jartide.photo.load import load_photo
    from jartide.photo.prepare import prepare
    from jartide.photo.settings import PhotoSettings
    from jartide.reading.read import read_picture

    picture = prepare(load_photo(str(photo)), PhotoSettings(mm_per_px=0.1))
    reading, _ = read_picture(picture, "marble")
    other = replace(reading)
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        paired = pair_up(reading, other)
        comparison = judged(paired, 2.0)
        gains = match_layers(reading, other).gains
        views = view_of(picture.rgb_linear, picture.mm_per_px or 1.0)
        seen = seen_differences(views, views, [2.0], gains)
        with_seen(comparison, seen)
        where_differs(views, views, 2.0, gains)
        times.append(time.perf_counter() - start)
    yield "two prepared photos compared, seen and mapped", statistics.median(times[1:]), 0.5, "s"


def distance_rows() -> Iterator[tuple[str, float, float, str]]:
    """Yield what one step of the distance costs in the window at 1280x800, painted."""
    from PySide6.QtWidgets import QApplication

    from jartide.app.main import make_application, make_window

    application = make_application()
    window = make_window()
    job = window.job
    window.resize(1280, 800)
    window.show()
    with tempfile.TemporaryDirectory() as folder:
        job.open(Path(folder) / "workspace", demo=True)

        def settle() -> None:
            while job.workspace is None or job.runner.busy:
                application.processEvents()
            QApplication.processEvents()

        settle()
        finish = next(f for _, fs in job.records.jobs() for f in fs if f.name == "Bar front")
        window.open_finish(finish.id)
        window.go_to("boards")
        settle()
        boards = window.station("boards")
        boards._from_afar.setChecked(True)
        boards._distance_moved(2.1)
        times = []
        for step in range(12):
            start = time.perf_counter()
            boards._distance_moved(0.5 + 0.5 * step)
            boards.repaint()
            times.append(time.perf_counter() - start)
        window.close()
    yield (
        "one step of the distance, as seen from there",
        1000 * statistics.median(times),
        60.0,
        "ms",
    )
