"""What asks for judgement, answered in the real window: from clock, boards and room."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from jartide.app.stations.steps.care_list import CareList
from jartide.app.widgets.answers import Answers
from jartide.app.widgets.ledger import Ledger
from jartide.boards.log import EntryKind, Logged, PassDone
from jartide.boards.surroundings import mean_colour
from jartide.figures import figure
from jartide.store.records import RoomColour
from jartide.wording import say, tr
from tests.app.hand import picked, pressed, the

from .conftest import settle
from .test_boards_pages import open_page, shown_again
from .test_steps_station import MORNING, open_steps, press


@pytest.fixture
def steps(qtbot, demo):
    station = open_steps(qtbot, demo, "Bar front")
    station.plan.take_proposal()
    settle(qtbot, demo)
    return station


def answers_of(qtbot, window, station):
    page = station.open_page("decide")
    settle(qtbot, window)
    return {one.key: one for one in the(page, Answers).asked}


def laid(station, technique):
    """Do everything up to a technique's block on its lane, and that block, just now."""
    blocks = station.plan.timed().blocks
    last = next(
        b for b in blocks if technique in [s.technique for s in station.plan.steps_of(b.task)]
    )
    own = [b.task for b in blocks if b.task.lane == last.task.lane]
    for task in own[: own.index(last.task) + 1]:
        station.plan.begin(task)
        station.plan.end(task)
        if task.id != last.task.id:
            station.plan.ready(task)


def test_before_anything_is_done_it_says_what_lies_ahead(qtbot, demo, steps):
    asked = answers_of(qtbot, demo, steps)
    assert asked["photo"].answer == "The dry ground, with the card"
    assert "Ground" in asked["photo"].why
    assert asked["seal"].answer.startswith("From ") and "Veil" in asked["seal"].why
    board, photo = demo.job.records.boards()[-1]
    advice = demo.job.boards.stop_advice(board, photo)
    assert asked["stop"].answer == tr("decide.stop_yes" if advice.stop else "decide.stop_no")
    assert figure(advice.left, 1) in asked["stop"].why
    assert asked["beside"].answer == tr("decide.beside_unread")
    assert asked["regular"].answer in (tr("decide.regular_no"), tr("decide.regular_yes"))


def test_minutes_to_lift_run_down_and_end(qtbot, demo, steps):
    laid(steps, "veil")
    settle(qtbot, demo)
    whole = answers_of(qtbot, demo, steps)["lift"]
    minutes = int(whole.answer.split()[0])
    assert whole.sign == "check" and whole.answer.endswith("minutes left")
    # It can't wait, so it stands beside the hours as well.
    steps.close_page()
    settle(qtbot, demo)
    assert whole.answer in " ".join(care.text for care in the(steps, CareList).cares)
    demo.job.plan.clock = lambda: MORNING + timedelta(minutes=4)
    assert answers_of(qtbot, demo, steps)["lift"].answer == f"{minutes - 4} minutes left"
    demo.job.plan.clock = lambda: MORNING + timedelta(minutes=minutes + 1)
    late = answers_of(qtbot, demo, steps)["lift"]
    assert late.sign == "stop" and late.answer == tr("decide.lift_late")
    assert answers_of(qtbot, demo, steps)["photo"].sign == "check"


def test_a_layer_left_out_of_half_a_board_says_what_it_is_worth(qtbot, demo, steps, small_pictures):
    veil = next(s for s in steps.plan.steps() if s.technique == "veil")
    board, _ = demo.job.records.boards()[0]
    entry = Logged(kind=EntryKind.PASS, done=PassDone(name=say(veil.name), minutes=20))
    demo.job.boards.add_entry(board, entry)
    page = open_page(qtbot, demo, "fields", board=1)
    pressed(page, tr("fields.upright"))
    shown_again(qtbot, demo)
    rows = [row.title for row in the(page, Ledger).rows]
    the(page, Ledger).chosen.emit(rows.index("Field 2"))
    picked(page, tr("fields.without"), tr("stages.left_out", name=say(veil.name)))
    shown_again(qtbot, demo)
    photo = demo.station("boards").chosen()[1]
    assert [zone.without for zone in photo.zones] == ["", say(veil.name)]
    demo.job.boards.worth(board)
    settle(qtbot, demo)
    worth = [one for one in demo.job.boards.worth(board) if one.name == say(veil.name)]
    assert len(worth) == 1 and worth[0].per_minute == pytest.approx(worth[0].gain / 20)
    demo.go_to("steps")
    asked = [
        one for one in demo.job.judging.questions()
        if one.key == "worth" and say(veil.name) in one.question
    ]  # fmt: skip
    assert asked and asked[0].goes == "boards/stages" and "on this job" in asked[0].why
    # Read again or not: what a field was left without moves no reading.
    before = demo.job.readings.of(photo)
    zones = tuple(replace(zone, without="") for zone in photo.zones)
    demo.job.records.change("x", [photo], [replace(photo, zones=zones)])
    shown_again(qtbot, demo)
    assert demo.job.readings.of(demo.station("boards").chosen()[1]).layers == before.layers
    assert demo.job.boards.worth(board) == ()


def test_what_stays_beside_it_is_read_and_the_plan_says_when_the_colour_fights(qtbot, demo, steps):
    # Limed oak is warm.
    steps = open_steps(qtbot, demo, "Library")
    finish, target = demo.job.finish, demo.job.readings.of_target()
    L, a, b = mean_colour(target)
    room = (
        RoomColour(name="Slate floor", lab=(L - 20, -a, -b)),
        RoomColour(name="Beams", lab=(max(L - 60, 2), a, b)),
    )
    demo.job.records.change("x", [finish], [replace(finish, room=room)])
    settle(qtbot, demo)
    relations = {one.name: one.relation for one in demo.job.plan.beside()}
    assert relations == {"Slate floor": "clashes", "Beams": "stands_off"}
    said = {f.rule: say(f.reason) for f in demo.job.plan.findings()}
    assert "Slate floor" in said["beside_clashes"] and "Beams" not in said["beside_clashes"]
    page = steps.open_page("decide")
    settle(qtbot, demo)
    answers = the(page, Answers)
    texts = {one.question: one.answer for one in answers.asked if one.key == "beside"}
    assert texts[tr("decide.beside_one", name="Slate floor")] == tr("decide.beside_clashes")
    # By the keyboard down to it, and on to the page where colours are picked.
    answers.setFocus()
    for _ in range(len(answers.asked)):
        QTest.keyClick(answers, Qt.Key.Key_Down)
    assert "Beams" in answers.accessibleName()
    press(demo, tr("decide.go"))
    settle(qtbot, demo)
    assert demo.station("boards").page.name == "room"


def test_a_surface_with_something_beside_it_begins_by_reading_that(qtbot, demo, steps):
    surface = demo.job.plan.surfaces()[0]
    site = replace(surface.site, beside="an oak floor")
    demo.job.records.change("x", [surface], [replace(surface, site=site)])
    assert demo.job.plan.proposal()[0].technique == "read_beside"
    assert "beside_unread" in [f.rule for f in demo.job.plan.findings()]
    asked = answers_of(qtbot, demo, steps)
    assert asked["beside"].sign == "check" and "an oak floor" in asked["beside"].why
