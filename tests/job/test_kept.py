"""Derived values that are worked out among many: in batches, each once, none for another."""

from __future__ import annotations

import pytest

from jartide.job import kept as module
from jartide.job.events import Events
from jartide.job.kept import Freshness, Kept, Key, Lately

from .later import Later


@pytest.fixture
def made():
    runner, events, said = Later(), Events(), []
    kept = Kept(runner, events, said.append)
    told = []

    def tell():
        told.append(len(told))

    events.worked_out.connect(tell)
    kept.keeps_alive = tell
    return kept, runner, told, said


def test_many_small_pieces_are_told_at_once_and_made_once(made):
    kept, runner, told, _ = made
    one = object()
    for _ in range(3):
        for key in range(40):
            assert kept.worked_out_among_many("x", key, lambda k=key: k * k, one) is None
    assert kept.table("x").freshness(3, one) is Freshness.WORKING
    runner.do_all()
    assert [kept.worked_out_among_many("x", k, pytest.fail, one) for k in (0, 7)] == [0, 49]
    assert kept.computed["x"] == 40 and len(told) == 1


def test_what_takes_long_is_told_piece_by_piece(made, monkeypatch):
    monkeypatch.setattr(module, "_TOLD_EVERY_S", -1.0)
    kept, runner, told, _ = made
    for key in range(5):
        kept.worked_out_among_many("x", key, lambda: 1)
    runner.do("many")
    assert len(told) == 1 and kept.computed["x"] == 1
    runner.do_all()
    assert len(told) == 5 and kept.computed["x"] == 5


def test_what_changed_meanwhile_is_made_of_what_it_is_now(made):
    kept, runner, _, _ = made
    old, new = object(), object()
    kept.worked_out_among_many("x", "key", lambda: "old", old)
    kept.worked_out_among_many("x", "key", lambda: "new", new)
    runner.do_all()
    assert kept.worked_out_among_many("x", "key", pytest.fail, new) == "new"


def test_a_failure_is_said_and_what_waited_can_be_asked_for_again(made):
    kept, runner, _, said = made

    def broken():
        raise ValueError("x")

    kept.worked_out_among_many("x", 1, broken)
    kept.worked_out_among_many("x", 2, lambda: "there")
    runner.do_all()
    assert [str(error) for error in said] == ["x"]
    kept.worked_out_among_many("x", 2, lambda: "there")
    runner.do_all()
    assert kept.worked_out_among_many("x", 2, pytest.fail) == "there"


def test_another_workspace_gets_nothing_of_the_first(made):
    kept, runner, _, _ = made
    kept.worked_out_among_many("x", 1, lambda: "first")
    kept.clear()
    assert not runner.waiting
    kept.worked_out_among_many("x", 1, lambda: "second")
    runner.do_all()
    assert kept.worked_out_among_many("x", 1, pytest.fail) == "second"


def test_what_is_asked_by_many_is_answered_once_until_anything_changes(made):
    kept, runner, _, _ = made
    written = [object()]
    lately = Lately(lambda: (written[0], kept.state))
    asked = []

    def answer():
        asked.append(1)
        return len(asked)

    assert [lately.once("x", answer) for _ in range(3)] == [1, 1, 1]
    # What is only made of what is there changes no answer; what comes in from outside may.
    kept.table("t").made("k", lambda: 1)
    assert lately.once("x", answer) == 1
    kept.table("t").put("k", 2)
    assert lately.once("x", answer) == 2
    kept.worked_out("y", 1, lambda: 1)
    assert lately.once("x", answer) == 2
    runner.do_all()
    assert lately.once("x", answer) == 3
    written[0] = object()
    assert lately.once("x", answer) == 4
    kept.clear()
    assert lately.once("x", answer) == 5


def test_keys_of_the_same_things_are_the_same_key():
    assert {Key("a", (1, 2)): 1}[Key("a", (1, 2))] == 1
    assert Key("a") != Key("b") and Key("a") != ("a",) and Key(1, 2) != Key(2, 1)
