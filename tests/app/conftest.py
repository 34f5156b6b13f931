"""A real window on a workspace of its own."""

from __future__ import annotations

from contextlib import contextmanager
from datetime import datetime

import pytest
from PySide6.QtCore import QEventLoop
from PySide6.QtWidgets import QApplication

from jartide.app.main import make_application, make_window
from jartide.app.measure import choose_text_size, px
from jartide.app.stations.boards import station
from jartide.app.theme import DAY, font
from jartide.app.widgets.painted import choose_theme, current_theme
from jartide.photo import prepare

from ..conftest import FULL_PIXELS, half_pictures
from ..remembered import WORK, remember


@pytest.fixture
def small_pictures(fewer_pixels, monkeypatch):
    """Prepare photos at half of what other tests do, where nothing is read off them."""
    monkeypatch.setattr(prepare, "READING_PIXELS", FULL_PIXELS // 4)


@pytest.fixture(autouse=True)
def fewer_pixels():
    """Every test here works on pictures of half as many pixels."""
    with half_pictures():
        yield


@pytest.fixture(scope="session", autouse=True)
def remembered():
    """What is made of the same photo with the same settings is made once for all windows."""
    with remember(*WORK, (station, "difference_picture")) as kept:
        yield kept


@pytest.fixture(scope="session", autouse=True)
def own_settings(tmp_path_factory):
    """Settings of their own: those of whoever runs the tests are neither read nor written."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("XDG_CONFIG_HOME", str(tmp_path_factory.mktemp("config")))
        patch.setenv("XDG_DATA_HOME", str(tmp_path_factory.mktemp("data")))
        yield


@pytest.fixture(scope="session")
def qapp():
    return make_application()


@contextmanager
def text_size(percent):
    """Measure by another size of text for a while, as the setting does from the next start."""
    choose_text_size(percent)
    application = make_application()
    application.setFont(font(px(16)))
    try:
        yield
    finally:
        choose_text_size(100)
        application.setFont(font(16))


def settle(qtbot, window):
    """Wait until no work is under way and its answers are shown."""
    qtbot.waitUntil(lambda: not window.job.runner.busy, timeout=60_000)
    QApplication.instance().processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 50)


@pytest.fixture(scope="session")
def demo_window(qapp, tmp_path_factory):
    """The demo job in one window for all tests of a worker: opening it takes seconds."""
    choose_theme("day")
    window = make_window()
    job = window.job
    window.show()
    with half_pictures():
        job.open(tmp_path_factory.mktemp("demo") / "workspace", demo=True)
        while job.workspace is None or job.runner.busy:
            qapp.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 50)
    yield window
    window.close()


@pytest.fixture
def demo(qtbot, demo_window):
    """The demo job, as it was when it was opened."""
    window = demo_window
    stack = window.job.history
    while stack.can_undo:
        stack.undo()
    stack.clear()
    settle(qtbot, window)
    for _ in range(3):
        window.escape()
    if current_theme() is not DAY:
        window.switch_bench()
    window.resize(1280, 800)
    window.show_jobs()
    # The latest board lies on the bench again, seen beside its target.
    window.station("boards")._board_id = None
    window.station("boards")._row = 0
    window.station("boards")._view.show_index(0)
    window.station("boards")._from_afar.setChecked(False)
    window.job.plan.clock = datetime.now
    window.due_watch.forget()
    window.station("steps").choose("")
    window.activateWindow()
    settle(qtbot, window)
    return window


@pytest.fixture
def open_window(qtbot, tmp_path):
    """Open windows on one workspace; all are closed at the end."""
    opened = []

    def start(demo=False, folder=None):
        choose_theme("day")
        window = make_window()
        job = window.job
        qtbot.addWidget(window)
        window.show()
        opened.append(window)
        job.open(folder or tmp_path / "workspace", demo=demo)
        qtbot.waitUntil(lambda: job.workspace is not None, timeout=30_000)
        settle(qtbot, window)
        return window

    yield start
    for window in opened:
        window.close()
