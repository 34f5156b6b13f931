"""The pages that open from Boards, in the real window with the demo job."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from importlib.resources import files

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QWidget

from jartide.studio.camera import Camera, expose, to_jpeg
from jartide.studio.patina import Reaction, draw_patina
from jartide.studio.verdigris import Verdigris

from .conftest import settle
from .test_demo_window import open_finish

PAGES = (
    "mends",
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


def open_page(qtbot, demo, name, finish="Bar front", board=1):
    open_finish(qtbot, demo, finish, "boards")
    demo.station("boards")._board_chosen(board)
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
    page._pass.setEditText(name)
    page._tool.setText(tool)
    page._minutes.setText(minutes)
    page._carrier.setText(carrier)
    page._done_pressed()


@pytest.mark.parametrize("name", PAGES)
def test_every_page_is_two_steps_away_and_closes_again(qtbot, demo, name):
    open_finish(qtbot, demo, "Bar front", "boards")
    words = demo.station("boards")._more.entries
    demo.station("boards")._more._list.actions()[PAGES.index(name)].trigger()
    settle(qtbot, demo)
    page = demo.station("boards").page
    assert page is not None and page.name == name
    assert page.isVisible() and not demo.station("boards")._tide.isVisible()
    assert len(words) == len(PAGES) + 2
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
    demo._escape()
    settle(qtbot, demo)
    assert demo.station("boards").page is None and demo.station("boards")._tide.isVisible()


def test_a_pass_is_written_corrected_and_never_lost(qtbot, demo):
    page = open_page(qtbot, demo, "log", finish="Lift lobby")
    board = page.board
    page._start_pressed()
    page._begun = datetime.now(UTC) - timedelta(minutes=12)
    log_pass(page, page._pass.itemText(1), minutes="", carrier="4")
    (entry,) = demo.job.records.entries(board)
    assert entry.logged.done.minutes == pytest.approx(12, abs=0.2)
    assert entry.logged.done.layer and entry.logged.done.carrier_parts == 4
    page._row_chosen(0)
    page._tool.setText("Fine liner")
    page._correct_pressed()
    settle(qtbot, demo)
    entries = demo.job.records.entries(board)
    assert [e.logged.done.tool for e in entries] == ["Feather", "Fine liner"]
    assert [p.tool for p in demo.job.boards.passes(board)] == ["Fine liner"]
    assert "corrected" in page._ledger.rows[0].note


def test_the_air_remarks_and_bad_numbers(qtbot, demo):
    page = open_page(qtbot, demo, "log", finish="Lift lobby")
    page._air_pressed()
    page._remark.setText("Ground dusty")
    page._remark_pressed()
    page._temperature.setText("21,5")
    page._humidity.setText("48")
    page._typed_pressed()
    titles = [row.title for row in page._ledger.rows]
    assert titles[1:] == ["Ground dusty", "21.5 °C, 48% humidity"]
    air = demo.job.records.entries(page.board)[0].logged.climate
    assert 5 < air.temperature_c < 35 and 20 < air.humidity_percent < 90
    page._temperature.setText("200")
    page._humidity.setText("48")
    page._typed_pressed()
    assert "-30 to 60" in demo.foot.shown.text
    page._pass.setEditText("  ")
    page._done_pressed()
    assert "Say which pass" in demo.foot.shown.text
    assert len(demo.job.records.entries(page.board)) == 3


def test_what_changed_since_the_last_board_is_worked_out(qtbot, demo):
    page = open_page(qtbot, demo, "log", board=3)
    titles = [row.title for row in page._ledger.rows]
    assert "Done otherwise than on board 2" in titles
    assert "Clouds: 3 parts of glaze in place of 4." in titles
    assert "Veil: 2 coats in place of 1." in titles
    log_pass(page, "Second veil", "Soft brush", "8")
    assert page.note().startswith("114 min of work so far.")
    assert "Second veil: added." in [row.title for row in page._ledger.rows]


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
    worth = {row.title: row for row in stages._ledger.rows if not row.head}
    assert "steps nearer" in worth["Glaze"].right
    assert "steps an hour" in worth["Glaze"].right_note
    stages = open_page(qtbot, demo, "stages", board=3)
    shown_again(qtbot, demo)
    course = [row for row in stages._ledger.rows if row.right == "on course"]
    assert course and "board 1" in course[0].note


def test_a_fault_is_left_out_of_the_reading_and_comes_off_again(qtbot, demo):
    page = open_page(qtbot, demo, "faults")
    page._kind.setCurrentIndex(1)
    page._boxed((0.2, 0.2, 0.4, 0.3))
    settle(qtbot, demo)
    photo = demo.station("boards").chosen()[1]
    assert [f.kind for f in photo.faults] == ["bubbles"]
    assert photo.settings.leave_out[-1] == photo.faults[0].shape
    assert page._ledger.rows[0].title == "Bubbles"
    (ring,) = page._pane._outlines
    assert ring[0] == pytest.approx((0.2, 0.2), abs=0.01)
    page._chosen(0)
    page._remove_pressed()
    settle(qtbot, demo)
    photo = demo.station("boards").chosen()[1]
    assert photo.faults == () and photo.settings.leave_out == ()


def test_fields_get_a_verdict_each(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "fields")
    page._add([(0.0, 0.0, 0.5, 1.0), (0.5, 0.0, 1.0, 1.0)])
    shown_again(qtbot, demo)
    rows = page._ledger.rows
    assert {row.title for row in rows} == {"Field 1", "Field 2"}
    assert rows[0].right == "nearest" and "steps further off" in rows[1].right
    page._chosen(0)
    page._remove_pressed()
    assert len(demo.station("boards").chosen()[1].zones) == 1


def test_a_board_is_signed_off_and_panels_are_compared_with_it(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "wall", board=3)
    page.try_to(page._sign_pressed)
    assert "type the name" in demo.foot.shown.text
    demo.foot.clear_over()
    page._name.setText("Ines")
    page.try_to(page._sign_pressed)
    settle(qtbot, demo)
    assert demo.job.finish.approval.who == "Ines"
    page._section.setText("Left")
    page._person.setText("Tom")
    page.take_panel(demo_photo("bar-front-board-1.jpg"), "panel.jpg")
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-1.jpg")
    page = open_page(qtbot, demo, "wall", board=3)
    shown_again(qtbot, demo)
    (row,) = page._ledger.rows
    assert row.title == "Panel 1, Left" and row.note.startswith("Tom")
    # The first board's veins stand upright: it is not the board that was signed off.
    assert row.right in ("off", "close", "not sure")
    assert [b.number for b, _ in demo.station("boards").boards()] == [1, 2, 3]


def test_colours_of_the_room_stand_beside_target_and_board(qtbot, demo):
    page = open_page(qtbot, demo, "room")
    page.take_room(demo_photo("bar-front-slab.jpg"), "room.jpg")
    settle(qtbot, demo)
    page._name.setText("Wall")
    page._picked(0.05, 0.1)
    settle(qtbot, demo)
    (colour,) = demo.job.finish.room
    assert colour.name == "Wall" and colour.lab[0] > 50
    (row,) = page._ledger.rows
    assert len(row.chips) == 3 and row.note
    page._chosen(0)
    page._remove_pressed()
    assert demo.job.finish.room == ()


def test_other_lights_are_shown_for_each_layer(qtbot, demo):
    page = open_page(qtbot, demo, "light")
    shown_again(qtbot, demo)
    heads = [row for row in page._ledger.rows if row.head]
    lights = [row for row in page._ledger.rows if not row.head]
    assert len(lights) == 3 * len(heads) > 0
    assert all("light" in head.right for head in heads)
    assert {row.title for row in lights} == {"Daylight", "Warm lamp", "Cold LED"}


def test_mends_are_listed_with_their_means(qtbot, demo):
    page = open_page(qtbot, demo, "mends")
    qtbot.waitUntil(lambda: demo.job.shelf.work() is not None, timeout=60_000)
    shown_again(qtbot, demo)
    rows = page._ledger.rows
    assert rows[0].head and "direction" in rows[0].title
    assert rows[1].note.startswith("On a fresh board.")
    assert "fresh board is better" in page._fresh.text()
    field = page._tolerance
    for text, kept in (("90", 4.0), ("6,5", 6.5)):
        field.setText(text)
        field.setModified(True)
        field.editingFinished.emit()
        assert demo.job.finish.tolerance == kept


def patina_jpeg(reaction, minutes):
    surface = draw_patina(reaction, minutes, (150.0, 150.0), 0.5, 3, Verdigris())
    import numpy as np

    from jartide.studio.camera import DAYLIGHT

    code = expose(surface.rgb_linear, DAYLIGHT, Camera(), np.random.default_rng(int(minutes)))
    return to_jpeg(code, 90)


def test_a_series_is_watched_and_its_end_foreseen(qtbot, demo, tmp_path):
    page = open_page(qtbot, demo, "watch", finish="Lift lobby")
    page._new_pressed()
    reaction = Reaction(rate_per_min=0.1)
    end = reaction.minutes_to(page._wanted())
    for minutes in (0, 0.12, 0.24, 0.36, 0.48, 0.6):
        page._minutes.setText(f"{minutes * end:.1f}")
        page.take_frame(patina_jpeg(reaction, minutes * end), f"{minutes}.jpg")
        settle(qtbot, demo)
    shown_again(qtbot, demo)
    photos = demo.job.boards.photos_of("watched")
    assert [p.stage.state.value for p in photos] == ["wet"] * 6
    assert len(page._ledger.rows) == 6
    covers = [cover for _, cover in page._chart._points]
    assert covers == sorted(covers)
    assert page._said.text()
    # A photo of the watched folder goes to the series while its page is open.
    file = tmp_path / "seven.jpg"
    file.write_bytes(patina_jpeg(reaction, 0.7 * end))
    page._minutes.setText(f"{0.7 * end:.1f}")
    demo._watched_file(str(file))
    settle(qtbot, demo)
    assert len(demo.job.boards.photos_of("watched")) == 7
    page._wet.setText("0")
    page._keep_pressed()
    assert "from 1 to 1440" in demo.foot.shown.text
    page._wet.setText("3")
    page._keep_pressed()
    assert page._timer_said.text().startswith("Wet it again in ")
    page._wet_until = datetime.now(UTC) - timedelta(seconds=1)
    page._ticked()
    assert page._timer_said.text() == "Wet it again now."


def test_how_a_colour_dried_is_kept_with_its_jar(qtbot, demo):
    page = open_page(qtbot, demo, "watch")
    page._new_pressed()
    reaction = Reaction()
    for number, state in enumerate(("wet", "dry")):
        page._state.setCurrentIndex(page._state.findData(state))
        page._minutes.setText(str(10 * number))
        page.take_frame(patina_jpeg(reaction, 30 + 5 * number), f"{state}.jpg")
        settle(qtbot, demo)
    shown_again(qtbot, demo)
    page._jar.setCurrentIndex(0)
    assert page._drying.isVisible()
    page.try_to(page._dried_pressed)
    mixes = demo.job.workspace.mixes(demo.job.finish.id)
    (dried,) = next(m.dried for m in mixes if m.id == page._jar.currentData())
    assert (dried.before_state, dried.after_state) == ("wet", "dry")


def test_practice_strokes_are_scored_and_the_spoilt_ones_marked(qtbot, demo, small_pictures):
    page = open_page(qtbot, demo, "practice")
    page._person.setText("Tom")
    page.take_sheet(demo_photo("bar-front-board-1.jpg"), "sheet.jpg")
    settle(qtbot, demo)
    set_up(qtbot, demo, "bar-front-board-1.jpg")
    page = open_page(qtbot, demo, "practice")
    shown_again(qtbot, demo)
    scores = [row for row in page._ledger.rows if row.right.isdigit()]
    assert len(scores) >= 4
    assert all(0 <= int(row.right) <= 100 for row in scores)
    head = next(row for row in page._ledger.rows if row.head)
    assert "strokes spoil it" in head.title
    assert len(page._pane._outlines) == min(len(page._sheet.faults), 12) > 0
    assert "Tom:" in page._history.text()


def test_two_photos_of_a_board_are_read_together(qtbot, demo, small_pictures):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    boards._board_chosen(3)
    _, photo = boards.chosen()
    alone = demo.job.readings.of_board(photo)
    boards._another_photo(demo_photo("bar-front-board-2.jpg"), "again.jpg")
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
    demo._escape()
    assert "Board 4 is begun" in demo.foot.shown.text


def test_both_pictures_are_looked_at_together_and_laid_over(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    boards._left.zoom_to(3.0, QPointF(60, 60))
    assert boards._right.zoom == 3.0
    assert boards._right._from == boards._left._from
    boards._view._pick(1)
    assert boards._right._under is not None
    boards._right.setFocus()
    before = boards._right.edge
    QTest.keyClick(boards._right, Qt.Key.Key_Left)
    assert boards._right.edge == pytest.approx(before - 0.02)
    middle = boards._right.frame().center().toPoint()
    at = middle
    at.setX(round(boards._right.edge * boards._right.frame().width()))
    QTest.mousePress(boards._right, Qt.MouseButton.LeftButton, pos=at)
    to = QPointF(100, at.y()).toPoint()
    QTest.mouseMove(boards._right, to)
    QTest.mouseRelease(boards._right, Qt.MouseButton.LeftButton, pos=to)
    assert boards._right.edge == pytest.approx(100 / boards._right.frame().width(), abs=0.03)
    boards._view._pick(2)
    shown_again(qtbot, demo)
    assert boards._right._over is not None and boards._right._under is None
    boards._view._pick(0)
    boards._left.zoom_to(1.0, QPointF(0, 0))
    assert boards._right._over is None


def test_the_distance_is_dragged_and_kept_when_let_go(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards, rail = demo.station("boards"), demo.station("boards")._distance
    boards._board_chosen(1)
    near = boards._comparison.distance
    QTest.mousePress(rail, Qt.MouseButton.LeftButton, pos=QPointF(200, 16).toPoint())
    QTest.mouseMove(rail, QPointF(292, 16).toPoint())
    assert demo.job.finish.viewing_m == 2.0
    assert boards._comparison.viewing_m == 8.0 and boards._comparison.distance < near
    QTest.mouseRelease(rail, Qt.MouseButton.LeftButton, pos=QPointF(292, 16).toPoint())
    assert demo.job.finish.viewing_m == 8.0
    assert "8 m" in rail.accessibleName()


def test_every_quantity_is_followed_from_board_to_board(qtbot, demo):
    page = open_page(qtbot, demo, "course", board=3)
    head, overall, *rest = page._ledger.rows
    assert head.columns == ("1", "2", "3")
    values = [float(v) for v in overall.columns]
    assert values == sorted(values, reverse=True) and values[0] > 2 * values[-1]
    direction = next(row for row in rest if row.title == "Vein direction")
    assert len(direction.columns) == 3


def test_the_pictures_themselves_are_judged_and_where_both_read_the_same(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "boards")
    boards = demo.station("boards")
    shown_again(qtbot, demo)
    assert len(boards._comparison.seen) == 10
    assert boards._comparison.same_from_m is not None
    assert "nothing is to be seen" in demo.foot.shown.text


def test_a_pass_that_was_begun_outlasts_its_page(qtbot, demo):
    page = open_page(qtbot, demo, "log", board=1)
    page._start_pressed()
    begun = page._begun
    other = open_page(qtbot, demo, "log", board=2)
    assert other._begun is None  # another board's minutes do not run
    again = open_page(qtbot, demo, "log", board=1)
    assert again._begun == begun
    log_pass(again, "Drifts", minutes="")
    settle(qtbot, demo)
    assert again._begun is None
    assert demo.job.workspace.preference("pass_begun") is None


def test_who_signed_off_stays_in_the_log(qtbot, demo):
    page = open_page(qtbot, demo, "wall", board=3)
    page._name.setText("Ines")
    page.try_to(page._sign_pressed)
    settle(qtbot, demo)
    words = [e.logged.text for e in demo.job.records.entries(page.board)]
    assert "Signed off by Ines." in words
    demo.job.history.undo()
    assert demo.job.finish.approval is None
    assert not [e for e in demo.job.records.entries(page.board) if e.logged.text]
