"""What boards say of the painter: hard finishes count, habits are named once."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jartide.boards.compare import compare
from jartide.boards.learning import Course, learn
from jartide.boards.result import Verdict
from jartide.store.courses import read_courses
from jartide.store.demo import fill_with_demo
from jartide.store.workspace import Workspace


@pytest.fixture(scope="module")
def match(marble_reading):
    found = compare(marble_reading, marble_reading)
    assert found.verdict is Verdict.MATCH
    return found


@pytest.fixture(scope="module")
def wide(marble_reading, wide_reading):
    found = compare(marble_reading, wide_reading)
    assert found.verdict is not Verdict.MATCH
    return found


def course(*comparisons, **more):
    return Course(finish=str(id(comparisons)), family="marble", comparisons=comparisons, **more)


def test_finishes_still_open_are_not_left_out(match, wide):
    quick = [course(wide, match) for _ in range(3)]
    # Three took two boards; counting only those would say two, but four more went on past five.
    hard = [course(*[wide] * 5) for _ in range(4)]
    assert learn(quick).boards_to_match == 2
    found = learn(quick + hard)
    assert (found.finishes, found.boards, found.matched) == (7, 26, 3)
    assert found.boards_to_match is None  # not half of them are there yet
    assert learn([*quick, hard[0], hard[1]]).boards_to_match == 2


def test_a_board_signed_off_counts_as_matched(wide):
    assert course(wide, wide, wide, approved=2).matched == 2
    assert course(wide).matched is None
    assert learn([course(wide, wide, approved=2)]).boards_to_match == 2


def test_what_comes_first_again_is_a_habit(match, wide):
    found = learn([course(wide, wide, match), course(wide)])
    (habit,) = found.habits
    assert (habit.boards, habit.finishes, habit.over) == (3, 2, 1.0)
    assert "width" in habit.quantity
    assert found.first_distance == pytest.approx(wide.likely_distance)
    assert found.last_distance == pytest.approx(match.likely_distance)


def test_faults_are_counted_board_by_board(wide):
    found = learn([course(wide, faults=("hair", "lap")), course(wide, faults=("hair",)), course()])
    assert found.faults == (("hair", 2), ("lap", 1))
    assert found.finishes == 2


def test_nothing_painted_says_nothing():
    found = learn([])
    assert (found.boards, found.boards_to_match, found.first_distance) == (0, None, None)


@given(st.lists(st.tuples(st.integers(1, 9), st.booleans()), min_size=1, max_size=30))
def test_the_median_is_that_of_kaplan_and_meier(match, wide, told):
    courses = [course(*[wide] * (n - 1), match if over else wide) for n, over in told]
    found = learn(courses).boards_to_match
    # By the definition: the product over matches of one less their share of those at risk.
    left, expected = 1.0, None
    for board in range(1, 10):
        at_risk = sum(n >= board for n, _ in told)
        ended = sum(n == board and over for n, over in told)
        left *= 1 - ended / at_risk if at_risk else 1
        if left <= 0.5 + 1e-12 and ended:
            expected = board
            break
    assert found == expected or math.isclose(left, 0.5)


def test_the_demo_jobs_boards_are_counted(tmp_path):
    workspace = Workspace.open(tmp_path / "w")
    fill_with_demo(workspace)
    shares = []
    courses = read_courses(workspace, shares.append)
    workspace.close()
    assert [len(one.comparisons) for one in courses] == [3, 1, 1, 1]
    assert shares[-1] == 1 and shares == sorted(shares)
    bar = courses[0].comparisons
    assert bar[-1].distance < bar[0].distance
