"""Take the pictures of docs/screenshots from the demo job: `make shots`.

python tools/shots.py FOLDER [NAME ...]
"""

from __future__ import annotations

import sys
import tempfile
import time
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QEventLoop, Qt
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QApplication

from jartide.app.main import make_application, make_window
from jartide.app.widgets.painted import choose_theme
from jartide.app.window import MainWindow
from jartide.help_texts import help_sections
from jartide.studio.camera_stand import Board, StandSettings

_HELP = Path(__file__).parent.parent / "src/jartide/data/help/pictures"
_HELP_WIDE = 720


def settle(window: MainWindow, seconds: float = 120) -> None:
    """Let all work come to rest and everything be painted."""
    application = QApplication.instance()
    assert application is not None
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 5:
        application.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 50)
        time.sleep(0.02)
        quiet = 0 if window.job.runner.busy else quiet + 1


def open_by_name(window: MainWindow, name: str, station: str) -> None:
    """Open a finish of the demo job at a station."""
    for _, finishes in window.job.records.jobs():
        for finish in finishes:
            if finish.name == name:
                window.open_finish(finish.id)
    window.go_to(station)
    settle(window)


def work_until(window: MainWindow, first: datetime, last: datetime) -> None:
    """Take the plan of the bar front and work it off until a time, as planned."""
    steps = window.station("steps")
    plan = steps.job.plan
    plan.clock = lambda: first
    steps.open_page("surfaces")._plan_board()
    steps.close_page()
    plan.take_proposal()
    at = first
    while True:
        timed = plan.timed()
        events = []
        for block in timed.blocks:
            begins, ends = plan.at(block.placed.start), plan.at(block.placed.end)
            if block.state == "planned":
                events.append((begins, 1, block))
            elif block.state == "running":
                events.append((ends, 0, block))
            elif block.state in ("drying", "look") and not block.done.ready:
                events.append((plan.at(block.placed.ready), 2, block))
        when, what, block = min(events, key=lambda e: (e[0], e[1]))
        at = max(at, when)
        if at > last:
            break
        plan.clock = lambda now=at: now
        (plan.end, plan.begin, plan.ready)[what](block.task)
    plan.clock = lambda: last
    steps.refresh()
    window.foot.clear_over()


def take(window: MainWindow, folder: Path, name: str) -> None:
    settle(window)
    picture = window.grab()
    picture.save(str(folder / f"{name}.png"))
    keep_for_help(name, picture)


def keep_for_help(name: str, picture: QPixmap) -> None:
    """Keep a picture that the help names, reduced, where the window finds it."""
    if any(name in section.pictures for section in help_sections()):
        _HELP.mkdir(exist_ok=True)
        smooth = Qt.TransformationMode.SmoothTransformation
        small = picture.toImage().scaledToWidth(_HELP_WIDE, smooth)
        small.save(str(_HELP / f"{name}.jpg"), "JPG", 88)


def main(folder: Path, wanted: list[str]) -> None:
    make_application()
    folder.mkdir(parents=True, exist_ok=True)
    window = make_window()
    job = window.job
    window.resize(1280, 800)
    window.show()
    with tempfile.TemporaryDirectory() as place:
        job.open(Path(place), demo=True)
        settle(window)

        def shot(name: str, finish: str, station: str, bench: str = "day") -> None:
            if wanted and name not in wanted:
                return
            choose_theme(bench)
            window.apply_theme()
            if station == "jobs":
                window.show_jobs()
            elif station == "settings":
                window.show_settings()
                window.station("settings").place.setText("/home/painter/Jar Tide")
            elif station == "help":
                window.show_help("lines.width_mm")
            else:
                open_by_name(window, finish, station)
            if name == "photos_card":
                window.station("photos").jobs.take_photo(
                    StandSettings(board=Board.CONCRETE, tilt_deg=24)
                )
                settle(window)
                window.station("photos")._use._pick(0)
            if name == "reading_layer":
                window.station("reading")._layer_picked(3)
            if name == "reading_number":
                window.station("reading")._pattern.view.choose("lines.spacing_mm")
            if name == "jars":
                window.station("jars").choose(window.station("jars")._states[2].mix.id)
            if name == "jars_glaze":
                window.station("jars").choose(window.station("jars")._states[3].mix.id)
                how = window.station("jars").limits.how
                how.setCurrentIndex(1)
                how.activated.emit(1)
                settle(window)
                window.station("jars")._pick(2)
            if name == "jars_reading":
                window.station("jars").choose(window.station("jars")._states[1].mix.id)
                window.station("jars")._open_trial()
                window.station("jars").trial.panel.reader_wanted.emit()
                window.station("jars").trial.panel._pressed()
            if name == "paints":
                window.station("jars").escape()
                window.station("jars")._open_paints()
                window.station("jars").paints.choose(window.job.records.tins()[8].id)
                settle(window)
                window.station("jars").paints._look_up_lessons()
            if name == "steps":
                work_until(window, datetime(2026, 5, 14, 8), datetime(2026, 5, 15, 10, 36))
            if name == "steps_plan":
                page = window.station("steps").open_page("plan")
                steps = window.job.plan.steps()
                page.choose(next(s.id for s in steps if s.technique == "vein_feather"))
            if name == "boards_log":
                window.station("boards").open_page("log")
            if name == "reading_zones":
                window.station("reading")._zones.click()
                window.station("reading")._zone_drawn((0.08, 0.1, 0.46, 0.62))
            if name == "sheet":
                settle(window)
                window.station("sheet").refresh()
            take(window, folder, name)

        shot("jobs", "", "jobs")
        shot("settings", "", "settings")
        shot("photos", "Bar front", "photos")
        shot("photos_card", "Terrace", "photos")
        while window.job.history.can_undo:  # the demo job as it was
            window.job.history.undo()
        shot("reading", "Bar front", "reading")
        shot("reading_number", "Bar front", "reading")
        shot("reading_layer", "Bar front", "reading")
        shot("reading_zones", "Lift lobby", "reading")
        while window.job.history.can_undo:
            window.job.history.undo()
        window.station("reading").escape()
        shot("help", "", "help")
        shot("jars", "Bar front", "jars")
        shot("jars_glaze", "Bar front", "jars")
        shot("jars_reading", "Bar front", "jars")
        shot("paints", "Bar front", "jars")
        window.station("jars").escape()
        while window.job.history.can_undo:
            window.job.history.undo()
        shot("steps", "Bar front", "steps")
        shot("steps_plan", "Bar front", "steps")
        window.station("steps").escape()
        while window.job.history.can_undo:
            window.job.history.undo()
        window.job.plan.clock = datetime.now
        shot("boards", "Bar front", "boards")
        shot("boards_log", "Bar front", "boards")
        window.station("boards").close_page()
        shot("boards_night", "Bar front", "boards", "night")
        choose_theme("day")
        window.apply_theme()
        shot("sheet", "Bar front", "sheet")
        window.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2:])
