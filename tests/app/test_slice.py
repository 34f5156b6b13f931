"""The whole slice in the real window: from an empty workspace to what differs most."""

from __future__ import annotations

import gc
import io
import weakref

import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from jartide.app.runner import QtRunner
from jartide.boards.closeness import closeness
from jartide.errors import Cancelled, PhotoError
from jartide.store.records import PhotoUse
from jartide.wording import tr
from tests.conftest import SIZE_MM

from .conftest import settle

pytestmark = pytest.mark.usefixtures("small_pictures")


def drop(window, *paths, use="target"):
    """Drop photos; where it is asked what they show, say that."""
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    event = QDropEvent(
        QPointF(300, 300),
        Qt.DropAction.CopyAction,
        mime,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    window.dropEvent(event)
    if use is not None and window.foot.shown.text.startswith("What do"):
        press(window, tr(f"photos.it_is.{use}"))


def press(window, text):
    """Press the foot's button of this text."""
    button = next(b for b in window.foot._buttons if b.text() == text)
    assert button.isEnabled()
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)


@pytest.fixture
def photo_files(tmp_path, marble_jpeg, wide_jpeg):
    (tmp_path / "slab.jpg").write_bytes(marble_jpeg)
    (tmp_path / "board.jpg").write_bytes(wide_jpeg)
    return tmp_path / "slab.jpg", tmp_path / "board.jpg"


def type_into(field, text):
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def begin_corners(qtbot, window):
    """Open the panel of the shape and choose four corners."""
    window.station("photos")._rows["shape"].click()
    kind = window.station("photos").panel("shape")._kind
    kind.setCurrentIndex(kind.findData("corners"))
    kind.activated.emit(kind.currentIndex())
    settle(qtbot, window)


def set_corners_and_size(qtbot, window):
    """Set the corners of the opened photo to its own, and its size."""
    photos = window.station("photos")
    begin_corners(qtbot, window)
    side = SIZE_MM[0] / 0.25
    for number, corner in enumerate(((0, 0), (side, 0), (side, side), (0, side))):
        view = photos._view
        mark, place = view.handles()[number]
        at = view.to_widget(mark.points[place]).toPoint()
        # Not exactly (0, 0): to QTest that is no place, and it takes the middle.
        to = view.to_widget(corner).toPoint() + QPoint(1, 1)
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
        QTest.mouseMove(view, to)
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=to)
    width, height = photos.panel("shape")._size
    width.setText(f"{SIZE_MM[0]:g}")
    width.setModified(True)
    type_into(height, f"{SIZE_MM[1]:g}")
    settle(qtbot, window)
    photos.open_step(None)


def test_a_painter_goes_once_through_the_whole_job(
    qtbot, tmp_path, open_window, photo_files, monkeypatch
):
    slab, board = photo_files
    window = open_window()
    job = window.job
    assert "no jobs" in window.foot.shown.text

    # A job with a finish, named and put in its family.
    press(window, "New job")
    particulars = window.station("jobs")._side
    type_into(particulars._fields["job_name"], "Hotel Vessary")
    type_into(particulars._fields["finish_name"], "Bar front")
    index = particulars._family.findData("marble")
    particulars._family.setCurrentIndex(index)
    particulars._family.activated.emit(index)
    press(window, "Open finish")
    assert window.page() is window.station("photos")
    assert "no photo" in window.foot.shown.text

    # The target by drag and drop, squared by hand.
    drop(window, slab)
    settle(qtbot, window)
    assert job.readings.target().file_name == "slab.jpg"
    assert "no scale" in window.foot.shown.text
    set_corners_and_size(qtbot, window)
    settings = job.readings.target().settings
    assert settings.size_mm == SIZE_MM
    assert settings.corners[2] == pytest.approx((800, 800), abs=4)
    assert window.foot.shown.text == tr("photos.no_colour", title="Target")

    # Read.
    press(window, "Read the target")
    assert window.page() is window.station("reading")
    assert window.foot.shown.progress is not None or job.runner.busy
    settle(qtbot, window)
    reading = job.readings.of(job.readings.target())
    assert len(reading.layers) >= 4
    assert "target is read" in window.foot.shown.text
    assert "green ground" in window.station("reading")._core.accessibleName()

    # A board by the file dialog; it needs its corners first, so Photos opens.
    # The next thing to do is mixing; the button leads there, the stations stand open all the same.
    press(window, "Go to Jars")
    assert window.page() is window.station("jars")
    window.go_to("boards")
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_: ([str(board)], ""))
    press(window, "Add board 1")
    settle(qtbot, window)
    assert window.page() is window.station("photos")
    assert window.station("photos").photo().use is PhotoUse.BOARD
    set_corners_and_size(qtbot, window)
    press(window, "Compare")
    settle(qtbot, window)
    comparison = window.station("boards")._comparison
    first = comparison.differences[0]
    assert first.quantity == "lines.width_mm"
    assert "times too wide" in str(first.words)
    assert "board 1" in window.station("boards")._tide.accessibleName()
    assert 0 < closeness(comparison) < 1
    assert "Vein width" in window.station("boards")._rows.accessibleName()

    # Everything was saved as it was done: another start shows the same.
    window.close()
    again = open_window(folder=tmp_path / "workspace")
    (job, (finish,)) = again.job.records.jobs()[0]
    assert (job.name, finish.name, finish.family) == ("Hotel Vessary", "Bar front", "marble")
    again.open_finish(finish.id)
    settle(qtbot, again)
    assert again.page() is again.station("boards")
    assert again.job.readings.of(again.job.readings.target()) == reading
    assert again.station("boards")._comparison.differences[0].quantity == "lines.width_mm"


def test_every_change_can_be_undone_and_redone(qtbot, open_window, photo_files):
    window = open_window()
    job = window.job
    press(window, "New job")
    press(window, "Open finish")
    drop(window, photo_files[0])
    settle(qtbot, window)
    begin_corners(qtbot, window)
    moved = job.readings.target().settings
    view = window.station("photos")._view
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Right)
    QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    nudged = job.readings.target().settings
    assert nudged.corners[0][0] == pytest.approx(moved.corners[0][0] + 11)
    undo = job.history
    undo.undo()  # both nudges are one step
    assert job.readings.target().settings == moved
    undo.undo()
    assert job.readings.target().settings.corners is None
    undo.undo()
    assert job.readings.target() is None
    undo.undo()
    assert job.records.jobs() == []
    while undo.can_redo:
        undo.redo()
    finish = job.records.jobs()[0][1][0]
    window.open_finish(finish.id)
    assert job.readings.target().settings == nudged


def test_removing_offers_undo_for_a_while(qtbot, open_window, photo_files):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    drop(window, photo_files[0])
    settle(qtbot, window)
    press(window, "Remove")
    assert window.job.readings.target() is None
    assert "was removed" in window.foot.shown.text
    press(window, "Undo")
    assert window.job.readings.target().file_name == "slab.jpg"


def test_bad_files_are_one_sentence_and_change_nothing(qtbot, open_window, tmp_path):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    bad = tmp_path / "notes.jpg"
    bad.write_text("no picture")
    drop(window, bad)
    settle(qtbot, window)
    assert "not a picture Jar Tide knows" in window.foot.shown.text
    assert window.foot.shown.sign == "stop"
    drop(window, tmp_path / "gone.jpg")
    settle(qtbot, window)
    assert "can't be read" in window.foot.shown.text
    assert window.job.records.photos() == []
    press(window, "Understood")
    assert window.foot.shown.sign == ""


@pytest.mark.parametrize("use", ["target", "board", "surroundings", "mood"])
def test_a_dropped_photo_is_asked_what_it_shows(qtbot, open_window, photo_files, use):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    drop(window, photo_files[0], use="target")
    settle(qtbot, window)
    drop(window, photo_files[1], use=use)
    settle(qtbot, window)
    uses = [str(photo.use) for photo in window.job.records.photos()]
    assert uses == ["target", use]
    # Several at once are asked about once; left alone, nothing comes in.
    drop(window, *photo_files, use=None)
    assert window.foot.shown.text == tr("photos.what_are_they", count=2)
    window.foot.clear_over()
    settle(qtbot, window)
    assert len(window.job.records.photos()) == 2


def test_what_was_said_stays_no_longer_than_its_station(qtbot, open_window, photo_files):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    drop(window, photo_files[0])
    settle(qtbot, window)
    window.foot.show_word("Something was said here.")
    window.go_to("jars")
    assert "Something" not in window.foot.shown.text


def test_a_picture_is_pasted(qtbot, open_window):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    QApplication.clipboard().setText("words")
    window.paste()
    assert "no picture on the clipboard" in window.foot.shown.text
    image = QImage(60, 40, QImage.Format.Format_RGB888)
    image.fill(Qt.GlobalColor.darkGreen)
    QApplication.clipboard().setImage(image)
    window.paste()
    assert not window.job.records.photos()  # it is asked first what it shows
    press(window, tr("photos.it_is.target"))
    settle(qtbot, window)
    assert window.job.readings.target().file_name == "pasted photo.png"


def test_stale_answers_are_dropped_and_stopping_stops(qtbot):
    runner = QtRunner()
    got, failed = [], []

    def slow(progress):
        for step in range(200):
            progress(step / 200)
            QTest.qSleep(5)
        return "old"

    runner.start("topic", slow, returned=got.append, failed=failed.append)
    runner.start("topic", lambda progress: "new", returned=got.append, failed=failed.append)
    qtbot.waitUntil(lambda: bool(got), timeout=5000)
    assert got == ["new"]
    runner.start("topic", slow, returned=got.append, failed=failed.append)
    runner.stop("topic")
    assert not runner.busy
    runner.stop_all()
    assert got == ["new"]
    assert failed == []


def test_a_failure_arrives_as_a_failure(qtbot):
    runner = QtRunner()
    failed = []

    def broken(progress):
        raise PhotoError("error.photo.empty", name="a.jpg")

    runner.start("topic", broken, returned=failed.append, failed=failed.append)
    qtbot.waitUntil(lambda: bool(failed), timeout=5000)
    assert isinstance(failed[0], PhotoError)
    runner.stop_all()


def test_cancelled_is_neither_result_nor_failure(qtbot):
    runner = QtRunner()
    told = []

    def cancelled(progress):
        raise Cancelled

    runner.start("topic", cancelled, returned=told.append, failed=told.append)
    qtbot.waitUntil(lambda: not runner.busy, timeout=5000)
    assert told == []


def test_what_was_worked_on_is_let_go_of(qtbot):
    class Large:
        pass

    runner = QtRunner()
    held = []

    def ask(topic, *, stopped=False):
        large = Large()
        held.append(weakref.ref(large))
        runner.start(
            topic,
            lambda progress: [large],
            returned=lambda found, own=large: None,
            failed=lambda error, own=large: None,
            progressed=lambda fraction, own=large: None,
        )
        if stopped:
            runner.stop(topic)

    for n in range(20):
        ask(f"topic {n % 5}", stopped=n % 3 == 0)
    qtbot.waitUntil(lambda: not runner.busy, timeout=5000)
    runner.stop_all()

    def all_let_go():
        # What was stopped is no longer busy, and yet runs to its end in its thread.
        gc.collect()
        assert [one() for one in held if one() is not None] == []

    qtbot.waitUntil(all_let_go, timeout=20_000)


def test_second_window_may_only_look(qtbot, open_window, tmp_path):
    first = open_window()
    press(first, "New job")
    second = open_window(folder=tmp_path / "workspace")
    assert second.job.workspace.read_only
    assert "another window" in second.foot.shown.note
    job, (finish,) = second.job.records.jobs()[0]
    from dataclasses import replace

    second.job.records.change("x", [job], [replace(job, name="Taken over")])
    assert "another window" in second.foot.shown.text
    assert second.job.records.jobs()[0][0] == job
    assert finish.job_id == job.id


def test_dragging_shows_the_mark_at_once_and_saves_at_the_end(qtbot, open_window, photo_files):
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    drop(window, photo_files[0])
    settle(qtbot, window)
    begin_corners(qtbot, window)
    view = window.station("photos")._view
    before = window.job.readings.target().settings
    at = view.to_widget(before.corners[0]).toPoint()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(view, at + QPoint(30, 20))
    assert window.job.readings.target().settings == before
    shown = view.handles()[0][0].points[0]
    assert shown[0] > before.corners[0][0]
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at + QPoint(30, 20))
    assert window.job.readings.target().settings.corners[0] == pytest.approx(shown, abs=0.06)
    settle(qtbot, window)


def test_of_many_that_arrive_the_last_one_leads_on(qtbot, open_window, tmp_path, photo_files):
    """The screen does not jump from one to the next while others are still being made."""
    window = open_window()
    press(window, "New job")
    press(window, "Open finish")
    drop(window, photo_files[0])
    settle(qtbot, window)
    window.go_to("photos")
    shown, arrived = [], []

    def note(photo_id, watched):
        arrived.append(photo_id)

    window.job.events.arrived.connect(note)
    window.open_photo = lambda photo_id, *_: shown.append(photo_id)
    window.go_to = lambda name: shown.append(name)
    for n in range(4):
        out = io.BytesIO()
        Image.new("RGB", (90 + n, 60), "#884422").save(out, "JPEG")
        data = out.getvalue()
        window.job.pictures.add_photo(data, f"{n}.jpg", board=False, watched=True)
    settle(qtbot, window)
    assert len(window.job.records.photos()) == 5
    assert len(arrived) == 4 > len(shown) and shown[-1] == arrived[-1]
