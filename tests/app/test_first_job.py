"""A first job from an empty workspace to sheet and bundle, counted in clicks and keys.

Every press and key is given to the real window as the painter gives it, and counted; only the
desktop's file dialogs answer by themselves, and the names they would have typed in are counted too.
"""

from __future__ import annotations

import zipfile
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMenu, QWidget

from jartide.app.stations.jars.dabs_page import DabsPage
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.photo_view import PhotoView
from jartide.photo.card.design import CardSize
from jartide.studio.camera_stand import CameraStand, StandSettings
from jartide.studio.snapshot import take_snapshot
from jartide.wording import tr
from tests.app.test_dabs_page import LABS, NAMES
from tests.photo.snapshots import camera, shot_of
from tests.photo.test_dabs import strip
from tests.photo.test_swatches import strips

from .conftest import settle
from .hand import the

pytestmark = pytest.mark.usefixtures("small_pictures")

MOST_CLICKS, MOST_KEYS = 80, 200


class Hand:
    """A painter's hand: everything it does goes to the real widgets and is counted."""

    def __init__(self, qtbot, window, *, keys_only: bool) -> None:
        self.qtbot, self.window, self.keys_only = qtbot, window, keys_only
        self.clicks = self.keys = 0
        self.answer = ""

    def settle(self) -> None:
        settle(self.qtbot, self.window)

    def key(self, key, modifiers=Qt.KeyboardModifier.NoModifier, at: QWidget | None = None) -> None:
        self.keys += 1
        QTest.keyClick(at or QApplication.focusWidget() or self.window, key, modifiers)
        self.settle()

    def shortcut(self, keys: str) -> None:
        """A key of the window's list; offscreen there is no shortcut map, so its action is run."""
        self.keys += 1
        next(a for a in self.window.actions() if a.shortcut().toString() == keys).trigger()
        self.settle()

    def type(self, text: str) -> None:
        """Type into what has the focus."""
        field = QApplication.focusWidget()
        assert isinstance(field, QLineEdit), field
        field.selectAll()
        self.keys += len(text)
        QTest.keyClicks(field, text)

    def reach(self, widget: QWidget) -> None:
        """Get to a widget: a click on it, or Tab until it has the focus."""
        if not self.keys_only:
            self.clicks += 1
            QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
            self.settle()
            return
        for _ in range(80):
            if widget.hasFocus():
                return
            self.keys += 1
            QTest.keyClick(QApplication.focusWidget() or self.window, Qt.Key.Key_Tab)
        raise AssertionError(f"{widget.accessibleName()} is not reached by Tab")

    def press(self, words: str, where: QWidget | None = None) -> None:
        """Press a button by its words: the dark one by Ctrl+Enter where only keys are used."""
        found = [
            b for b in (where or self.window).findChildren(Button)
            if b.isVisible() and b.text() == words
        ]  # fmt: skip
        assert len(found) == 1 and found[0].isEnabled(), (words, self.offered())
        if self.keys_only and found[0].primary:
            self.shortcut("Ctrl+Return")
            return
        self.reach(found[0])
        if self.keys_only:
            self.key(Qt.Key.Key_Return)

    def pick(self, button: MenuButton, entry: int) -> None:
        """Open a button's list and pick one of its entries."""
        self.reach(button)
        if self.keys_only:
            self.key(Qt.Key.Key_Return)
        menu = button.findChild(QMenu)
        if self.keys_only:
            for _ in range(entry + 1):
                self.key(Qt.Key.Key_Down, at=menu)
            self.key(Qt.Key.Key_Return, at=menu)
        else:
            self.clicks += 1
            where = menu.actionGeometry(menu.actions()[entry]).center()
            QTest.mouseClick(menu, Qt.MouseButton.LeftButton, pos=where)
            self.settle()

    def name_file(self, path: Path) -> None:
        """What is typed into the next file dialog."""
        self.keys += len(path.name) + 1
        self.answer = str(path)

    def go(self, number: int) -> None:
        """Go to a station."""
        tab = self.window.header._tabs[number - 1]
        if self.keys_only:
            self.keys += 1
            tab.click()  # its own shortcut, Alt and the number
        else:
            self.clicks += 1
            QTest.mouseClick(tab, Qt.MouseButton.LeftButton)
        self.settle()

    def offered(self) -> list[str]:
        return [action.text for action in self.window.foot.shown.actions]


@pytest.fixture
def files(tmp_path):
    """What a camera and a phone took: the surface and two boards with the card, and the dabs."""
    found = {}
    for name, lean in (("slab", 10.0), ("one", 4.0), ("two", 15.0)):
        settings = StandSettings(size_px=(1200, 900), falloff=0.05, tilt_deg=lean)
        found[name] = tmp_path / f"{name}.jpg"
        found[name].write_bytes(CameraStand(settings=settings).take())
    shot = shot_of(CardSize.WALLET, card_at_mm=(78.0, 12.0), tilt_deg=4.0, falloff=0.02)
    found["dabs"] = tmp_path / "dabs.jpg"
    found["dabs"].write_bytes(take_snapshot(strips(LABS), shot, 3, camera()).jpeg)
    return found


@pytest.mark.parametrize("keys_only", [False, True], ids=["mouse", "keys"])
def test_a_first_job(qtbot, open_window, files, tmp_path, monkeypatch, keys_only):
    window = open_window()
    hand = Hand(qtbot, window, keys_only=keys_only)
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_: ([hand.answer], ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (hand.answer, ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (hand.answer, ""))

    # The job and its finish get their names.
    hand.press(tr("jobs.new_job"))
    fields = window.station("jobs")._side._fields
    for key, name in (("job_name", "Hotel Vessary"), ("finish_name", "Bar front")):
        hand.reach(fields[key])
        hand.type(name)
    hand.press(tr("jobs.open"))

    # The card is to be had at once.
    photos = window.station("photos")
    save = next(b for b in photos.findChildren(MenuButton) if b.text() == tr("card.save"))
    hand.name_file(tmp_path / "card.pdf")
    hand.pick(save, 1)
    assert (tmp_path / "card.pdf").read_bytes().startswith(b"%PDF")

    # The own photo, and what it is; the card does the rest.
    hand.name_file(files["slab"])
    hand.press(tr("shelf.add"), window.foot)
    hand.press(tr("photos.it_is.target"))
    assert window.foot.shown.text == tr("photos.ready", title="Target")
    hand.press(tr("photos.read"))
    qtbot.waitUntil(lambda: window.job.readings.of_target() is not None, timeout=90_000)
    hand.settle()

    # Six paints from one photo.
    hand.press(tr("go.jars"))
    hand.press(tr("jars.my_paints"))
    hand.name_file(files["dabs"])
    hand.press(tr("paints.dabs"))
    page = the(window, DabsPage)
    view = the(page, PhotoView)
    width, height = page._image.width(), page._image.height()
    for lab, name in zip(LABS, NAMES, strict=True):
        x, y = strip(page._photo, lab)
        if keys_only:
            # What is aimed at stands in the middle; a step is a hundredth of the width.
            steps = round((x - 0.5) * 100)
            for _ in range(abs(steps)):
                hand.key(Qt.Key.Key_Right if steps > 0 else Qt.Key.Key_Left)
            hand.key(Qt.Key.Key_Return)
        else:
            hand.clicks += 1
            place = view.to_widget((x * width, y * height)).toPoint()
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=place)
        hand.type(name)
        hand.key(Qt.Key.Key_Return)
    hand.press(tr("dabs.keep", count=6))
    hand.press(tr("paints.close"))
    wanted = tr("jars.take_best")
    qtbot.waitUntil(lambda: wanted in hand.offered(), timeout=60_000)
    hand.press(wanted)
    assert all(mix.parts for _, mix in window.job.jars.all())

    # The plan, for one surface.
    hand.go(4)
    hand.press(tr("steps.add_surface"))
    page = window.station("steps").page
    for field, text in ((page._name, "Front"), (page._width, "2400"), (page._height, "1100")):
        hand.reach(field)
        hand.type(text)
    hand.press(tr("surface.add"))
    assert [(s.name, s.width_mm, s.height_mm) for s in window.job.plan.surfaces()] == [
        ("Front", 2400.0, 1100.0)
    ]
    hand.press(tr("steps.back"))
    hand.press(tr("steps.take"))
    assert window.job.plan.is_kept()

    # Two boards.
    hand.go(5)
    for number, name in ((1, "one"), (2, "two")):
        hand.name_file(files[name])
        hand.press(tr("boards.add", number=number))
        qtbot.waitUntil(lambda: window.station("boards").comparison is not None, timeout=90_000)
        hand.settle()
    assert len(window.job.records.boards()) == 2

    # The sheet and the whole job as one file.
    hand.go(6)
    qtbot.waitUntil(lambda: tr("sheet.save") in hand.offered(), timeout=60_000)
    hand.name_file(tmp_path / "sheet.pdf")
    hand.press(tr("sheet.save"))
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    hand.name_file(tmp_path / "job.zip")
    if keys_only:
        hand.shortcut("Ctrl+S")
    else:
        hand.press(tr("foot.understood"))  # the sheet was written
        hand.press(tr("sheet.save_job"))
    qtbot.waitUntil((tmp_path / "job.zip").exists, timeout=60_000)
    hand.settle()
    with zipfile.ZipFile(tmp_path / "job.zip") as bundle:
        names = bundle.namelist()
        assert bundle.testzip() is None and "job.json" in names
        assert len([name for name in names if name.startswith("photos/")]) == 3

    print(f"\n{hand.clicks} clicks and {hand.keys} keys")
    if keys_only:
        assert hand.clicks == 0
    else:
        assert hand.clicks <= MOST_CLICKS and hand.keys <= MOST_KEYS
