"""The guided first job: on the real screens, from a photo to the sheet; left and taken up again."""

from __future__ import annotations

import pytest

from jartide.app.guide import STEPS
from jartide.wording import tr

from .conftest import settle


@pytest.fixture
def window(qtbot, open_window, small_pictures):
    found = open_window()
    found.station("jobs").first.buttons["guide"].click()
    settle(qtbot, found)
    return found


def until(qtbot, window, step):
    qtbot.waitUntil(lambda: window.guide.step == step, timeout=60_000)
    settle(qtbot, window)


def offered(qtbot, window, text):
    """Wait until the foot offers a button of this text."""

    def found():
        return next((a for a in window.foot.shown.actions if a.text == text), None)

    qtbot.waitUntil(lambda: found() is not None, timeout=60_000)
    return found()


def test_the_whole_way(qtbot, window):
    guide = window.guide
    assert guide.isVisible() and guide.step == "photo" and window.page() is window.station("photos")
    guide._practice.click()
    until(qtbot, window, "measure")
    assert guide._practice.text() == tr("guide.mark")
    guide._practice.click()
    until(qtbot, window, "reading")
    assert window.page() is window.station("reading")
    qtbot.waitUntil(lambda: window.job.readings.of_target() is not None, timeout=90_000)
    guide._on.click()
    assert guide.step == "paints" and window.page() is window.station("jars")
    window.station("jars")._open_paints()
    window.foot.clear_over()
    next(a for a in window.foot.shown.actions if a.text == tr("jars.take_starter")).run()
    until(qtbot, window, "mix")
    window.station("jars").escape()
    offered(qtbot, window, tr("jars.take_best")).run()
    until(qtbot, window, "plan")
    assert window.page() is window.station("steps")
    # What was not done is not passed: it is said what the step waits for.
    guide._on.click()
    assert guide.step == "plan" and window.foot.shown.text == tr("guide.waits.plan")
    window.foot.clear_over()
    offered(qtbot, window, tr("steps.add_surface")).run()
    offered(qtbot, window, tr("surface.add")).run()
    offered(qtbot, window, tr("steps.back")).run()
    offered(qtbot, window, tr("steps.take")).run()
    until(qtbot, window, "board")
    assert guide.step == "board" and window.page() is window.station("boards")
    guide._practice.click()
    until(qtbot, window, "judge")
    qtbot.waitUntil(lambda: window.station("boards")._comparison is not None, timeout=90_000)
    guide._on.click()
    assert guide.step == "sheet" and guide._on.text() == tr("guide.end")
    guide._on.click()
    assert not guide.isVisible() and guide.step == ""
    assert window.foot.shown.text == tr("guide.over")
    assert [job.name for job, _ in window.job.records.jobs()] == [tr("guide.job")]


def test_it_is_left_and_taken_up_again_where_it_was(qtbot, window):
    guide = window.guide
    guide._practice.click()
    until(qtbot, window, "measure")
    guide._leave.click()
    assert not guide.isVisible() and guide.can_go_on
    assert window.foot.shown.text == tr("guide.left")
    window.foot.clear_over()
    window.show_help()
    go = next(a for a in window.foot.shown.actions if a.text == tr("first.guide"))
    go.run()
    settle(qtbot, window)
    assert (
        guide.isVisible() and guide.step == "measure" and window.page() is window.station("photos")
    )
    assert len(window.job.records.jobs()) == 1


def test_it_goes_on_after_the_window_was_closed(qtbot, window, open_window):
    folder = window.job.workspace.folder
    window.guide._practice.click()
    until(qtbot, window, "measure")
    window.guide._practice.click()
    until(qtbot, window, "reading")
    step = window.guide.step
    window.close()
    again = open_window(folder=folder)
    finish = again.job.records.jobs()[0][1][0]
    again.open_finish(finish.id)
    settle(qtbot, again)
    assert again.guide.step == step == STEPS[2]
    assert again.guide.isVisible()


def test_it_stays_with_its_own_finish(qtbot, window):
    window.show_jobs()
    window.station("jobs").new_job()
    settle(qtbot, window)
    window.open_finish(window.station("jobs").chosen_finish().id)
    settle(qtbot, window)
    assert not window.guide.isVisible() and window.guide.step == "photo"
