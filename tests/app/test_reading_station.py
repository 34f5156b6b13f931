"""Decisions on layers and zones in the real window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from jartide.store.workspace import Workspace

from .conftest import settle
from .test_demo_window import open_finish


@pytest.fixture
def reading(qtbot, demo):
    """The Reading station of the demo's lift lobby, with everything read."""
    open_finish(qtbot, demo, "Lift lobby", "reading")
    return demo


def layers(window):
    return window.job.readings.of_target().layers


def names(window):
    return [str(layer.name) for layer in layers(window)]


def press(panel, text):
    """Press a button of a panel by its words."""
    from jartide.app.widgets.buttons import Button

    button = next(b for b in panel.findChildren(Button) if b.text() == text)
    assert button.isEnabled()
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def test_a_layer_tells_its_colour_and_its_place_in_words(qtbot, reading):
    reading.station("reading")._layer_picked(2)
    panel = reading.station("reading")._layer_panel
    assert panel._colour.text() == "Middle, blue-green, cool."
    assert "lighter than the ground" in panel._beside.text()
    assert panel._why.text().startswith("Over the ")
    assert panel._how.text().startswith("L 57")


def test_renaming_locking_and_a_readers_colour_are_kept_and_undone(qtbot, reading):
    station = reading.station("reading")
    station._layer_picked(2)
    panel = station._layer_panel
    panel._name.setFocus()
    panel._name.selectAll()
    QTest.keyClicks(panel._name, "Chalk")
    QTest.keyClick(panel._name, Qt.Key.Key_Return)
    settle(qtbot, reading)
    assert names(reading)[2] == "Chalk"
    QTest.mouseClick(panel._lock, Qt.MouseButton.LeftButton)
    settle(qtbot, reading)
    assert layers(reading)[2].locked
    for field, value in zip(panel._reader, ("58,5", "-17", "0"), strict=True):
        field.setText(value)
    press(panel, "Reader says")
    settle(qtbot, reading)
    assert layers(reading)[2].best_lab == (58.5, -17.0, 0.0)
    assert layers(reading)[2].lab is not None
    for _ in range(3):
        reading.job.history.undo()
        settle(qtbot, reading)
    assert "Chalk" not in names(reading)
    assert reading.job.finish.layers is None
    reading.job.history.redo()
    settle(qtbot, reading)
    assert names(reading)[2] == "Chalk"


def test_a_readers_value_that_is_none_is_refused_in_one_sentence(qtbot, reading):
    reading.station("reading")._layer_picked(1)
    reading.station("reading")._layer_panel._reader[0].setText("much")
    press(reading.station("reading")._layer_panel, "Reader says")
    assert reading.job.finish.layers is None
    assert reading.foot.shown.note == "Type what the reader says: L from 0 to 100, then a and b."


def test_layers_are_joined_parted_left_out_and_brought_back(qtbot, reading):
    station = reading.station("reading")
    before = [layer.coverage.value for layer in layers(reading)]
    station._layer_picked(2)
    panel = station._layer_panel
    panel._join.setCurrentIndex(panel._join.findData(3))
    panel._join.activated.emit(panel._join.currentIndex())
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before) - 1
    assert layers(reading)[2].coverage.value == pytest.approx(before[2] + before[3], abs=0.02)
    press(panel, "Part in two")
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before)
    station._layer_picked(3)
    press(panel, "Leave out")
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before) - 1
    assert sum(layer.coverage.value for layer in layers(reading)) == pytest.approx(1, abs=1e-6)
    assert station._back.isVisible()
    station._back.setCurrentIndex(1)
    station._back.activated.emit(1)
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before)


def test_the_order_is_changed_by_drag_and_by_keys(qtbot, reading):
    core = reading.station("reading")._core
    before = names(reading)
    start = QPointF(300, core._row_top(1) + 30)
    end = QPointF(300, core._row_top(2) + 30)
    for kind, at in (
        (QEvent.Type.MouseButtonPress, start),
        (QEvent.Type.MouseMove, (start + end) / 2),
        (QEvent.Type.MouseMove, end),
        (QEvent.Type.MouseButtonRelease, end),
    ):
        button, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        QApplication.sendEvent(core, QMouseEvent(kind, at, at, button, button, none))
    settle(qtbot, reading)
    swapped = names(reading)
    assert swapped[1] == before[2]
    assert swapped[2] == before[1]
    core.setFocus()
    QTest.keyClick(core, Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier)
    settle(qtbot, reading)
    assert names(reading) == before


def test_a_colour_is_picked_in_the_photo(qtbot, reading):
    station = reading.station("reading")
    count = len(layers(reading))
    QTest.mouseClick(station._pick_colour, Qt.MouseButton.LeftButton)
    at = station._pane.to_widget((0.4, 0.6)).toPoint()
    QTest.mouseClick(station._pane, Qt.MouseButton.LeftButton, pos=at)
    settle(qtbot, reading)
    assert len(layers(reading)) == count + 1
    assert sum(layer.locked for layer in layers(reading)) == 1
    press(reading.foot, "Layers as read")
    settle(qtbot, reading)
    assert len(layers(reading)) == count


def test_the_wheel_looks_closer_where_the_pointer_is(qtbot, reading):
    pane = reading.station("reading")._pane
    spot = QPointF(120, 200)
    share = pane.to_share(spot)
    event = QWheelEvent(
        spot,
        QPointF(pane.mapToGlobal(spot.toPoint())),
        QPoint(),
        QPoint(0, 360),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(pane, event)
    assert pane.zoom == pytest.approx(1.25**3)
    assert pane.to_share(spot) == pytest.approx(share, abs=1e-6)
    pane.setFocus()
    QTest.keyClick(pane, Qt.Key.Key_0)
    assert pane.zoom == 1


def test_the_cover_of_a_layer_is_shown_as_a_map(qtbot, reading):
    station = reading.station("reading")
    station._layer_picked(1)
    station._choice._pick(3)
    image = station._pane._over
    assert image is not None
    tones = {image.pixelColor(x, y).red() for x in range(0, 400, 7) for y in range(0, 400, 7)}
    assert len(tones) > 3  # soft edges between black and white
    colour = image.pixelColor(10, 10)
    assert colour.red() == colour.green() == colour.blue()


def test_zones_are_drawn_read_and_removed(qtbot, reading):
    station = reading.station("reading")
    QTest.mouseClick(station._zones, Qt.MouseButton.LeftButton)
    panel = station._zones_panel
    press(panel, "Draw a zone")
    start, end = (station._pane.to_widget(s).toPoint() for s in ((0.1, 0.1), (0.6, 0.5)))
    QTest.mousePress(station._pane, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(station._pane, end)
    QTest.mouseRelease(station._pane, Qt.MouseButton.LeftButton, pos=end)
    settle(qtbot, reading)
    (zone,) = reading.job.readings.of(reading.job.readings.target()).zones
    assert zone.share == pytest.approx(0.2, abs=0.02)
    assert panel._found.text().startswith("20% of the piece")
    press(panel, "Take the edges")
    settle(qtbot, reading)
    assert len(reading.job.readings.target().zones) == 2
    press(panel, "Remove this zone")
    settle(qtbot, reading)
    assert len(reading.job.readings.target().zones) == 1
    assert station.escape()
    assert station._pattern.isVisible()


def test_a_number_shows_its_places_and_how_sure_it_is(qtbot, reading):
    station = reading.station("reading")
    view = station._pattern.view
    row = view.row_of("patches.coverage")
    QTest.mouseClick(
        view, Qt.MouseButton.LeftButton, pos=QPoint(40, int(view.row_top(row.path)) + 9)
    )
    settle(qtbot, reading)
    assert view.chosen == "patches.coverage"
    assert len(station._pane._places.rings) > 20
    assert reading.foot.shown.note.startswith("Here between ")
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Down)
    settle(qtbot, reading)
    assert view.chosen == "patches.count_per_dm2"
    assert station.escape()
    assert view.chosen == ""
    assert station._pane._places is None


def test_every_number_of_the_family_comes_first_with_words(qtbot, reading):
    groups = reading.station("reading")._pattern.view._target.groups
    assert groups[0].title == "Patches"
    words = {row.path: row.words for row in groups[0].rows}
    assert words["patches.runs_down"] == "running down"
    assert all(row.name and row.value for group in groups for row in group.rows)


def test_a_family_nobody_named_is_suggested(qtbot, reading):
    from dataclasses import replace

    job = reading.job
    finish = job.finish
    job.records.change("auto", [finish], [replace(finish, family="auto")])
    reading.station("reading").enter()
    settle(qtbot, reading)
    suggested = job.readings.of_target().family
    assert suggested in ("verdigris", "rust", "bronze")  # patina of some kind
    assert "look" in reading.foot.shown.note or "may be" in reading.foot.shown.note
    press(reading.foot, f"Call it {suggested}")
    assert job.finish.family == suggested


def test_decisions_are_saved_as_they_are_made(qtbot, reading):
    reading.station("reading")._layer_picked(1)
    reading.station("reading")._asked("name", "Fringe")
    job = reading.job
    again = Workspace.open(job.workspace.folder)
    try:
        saved = next(f for f in again.finishes(job.records.job().id) if f.id == job.finish.id)
    finally:
        again.close()
    assert saved.layers.layers[1].name == "Fringe"
    settle(qtbot, reading)
    assert names(reading)[1] == "Fringe"
