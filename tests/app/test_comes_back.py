"""What was open when the window was closed is open again, and as large as it was."""

from __future__ import annotations

import json

import pytest

from jartide.app.main import _as_it_was, _remember
from jartide.app.window import MainWindow
from jartide.store.app_settings import AppSettings, read_settings, settings_file, write_settings

from .conftest import settle

pytestmark = pytest.mark.usefixtures("small_pictures")


@pytest.mark.parametrize(("at", "back"), [("jars", "jars"), ("settings", "jars"), ("jobs", "jobs")])
def test_the_station_and_finish_come_back(qtbot, open_window, at, back):
    window = open_window()
    window.new_job()
    settle(qtbot, window)
    window.open_finish(window.station("jobs").chosen_finish().id)
    name = window.job.finish.name
    window.go_to("jars")
    if at == "settings":
        window.show_settings()
    elif at == "jobs":
        window.show_jobs()
    folder = window.job.workspace.folder
    window.close()
    again = open_window(folder=folder)
    assert again.page().name == back
    assert (again.job.finish is None) == (back == "jobs")
    if back != "jobs":
        assert again.job.finish.name == name


def test_a_finish_that_is_gone_opens_the_list(qtbot, open_window):
    window = open_window()
    window.new_job()
    settle(qtbot, window)
    window.job.workspace.set_preference("last_open", {"finish": "gone", "station": "jars"})
    folder = window.job.workspace.folder
    window.show_jobs()
    window.job.close()
    again = open_window(folder=folder)
    assert again.page().name == "jobs"


def test_the_window_is_as_large_as_it_was(qtbot, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    write_settings(AppSettings(language="de"))
    window = MainWindow()
    qtbot.addWidget(window)
    window.resize(1400, 900)
    _remember(window)
    kept = read_settings()
    assert kept.window == (1400, 900) and not kept.full_screen
    assert kept.language == "de"  # nothing else is touched
    other = MainWindow()
    qtbot.addWidget(other)
    _as_it_was(other, kept)
    room = other.screen().availableSize()
    expected = (min(1400, room.width()), min(900, room.height()))
    least = other.minimumSize()
    assert other.width() == max(expected[0], least.width())
    assert other.height() == max(expected[1], least.height())


@pytest.mark.parametrize("size", ["wide", [1400], [1400, "900"], [-3, 900], [1e9, 900], None])
def test_a_size_that_is_none_is_left_alone(tmp_path, monkeypatch, size):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    settings_file().parent.mkdir(parents=True, exist_ok=True)
    settings_file().write_text(json.dumps({"window": size, "text_scale": 115}), encoding="utf-8")
    assert read_settings() == AppSettings(text_scale=115)
