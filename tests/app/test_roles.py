"""What drawn widgets are, for whoever hears the window: a tab, a list, a heading."""

from __future__ import annotations

import pytest
from PySide6.QtGui import QAccessible
from PySide6.QtWidgets import QAbstractButton, QWidget

from jartide.app.roles import ROLES
from jartide.app.widgets.painted import Drawn

from .conftest import settle

# What is only looked at, or says the same as what it lies beside.
SILENT = {"Ground", "Hairline", "JarGround", "Header", "Painted"}


def interface(widget):
    return QAccessible.queryAccessibleInterface(widget)


@pytest.mark.parametrize(
    ("station", "found"),
    [
        ("photos", {"Graphic", "Heading"}),
        ("reading", {"List", "Graphic", "Heading"}),
        ("jars", {"List", "Heading"}),
        ("steps", {"Chart", "List", "PageTabList"}),
        ("boards", {"Chart", "List", "Slider", "Heading"}),
        ("sheet", {"Document", "Heading"}),
    ],
)
def test_every_station_says_what_stands_on_it(qtbot, demo, station, found):
    demo.open_finish(next(f.id for _, own in demo.job.records.jobs() for f in own))
    demo.go_to(station)
    settle(qtbot, demo)
    page = demo.page()
    told = {}
    for widget in page.findChildren(QWidget):
        kind = type(widget).__name__
        if not widget.isVisible() or kind not in ROLES:
            continue
        one = interface(widget)
        assert one.role() == ROLES[kind]
        told.setdefault(one.role().name, set()).add(one.text(QAccessible.Text.Name))
    assert found <= told.keys()
    # Whoever can go there with the keys hears a name.
    for widget in page.findChildren(QWidget):
        if isinstance(widget, Drawn) and widget.isVisible() and type(widget).__name__ not in SILENT:
            can_go = widget.focusPolicy().value and not isinstance(widget, type(page))
            assert not can_go or interface(widget).text(QAccessible.Text.Name), widget


def test_stations_can_be_pressed_by_whoever_hears_them(qtbot, demo):
    demo.open_finish(next(f.id for _, own in demo.job.records.jobs() for f in own))
    demo.go_to("jars")
    settle(qtbot, demo)
    tabs = [w for w in demo.header.findChildren(QAbstractButton) if w.isCheckable()]
    assert len(tabs) == 6
    told = interface(tabs[2])
    assert told.text(QAccessible.Text.Name).startswith("Jars")
    assert told.state().checked and not interface(tabs[0]).state().checked
    assert "Press" in interface(tabs[0]).actionInterface().actionNames()
    interface(tabs[0]).actionInterface().doAction("Press")
    qtbot.waitUntil(lambda: demo.page().name == "photos")
    assert interface(demo.foot).role() == QAccessible.Role.StatusBar
    assert interface(demo.foot).text(QAccessible.Text.Name).startswith(demo.foot.shown.text)
