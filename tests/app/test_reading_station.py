"""Decisions on layers and zones in the real window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox

from jartide.app.stations.reading.layer_panel import LayerPanel
from jartide.app.stations.reading.pattern_column import PatternColumn
from jartide.app.stations.reading.zones_panel import ZonesPanel
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.core_list import CoreList
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.job.words.number_rows import number_groups
from jartide.store.workspace import Workspace
from jartide.wording import tr
from tests.app.hand import all_of, field, picked, pressed, the, turned_to, typed, words_of

from .conftest import settle
from .test_demo_window import open_finish


@pytest.fixture
def reading(qtbot, demo):
    """The Reading station of the demo's lift lobby, with everything read."""
    open_finish(qtbot, demo, "Lift lobby", "reading")
    return demo


def layers(window):
    return window.job.readings.of_target().layers


def test_the_next_layer_is_a_key_away(qtbot, reading):
    core = the(reading.station("reading"), CoreList)
    said = []
    for _ in range(len(layers(reading)) + 1):
        reading.step_on(1)
        settle(qtbot, reading)
        said.append(core.accessibleName())
    assert said[0] == said[-1] and len(set(said)) == len(layers(reading))


def names(window):
    return [str(layer.name) for layer in layers(window)]


def target_pane(station):
    """The picture of the target."""
    return all_of(station, SurfacePane)[0]


def press(panel, text):
    """Press a button of a panel by its words."""
    from jartide.app.widgets.buttons import Button

    button = next(b for b in panel.findChildren(Button) if b.text() == text)
    assert button.isEnabled()
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def test_a_layer_tells_its_colour_and_its_place_in_words(qtbot, reading):
    the(reading.station("reading"), CoreList).picked.emit(2)
    panel = the(reading.station("reading"), LayerPanel)
    told = words_of(panel)
    lab = layers(reading)[2].best_lab
    # Verdigris: greenish or blue-green, however light.
    first = told.splitlines()[0]
    assert first.startswith(("Dark", "Middle", "Light")[(lab[0] >= 40) + (lab[0] >= 60)])
    assert "green" in first and first.endswith("cool.")
    assert f"{round(lab[0] - layers(reading)[0].best_lab[0])} lighter than the " in told
    assert "\nOver the " in told and f"\nL {lab[0]:.1f}" in told


def test_renaming_locking_and_a_readers_colour_are_kept_and_undone(qtbot, reading):
    station = reading.station("reading")
    the(station, CoreList).picked.emit(2)
    panel = the(station, LayerPanel)
    field(panel, tr("layer.name")).setFocus()
    typed(panel, tr("layer.name"), "Chalk")
    settle(qtbot, reading)
    assert names(reading)[2] == "Chalk"
    pressed(panel, tr("layer.lock"))
    settle(qtbot, reading)
    assert layers(reading)[2].locked
    for axis, value in (("L", "58,5"), ("a", "-17"), ("b", "0")):
        typed(panel, tr(f"colour.{axis}"), value)
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
    the(reading.station("reading"), CoreList).picked.emit(1)
    typed(the(reading.station("reading"), LayerPanel), tr("colour.L"), "much")
    press(the(reading.station("reading"), LayerPanel), "Reader says")
    assert reading.job.finish.layers is None
    assert reading.foot.shown.note == "Type what the reader says: L from 0 to 100, then a and b."


def test_layers_are_joined_parted_left_out_and_brought_back(qtbot, reading):
    station = reading.station("reading")
    before = [layer.coverage.value for layer in layers(reading)]
    the(station, CoreList).picked.emit(2)
    panel = the(station, LayerPanel)
    picked(panel, tr("layer.join"), 3)
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before) - 1
    assert layers(reading)[2].coverage.value == pytest.approx(before[2] + before[3], abs=0.02)
    press(panel, "Part in two")
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before)
    the(station, CoreList).picked.emit(3)
    press(panel, "Leave out")
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before) - 1
    assert sum(layer.coverage.value for layer in layers(reading)) == pytest.approx(1, abs=1e-6)
    back = the(station, QComboBox, tr("reading.left_out"))
    assert back.isVisible()
    back.setCurrentIndex(1)
    back.activated.emit(1)
    settle(qtbot, reading)
    assert len(layers(reading)) == len(before)


def test_the_order_is_changed_by_drag_and_by_keys(qtbot, reading):
    core = the(reading.station("reading"), CoreList)
    before = names(reading)
    start = QPointF(300, core.row_top(1) + 30)
    end = QPointF(300, core.row_top(2) + 30)
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
    pressed(station, tr("reading.pick_colour"))
    pane = target_pane(station)
    at = pane.to_widget((0.4, 0.6)).toPoint()
    QTest.mouseClick(pane, Qt.MouseButton.LeftButton, pos=at)
    settle(qtbot, reading)
    assert len(layers(reading)) == count + 1
    assert sum(layer.locked for layer in layers(reading)) == 1
    press(reading.foot, "Layers as read")
    settle(qtbot, reading)
    assert len(layers(reading)) == count


def test_the_wheel_looks_closer_where_the_pointer_is(qtbot, reading):
    pane = target_pane(reading.station("reading"))
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
    the(station, CoreList).picked.emit(1)
    turned_to(the(station, ChoiceRow, tr("reading.show")), 3)
    image = target_pane(station).over
    assert image is not None
    tones = {image.pixelColor(x, y).red() for x in range(0, 400, 7) for y in range(0, 400, 7)}
    assert len(tones) > 3  # soft edges between black and white
    colour = image.pixelColor(10, 10)
    assert colour.red() == colour.green() == colour.blue()


def test_zones_are_drawn_read_and_removed(qtbot, reading):
    station = reading.station("reading")
    pressed(station, tr("zones.open"))
    panel = the(station, ZonesPanel)
    press(panel, "Draw a zone")
    pane = target_pane(station)
    start, end = (pane.to_widget(s).toPoint() for s in ((0.1, 0.1), (0.6, 0.5)))
    QTest.mousePress(pane, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(pane, end)
    QTest.mouseRelease(pane, Qt.MouseButton.LeftButton, pos=end)
    settle(qtbot, reading)
    (zone,) = reading.job.readings.of(reading.job.readings.target()).zones
    assert zone.share == pytest.approx(0.2, abs=0.02)
    assert "20% of the piece" in words_of(panel)
    press(panel, "Take the edges")
    settle(qtbot, reading)
    assert len(reading.job.readings.target().zones) == 2
    press(panel, "Remove this zone")
    settle(qtbot, reading)
    assert len(reading.job.readings.target().zones) == 1
    assert station.escape()
    assert the(station, PatternColumn).isVisible()


def test_a_number_shows_its_places_and_how_sure_it_is(qtbot, reading):
    station = reading.station("reading")
    view = the(station, PatternColumn).view
    row = view.row_of("patches.coverage")
    QTest.mouseClick(
        view, Qt.MouseButton.LeftButton, pos=QPoint(40, int(view.row_top(row.path)) + 9)
    )
    settle(qtbot, reading)
    assert view.chosen == "patches.coverage"
    assert len(target_pane(station).places.rings) > 20
    assert reading.foot.shown.note.startswith("Here between ")
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Down)
    settle(qtbot, reading)
    assert view.chosen == "patches.count_per_dm2"
    assert station.escape()
    assert view.chosen == ""
    assert target_pane(station).places is None


def test_every_number_of_the_family_comes_first_with_words(qtbot, reading):
    groups = number_groups(reading.job.readings.of_target())
    assert groups[0].title == "Patches"
    paths = [row.path for row in groups[0].rows]
    # What an eye means by size comes first, and by number it is left to the tables.
    assert paths[0] == "patches.size_by_area_mm" and "patches.area_mm2" not in paths
    assert all(row.name and row.value for group in groups for row in group.rows)


def test_a_family_nobody_named_is_suggested(qtbot, reading):
    from dataclasses import replace

    job = reading.job
    bar = next(f for _, fs in job.records.jobs() for f in fs if f.name == "Bar front")
    reading.open_finish(bar.id)
    reading.go_to("reading")
    settle(qtbot, reading)
    finish = job.finish
    job.records.change("auto", [finish], [replace(finish, family="auto")])
    reading.station("reading").enter()
    settle(qtbot, reading)
    suggested = job.readings.of_target().family
    assert suggested == "marble"
    assert "look" in reading.foot.shown.note or "may be" in reading.foot.shown.note
    press(reading.foot, f"Call it {suggested}")
    assert job.finish.family == suggested


def test_decisions_are_saved_as_they_are_made(qtbot, reading):
    the(reading.station("reading"), CoreList).picked.emit(1)
    the(reading.station("reading"), LayerPanel).asked.emit("name", "Fringe")
    job = reading.job
    again = Workspace.open(job.workspace.folder)
    try:
        saved = next(f for f in again.finishes(job.records.job().id) if f.id == job.finish.id)
    finally:
        again.close()
    assert saved.layers.layers[1].name == "Fringe"
    settle(qtbot, reading)
    assert names(reading)[1] == "Fringe"
