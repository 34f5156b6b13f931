"""The demo job in the real window: every view shows it, by pointer and by keyboard."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from dataclasses import replace
from itertools import pairwise

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from jartide.app.elements.scale_strip import HEIGHT as SCALE_STRIP
from jartide.app.theme import DAY, NIGHT
from jartide.app.widgets.painted import current_theme
from jartide.boards.closeness import ZONE_ENDS, zone_of
from jartide.boards.result import State
from jartide.store.demo import demo_opens_on
from jartide.wording import tr

from .conftest import settle


def open_finish(qtbot, window, name, station):
    for _, finishes in window.job.records.jobs():
        for finish in finishes:
            if finish.name == name:
                window.open_finish(finish.id)
    window.go_to(station)
    settle(qtbot, window)


def test_boards_come_closer_each_time(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    marks = demo.station("boards")._tide._marks
    assert [m.number for m in marks] == [1, 2, 3]
    places = [m.closeness for m in marks]
    assert places == sorted(places)
    assert places[-1] - places[0] > 0.2
    assert (
        demo.station("boards")._left._px_per_mm
        == demo.station("boards")._right._px_per_mm
        is not None
    )


def test_tide_is_walked_by_arrow_keys(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    tide = demo.station("boards")._tide
    tide.setFocus()
    assert demo.station("boards").chosen()[0].number == 3
    QTest.keyClick(tide, Qt.Key.Key_Left)
    assert demo.station("boards").chosen()[0].number == 2
    assert "board 2" in tide.accessibleName()
    assert "Board 2" in demo.foot.shown.text


def test_differences_are_walked_by_arrow_keys(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    rows = demo.station("boards")._rows
    rows.setFocus()
    for _ in range(len(rows._rows)):
        QTest.keyClick(rows, Qt.Key.Key_Down)
    assert demo.station("boards")._row == len(rows._rows) - 1
    assert demo.station("boards")._difference().rank == len(rows._rows)


def test_viewing_distance_is_judged_again_and_kept(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    demo.station("boards")._board_chosen(1)
    near = demo.station("boards")._comparison.likely_distance
    choice = demo.station("boards")._distance
    choice.setFocus()
    for _ in range(8):
        QTest.keyClick(choice, Qt.Key.Key_Right)
    assert demo.job.finish.viewing_m == pytest.approx(2 * 1.1**8, rel=0.01)
    assert demo.station("boards")._comparison.likely_distance < near
    for _ in range(8):
        demo.job.history.undo()
    assert demo.job.finish.viewing_m == 2.0


def test_space_lays_the_board_over_the_target(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    target = demo.station("boards")._left._image
    QTest.keyPress(demo.station("boards"), Qt.Key.Key_Space)
    assert demo.station("boards")._left._image is demo.station("boards")._right._image
    QTest.keyRelease(demo.station("boards"), Qt.Key.Key_Space)
    assert demo.station("boards")._left._image is target


def test_a_layer_is_lifted_out_by_keys(qtbot, demo):
    open_finish(qtbot, demo, "Terrace", "reading")
    core = demo.station("reading")._core
    core.setFocus()
    QTest.keyClick(core, Qt.Key.Key_Up)
    assert demo.station("reading")._picked == 0
    assert demo.station("reading")._pane._over is not None
    QTest.keyClick(core, Qt.Key.Key_Up)
    assert demo.station("reading")._picked == 1
    demo.escape()
    assert demo.station("reading")._picked is None
    assert demo.station("reading")._pane._over is None


def test_a_board_stands_beside_the_target_at_its_scale(qtbot, demo):
    open_finish(qtbot, demo, "Lift lobby", "reading")
    station = demo.station("reading")
    beside = station._pattern.beside
    assert beside.itemText(1) == "Board 1 beside"
    beside.setCurrentIndex(1)
    beside.activated.emit(1)
    settle(qtbot, demo)
    assert station._pattern.view._other is not None
    assert station._beside_pane.isVisible()
    assert station._pane._px_per_mm == station._beside_pane._px_per_mm is not None
    beside.setCurrentIndex(0)
    beside.activated.emit(0)
    settle(qtbot, demo)
    assert not station._beside_pane.isVisible()


def test_changing_the_family_reads_again(qtbot, demo):
    open_finish(qtbot, demo, "Terrace", "reading")
    box = demo.station("reading")._pattern.family
    index = box.findData("stone")
    box.setCurrentIndex(index)
    box.activated.emit(index)
    settle(qtbot, demo)
    assert demo.job.finish.family == "stone"
    assert demo.job.readings.of(demo.job.readings.target()).family == "stone"


def test_reading_can_be_stopped(qtbot, demo):
    open_finish(qtbot, demo, "Library", "reading")
    demo.station("reading")._read_again()
    assert demo.foot.shown.progress is not None
    demo.escape()
    assert demo.foot.shown.progress is None
    assert demo.job.readings.of(demo.job.readings.target()) is not None
    demo.job.runner.stop_all()


def test_night_bench_is_kept(qtbot, open_window):
    window = open_window()
    window.switch_bench()
    assert current_theme() is NIGHT
    window.close()
    again = open_window()
    assert current_theme() is NIGHT
    again.switch_bench()
    assert current_theme() is DAY


def test_help_opens_at_the_screen_it_was_asked_from_and_leads_back(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "jars")
    QTest.keyClick(demo, Qt.Key.Key_F1)
    assert demo.page() is demo.station("help")
    assert "jars" in demo.station("help").shown.keys
    assert "whole parts" in demo.station("help").text.toPlainText()
    demo.escape()
    assert demo.page() is demo.station("jars")


def test_help_on_a_number_says_how_far_to_trust_it(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "reading")
    demo.station("reading")._pattern.view.choose("lines.width_mm")
    settle(qtbot, demo)
    action = next(a for a in demo.foot.shown.actions if a.text == tr("help.number"))
    action.run()
    assert "lines.width_mm" in demo.station("help").shown.keys
    assert "How far to trust it" in demo.station("help").text.toPlainText()
    demo.go_back()
    demo.station("reading")._pattern.view.choose("")


@pytest.mark.parametrize("station", ["photos", "reading", "jars", "steps", "boards", "sheet"])
def test_everything_the_keyboard_reaches_has_a_name(qtbot, demo, station):
    open_finish(qtbot, demo, "Bar front", station)
    nameless = [
        w
        for w in demo.findChildren(QWidget)
        if w.isVisible()
        and w.focusPolicy() & Qt.FocusPolicy.TabFocus
        and not (w.accessibleName() or getattr(w, "text", lambda: "")())
        and not w.parent().inherits("QComboBox")
    ]
    assert not nameless


# What stands within a larger painted thing, in a room that it keeps free.
ROOM_KEPT = {"Other colours", "How the mix is shown"}


@pytest.mark.parametrize("size", [(1180, 720), (1280, 800), (1900, 1060)])
def test_nothing_overlaps_at_any_size(qtbot, demo, size):
    demo.resize(*size)
    for station in ("photos", "reading", "jars", "steps", "sheet", "boards"):
        open_finish(qtbot, demo, "Bar front", station)
        page = demo.page()
        shown = [
            w
            for w in page.children()
            if isinstance(w, QWidget)
            and w.isVisible()
            and not {w.accessibleName(), getattr(w, "text", str)()} & ROOM_KEPT
        ]
        for number, a in enumerate(shown):
            assert page.rect().contains(a.geometry()), (station, a)
            for b in shown[number + 1 :]:
                assert not a.geometry().intersects(b.geometry()), (station, size, a, b)


def test_zones_follow_each_other():
    assert [zone_of(c) for c in (0.0, 0.4, 0.7, 0.9, 1.0)] == [
        "zone.different",
        "zone.two_metres",
        "zone.arm",
        "zone.close",
        "zone.close",
    ]
    assert ZONE_ENDS[-1] == 1.0


def test_a_second_start_hands_over_to_the_first(qtbot, demo, tmp_path):
    from jartide.app.main import _handed_over, _listen

    folder = tmp_path / "workspace"
    assert not _handed_over(folder)
    server = _listen(folder, demo)
    demo.showMinimized()
    assert _handed_over(folder)
    qtbot.waitUntil(lambda: not demo.isMinimized(), timeout=3000)
    server.close()


def test_reading_boards_can_be_stopped(qtbot, demo):
    open_finish(qtbot, demo, "Library", "boards")
    job = demo.job
    # A reading that nothing is kept of is under way.
    finish = job.finish
    job.records.change("another family", [finish], [replace(finish, family="leather")])
    job.readings.want_target()
    demo.station("boards").refresh()
    assert demo.foot.shown.progress is not None
    demo.foot.press_primary()
    assert not job.runner.busy
    assert demo.foot.shown.progress is None


def starts(display):
    """Start the demo as a person would and wait for its word that the window is shown."""
    return subprocess.run(
        [sys.executable, "-m", "jartide", "demo"],
        env={**os.environ, "JARTIDE_CLOSE_AFTER_S": "1", **display},
        capture_output=True,
        text=True,
        timeout=120,
    )


def test_demo_starts_without_a_monitor():
    found = starts({"QT_QPA_PLATFORM": "offscreen"})
    assert found.returncode == 0, found.stderr
    assert "window is shown" in found.stderr


@pytest.mark.xvfb
@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="Xvfb is not installed")
def test_demo_starts_on_an_x_server():
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", "1", "-screen", "0", "1400x900x24"],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
    )
    try:
        number = server.stdout.readline().strip()
        found = starts({"QT_QPA_PLATFORM": "xcb", "DISPLAY": f":{number}"})
    finally:
        server.terminate()
        server.wait()
        server.stdout.close()
    assert found.returncode == 0, found.stderr
    assert "window is shown" in found.stderr


def test_boards_are_shown_as_seen_from_where_they_are_judged(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    plain = boards._pictures._images.copy()
    boards._from_afar.click()
    boards._distance_chosen(5.0)
    settle(qtbot, demo)
    afar = [key for key in boards._pictures._images if key not in plain]
    assert {key[2] for key in afar} == {2.0, 5.0}
    images = boards._pictures._images
    near, far = (next(images[key][0] for key in afar if key[2] == metres) for metres in (2.0, 5.0))

    def strength(image):
        grey = [image.pixelColor(x, image.height() // 2).lightness() for x in range(image.width())]
        return sum(abs(b - a) for a, b in pairwise(grey))

    assert strength(far) < 0.8 * strength(near)
    boards._from_afar.click()


def test_stark_veins_get_a_veil_from_the_grounds_own_mix(qtbot, demo):
    from dataclasses import replace

    from jartide.job.words.mends import mends_of
    from jartide.wording import Message

    open_finish(qtbot, demo, "Bar front", "boards")
    demo.station("boards")._board_chosen(1)
    settle(qtbot, demo)
    qtbot.waitUntil(lambda: demo.job.shelf.work() is not None, timeout=60_000)
    target = demo.job.readings.of_target()
    reading = demo.job.readings.of(demo.station("boards").chosen()[1])
    comparison = demo.station("boards")._comparison
    rows = [
        replace(
            d,
            state=State.DIFFERS,
            ratio=1.6,
            delta=10.0,
            advice=Message("advice.missing", layer=""),
        )
        for d in comparison.differences
        if d.quantity == "lines.contrast_L"
    ]
    stark = replace(comparison, differences=tuple(rows))
    work = demo.job.shelf.work()
    jars = demo.job.jars.parts(work)
    (mend,), _ = mends_of(stark, target, reading, work, jars)
    assert mend.recipes[0].startswith("From your ground's mix 6 : 5: 1 : ")
    calm = replace(comparison, differences=tuple(replace(d, state=State.SAME) for d in rows))
    assert mends_of(calm, target, reading, work, jars)[0] == ()


def test_the_help_is_searched_by_words(qtbot, demo):
    demo.show_help("photos")
    settle(qtbot, demo)
    pages = demo.station("help")
    whole = len(pages._rows)
    QTest.keyClicks(pages.search, "ladder screen")
    found = [section.title for section in pages._sections if section is not None]
    assert "Steps" in found and len(pages._rows) < whole
    assert all("ladder" in f"{s.title} {s.text}".casefold() for s in pages._sections if s)
    QTest.keyClicks(pages.search, " nosuchword")
    assert pages._rows == []
    # Esc takes the words away first, then leads back.
    demo.escape()
    assert len(pages._rows) == whole and demo.is_at("help")
    demo.escape()
    assert not demo.is_at("help")


def test_a_newcomer_sees_a_board_with_something_to_mend(qtbot, demo):
    demo.open_finish_named(demo_opens_on())
    settle(qtbot, demo)
    assert demo.page().name == "boards"
    assert demo.station("boards").comparison.differences[0].state is State.DIFFERS
    title, words = demo.station("boards")._advice.words
    assert title and "On this board" in words
    # Whoever came back to a finish stays with it.
    demo.open_finish_named("Bar front")
    assert demo.job.finish.name == demo_opens_on()


@pytest.mark.parametrize("finish", ["Bar front", "Lift lobby", "Library", "Terrace"])
def test_a_surface_has_the_width_its_shape_asks_for(qtbot, demo, finish):
    """At once, as the picture comes: not only when the window is next resized."""
    open_finish(qtbot, demo, finish, "reading")
    pane = demo.station("reading")._pane
    frame, room = pane.frame(), pane.high - SCALE_STRIP
    # As high as there is room, or as wide as the layers beside it leave.
    assert frame.height() == pytest.approx(room, abs=3) or frame.width() == pane.wide
    assert pane.wide - frame.width() <= 4
