"""The Photos station in the real window: steps and panels, drawing, devices, the watched folder."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from jartide.colour.difference import delta_e_2000
from jartide.devices.registry import Kind
from jartide.job.outside_devices import switch_stand_in
from jartide.photo.card.design import CardSize, card_of
from jartide.photo.load import decode_photo
from jartide.photo.settings import Polygon, Rect, SheenWord, Stroke
from jartide.store.records import BoardCheck, PhotoUse
from jartide.studio.camera import to_jpeg
from jartide.studio.camera_stand import Board, CameraStand, StandSettings
from jartide.studio.snapshot import PrintedCard

from .conftest import settle

STAND = StandSettings(size_px=(1200, 900), falloff=0.2)

pytestmark = pytest.mark.usefixtures("small_pictures")


@pytest.fixture(scope="module")
def shot():
    return CameraStand(settings=STAND).take()


@pytest.fixture
def window(qtbot, open_window, shot):
    """A window on a finish whose one photo holds the card."""
    made = open_window()
    for kind in Kind:
        switch_stand_in(made.job.records, kind, True)
    press(made, "New job")
    press(made, "Open finish")
    made.job.pictures.add_photo(shot, "shot.jpg", board=False)
    settle(qtbot, made)
    return made


def press(window, text):
    button = next(b for b in window.foot._buttons if b.text() == text)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


def pick(drop_down, value):
    drop_down.setCurrentIndex(drop_down.findData(value))
    drop_down.activated.emit(drop_down.currentIndex())


def settings(window):
    return window.station("photos").photo().settings


def row(window, name):
    return window.station("photos")._rows[name].accessibleName()


def test_a_photo_with_the_card_is_made_ready_by_itself(window):
    assert "A6 found" in row(window, "card")
    assert "by the card" in row(window, "shape")
    assert "px per mm" in row(window, "scale")
    assert "card as printed" in row(window, "colour")
    assert "evened" in row(window, "light")
    assert "is ready" in window.foot.shown.text
    flat = window.job.pictures.flat(window.station("photos").photo())
    assert flat.code.shape[1] * flat.mm_per_px == pytest.approx(240, abs=3)


def test_steps_open_and_close_by_keys(window):
    photos = window.station("photos")
    photos._rows["light"].setFocus()
    QTest.keyClick(photos._rows["light"], Qt.Key.Key_Space)
    assert photos.panel("light").isVisible()
    assert not photos._list.isVisible()
    window._escape()
    assert photos._list.isVisible()


def test_light_is_evened_or_left_and_undone(qtbot, window):
    window.station("photos").open_step("light")
    panel = window.station("photos").panel("light")
    assert panel._how.index == 1
    panel._how._pick(0)
    settle(qtbot, window)
    assert "as it fell" in row(window, "light")
    assert panel._how.index == 0
    window.job.history.undo()
    settle(qtbot, window)
    assert settings(window).light is None
    assert "evened" in row(window, "light")


def drag(view, start, *ways):
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for way in ways:
        QTest.mouseMove(view, start + way)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=start + ways[-1])


def test_what_is_not_the_finish_is_drawn_over(qtbot, window):
    photos, view = window.station("photos"), window.station("photos")._view
    photos.open_step("left_out")
    middle = view.rect().center()
    panel = photos.panel("left_out")
    panel._pen._pick(1)
    drag(view, middle, QPoint(30, 20), QPoint(60, 40))
    settle(qtbot, window)
    (box,) = settings(window).leave_out
    assert isinstance(box, Rect) and box.w > box.h
    panel._pen._pick(2)
    for way in (QPoint(0, 0), QPoint(50, 0), QPoint(25, 40)):
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=middle - QPoint(90, 60) + way)
    QTest.keyClick(view, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert isinstance(settings(window).leave_out[1], Polygon)
    panel._pen._pick(3)
    drag(view, middle + QPoint(-60, 50), QPoint(20, 5), QPoint(40, 0))
    settle(qtbot, window)
    assert isinstance(settings(window).leave_out[2], Stroke)
    assert "3 places" in row(window, "left_out")
    assert window.job.pictures.flat(photos.photo()).prepared.picture.valid().mean() < 0.75
    QTest.mouseClick(panel._last, Qt.MouseButton.LeftButton)
    assert len(settings(window).leave_out) == 2
    panel._region.click()
    assert settings(window).region is not None
    panel._pen._pick(0)
    photos.open_step(None)


def test_known_lengths_are_kept_and_used_again(qtbot, window):
    photos = window.station("photos")
    photos.open_step("scale")
    panel = photos.panel("scale")
    panel._toggle.click()
    settle(qtbot, window)
    panel._length.setText("27,5 mm")
    panel._length.setModified(True)
    panel._edited()
    panel._name.setText("Ferrule")
    panel._keep.click()
    assert photos.jobs.lengths() == (("Ferrule", 27.5),)
    settle(qtbot, window)
    panel._toggle.click()
    settle(qtbot, window)
    assert settings(window).known_length is None
    pick(panel._known, 27.5)
    assert settings(window).known_length.name == "Ferrule"
    settle(qtbot, window)
    assert "Ferrule" in row(window, "scale")
    pick(panel._forget, "Ferrule")
    assert photos.jobs.lengths() == ()
    assert settings(window).known_length.length_mm == 27.5  # the photo keeps what it was given


def test_patches_take_known_colours_and_give_them(qtbot, window):
    photos = window.station("photos")
    photos.open_step("colour")
    panel = photos.panel("colour")
    panel._add.click()
    settle(qtbot, window)
    # The first patch has no value, so its colour can only be kept once the photo is corrected.
    panel._name.setText("Wall")
    panel._keep.click()
    assert "not known yet" in window.foot.shown.text
    L, a, b = panel._lab
    for field, text in ((L, "61.5"), (a, "−2"), (b, "4")):
        field.setText(text)
        field.setModified(True)
    panel._edited()
    (patch,) = settings(window).neutrals
    assert (patch.lightness, patch.a, patch.b) == (61.5, -2.0, 4.0)
    panel._name.setText("Wall")
    panel._keep.click()
    assert photos.jobs.colours() == (("Wall", (61.5, -2.0, 4.0)),)
    pick(panel._forget, "Wall")
    assert photos.jobs.colours() == ()
    panel._remove.click()
    assert settings(window).neutrals == ()
    settle(qtbot, window)


def test_the_colour_reader_reads_what_it_lies_on(qtbot, window):
    photos = window.station("photos")
    photos.open_step("reader")
    panel = photos.panel("reader")
    panel._read.click()
    assert panel._said.text().startswith("L ")
    assert "D50" in panel._unit.text()
    panel._use.click()
    settle(qtbot, window)
    (patch,) = settings(window).neutrals
    assert patch.source == "stand_in"
    assert "made up" in panel._unit.text()
    flat = window.job.pictures.flat(photos.photo())
    assert "stand_in" in dict(flat.prepared.picture.warnings)
    # Laid on the card it tells one of the card's own patches.
    window.job.history.undo()
    settle(qtbot, window)
    patch = next(p for p in card_of(CardSize.A6).patches if p.id == "colour-3")
    sighting = window.job.pictures.flat(photos.photo()).prepared.card
    x, y = sighting.pose.project(patch.box.corners().mean(axis=0)[None])[0]
    photos.reader_at = (float(x), float(y))
    panel._read.click()
    pick(panel._card, "colour-3")
    (told,) = settings(window).card.measured
    assert told[0] == "colour-3"
    assert settings(window).stand_ins == ("colour-3",)
    assert delta_e_2000(np.array(told[1]), np.array(PrintedCard().patch_lab(patch.srgb))) < 8
    settle(qtbot, window)
    photos.reader_at = (1.0, 1.0)
    panel._read.click()
    assert "partly beside" in window.foot.shown.text


def test_shapes_set_by_hand(qtbot, window):
    photos = window.station("photos")
    photos.open_step("shape")
    panel = photos.panel("shape")
    for kind, count in (("lines", 8), ("column", 4), ("corners", 4)):
        pick(panel._kind, kind)
        settle(qtbot, window)
        assert len(photos._view.handles()) == count
        # An arrow key nudges the first of them.
        view = photos._view
        before = view.handles()[0][0].points[0]
        QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        assert view.handles()[0][0].points[0][0] == pytest.approx(before[0] + 10)
        settle(qtbot, window)
    pick(panel._kind, "carved")
    settle(qtbot, window)
    assert settings(window).carved and settings(window).region is not None
    pick(panel._kind, "auto")
    settle(qtbot, window)
    assert "by the card" in row(window, "shape")


def test_sheen_card_and_file_panels(qtbot, window, tmp_path, monkeypatch):
    photos = window.station("photos")
    photos.open_step("sheen")
    panel = photos.panel("sheen")
    pick(panel._word, SheenWord.SATIN)
    QTest.mouseClick(panel._metal, Qt.MouseButton.LeftButton)
    assert settings(window).sheen.word is SheenWord.SATIN
    assert settings(window).metal
    photos.open_step("card")
    card = photos.panel("card")
    card._height.setText("3")
    card._height.setModified(True)
    card._edited()
    assert settings(window).card.height_mm == 3
    pick(card._patch, "paper")
    card.put_value("paper", [94.0, 0.2, -1.0])
    assert dict(settings(window).card.measured)["paper"] == (94.0, 0.2, -1.0)
    out = tmp_path / "card.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    pick(card._size, "A6")
    settle(qtbot, window)
    assert out.read_bytes().startswith(b"%PDF")
    bad = tmp_path / "values.csv"
    bad.write_text("patch,L,a,b\nnonsense,1,2,3\n", encoding="utf-8")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(bad), ""))
    card.asked.emit("card_values", None)
    assert "line 2" in window.foot.shown.text
    settle(qtbot, window)


def test_a_photo_from_the_stand_comes_into_the_job(qtbot, window):
    photos = window.station("photos")
    photos.open_step("stand")
    panel = photos.panel("stand")
    pick(panel._board, Board.CONCRETE)
    panel._tilt.setText("70")
    panel._take()
    settle(qtbot, window)
    assert "leans from 0" in window.foot.shown.text
    panel._tilt.setText("5")
    panel._take()
    qtbot.waitUntil(lambda: len(window.job.records.photos()) == 2, timeout=60_000)
    settle(qtbot, window)
    assert photos.photo().file_name.startswith("stand")
    assert photos.photo().use is PhotoUse.MOOD
    # A second photo of the target: both are read together from now on.
    photos._use._pick(0)
    assert len(window.job.records.targets()) == 2
    assert photos.photo_title(photos.photo()) == "Target 2"
    window.job.history.undo()
    assert len(window.job.records.targets()) == 1


def test_the_watched_folder_brings_photos_to_their_reading(qtbot, window, tmp_path, shot):
    folder = tmp_path / "phone"
    folder.mkdir()
    (folder / "old.jpg").write_bytes(shot)
    window.station("photos").watch.watch(folder)
    arrived = []
    window.job.events.arrived.connect(lambda *what: arrived.append(what))
    other = CameraStand(settings=STAND, taken=7).take()
    (folder / "new.jpg").write_bytes(other)
    qtbot.waitUntil(lambda: bool(arrived), timeout=8_000)
    assert len(arrived) == 1  # what lay there before is not brought in
    settle(qtbot, window)
    qtbot.waitUntil(lambda: window.page() is window.station("boards"), timeout=30_000)
    ((board, photo),) = window.job.records.boards()
    assert photo.file_name == "new.jpg"
    settle(qtbot, window)
    assert window.job.readings.of(photo) is not None
    # Before it is judged the painter ticks its list; it is kept with the board.
    window._open_photo(photo.id)
    window.station("photos").open_step("board")
    panel = window.station("photos").panel("board")
    for check in (BoardCheck.DRY, BoardCheck.CLEAN):
        QTest.mouseClick(panel._ticks[check], Qt.MouseButton.LeftButton)
    assert window.job.records.boards()[0][0].checks == (BoardCheck.DRY, BoardCheck.CLEAN)
    assert "2 of 4" in row(window, "board")
    import shutil

    shutil.rmtree(folder)
    window.station("photos").watch.look()
    assert "is gone" in window.foot.shown.text
    assert board.number == 1


def test_before_and_after_are_shown(qtbot, window):
    photos = window.station("photos")
    photos._before._pick(1)
    before = photos._pane._image
    photos._before._pick(0)
    assert photos._pane._image is not before
    assert photos._pane._image.size() == before.size()


def add(qtbot, window, data, name):
    window.job.pictures.add_photo(data, name, board=False)
    settle(qtbot, window)
    return window.station("photos").photo()


def test_scale_and_sheen_come_from_another_photo(qtbot, window, shot):
    first = window.station("photos").photo()
    bare = replace(STAND, with_card=False, tilt_deg=4.0)
    second = add(qtbot, window, CameraStand(settings=bare, taken=3).take(), "bare.jpg")
    assert "unknown" in row(window, "scale")
    window.station("photos").open_step("scale")
    pick(window.station("photos").panel("scale")._other, first.id)
    settle(qtbot, window)
    assert settings(window).known_length.name == "Target"
    across = window.job.pictures.flat(window.station("photos").photo())
    # The whole photo is seen from 500 mm with a lens of 26 mm: about 665 mm wide.
    assert across.code.shape[1] * across.mm_per_px == pytest.approx(665, rel=0.06)
    # Sheen: the same board once more, with the lamp mirrored in it.
    code = decode_photo(shot, "a").code.astype(float)
    y, x = np.mgrid[0 : code.shape[0], 0 : code.shape[1]]
    glow = np.exp(-(((x - 700) / 60) ** 2 + ((y - 330) / 60) ** 2))[..., None]
    mirror = to_jpeg(np.clip(code + 190 * glow, 0, 255).astype(np.uint8), 95)
    third = add(qtbot, window, mirror, "mirror.jpg")
    window.station("photos").choose(first.id)
    window.station("photos").open_step("sheen")
    pick(window.station("photos").panel("sheen")._other, second.id)
    settle(qtbot, window)
    assert "need the card" in window.foot.shown.text
    pick(window.station("photos").panel("sheen")._other, third.id)
    settle(qtbot, window)
    assert settings(window).sheen.gloss > 20


def test_light_by_a_blank_board_in_the_same_place(qtbot, window):
    first = window.station("photos").photo()
    blank = replace(STAND, board=Board.BLANK)
    other = add(qtbot, window, CameraStand(settings=blank).take(), "blank.jpg")
    window.station("photos").choose(first.id)
    window.station("photos").open_step("light")
    panel = window.station("photos").panel("light")
    panel._how._pick(2)
    assert settings(window).light is None  # nothing changes before a photo is named
    pick(panel._blank, other.sha256)
    settle(qtbot, window)
    assert settings(window).light.blank_sha256 == other.sha256
    assert window.job.pictures.refusal(window.station("photos").photo()) is None
    assert panel._how.index == 2
    assert (
        window.job.pictures.flat(window.station("photos").photo()).prepared.picture.light
        is not None
    )


def test_a_chart_is_loaded_and_laid_on_the_photo(qtbot, window, tmp_path, monkeypatch):
    listed = tmp_path / "chart.csv"
    rows = ["row,column,L,a,b"]
    rows += [f"{r},{c},{20 + 10 * (3 * r + c)},0,0" for r in (1, 2) for c in (1, 2, 3)]
    listed.write_text("\n".join(rows).replace("110", "96"), encoding="utf-8")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(listed), ""))
    window.station("photos").open_step("colour")
    window.station("photos").panel("colour")._chart.click()
    settle(qtbot, window)
    assert (settings(window).chart.columns, settings(window).chart.rows) == (3, 2)
    assert len(window.station("photos")._view.handles()) == 4
    assert "by a chart" in row(window, "colour")
    window.job.history.undo()
    settle(qtbot, window)
    assert "card as printed" in row(window, "colour")


def test_the_loupe_shows_the_photos_own_pixels(window):
    loaded = window.job.pictures.detail(window.station("photos").photo())
    image = window.station("photos")._detail((600.5, 450.5), 8.0)
    middle = image.pixelColor(image.width() // 2, image.height() // 2)
    assert np.abs(np.array(middle.getRgb()[:3]) - loaded.code[450, 600]).max() < 40
    deep = replace(loaded, code=loaded.code.astype(np.uint16) * 257)
    window.job.pictures.decoded.keep(deep)
    again = window.station("photos")._detail((600.5, 450.5), 8.0)
    assert again.pixelColor(5, 5) == image.pixelColor(5, 5)
