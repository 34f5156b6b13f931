"""A press first keeps what was typed, which shows everything anew: the press still counts."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QScrollArea

from jartide.app.stations.jars.jar_shelf import JarFace, JarShelf
from jartide.app.widgets.content import put_content
from jartide.app.widgets.print_shelf import Print, PrintShelf

from .conftest import settle


def _press(window, widget):
    """Press where a widget stands, by the window's own way in."""
    at = widget.mapTo(window, QPoint(widget.width() // 3, widget.height() // 2))
    QTest.mouseClick(
        window.windowHandle(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at
    )


def test_a_finish_is_renamed_by_pressing_on_another_one(qtbot, demo):
    window = demo
    window.go_to("jobs")
    settle(qtbot, window)
    station = window.station("jobs")
    first = station.chosen_finish()
    buttons = [button for shelf in station._shelves for button in shelf._buttons]
    other = next(button for button in buttons if button.shown.key != first.id)
    wanted = other.shown.key
    assert first.id != wanted
    station._side.edit_finish_name()
    QTest.keyClicks(station._side._fields["finish_name"], "Renamed")
    _press(window, other)
    settle(qtbot, window)
    names = {f.id: f.name for _, own in window.job.records.jobs() for f in own}
    assert names[first.id].endswith("Renamed")
    assert station.chosen_finish().id == wanted
    window.job.history.undo()


def test_content_that_is_changed_from_within_is_let_go_of_later(qtbot):
    area = QScrollArea()
    qtbot.addWidget(area)
    old, new = QLabel("old"), QLabel("new")
    put_content(area, old)
    gone = []
    old.destroyed.connect(lambda: gone.append(True))
    del old  # nobody but the area knows it
    put_content(area, new)
    assert area.widget() is new and not gone
    qtbot.waitUntil(lambda: bool(gone), timeout=2000)


def test_prints_and_jars_that_stay_are_the_very_same_buttons(qtbot):
    prints, jars = PrintShelf((100, 80), 200), JarShelf()
    for shelf in (prints, jars):
        qtbot.addWidget(shelf)

    def face(key, name):
        return JarFace(key=key, name=name, parts="", state="", lid=None, fill=None, level=0.5)

    prints.show_prints([Print(key=k, image=None, title=k) for k in "abc"], "a")
    jars.show_jars([face(k, k) for k in "abc"], "a")
    before = prints._buttons, jars._buttons
    prints.show_prints([Print(key=k, image=None, title=f"{k} now") for k in "abc"], "b")
    jars.show_jars([face(k, f"{k} now") for k in "abc"], "b")
    for shelf, buttons in zip((prints, jars), before, strict=True):
        assert all(new is old for new, old in zip(shelf._buttons, buttons, strict=True))
        assert [b.isChecked() for b in shelf._buttons] == [False, True, False]
        assert [b.accessibleName().split(",")[0] for b in shelf._buttons] == [
            "a now",
            "b now",
            "c now",
        ]
    prints.show_prints([Print(key=k, image=None, title=k) for k in "ab"], "a")
    jars.show_jars([face(k, k) for k in "ab"], "a")
    assert len(prints._buttons) == len(jars._buttons) == 2
