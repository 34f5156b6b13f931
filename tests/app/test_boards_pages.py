"""The pages that open from Boards, in the real window with the demo job."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from importlib.resources import files

import pytest
import time_machine
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLineEdit, QWidget

from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.distance_rail import DistanceRail
from jartide.app.widgets.laid_over import LaidOver
from jartide.app.widgets.ledger import Ledger
from jartide.app.widgets.page_line import PageLine
from jartide.app.widgets.series_chart import SeriesChart
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.app.widgets.tide_view import TideView
from jartide.store.records import Stage
from jartide.studio.camera import Camera, expose, to_jpeg
from jartide.studio.patina import Reaction, draw_patina
from jartide.studio.verdigris import Verdigris
from jartide.wording import tr

from .conftest import settle
from .hand import foot_action, items, picked, pressed, the, turned_to, typed, words_of
from .test_demo_window import open_finish

PAGES = (
    "mends",
    "row",
    "log",
    "course",
    "stages",
    "fields",
    "faults",
    "light",
    "wall",
    "watch",
    "practice",
    "room",
)


def demo_photo(name):
    return files("jartide").joinpath(f"data/demo/{name}").read_bytes()


def on_the_bench(demo, number):
    """Put a board on the bench by its mark on the tide."""
    the(demo.station("boards"), TideView).chosen.emit(number)


def rows_of(page):
    """The rows of the one list of a page."""
    return the(page, Ledger).rows


def open_page(qtbot, demo, name, finish="Bar front", board=1):
    open_finish(qtbot, demo, finish, "boards")
    on_the_bench(demo, board)
    page = demo.station("boards").open_page(name)
    settle(qtbot, demo)
    return page


def shown_again(qtbot, demo, times=4):
    """Wait for what is worked out in the background, which may ask for more."""
    for _ in range(times):
        settle(qtbot, demo)
        demo.station("boards").refresh()


def set_up(qtbot, demo, like):
    """Square and scale the photo that came last as a photo of the demo job is."""
    job = demo.job
    known = next(p for p in job.records.photos() if p.file_name == like)
    photo = max(job.records.photos(), key=lambda p: p.position)
    job.records.set_settings(photo, known.settings, "set up")
    settle(qtbot, demo)
    return photo


def log_pass(page, name, tool="Feather", minutes="20", carrier=""):
    the(page, QComboBox, tr("log.pass")).setEditText(name)
    typed(page, tr("log.tool"), tool)
    typed(page, tr("log.minutes"), minutes)
    typed(page, tr("log.carrier"), carrier)
    foot_action(page, tr("log.done")).run()


@pytest.mark.parametrize("name", PAGES)
def test_every_page_is_one_press_away_and_closes_again(qtbot, demo, name):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    line, tide = the(boards, PageLine), the(boards, TideView)
    assert line.ends_at() <= line.width() - 20 and line.pages == ["", *PAGES]
    QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=QPoint(round(line.place_of(name)), 20))
    settle(qtbot, demo)
    page = demo.station("boards").page
    assert page is not None and page.name == name
    assert page.isVisible() and not tide.isVisible()
    nameless = [
        w
        for w in page.findChildren(QWidget)
        if w.isVisible()
        and w.focusPolicy() & Qt.FocusPolicy.TabFocus
        and not (w.accessibleName() or getattr(w, "text", lambda: "")())
        and not w.parent().inherits("QComboBox")
    ]
    assert not nameless
    for field in page.findChildren(QLineEdit):
        assert field.accessibleName() or field.parent().inherits("QComboBox")
    demo.page().escape()
    settle(qtbot, demo)
    assert demo.station("boards").page is None and tide.isVisible()


def test_a_pass_is_written_corrected_and_never_lost(qtbot, demo):
    page = open_page(qtbot, demo, "log", finish="Lift lobby")
    board = page.board
    with time_machine.travel(datetime.now(UTC) - timedelta(minutes=12), tick=True):
        foot_action(page, tr("log.start")).run()
    log_pass(page, items(page, tr("log.pass"))[1], minutes="", carrier="4")
    (entry,) = demo.job.records.entries(board)
    assert entry.logged.done.minutes == pytest.approx(12, abs=0.2)
    assert entry.logged.done.layer and entry.logged.done.carrier_parts == 4
    the(page, Ledger).chosen.emit(0)
    typed(page, tr("log.tool"), "Fine liner")
    pressed(page, tr("log.correct"))
    settle(qtbot, demo)
    entries = demo.job.records.entries(board)
    assert [e.logged.done.tool for e in entries] == ["Feather", "Fine liner"]
    assert [p.tool for p in demo.job.boards.passes(board)] == ["Fine liner"]
    assert "corrected" in rows_of(page)[0].note


def test_the_air_remarks_and_bad_numbers(qtbot, demo):
    page = open_page(qtbot, demo, "log", finish="Lift lobby")
    foot_action(page, tr("log.air")).run()
    typed(page, tr("log.remark"), "Ground dusty")
    pressed(page, tr("log.write"))
    typed(page, tr("log.temperature"), "21,5")
    typed(page, tr("log.humidity"), "48")
    pressed(page, tr("log.air_typed"))
    titles = [row.title for row in rows_of(page)]
    assert titles[1:] == ["Ground dusty", "21.5 °C, 48% humidity"]
    air = demo.job.records.entries(page.board)[0].logged.climate
    assert 5 < air.temperature_c < 35 and 20 < air.humidity_percent < 90
    typed(page, tr("log.temperature"), "200")
    typed(page, tr("log.humidity"), "48")
    pressed(page, tr("log.air_typed"))
    assert "-30 to 60" in demo.foot.shown.text
    the(page, QComboBox, tr("log.pass")).setEditText("  ")
    foot_action(page, tr("log.done")).run()
    assert "Say which pass" in demo.foot.shown.text
    assert len(demo.job.records.entries(page.board)) == 3


def test_what_changed_since_the_last_board_is_worked_out(qtbot, demo):
    page = open_page(qtbot, demo, "log", board=3)
    titles = [row.title for row in rows_of(page)]
    assert "Changed from board 2" in titles
    assert "Clouds: 3 parts of glaze in place of 4." in titles
    assert "Veil: 2 coats in place of 1." in titles
    log_pass(page, "Second veil", "Soft brush", "8")
    assert page.note().startswith("114 min of work so far.")
    assert "Second veil: added." in [row.title for row in rows_of(page)]


def test_stages_say_what_a_pass_was_worth_and_if_it_is_on_course(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "log", board=1)
    log_pass(page, "Drifts", minutes="30")
    page.take_stage(demo_photo("bar-front-board-1.jpg"), "a.jpg")
    settle(qtbot, demo)
    # Without a card nothing is taken over from another photo: it is set up in Photos first.
    assert demo.page() is demo.station("photos")
    set_up(qtbot, demo, "bar-front-board-1.jpg")
    page = open_page(qtbot, demo, "log", board=1)
    log_pass(page, "Glaze", minutes="10")
    page.take_stage(demo_photo("bar-front-board-2.jpg"), "b.jpg")
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-2.jpg")
    later = open_page(qtbot, demo, "log", board=3)
    log_pass(later, "Drifts", minutes="30")
    later.take_stage(demo_photo("bar-front-board-1.jpg"), "c.jpg")
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-1.jpg")
    stages = open_page(qtbot, demo, "stages", board=1)
    shown_again(qtbot, demo)
    worth = {row.title: row for row in rows_of(stages) if not row.head}
    assert "steps nearer" in worth["Glaze"].right
    assert "steps an hour" in worth["Glaze"].right_note
    stages = open_page(qtbot, demo, "stages", board=3)
    shown_again(qtbot, demo)
    course = [row for row in rows_of(stages) if row.right == "on course"]
    assert course and "board 1" in course[0].note


def test_a_fault_is_left_out_of_the_reading_and_comes_off_again(qtbot, demo):
    page = open_page(qtbot, demo, "faults")
    the(page, QComboBox, tr("faults.kind")).setCurrentIndex(1)
    the(page, SurfacePane).boxed.emit((0.2, 0.2, 0.4, 0.3))
    settle(qtbot, demo)
    photo = demo.station("boards").chosen()[1]
    assert [f.kind for f in photo.faults] == ["bubbles"]
    assert photo.settings.leave_out[-1] == photo.faults[0].shape
    assert rows_of(page)[0].title == "Bubbles"
    (ring,) = the(page, SurfacePane).outlines
    assert ring[0] == pytest.approx((0.2, 0.2), abs=0.01)
    the(page, Ledger).chosen.emit(0)
    pressed(page, tr("faults.remove"))
    settle(qtbot, demo)
    photo = demo.station("boards").chosen()[1]
    assert photo.faults == () and photo.settings.leave_out == ()


def test_fields_get_a_verdict_each(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "fields")
    pressed(page, tr("fields.upright"))
    shown_again(qtbot, demo)
    rows = rows_of(page)
    assert {row.title for row in rows} == {"Field 1", "Field 2"}
    assert rows[0].right == "nearest" and "steps further off" in rows[1].right
    the(page, Ledger).chosen.emit(0)
    pressed(page, tr("fields.remove"))
    assert len(demo.station("boards").chosen()[1].zones) == 1


def test_a_board_is_signed_off_and_panels_are_compared_with_it(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "wall", board=3)
    pressed(page, tr("wall.sign"))
    assert "type the name" in demo.foot.shown.text
    demo.foot.clear_over()
    typed(page, tr("wall.who"), "Ines")
    pressed(page, tr("wall.sign"))
    settle(qtbot, demo)
    assert demo.job.finish.approval.who == "Ines"
    typed(page, tr("wall.section"), "Left")
    typed(page, tr("wall.person"), "Tom")
    page.take_panel(demo_photo("bar-front-board-1.jpg"), "panel.jpg")
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-1.jpg")
    page = open_page(qtbot, demo, "wall", board=3)
    shown_again(qtbot, demo)
    (row,) = rows_of(page)
    assert row.title == "Panel 1, Left" and row.note.startswith("Tom")
    # The first board's veins stand upright: it is not the board that was signed off.
    assert row.right in ("off", "close", "not sure")
    assert [b.number for b, _ in demo.job.records.boards()] == [1, 2, 3]


def test_colours_of_the_room_stand_beside_target_and_board(qtbot, demo):
    page = open_page(qtbot, demo, "room")
    page.take_room(demo_photo("bar-front-slab.jpg"), "room.jpg")
    settle(qtbot, demo)
    typed(page, tr("room.name"), "Wall")
    the(page, SurfacePane).picked.emit(0.05, 0.1)
    settle(qtbot, demo)
    (colour,) = demo.job.finish.room
    assert colour.name == "Wall" and colour.lab[0] > 50
    (row,) = rows_of(page)
    assert len(row.chips) == 3 and row.note
    the(page, Ledger).chosen.emit(0)
    pressed(page, tr("room.remove"))
    assert demo.job.finish.room == ()


def test_other_lights_are_shown_for_each_layer(qtbot, demo):
    page = open_page(qtbot, demo, "light")
    shown_again(qtbot, demo)
    heads = [row for row in rows_of(page) if row.head]
    lights = [row for row in rows_of(page) if not row.head]
    assert len(lights) == 3 * len(heads) > 0
    assert all("light" in head.right for head in heads)
    assert {row.title for row in lights} == {"Daylight", "Warm lamp", "Cold LED"}


def test_mends_are_listed_with_their_means(qtbot, demo):
    page = open_page(qtbot, demo, "mends")
    qtbot.waitUntil(lambda: demo.job.shelf.work() is not None, timeout=60_000)
    shown_again(qtbot, demo)
    rows = rows_of(page)
    assert rows[0].head and "direction" in rows[0].title
    assert rows[1].title.startswith("On the next board") and rows[1].sign == "check"
    assert "fresh board is better" in words_of(page)
    for text, kept in (("90", 4.0), ("6,5", 6.5)):
        typed(page, tr("mends.tolerance"), text)
        assert demo.job.finish.tolerance == kept


def patina_jpeg(reaction, minutes):
    surface = draw_patina(reaction, minutes, (150.0, 150.0), 0.5, 3, Verdigris())
    import numpy as np

    from jartide.studio.camera import DAYLIGHT

    code = expose(surface.rgb_linear, DAYLIGHT, Camera(), np.random.default_rng(int(minutes)))
    return to_jpeg(code, 90)


def test_a_series_is_watched_and_its_end_foreseen(qtbot, demo, tmp_path):
    page = open_page(qtbot, demo, "watch", finish="Lift lobby")
    pressed(page, tr("watch.new"))
    reaction = Reaction(rate_per_min=0.1)
    end = reaction.minutes_to(page.wanted())
    for minutes in (0, 0.12, 0.24, 0.36, 0.48, 0.6):
        typed(page, tr("watch.minutes"), f"{minutes * end:.1f}")
        page.take_frame(patina_jpeg(reaction, minutes * end), f"{minutes}.jpg")
        settle(qtbot, demo)
    shown_again(qtbot, demo)
    photos = demo.job.boards.photos_of("watched")
    assert [p.stage.state.value for p in photos] == ["wet"] * 6
    assert len(rows_of(page)) == 6
    covers = [cover for _, cover in the(page, SeriesChart).points]
    assert covers == sorted(covers)
    assert page.forecast(page.frames(page.current())) is not None
    # A photo of the watched folder goes to the series while its page is open.
    file = tmp_path / "seven.jpg"
    file.write_bytes(patina_jpeg(reaction, 0.7 * end))
    typed(page, tr("watch.minutes"), f"{0.7 * end:.1f}")
    demo.station("photos").watch.arrived.emit(str(file))
    settle(qtbot, demo)
    assert len(demo.job.boards.photos_of("watched")) == 7
    typed(page, tr("watch.wet_minutes"), "0")
    pressed(page, tr("watch.keep_wet"))
    assert "from 1 to 1440" in demo.foot.shown.text
    typed(page, tr("watch.wet_minutes"), "3")
    pressed(page, tr("watch.keep_wet"))
    assert "Wet it again in " in words_of(page)
    with time_machine.travel(datetime.now(UTC) + timedelta(minutes=4), tick=True):
        the(page, QTimer).timeout.emit()
    assert "Wet it again now." in words_of(page)


def test_how_a_colour_dried_is_kept_with_its_jar(qtbot, demo):
    page = open_page(qtbot, demo, "watch")
    pressed(page, tr("watch.new"))
    reaction = Reaction()
    for number, state in enumerate(("wet", "dry")):
        picked(page, tr("log.state"), state)
        typed(page, tr("watch.minutes"), str(10 * number))
        page.take_frame(patina_jpeg(reaction, 30 + 5 * number), f"{state}.jpg")
        settle(qtbot, demo)
    shown_again(qtbot, demo)
    jar = the(page, QComboBox, tr("watch.jar"))
    assert jar.isVisible()
    jar.setCurrentIndex(0)
    pressed(page, tr("watch.dried"))
    mixes = demo.job.workspace.mixes(demo.job.finish.id)
    (dried,) = next(m.dried for m in mixes if m.id == jar.currentData())
    assert (dried.before_state, dried.after_state) == ("wet", "dry")


def test_practice_strokes_are_scored_and_the_spoilt_ones_marked(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "practice")
    typed(page, tr("practice.person"), "Tom")
    page.take_sheet(demo_photo("bar-front-board-1.jpg"), "sheet.jpg")
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-1.jpg")
    page = open_page(qtbot, demo, "practice")
    shown_again(qtbot, demo)
    scores = [row for row in rows_of(page) if row.right.isdigit()]
    assert len(scores) >= 4
    assert all(0 <= int(row.right) <= 100 for row in scores)
    head = next(row for row in rows_of(page) if row.head)
    assert "strokes spoil it" in head.title
    assert 0 < len(the(page, SurfacePane).outlines) <= 12
    assert "Tom:" in words_of(page)


def test_two_photos_of_a_board_are_read_together(qtbot, demo, small_pictures):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    on_the_bench(demo, 3)
    _, photo = boards.chosen()
    alone = demo.job.readings.of_board(photo)
    name, data = "bar-front-board-2.jpg", demo_photo("bar-front-board-2.jpg")
    demo.job.pictures.add_particular(data, name, "board", Stage(), boards.chosen()[0])
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-2.jpg")
    demo.job.readings.want_board(photo)
    settle(qtbot, demo)
    together = demo.job.readings.of_board(photo)
    assert alone.photos == 1 and together.photos == 2


def test_the_next_board_is_begun_with_its_log(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    begin = next(a for a in demo.foot.shown.actions if a.text == "Begin the next board")
    begin.run()
    settle(qtbot, demo)
    assert demo.station("boards").page.name == "log"
    assert demo.station("boards").chosen()[0].number == 4
    demo.page().escape()
    assert "Board 4 is begun" in demo.foot.shown.text


def test_both_pictures_are_looked_at_together_and_laid_over(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    left, right = the(boards, SurfacePane, tr("reading.target")), the(boards, LaidOver)
    view = the(boards, ChoiceRow)
    left.zoom_to(3.0, QPointF(60, 60))
    assert right.zoom == 3.0
    assert right.begins_at == left.begins_at
    turned_to(view, 1)
    assert right.has_under
    right.setFocus()
    before = right.edge
    QTest.keyClick(right, Qt.Key.Key_Left)
    assert right.edge == pytest.approx(before - 0.02)
    middle = right.frame().center().toPoint()
    at = middle
    at.setX(round(right.edge * right.frame().width()))
    QTest.mousePress(right, Qt.MouseButton.LeftButton, pos=at)
    to = QPointF(100, at.y()).toPoint()
    QTest.mouseMove(right, to)
    QTest.mouseRelease(right, Qt.MouseButton.LeftButton, pos=to)
    assert right.edge == pytest.approx(100 / right.frame().width(), abs=0.03)
    turned_to(view, 2)
    shown_again(qtbot, demo)
    assert right.over is not None and not right.has_under
    turned_to(view, 0)
    left.zoom_to(1.0, QPointF(0, 0))
    assert right.over is None


def test_the_distance_is_dragged_and_kept_when_let_go(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    rail = the(boards, DistanceRail)
    on_the_bench(demo, 1)
    _, photo = boards.chosen()
    near = demo.job.comparisons.of(photo).distance
    QTest.mousePress(rail, Qt.MouseButton.LeftButton, pos=QPointF(200, 16).toPoint())
    QTest.mouseMove(rail, QPointF(292, 16).toPoint())
    assert demo.job.finish.viewing_m == 2.0
    far = boards.comparison
    assert far.viewing_m == 8.0 and far.distance < near
    QTest.mouseRelease(rail, Qt.MouseButton.LeftButton, pos=QPointF(292, 16).toPoint())
    assert demo.job.finish.viewing_m == 8.0
    assert "8 m" in rail.accessibleName()


def test_every_quantity_is_followed_from_board_to_board(qtbot, demo):
    page = open_page(qtbot, demo, "course", board=3)
    head, overall, *rest = rows_of(page)
    assert head.columns == ("1", "2", "3")
    values = [float(v) for v in overall.columns]
    assert values == sorted(values, reverse=True) and values[0] > 2 * values[-1]
    direction = next(row for row in rest if row.title == "Vein direction")
    assert len(direction.columns) == 3


def test_the_pictures_themselves_are_judged_and_where_both_read_the_same(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    shown_again(qtbot, demo)
    found = demo.job.comparisons.of(boards.chosen()[1])
    assert len(found.seen) == 10 and found.same_from_m is not None
    assert "nothing is to be seen" in demo.foot.shown.text


def test_a_pass_that_was_begun_outlasts_its_page(qtbot, demo):
    page = open_page(qtbot, demo, "log", board=1)
    foot_action(page, tr("log.start")).run()
    begun = demo.job.workspace.preference("pass_begun")
    assert begun is not None
    other = open_page(qtbot, demo, "log", board=2)
    assert foot_action(other, tr("log.start")) is not None  # another board's minutes do not run
    again = open_page(qtbot, demo, "log", board=1)
    assert demo.job.workspace.preference("pass_begun") == begun
    log_pass(again, "Drifts", minutes="")
    settle(qtbot, demo)
    assert demo.job.workspace.preference("pass_begun") is None


def test_who_signed_off_stays_in_the_log(qtbot, demo):
    page = open_page(qtbot, demo, "wall", board=3)
    typed(page, tr("wall.who"), "Ines")
    pressed(page, tr("wall.sign"))
    settle(qtbot, demo)
    words = [e.logged.text for e in demo.job.records.entries(page.board)]
    assert "Signed off by Ines." in words
    demo.job.history.undo()
    assert demo.job.finish.approval is None
    assert not [e for e in demo.job.records.entries(page.board) if e.logged.text]


def test_who_says_how_both_surfaces_are_has_the_board_compared_as_it_will_look(qtbot, demo):
    page = open_page(qtbot, demo, "light", board=3)
    boards = demo.station("boards")
    before = boards.comparison
    for name, state in (("surface.of_target", "sealed"), ("surface.of_board", "dry")):
        made = next(b for b in page.findChildren(QComboBox) if b.accessibleName() == tr(name))
        made.setCurrentIndex(made.findData(state))
        made.activated.emit(made.currentIndex())
    settle(qtbot, demo)
    photo = boards.chosen()[1]
    assert photo.stage.state == "dry" and demo.job.readings.target().stage.state == "sealed"
    after = demo.job.comparisons.of(photo)
    # Sealed, the board that matches now would be darker than the target.
    assert after.seen == () and after.likely_distance > before.likely_distance
    demo.job.history.undo()
    demo.job.history.undo()
    assert boards.chosen()[1].stage.state is None


def test_before_anything_is_signed_parts_are_set_against_each_other(qtbot, demo):
    page = open_page(qtbot, demo, "wall", board=3)
    shown_again(qtbot, demo)
    rows = rows_of(page)
    assert rows[0].head and rows[0].title == tr("wall.parts")
    assert {row.title for row in rows[1:]} == {"Board 1", "Board 2", "Board 3"}
    nearest = [row for row in rows[1:] if row.note == tr("wall.nearest")]
    assert len(nearest) == 1 and nearest[0].right == ""


def test_where_it_differs_says_of_which_layer_there_is_too_much_or_too_little(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    on_the_bench(demo, 1)
    settle(qtbot, demo)
    boards = demo.station("boards")
    pane = the(boards, LaidOver)
    turned_to(the(boards, ChoiceRow), 2)
    settle(qtbot, demo)
    qtbot.waitUntil(lambda: bool(pane.labels), timeout=60_000)
    assert pane.labels[-1] == tr("where.legend")
    assert any("too little" in words or "too much" in words for words in pane.labels[:-1])
    assert len(pane.outlines) == len(pane.labels) - 1
    turned_to(the(boards, ChoiceRow), 0)
    assert pane.labels == [] and pane.outlines == []
