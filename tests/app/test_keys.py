"""Every key does what the list says, and every key is in the list."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QFontMetricsF
from PySide6.QtTest import QTest

from jartide.app.glance_view import LEAST_PX, GlanceView
from jartide.app.keys import KEYS
from jartide.app.stations.boards.row_page import RowOverAll
from jartide.app.theme import font
from jartide.app.window import MainWindow
from jartide.help_texts import section_of
from jartide.wording import tr

from .conftest import settle
from .hand import all_of, the

# As the help writes keys.
WRITTEN = {"Ctrl+Return": "Ctrl+Enter", "Ctrl+,": "Ctrl+,"}


@pytest.fixture
def own_size(monkeypatch):
    """A test's window keeps its size: there is no screen to fill."""
    monkeypatch.setattr(MainWindow, "showFullScreen", lambda self: None)
    monkeypatch.setattr(MainWindow, "showNormal", lambda self: None)


def press(window, keys):
    """Do what a key does: its action, as the window has it."""
    action = next(a for a in window.actions() if a.shortcut().toString() == keys)
    assert isinstance(action, QAction)
    action.trigger()


def finish_named(window, name):
    found = [f for _, own in window.job.records.jobs() for f in own if f.name == name]
    window.open_finish(found[0].id)


@pytest.mark.parametrize("key", KEYS, ids=lambda key: key.keys)
def test_every_key_is_in_the_list_of_the_help(key):
    words = WRITTEN.get(key.keys, key.keys)
    assert f"**{words}**" in section_of("keys", "en").text


def test_the_next_of_what_stands_side_by_side(qtbot, demo):
    finish_named(demo, "Bar front")
    demo.go_to("boards")
    settle(qtbot, demo)
    boards = demo.station("boards")
    seen = []
    for _ in range(4):
        seen.append(boards.chosen()[0].number)
        press(demo, "Alt+Right")
    assert seen == [3, 1, 2, 3]
    press(demo, "Alt+Left")
    assert boards.chosen()[0].number == 3
    for station in ("photos", "jars", "steps"):
        demo.go_to(station)
        settle(qtbot, demo)
        for _ in range(3):
            press(demo, "Esc")  # whatever page was left open there
        before = demo.grab().toImage()
        press(demo, "Alt+Right")
        settle(qtbot, demo)
        assert demo.grab().toImage() != before, station
        press(demo, "Esc")


def test_the_next_tin_where_the_paints_are_open(qtbot, demo):
    finish_named(demo, "Bar front")
    demo.go_to("jars")
    settle(qtbot, demo)
    jars = demo.station("jars")
    jars._open_paints()
    ids = [tin.id for tin in demo.job.records.tins()]
    jars.paints.choose(ids[0])
    press(demo, "Alt+Left")
    assert jars.paints.current().id == ids[-1]
    press(demo, "Alt+Right")
    assert jars.paints.current().id == ids[0]
    press(demo, "Esc")
    assert not jars.paints.isVisible()


def test_pages_are_turned_round_and_round(qtbot, demo):
    finish_named(demo, "Bar front")
    demo.go_to("steps")
    settle(qtbot, demo)
    press(demo, "Alt+Down")
    assert demo.station("steps").page.name == "plan"
    press(demo, "Alt+Up")
    assert demo.station("steps").page is None
    press(demo, "Alt+Up")
    assert demo.station("steps").page.name == "decide"
    press(demo, "Esc")
    assert demo.station("steps").page is None


def test_at_a_glance_the_space_bar_moves_the_work_on(qtbot, demo, own_size):
    finish_named(demo, "Bar front")
    demo.go_to("steps")
    settle(qtbot, demo)
    press(demo, "F7")
    settle(qtbot, demo)
    view = the(demo, GlanceView)
    assert view.isVisible() and view.size() == demo.size()
    assert view.press_rect().height() >= 160
    QTest.keyClick(view, Qt.Key.Key_Space)
    settle(qtbot, demo)
    assert demo.job.plan.is_kept()
    QTest.keyClick(view, Qt.Key.Key_Space)
    settle(qtbot, demo)
    running = [b for b in demo.job.plan.timed().blocks if b.state == "running"]
    assert len(running) == 1
    # A touch anywhere in the foot does the same.
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.press_rect().center().toPoint())
    settle(qtbot, demo)
    assert not [b for b in demo.job.plan.timed().blocks if b.state == "running"]
    press(demo, "Esc")
    assert not view.isVisible()


def test_at_a_glance_says_what_with_which_jar_and_what_then(qtbot, demo, own_size):
    finish_named(demo, "Bar front")
    demo.go_to("steps")
    settle(qtbot, demo)
    steps, plan = demo.station("steps"), demo.job.plan
    painted = next(
        b for b in plan.timed().blocks if demo.job.described.shade(plan.steps_of(b.task))
    )
    steps.choose(painted.task.id)
    press(demo, "F7")
    view = the(demo, GlanceView)
    said = view.accessibleName()
    glance, _ = steps.at_a_glance()
    assert glance.parts and glance.shade.startswith("#") and glance.then and glance.ready
    for words in (glance.what, glance.where, glance.parts, glance.time, glance.then):
        assert words in said
    # Capital letters of 4 mm for each of 3 m, at 96 px to the inch.
    assert QFontMetricsF(font(LEAST_PX)).capHeight() >= 12 / 25.4 * 96
    press(demo, "F7")
    assert not view.isVisible()


def test_the_row_shows_all_at_one_scale(qtbot, demo, own_size):
    finish_named(demo, "Bar front")
    demo.go_to("boards")
    settle(qtbot, demo)
    press(demo, "F8")
    settle(qtbot, demo)
    row = the(demo, RowOverAll)
    row.show_now()
    pictures, places = row.view._pictures, row.view.places()
    assert [p.title for p in pictures] == ["Target", "Board 1", "Board 2", "Board 3"]
    scales = [place.width() / p.size_mm()[0] for p, place in zip(pictures, places, strict=True)]
    assert scales == pytest.approx([scales[0]] * 4)
    inside = row.view.rect().toRectF()
    assert all(inside.contains(place) for place in places)
    assert not [
        1 for n, one in enumerate(places) for other in places[n + 1 :] if one.intersects(other)
    ]
    QTest.mouseClick(row.view, Qt.MouseButton.LeftButton, pos=places[1].center().toPoint())
    assert "Board 1" in row.view.accessibleName().rpartition(". ")[2]
    QTest.keyClick(row.view, Qt.Key.Key_Right)
    assert row.view.accessibleName().endswith("Board 2")
    press(demo, "Esc")
    assert not row.isVisible()


def test_without_a_finish_it_is_said_what_is_missing(qtbot, demo):
    demo.show_jobs()
    for keys in ("F7", "F8"):
        press(demo, keys)
        assert demo.foot.shown.text == tr("glance.no_finish")
        demo.foot.clear_over()
    assert not [v for v in all_of(demo, GlanceView) if v.isVisible()]


def test_a_job_is_begun_from_anywhere(qtbot, demo):
    finish_named(demo, "Bar front")
    demo.go_to("jars")
    settle(qtbot, demo)
    before = len(demo.job.records.jobs())
    press(demo, "Ctrl+N")
    settle(qtbot, demo)
    assert demo.is_at("jobs") and len(demo.job.records.jobs()) == before + 1
