"""The Photos station in the real window: steps and panels, drawing, devices, the watched folder."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QPageSize
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from jartide.app.card_out import print_card
from jartide.app.stations.photos.marks import STEPS
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.photo_view import PhotoView
from jartide.app.widgets.steps_list import StepRow
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.colour.difference import delta_e_2000
from jartide.devices.registry import Kind
from jartide.job.outside_devices import switch_stand_in
from jartide.job.sheet import pages_of
from jartide.photo.card.design import CardSize, card_of
from jartide.photo.card.files import card_file
from jartide.photo.load import decode_photo
from jartide.photo.settings import KnownPatch, Polygon, Rect, SheenWord, Stroke
from jartide.store.records import BoardCheck, PhotoUse
from jartide.studio.camera import to_jpeg
from jartide.studio.camera_stand import Board, CameraStand, StandSettings
from jartide.studio.snapshot import PrintedCard
from jartide.wording import tr
from tests.app.hand import all_of, button, picked, pressed, the, turned_to, typed, words_of

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
    QTest.mouseClick(button(window.foot, text), Qt.MouseButton.LeftButton)


def point_at(window, share):
    """Press on the photo at shares of its width and height."""
    view = the(window.station("photos"), PhotoView)
    frame = view.frame()
    place = QPoint(round(share[0] * frame.width()), round(share[1] * frame.height()))
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=place)


def settings(window):
    return window.station("photos").photo().settings


def step(window, name):
    """The row of a step in the list of all."""
    return all_of(window.station("photos"), StepRow)[STEPS.index(name)]


def row(window, name):
    return step(window, name).accessibleName()


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
    light = step(window, "light")
    light.setFocus()
    QTest.keyClick(light, Qt.Key.Key_Space)
    assert photos.panel("light").isVisible()
    assert not light.isVisible()
    window.page().escape()
    assert light.isVisible()


def test_light_is_evened_or_left_and_undone(qtbot, window):
    window.station("photos").open_step("light")
    panel = window.station("photos").panel("light")
    how = the(panel, ChoiceRow)
    assert how.index == 1
    turned_to(how, 0)
    settle(qtbot, window)
    assert "as it fell" in row(window, "light")
    assert how.index == 0
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
    photos, view = window.station("photos"), the(window.station("photos"), PhotoView)
    photos.open_step("left_out")
    middle = view.rect().center()
    panel = photos.panel("left_out")
    pen = the(panel, ChoiceRow)
    turned_to(pen, 1)
    drag(view, middle, QPoint(30, 20), QPoint(60, 40))
    settle(qtbot, window)
    (box,) = settings(window).leave_out
    assert isinstance(box, Rect) and box.w > box.h
    turned_to(pen, 2)
    for way in (QPoint(0, 0), QPoint(50, 0), QPoint(25, 40)):
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=middle - QPoint(90, 60) + way)
    QTest.keyClick(view, Qt.Key.Key_Return)
    settle(qtbot, window)
    assert isinstance(settings(window).leave_out[1], Polygon)
    turned_to(pen, 3)
    drag(view, middle + QPoint(-60, 50), QPoint(20, 5), QPoint(40, 0))
    settle(qtbot, window)
    assert isinstance(settings(window).leave_out[2], Stroke)
    assert "3 places" in row(window, "left_out")
    assert window.job.pictures.flat(photos.photo()).prepared.picture.valid().mean() < 0.75
    pressed(panel, tr("left_out.last"))
    assert len(settings(window).leave_out) == 2
    pressed(panel, tr("left_out.mark_region"))
    assert settings(window).region is not None
    turned_to(pen, 0)
    photos.open_step(None)


def test_known_lengths_are_kept_and_used_again(qtbot, window):
    photos = window.station("photos")
    photos.open_step("scale")
    panel = photos.panel("scale")
    pressed(panel, tr("step.length.begin"))
    settle(qtbot, window)
    typed(panel, tr("step.length"), "27,5 mm")
    typed(panel, tr("scale.name"), "Ferrule")
    pressed(panel, tr("scale.keep"))
    assert photos.jobs.lengths() == (("Ferrule", 27.5),)
    settle(qtbot, window)
    pressed(panel, tr("step.length.clear"))
    settle(qtbot, window)
    assert settings(window).known_length is None
    picked(panel, tr("scale.list"), 27.5)
    assert settings(window).known_length.name == "Ferrule"
    settle(qtbot, window)
    assert "Ferrule" in row(window, "scale")
    picked(panel, tr("list.forget"), "Ferrule")
    assert photos.jobs.lengths() == ()
    assert settings(window).known_length.length_mm == 27.5  # the photo keeps what it was given


def test_patches_take_known_colours_and_give_them(qtbot, window):
    photos = window.station("photos")
    photos.open_step("colour")
    panel = photos.panel("colour")
    before = settings(window)
    pressed(panel, tr("colour.grey_card"))
    assert settings(window) == before  # nothing changes before a place is pointed at
    point_at(window, (0.9, 0.5))
    settle(qtbot, window)
    # The first patch has no value, so its colour can only be kept once the photo is corrected.
    typed(panel, tr("colour.name"), "Wall")
    pressed(panel, tr("colour.keep"))
    assert "not known yet" in window.foot.shown.text
    for axis, text in (("L", "61.5"), ("a", "−2"), ("b", "4")):
        typed(panel, tr(f"colour.{axis}"), text)
    (patch,) = settings(window).neutrals
    assert (patch.lightness, patch.a, patch.b) == (61.5, -2.0, 4.0)
    typed(panel, tr("colour.name"), "Wall")
    pressed(panel, tr("colour.keep"))
    assert photos.jobs.colours() == (("Wall", (61.5, -2.0, 4.0)),)
    picked(panel, tr("list.forget"), "Wall")
    assert photos.jobs.colours() == ()
    pressed(panel, tr("colour.remove"))
    assert settings(window).neutrals == ()
    settle(qtbot, window)


def test_a_frame_is_moved_whole_and_stretched_by_each_corner(qtbot, window):
    photos = window.station("photos")
    photos.open_step("colour")
    pressed(photos.panel("colour"), tr("colour.grey_card"))
    point_at(window, (0.5, 0.5))
    settle(qtbot, window)
    view = the(photos, PhotoView)
    before = settings(window).neutrals[0].rect

    def drag(start, end):
        (a, b), (c, d) = start, end
        places = [view.to_widget(p).toPoint() for p in ((a, b), ((a + c) / 2, (b + d) / 2), (c, d))]
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=places[0])
        for place in places[1:]:
            QTest.mouseMove(view, place)
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=places[2])
        settle(qtbot, window)
        return settings(window).neutrals[0].rect

    middle = (before.x + before.w / 2, before.y + before.h / 2)
    moved = drag(middle, (middle[0] + 90, middle[1] - 60))
    assert (moved.w, moved.h) == pytest.approx((before.w, before.h), abs=0.2)
    assert (moved.x - before.x, moved.y - before.y) == pytest.approx((90, -60), abs=4)
    # Each corner takes its own two sides along and leaves the corner across where it was.
    for right, below in ((0, 0), (1, 0), (1, 1), (0, 1)):
        rect = settings(window).neutrals[0].rect
        corner = (rect.x + right * rect.w, rect.y + below * rect.h)
        across = (rect.x + (1 - right) * rect.w, rect.y + (1 - below) * rect.h)
        to = (corner[0] + (40 if right else -40), corner[1] + (40 if below else -40))
        new = drag(corner, to)
        kept = (new.x + (1 - right) * new.w, new.y + (1 - below) * new.h)
        assert kept == pytest.approx(across, abs=0.2)
        assert (new.w - rect.w, new.h - rect.h) == pytest.approx((40, 40), abs=5)


def test_a_patch_is_pointed_at_by_keys(qtbot, window):
    photos = window.station("photos")
    photos.open_step("colour")
    pressed(photos.panel("colour"), tr("colour.paper"))
    view = the(photos, PhotoView)
    assert view.hasFocus()
    QTest.keyClick(view, Qt.Key.Key_Right)
    QTest.keyClick(view, Qt.Key.Key_Return)
    settle(qtbot, window)
    (patch,) = settings(window).neutrals
    assert patch.source == "paper" and patch.lightness == 94.0
    w, h = window.job.pictures.preview(photos.photo()).size
    middle = (patch.rect.x + patch.rect.w / 2, patch.rect.y + patch.rect.h / 2)
    assert middle == pytest.approx((w / 2 + w / 100, h / 2), abs=1)
    # Esc lays the pen away and takes nothing.
    pressed(photos.panel("colour"), tr("colour.grey_card"))
    window.escape()
    QTest.keyClick(view, Qt.Key.Key_Return)
    assert len(settings(window).neutrals) == 1


def test_a_stone_taken_for_grey_is_asked_about(qtbot, window):
    photos = window.station("photos")
    photos.open_step("colour")
    panel = photos.panel("colour")
    pressed(panel, tr("colour.grey_card"))
    point_at(window, (0.35, 0.45))
    settle(qtbot, window)
    assert tr("grey.ask") in words_of(panel)
    # Pointing again takes the doubted spot off, and nothing else the painter set.
    wall = KnownPatch(rect=Rect(x=900, y=20, w=40, h=40), lightness=80.0, a=1.0, b=9.0)
    photos.put_settings(
        replace(settings(window), neutrals=(*settings(window).neutrals, wall)), "wall"
    )
    settle(qtbot, window)
    pressed(panel, tr("grey.no"))
    assert settings(window).neutrals == (wall,)
    point_at(window, (0.35, 0.45))
    settle(qtbot, window)
    pressed(panel, tr("grey.yes"))
    settle(qtbot, window)
    assert settings(window).neutrals[-1].sure and tr("grey.ask") not in words_of(panel)


def test_a_wall_of_known_colour_is_chosen_first_and_then_pointed_at(qtbot, window):
    photos = window.station("photos")
    photos.jobs.keep_colour("Cream wall", (82.0, 1.5, 12.0))
    photos.open_step("colour")
    panel = photos.panel("colour")
    pressed(panel, tr("colour.wall"))
    assert not button(panel, tr("colour.at_wall")).isEnabled()
    picked(panel, tr("colour.list"), (82.0, 1.5, 12.0))
    pressed(panel, tr("colour.at_wall"))
    point_at(window, (0.9, 0.1))
    settle(qtbot, window)
    (patch,) = settings(window).neutrals
    assert (patch.lightness, patch.a, patch.b) == (82.0, 1.5, 12.0)
    assert patch.source == "Cream wall"


def test_steps_show_their_marks_at_once_and_set_nothing_by_it(qtbot, open_window):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    code = np.full((300, 400, 3), 150, np.uint8)
    code[::7, ::5] = 90
    window.job.pictures.add_photo(to_jpeg(code, quality=95), "plain.jpg", board=False)
    settle(qtbot, window)
    photos, view = window.station("photos"), the(window.station("photos"), PhotoView)
    assert window.foot.shown.text == tr("photos.no_scale_or_colour", title="Target")
    before = settings(window)
    photos.open_step("shape")
    assert len(view.handles()) == 4
    photos.open_step("scale")
    assert len(view.handles()) == 2
    panel = photos.panel("scale")
    typed(panel, tr("step.length"), "120")
    settle(qtbot, window)
    assert settings(window) == before  # its ends have not been laid on anything
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    settle(qtbot, window)
    known = settings(window).known_length
    assert known.length_mm == 120.0 and known.start[0] == pytest.approx(158.0)
    photos.open_step("shape")
    QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    settle(qtbot, window)
    assert settings(window).corners[0][0] == pytest.approx(70.0)
    assert settings(window).corners[2] == (340.0, 255.0)


@pytest.mark.parametrize("key", [Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space])
def test_steps_open_by_enter_and_space(window, key):
    row_ = step(window, "scale")
    row_.setFocus()
    QTest.keyClick(row_, key)
    assert window.station("photos").panel("scale").isVisible()


def test_the_card_is_to_be_had_before_there_is_a_photo(qtbot, open_window, tmp_path, monkeypatch):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    buttons = [b for b in all_of(window.station("photos"), MenuButton) if b.isVisible()]
    assert [b.text() for b in buttons] == [tr("card.print"), tr("card.save")]
    out = tmp_path / "card.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    buttons[1].picked.emit("A6")
    settle(qtbot, window)
    assert out.read_bytes().startswith(b"%PDF")


def test_the_card_is_printed_as_large_as_it_is(tmp_path, qapp):
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFileName(str(tmp_path / "out.pdf"))
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    print_card(printer, "A6")
    printed = pages_of((tmp_path / "out.pdf").read_bytes(), 100)[0]
    ours = pages_of(card_file(CardSize.A6, ".pdf"), 100)[0]

    def dark(page):
        rows, columns = np.nonzero(page.min(axis=2) < 128)
        return np.array([rows.min(), rows.max(), columns.min(), columns.max()])

    # Within a pixel of 0.25 mm: nothing was fitted to the paper.
    assert np.abs(dark(printed) - dark(ours)).max() <= 1


def test_the_colour_reader_reads_what_it_lies_on(qtbot, window):
    photos = window.station("photos")
    photos.open_step("reader")
    panel = photos.panel("reader")
    pressed(panel, tr("reader.read"))
    assert words_of(panel).startswith("L ") or "\nL " in words_of(panel)
    assert "D50" in words_of(panel)
    pressed(panel, tr("reader.use"))
    settle(qtbot, window)
    (patch,) = settings(window).neutrals
    assert patch.source == "stand_in"
    assert "made up" in words_of(panel)
    flat = window.job.pictures.flat(photos.photo())
    assert "stand_in" in dict(flat.prepared.picture.warnings)
    # Laid on the card it tells one of the card's own patches.
    window.job.history.undo()
    settle(qtbot, window)
    patch = next(p for p in card_of(CardSize.A6).patches if p.id == "colour-3")
    sighting = window.job.pictures.flat(photos.photo()).prepared.card
    x, y = sighting.pose.project(patch.box.corners().mean(axis=0)[None])[0]
    photos.reader_at = (float(x), float(y))
    pressed(panel, tr("reader.read"))
    picked(panel, tr("reader.card"), "colour-3")
    (told,) = settings(window).card.measured
    assert told[0] == "colour-3"
    assert settings(window).stand_ins == ("colour-3",)
    assert delta_e_2000(np.array(told[1]), np.array(PrintedCard().patch_lab(patch.srgb))) < 8
    settle(qtbot, window)
    photos.reader_at = (1.0, 1.0)
    pressed(panel, tr("reader.read"))
    assert "partly beside" in window.foot.shown.text


def test_shapes_set_by_hand(qtbot, window):
    photos = window.station("photos")
    photos.open_step("shape")
    panel = photos.panel("shape")
    for kind, count in (("lines", 8), ("column", 4), ("corners", 4)):
        picked(panel, tr("step.shape"), kind)
        settle(qtbot, window)
        assert len(the(photos, PhotoView).handles()) == count
        # An arrow key nudges the first of them.
        view = the(photos, PhotoView)
        before = view.handles()[0][0].points[0]
        QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        assert view.handles()[0][0].points[0][0] == pytest.approx(before[0] + 10)
        settle(qtbot, window)
    picked(panel, tr("step.shape"), "carved")
    settle(qtbot, window)
    assert settings(window).carved and settings(window).region is not None
    picked(panel, tr("step.shape"), "auto")
    settle(qtbot, window)
    assert "by the card" in row(window, "shape")


def test_sheen_card_and_file_panels(qtbot, window, tmp_path, monkeypatch):
    photos = window.station("photos")
    photos.open_step("sheen")
    panel = photos.panel("sheen")
    picked(panel, tr("step.sheen"), SheenWord.SATIN.value)
    pressed(panel, tr("sheen.metal"))
    assert settings(window).sheen.word is SheenWord.SATIN
    assert settings(window).metal
    photos.open_step("card")
    card = photos.panel("card")
    typed(card, tr("card.height"), "3")
    assert settings(window).card.height_mm == 3
    card.put_value("paper", [94.0, 0.2, -1.0])
    assert dict(settings(window).card.measured)["paper"] == (94.0, 0.2, -1.0)
    out = tmp_path / "card.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    picked(card, tr("card.save"), "A6")
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
    picked(panel, tr("stand.board"), Board.CONCRETE)
    typed(panel, tr("stand.tilt"), "70")
    pressed(panel, tr("stand.take"))
    settle(qtbot, window)
    assert "leans from 0" in window.foot.shown.text
    typed(panel, tr("stand.tilt"), "5")
    pressed(panel, tr("stand.take"))
    qtbot.waitUntil(lambda: len(window.job.records.photos()) == 2, timeout=60_000)
    settle(qtbot, window)
    assert photos.photo().file_name.startswith("stand")
    assert photos.photo().use is PhotoUse.MOOD
    # A second photo of the target: both are read together from now on.
    turned_to(the(photos, ChoiceRow, tr("photos.use")), 0)
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
    window.station("photos").choose(photo.id)
    window.go_to("photos")
    window.station("photos").open_step("board")
    panel = window.station("photos").panel("board")
    for check in (BoardCheck.DRY, BoardCheck.CLEAN):
        pressed(panel, tr(f"board_check.{check.value}"))
    assert window.job.records.boards()[0][0].checks == (BoardCheck.DRY, BoardCheck.CLEAN)
    assert "2 of 4" in row(window, "board")
    import shutil

    shutil.rmtree(folder)
    window.station("photos").watch.look()
    assert "is gone" in window.foot.shown.text
    assert board.number == 1


def test_before_and_after_are_shown(qtbot, window):
    photos = window.station("photos")
    shown, pane = the(photos, ChoiceRow, tr("photos.shown")), the(photos, SurfacePane)
    turned_to(shown, 1)
    before = pane.image
    turned_to(shown, 0)
    assert pane.image is not before
    assert pane.image.size() == before.size()


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
    picked(window.station("photos").panel("scale"), tr("scale.other"), first.id)
    settle(qtbot, window)
    assert settings(window).known_length.name == "Target"
    across = window.job.pictures.flat(window.station("photos").photo())
    # The board of 240 mm was found in the photo and is read alone.
    assert across.code.shape[1] * across.mm_per_px == pytest.approx(240, rel=0.06)
    # Sheen: the same board once more, with the lamp mirrored in it.
    code = decode_photo(shot, "a").code.astype(float)
    y, x = np.mgrid[0 : code.shape[0], 0 : code.shape[1]]
    glow = np.exp(-(((x - 700) / 60) ** 2 + ((y - 330) / 60) ** 2))[..., None]
    mirror = to_jpeg(np.clip(code + 190 * glow, 0, 255).astype(np.uint8), 95)
    third = add(qtbot, window, mirror, "mirror.jpg")
    window.station("photos").choose(first.id)
    window.station("photos").open_step("sheen")
    picked(window.station("photos").panel("sheen"), tr("sheen.mirror_photo"), second.id)
    settle(qtbot, window)
    assert "need the card" in window.foot.shown.text
    picked(window.station("photos").panel("sheen"), tr("sheen.mirror_photo"), third.id)
    settle(qtbot, window)
    assert settings(window).sheen.gloss > 20


def test_light_by_a_blank_board_in_the_same_place(qtbot, window):
    first = window.station("photos").photo()
    blank = replace(STAND, board=Board.BLANK)
    other = add(qtbot, window, CameraStand(settings=blank).take(), "blank.jpg")
    window.station("photos").choose(first.id)
    window.station("photos").open_step("light")
    panel = window.station("photos").panel("light")
    how = the(panel, ChoiceRow)
    turned_to(how, 2)
    assert settings(window).light is None  # nothing changes before a photo is named
    picked(panel, tr("light.blank_photo"), other.sha256)
    settle(qtbot, window)
    assert settings(window).light.blank_sha256 == other.sha256
    assert window.job.pictures.refusal(window.station("photos").photo()) is None
    assert how.index == 2
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
    pressed(window.station("photos").panel("colour"), tr("colour.chart"))
    settle(qtbot, window)
    assert (settings(window).chart.columns, settings(window).chart.rows) == (3, 2)
    assert len(the(window.station("photos"), PhotoView).handles()) == 4
    assert "by a chart" in row(window, "colour")
    window.job.history.undo()
    settle(qtbot, window)
    assert "card as printed" in row(window, "colour")


def test_the_loupe_shows_the_photos_own_pixels(window):
    loaded = window.job.pictures.detail(window.station("photos").photo())
    image = window.station("photos").detail_at((600.5, 450.5), 8.0)
    middle = image.pixelColor(image.width() // 2, image.height() // 2)
    assert np.abs(np.array(middle.getRgb()[:3]) - loaded.code[450, 600]).max() < 40
    deep = replace(loaded, code=loaded.code.astype(np.uint16) * 257)
    window.job.pictures.decoded.keep(deep)
    again = window.station("photos").detail_at((600.5, 450.5), 8.0)
    assert again.pixelColor(5, 5) == image.pixelColor(5, 5)


def test_the_outline_that_was_found_is_asked_about(qtbot, window):
    bare = replace(STAND, with_card=False)
    second = add(qtbot, window, CameraStand(settings=bare, taken=4).take(), "bare.jpg")
    station = window.station("photos")
    station.open_step("shape")
    settle(qtbot, window)
    assert tr("piece.ask") in words_of(station)
    flat = window.job.pictures.flat(second)
    assert flat.prepared.piece is not None
    pressed(station, tr("piece.no"))
    settle(qtbot, window)
    assert settings(window).whole_plane
    assert window.job.pictures.flat(station.photo()).prepared.piece is None
    pressed(station, tr("piece.only"))
    settle(qtbot, window)
    pressed(station, tr("piece.yes"))
    settle(qtbot, window)
    assert settings(window).corners == flat.prepared.piece.corners
    assert tr("piece.ask") not in words_of(station)


def test_a_scan_is_a_choice_of_shape(qtbot, window):
    station = window.station("photos")
    station.open_step("shape")
    picked(station.panel("shape"), tr("step.shape"), "scan")
    settle(qtbot, window)
    assert settings(window).scan
    # The stand's photo states no dots per inch: one sentence says so.
    assert "dots per inch" in words_of(station)


def test_joints_are_lines_of_the_finish_at_one_press(qtbot, window):
    station = window.station("photos")
    station.open_step("left_out")
    assert not settings(window).joints_as_lines
    pressed(station, tr("left_out.joints.left_out.change"))
    settle(qtbot, window)
    assert settings(window).joints_as_lines
    assert tr("left_out.joints.read") in words_of(station)
    pressed(station, tr("left_out.joints.read.change"))
    settle(qtbot, window)
    assert not settings(window).joints_as_lines
