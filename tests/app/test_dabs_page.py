"""Paints put on the shelf from one photo of their dabs: pressed on, named, kept."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from jartide.app.stations.jars.dabs_page import DabsPage
from jartide.app.widgets.photo_view import PhotoView
from jartide.colour.difference import delta_e_2000
from jartide.devices.source import Source
from jartide.photo.card.design import CardSize
from jartide.studio.snapshot import take_snapshot
from jartide.wording import tr
from tests.photo.snapshots import camera, shot_of
from tests.photo.test_dabs import strip
from tests.photo.test_swatches import strips

from .conftest import settle
from .hand import button, the

pytestmark = pytest.mark.usefixtures("small_pictures")

LABS = [(25.0, 2.0, 3.0), (90.0, 0.0, 4.0), (42.0, 20.0, 16.0), (66.0, 6.0, 26.0),
        (42.0, -18.0, 8.0), (36.0, 2.0, -16.0)]  # fmt: skip
NAMES = ["Black", "White", "Red oxide", "Ochre", "Green", "Blue"]


@pytest.fixture(scope="module")
def photo(tmp_path_factory):
    """A phone's photo of six dabs with the card."""
    shot = shot_of(CardSize.WALLET, card_at_mm=(78.0, 12.0), tilt_deg=4.0, falloff=0.02)
    path = tmp_path_factory.mktemp("dabs") / "dabs.jpg"
    path.write_bytes(take_snapshot(strips(LABS), shot, 3, camera()).jpeg)
    return path


@pytest.fixture
def page(qtbot, open_window, photo):
    window = open_window()
    window.new_job()
    settle(qtbot, window)
    window.open_finish(window.station("jobs").chosen_finish().id)
    window.go_to("jars")
    window.station("jars")._open_paints()
    window.station("jars").paints.open_dabs(photo)
    settle(qtbot, window)
    found = the(window, DabsPage)
    assert found.isVisible()
    return found


def press_on(page, number):
    """Press on one of the six strips, in its middle."""
    view = the(page, PhotoView)
    width, height = page._image.width(), page._image.height()
    x, y = strip(page._photo, LABS[number])
    QTest.mouseClick(
        view, Qt.MouseButton.LeftButton, pos=view.to_widget((x * width, y * height)).toPoint()
    )


def test_six_paints_come_from_one_photo(qtbot, page):
    window = page.window()
    for number, name in enumerate(NAMES):
        press_on(page, number)
        field = QApplication.focusWidget()
        assert isinstance(field, QLineEdit)
        QTest.keyClicks(field, name)
        QTest.keyClick(field, Qt.Key.Key_Return)
    QTest.mouseClick(button(window.foot, tr("dabs.keep", count=6)), Qt.MouseButton.LeftButton)
    settle(qtbot, window)
    tins = window.job.records.tins()
    assert [tin.name for tin in tins] == NAMES
    for tin, lab in zip(tins, LABS, strict=True):
        assert delta_e_2000(tin.masstone, lab) < 5, tin.name
        assert tin.swatches[0].source is Source.PHOTO and not tin.approximate
    assert not page.isVisible()
    window.job.history.undo()  # all of them are one step
    assert window.job.records.tins() == []
    settle(qtbot, window)


def test_dabs_are_pressed_on_by_keys_and_taken_back(qtbot, page):
    window, view = page.window(), the(page, PhotoView)
    assert view.hasFocus()
    for _ in range(7):
        QTest.keyClick(view, Qt.Key.Key_Right)
    QTest.keyClick(view, Qt.Key.Key_Return)
    field = QApplication.focusWidget()
    QTest.keyClicks(field, "First")
    assert [tin.name for tin in page.tins()] == ["First"]
    QTest.mouseClick(button(window.foot, tr("dabs.back")), Qt.MouseButton.LeftButton)
    assert page.tins() == []
    # A place that can't be read is said, and nothing is taken.
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(2, 2))
    if page._dabs:
        page.take_back()
    window.escape()
    assert not page.isVisible() and window.job.records.tins() == []
    settle(qtbot, window)
