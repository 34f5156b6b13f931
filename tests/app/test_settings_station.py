"""Settings in the real window: kept as they are changed, and what they change is seen."""

from __future__ import annotations

import pytest
from PySide6.QtWidgets import QFileDialog

from jartide.app.theme import NIGHT
from jartide.app.widgets.painted import current_theme, keep_still, motion_ms
from jartide.store.app_settings import read_settings
from jartide.wording import tr

from .conftest import settle


@pytest.fixture
def window(qtbot, open_window):
    found = open_window()
    found.station("jobs").new_job()
    found.show_settings()
    settle(qtbot, found)
    yield found
    keep_still(False)


@pytest.fixture(autouse=True)
def fresh_settings(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))


def test_text_and_language_take_effect_at_the_next_start(qtbot, window):
    settings = window.station("settings")
    assert not settings.again.isVisible()
    settings.text._pick(2)
    assert read_settings().text_scale == 130
    assert settings.again.isVisible()
    settings.text._pick(0)
    assert not settings.again.isVisible()
    settings.language.setCurrentIndex(settings.language.findData("de"))
    settings.language.activated.emit(settings.language.currentIndex())
    assert read_settings().language == "de"
    with qtbot.waitSignal(settings.restart_wanted):
        settings.again.click()


def test_nothing_moves_when_it_should_not(window):
    assert motion_ms() > 0
    window.station("settings").motion.click()
    assert read_settings().reduced_motion and motion_ms() == 0


def test_the_bench_is_switched(window):
    window.station("settings").bench._pick(1)
    assert current_theme() is NIGHT
    window.station("settings").bench._pick(0)


def test_new_work_begins_with_the_painters_values(qtbot, window):
    settings = window.station("settings")
    settings.units._pick(1)
    settings.paper._pick(2)
    for field, words in ((settings.currency, "$"), (settings.viewing, "3,5"),
                         (settings.tolerance, "2.5")):  # fmt: skip
        field.setText(words)
        field.editingFinished.emit()
    window.show_jobs()
    window.station("jobs")._new_finish()
    finish = window.station("jobs").chosen_finish()
    assert (finish.viewing_m, finish.tolerance) == (3.5, 2.5)
    window.open_finish(finish.id)
    window.go_to("sheet")
    settle(qtbot, window)
    assert window.station("sheet")._paper.index == 2
    # What is there keeps its own.
    old = next(f for _, fs in window.job.records.jobs() for f in fs if f.id != finish.id)
    assert (old.viewing_m, old.tolerance) == (2.0, 4.0)


@pytest.mark.parametrize(
    ("which", "words", "said"),
    [
        (which, words, f"error.settings.{which}")
        for which, words in (
            ("viewing", "far"),
            ("viewing", "900"),
            ("tolerance", "0"),
            ("tolerance", "nan"),
        )
    ],
)
def test_a_value_that_makes_no_sense_is_one_sentence(window, which, words, said):
    field = getattr(window.station("settings"), which)
    field.setText(words)
    field.editingFinished.emit()
    assert window.foot.shown.text == tr(said)
    assert field.text() in ("2", "4")


def test_work_moves_to_another_folder_and_back(qtbot, window, tmp_path, monkeypatch):
    before = window.job.workspace.folder
    other = tmp_path / "other place"
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(other))
    window.station("settings")._ask_place()
    settle(qtbot, window)
    assert window.job.workspace.folder == other
    assert read_settings().workspace == str(other)
    assert window.station("jobs").first.isVisible()
    # A folder that can't hold a workspace: the one before stays open, and stays the setting.
    wrong = tmp_path / "a file"
    wrong.write_text("no folder", encoding="utf-8")
    window.open_place(str(wrong))
    settle(qtbot, window)
    settle(qtbot, window)
    assert window.job.workspace.folder == other
    assert read_settings().workspace == str(other)
    assert "a file" in window.foot.shown.text
    assert before != other


def test_it_goes_into_the_menu(window, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "share"))
    window.station("settings").menu.click()
    assert window.foot.shown.text == tr("settings.in_menu")
    assert (tmp_path / "share" / "applications" / "jar-tide.desktop").exists()
