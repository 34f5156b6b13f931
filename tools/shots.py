"""Take the pictures of docs/screenshots from the demo job: `make shots`.

python tools/shots.py FOLDER [NAME ...]
"""

from __future__ import annotations

import sys
import tempfile
import time
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QEventLoop
from PySide6.QtWidgets import QApplication

from jartide.app.document import Document
from jartide.app.main import make_application
from jartide.app.widgets.painted import choose_theme
from jartide.app.window import MainWindow
from jartide.studio.camera_stand import Board, StandSettings


def settle(window: MainWindow, seconds: float = 120) -> None:
    """Let all work come to rest and everything be painted."""
    application = QApplication.instance()
    assert application is not None
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 5:
        application.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 50)
        time.sleep(0.02)
        quiet = 0 if window.document.runner.busy else quiet + 1


def open_by_name(window: MainWindow, name: str, station: str) -> None:
    """Open a finish of the demo job at a station."""
    for _, finishes in window.document.jobs():
        for finish in finishes:
            if finish.name == name:
                window.open_finish(finish.id)
    window.go_to(station)
    settle(window)


def work_until(window: MainWindow, first: datetime, last: datetime) -> None:
    """Take the plan of the bar front and work it off until a time, as planned."""
    steps = window.steps
    desk = steps.desk
    desk.clock = lambda: first
    steps.open_page("surfaces")._plan_board()
    steps.close_page()
    desk.take_proposal()
    at = first
    while True:
        timed = desk.timed()
        events = []
        for block in timed.blocks:
            begins, ends = desk.at(block.placed.start), desk.at(block.placed.end)
            if block.state == "planned":
                events.append((begins, 1, block))
            elif block.state == "running":
                events.append((ends, 0, block))
            elif block.state in ("drying", "look") and not block.done.ready:
                events.append((desk.at(block.placed.ready), 2, block))
        when, what, block = min(events, key=lambda e: (e[0], e[1]))
        at = max(at, when)
        if at > last:
            break
        desk.clock = lambda now=at: now
        (desk.end, desk.begin, desk.ready)[what](block.task)
    desk.clock = lambda: last
    steps.tick()
    window.foot.clear_over()


def take(window: MainWindow, folder: Path, name: str) -> None:
    settle(window)
    window.grab().save(str(folder / f"{name}.png"))


def main(folder: Path, wanted: list[str]) -> None:
    make_application()
    folder.mkdir(parents=True, exist_ok=True)
    document = Document()
    window = MainWindow(document)
    window.resize(1280, 800)
    window.show()
    with tempfile.TemporaryDirectory() as place:
        document.open(Path(place), demo=True)
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
                window.settings.place.setText("/home/painter/Jar Tide")
            elif station == "help":
                window.show_help("lines.width_mm")
            else:
                open_by_name(window, finish, station)
            if name == "photos_card":
                window.photos.jobs.take_photo(StandSettings(board=Board.CONCRETE, tilt_deg=24))
                settle(window)
                window.photos._use._pick(0)
            if name == "reading_layer":
                window.reading._layer_picked(3)
            if name == "reading_number":
                window.reading._pattern.view.choose("lines.spacing_mm")
            if name == "jars":
                window.jars.choose(window.jars._states[2].mix.id)
            if name == "jars_glaze":
                window.jars.choose(window.jars._states[3].mix.id)
                window.jars._how.setCurrentIndex(1)
                window.jars._way_changed()
                settle(window)
                window.jars._pick(2)
            if name == "jars_reading":
                window.jars.choose(window.jars._states[1].mix.id)
                window.jars._open_trial()
                window.jars._use_reader()
                window.jars._trial._pressed()
            if name == "paints":
                window.jars.escape()
                window.jars._open_paints()
                window.jars.paints.choose(window.jars.desk.tins()[8].id)
                settle(window)
                window.jars.paints._look_up_lessons()
            if name == "steps":
                work_until(window, datetime(2026, 5, 14, 8), datetime(2026, 5, 15, 10, 36))
            if name == "steps_plan":
                page = window.steps.open_page("plan")
                steps = window.steps.desk.steps()
                page.choose(next(s.id for s in steps if s.technique == "vein_feather"))
            if name == "boards_log":
                window.boards.open_page("log")
            if name == "reading_zones":
                window.reading._zones.click()
                window.reading._zone_drawn((0.08, 0.1, 0.46, 0.62))
            if name == "sheet":
                settle(window)
                window.sheet.refresh()
            take(window, folder, name)

        shot("jobs", "", "jobs")
        shot("settings", "", "settings")
        shot("photos", "Bar front", "photos")
        shot("photos_card", "Terrace", "photos")
        while window.document.undo_stack.canUndo():  # the demo job as it was
            window.document.undo_stack.undo()
        shot("reading", "Bar front", "reading")
        shot("reading_number", "Bar front", "reading")
        shot("reading_layer", "Bar front", "reading")
        shot("reading_zones", "Lift lobby", "reading")
        while window.document.undo_stack.canUndo():
            window.document.undo_stack.undo()
        window.reading.escape()
        shot("help", "", "help")
        shot("jars", "Bar front", "jars")
        shot("jars_glaze", "Bar front", "jars")
        shot("jars_reading", "Bar front", "jars")
        shot("paints", "Bar front", "jars")
        window.jars.escape()
        while window.document.undo_stack.canUndo():
            window.document.undo_stack.undo()
        shot("steps", "Bar front", "steps")
        shot("steps_plan", "Bar front", "steps")
        window.steps.escape()
        while window.document.undo_stack.canUndo():
            window.document.undo_stack.undo()
        window.steps.desk.clock = datetime.now
        shot("boards", "Bar front", "boards")
        shot("boards_log", "Bar front", "boards")
        window.boards.close_page()
        shot("boards_night", "Bar front", "boards", "night")
        choose_theme("day")
        window.apply_theme()
        shot("sheet", "Bar front", "sheet")
        window.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2:])
