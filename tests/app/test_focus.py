"""The focus is never lost: whatever is pressed, the next key finds something that is shown."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from jartide.app.widgets.buttons import Button

from .conftest import settle

PAGES = {
    "jars": lambda station: [station._open_paints, station.open_colours, station._open_trial],
    "steps": lambda station: [lambda n=n: station.open_page(n) for n in ("plan", "hours")],
    "boards": lambda station: [lambda n=n: station.open_page(n) for n in ("mends", "log", "row")],
    "photos": lambda station: [lambda n=n: station.open_step(n) for n in ("shape", "colour")],
}


def stands_on(window):
    """What has the focus; it is shown, and lies in the window."""
    widget = QApplication.focusWidget()
    assert widget is not None, "nothing has the focus"
    assert widget.isVisible() and not widget.visibleRegion().isEmpty(), f"{widget} is not seen"
    assert window.isAncestorOf(widget)
    return widget


def opened(qtbot, window, station):
    window.open_finish(next(f.id for _, own in window.job.records.jobs() for f in own))
    window.go_to(station)
    settle(qtbot, window)
    return window.station(station)


@pytest.mark.parametrize("station", PAGES)
def test_opening_and_leaving_pages(qtbot, demo, station):
    page = opened(qtbot, demo, station)
    stands_on(demo)
    for show in PAGES[station](page):
        show()
        settle(qtbot, demo)
        stands_on(demo)
        for _ in range(12):
            QTest.keyClick(stands_on(demo), Qt.Key.Key_Tab)
        demo.escape()
        settle(qtbot, demo)
        stands_on(demo)


def test_a_button_of_the_foot_that_goes_leaves_the_focus_in_the_foot(qtbot, demo):
    opened(qtbot, demo, "jars")
    paints = next(b for b in demo.foot.findChildren(Button) if b.isVisible())
    paints.setFocus()
    QTest.keyClick(paints, Qt.Key.Key_Return)
    settle(qtbot, demo)
    stands_on(demo)
    back = next(b for b in demo.foot.findChildren(Button) if b.isVisible() and b.primary)
    back.setFocus()
    QTest.keyClick(back, Qt.Key.Key_Return)
    settle(qtbot, demo)
    assert isinstance(stands_on(demo), Button)


@pytest.mark.parametrize("station", ["photos", "reading", "jars", "steps", "boards", "sheet"])
def test_tab_goes_round_every_station(qtbot, demo, station):
    opened(qtbot, demo, station)
    seen = []
    for _ in range(80):
        widget = stands_on(demo)
        if widget in seen[1:]:
            break
        seen.append(widget)
        QTest.keyClick(widget, Qt.Key.Key_Tab)
    assert len(seen) > 5
