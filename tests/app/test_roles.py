"""What drawn widgets are, for whoever hears the window: a tab, a list, a heading."""

from __future__ import annotations

import pytest
from PySide6.QtGui import QAccessible
from PySide6.QtWidgets import QWidget

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
        ("reading", {"List", "Graphic", "Heading", "PageTabList"}),
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


def test_stations_are_tabs(qtbot, demo):
    demo.open_finish(next(f.id for _, own in demo.job.records.jobs() for f in own))
    demo.go_to("jars")
    settle(qtbot, demo)
    tabs = [w for w in demo.header.findChildren(QWidget) if type(w).__name__ == "StationTab"]
    assert [interface(tab).role() for tab in tabs] == [QAccessible.Role.PageTab] * 6
    assert interface(tabs[2]).text(QAccessible.Text.Name).startswith("Jars")
    assert interface(demo.foot).role() == QAccessible.Role.StatusBar
    assert "jars are mixed" in interface(demo.foot).text(QAccessible.Text.Name)
