"""The workspace's folder goes while it is open: told, paused, nothing written elsewhere."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PySide6.QtCore import QMimeData, QUrl

from jartide.studio.camera_stand import CameraStand, StandSettings
from jartide.wording import tr
from tests.app.conftest import settle
from tests.app.test_photos_station import press

STAND = StandSettings(size_px=(600, 450), falloff=0.2)
pytestmark = pytest.mark.usefixtures("small_pictures")


@pytest.fixture
def window(qtbot, open_window):
    """A window on a new finish."""
    made = open_window()
    press(made, "New job")
    press(made, "Open finish")
    settle(qtbot, made)
    return made


def test_a_folder_that_goes_pauses_the_work_until_it_is_back(qtbot, window):
    folder = window.job.workspace.folder
    before, done = window.job.finish, window.job.history.done
    away = folder.with_name("elsewhere")
    folder.rename(away)
    qtbot.waitUntil(lambda: "not there any more" in window.foot.shown.text, timeout=2_000)
    assert not window.page().isEnabled()
    window.job.records.change("x", [before], [replace(before, name="Lost?")])
    assert "not there any more" in window.foot.shown.text
    assert window.job.finish == before
    assert window.job.history.done == done
    assert not folder.exists()
    away.rename(folder)
    qtbot.waitUntil(lambda: window.page().isEnabled(), timeout=2_000)
    assert "is back" in window.foot.shown.text
    window.job.records.change("x", [before], [replace(before, name="Kept")])
    assert window.job.workspace.finishes(before.job_id)[0].name == "Kept"
    settle(qtbot, window)


def test_an_undo_that_can_not_be_saved_stays_to_be_done(qtbot, window):
    folder = window.job.workspace.folder
    before = window.job.finish
    history = window.job.history
    history.clear()
    window.job.records.change("x", [before], [replace(before, name="New")])
    away = folder.with_name("elsewhere")
    folder.rename(away)
    history.undo()
    assert history.can_undo and not history.can_redo
    away.rename(folder)
    history.undo()
    assert history.can_redo and not history.can_undo
    folder.rename(away)
    history.redo()
    assert history.can_redo and not history.can_undo
    away.rename(folder)
    history.redo()
    assert window.job.workspace.finishes(before.job_id)[0].name == "New"
    settle(qtbot, window)


def test_two_photos_of_one_name_dropped_together_both_arrive(qtbot, window, tmp_path):
    stand = CameraStand(settings=STAND)
    mime = QMimeData()
    urls, photos = [], []
    for place in ("card one", "card two"):
        (tmp_path / place).mkdir()
        file = tmp_path / place / "0001.jpg"
        photos.append(stand.take())
        urls.append(QUrl.fromLocalFile(str(file)))
    size = max(map(len, photos))
    for url, data in zip(urls, photos, strict=True):
        # Of one size, too.
        with open(url.toLocalFile(), "wb") as file:
            file.write(data + b"\0" * (size - len(data)))
    mime.setUrls(urls)
    had = len(window.job.records.photos())
    window.go_to("photos")
    assert window._bring(mime)
    press(window, tr("photos.it_is.mood"))
    qtbot.waitUntil(lambda: len(window.job.records.photos()) == had + 2, timeout=20_000)
    new = window.job.records.photos()[-2:]
    assert new[0].sha256 != new[1].sha256
    assert [photo.file_name for photo in new] == ["0001.jpg"] * 2
    settle(qtbot, window)


def test_the_night_bench_comes_on_a_full_disk_too(qtbot, window):
    from jartide.app.widgets.painted import current_theme

    folder = window.job.workspace.folder
    before = current_theme().name
    away = folder.with_name("elsewhere")
    folder.rename(away)
    window.switch_bench()
    assert current_theme().name != before
    assert "not there any more" in window.foot.shown.text
    away.rename(folder)
    window.switch_bench()
    assert current_theme().name == before
