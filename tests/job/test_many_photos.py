"""A board that is photographed again and again is still read."""

from __future__ import annotations

import shutil
from dataclasses import replace

import pytest

from jartide.boards.log import EntryKind, Logged
from jartide.boards.together import MOST_PHOTOS
from jartide.job import pictures, readings
from jartide.job.flat import PRINT_PX
from jartide.job.open_job import OpenJob
from jartide.job.readings import MANY_PHOTOS
from jartide.store.records import Entry, new_id

from .conftest import open_finish
from .later import Later


def test_a_board_with_more_photos_than_are_read_together_is_read_by_the_latest(job):
    board, photo = job.records.boards()[0]
    copies = [replace(photo, id=new_id(), position=photo.position + n) for n in range(1, 25)]
    job.records.add("x", *copies)
    (shown,) = [p for b, p in job.records.boards() if b.id == board.id]
    assert shown == photo
    assert job.readings.of_board(copies[-1]).photos == MOST_PHOTOS
    assert job.comparisons.of(copies[-1]) is not None
    # The first of them is none of the latest any more, and is read by itself.
    assert job.readings.of_board(photo).photos == 1


def test_a_target_of_more_photos_than_are_read_together_is_read(job):
    target = job.readings.target()
    copies = [replace(target, id=new_id(), position=target.position + n) for n in range(1, 23)]
    job.records.add("x", *copies)
    assert len(job.records.targets()) > MOST_PHOTOS
    assert job.readings.of_target().photos == MOST_PHOTOS
    assert job.readings.target() is not None


@pytest.fixture
def later(demo_folder, tmp_path):
    """A model whose work is done when it is told, with more boards than are done at once."""
    folder, runner = tmp_path / "workspace", Later()
    shutil.copytree(demo_folder, folder)
    made = OpenJob(runner)
    made.open(folder, demo=False)
    runner.do_all()
    finish = open_finish(made, "Bar front")
    board, photo = made.records.boards()[0]
    more = []
    for n in range(MANY_PHOTOS):
        another = replace(board, id=new_id(), number=100 + n)
        more += [another, replace(photo, id=new_id(), board_id=another.id, position=50 + n)]
    made.records.add("x", *more)
    made.records.open_finish(finish)
    yield made, runner
    made.close()


def test_of_very_many_boards_each_is_compared_in_the_background(later):
    job, runner = later
    boards = job.records.boards()
    assert job.readings.are_many
    assert all(job.comparisons.of(photo) is None for _, photo in boards)
    for _ in range(4):  # fetched, paired, judged
        runner.do_all()
        [job.comparisons.of(photo) for _, photo in boards]
    runner.do_all()
    found = [job.comparisons.of(photo) for _, photo in boards]
    assert None not in found
    assert len({found[0].distance, *(one.distance for one in found[-MANY_PHOTOS:])}) == 1


def test_what_is_kept_is_fetched_and_not_read_again(later, monkeypatch):
    job, runner = later
    read = []
    monkeypatch.setattr(readings, "analysis_of", lambda *given: read.append(given))
    for _, photo in job.records.boards():
        job.readings.want_board(photo)
    runner.do_all()
    assert not read and all(job.readings.of(photo) for _, photo in job.records.boards())


def test_a_list_of_very_many_photos_is_made_one_after_the_other_and_once(later, monkeypatch):
    job, runner = later
    photos, made = job.records.photos(), []
    monkeypatch.setattr(pictures, "_KEPT_PREVIEWS", 2)
    job.events.picture_ready.connect(made.append)
    for _ in range(3):
        for photo in photos:
            job.pictures.want_print(photo)
        assert sum(topic.startswith("picture ") for topic in runner.waiting) <= 1
        runner.do_all()
    assert {photo.sha256 for photo in photos} == {job.records.photo(one).sha256 for one in made}
    assert all(job.pictures.print(photo) is not None for photo in photos)
    assert max(job.pictures.print(photos[0]).shape) <= PRINT_PX
    # Small pictures stay when the large ones are let go.
    count = len(made)
    for photo in photos:
        job.pictures.want_print(photo)
    runner.do_all()
    assert len(made) == count


def test_the_log_of_a_board_is_read_once_until_something_is_written_into_it(job, monkeypatch):
    board = job.records.boards()[0][0]
    before, asked = job.records.entries(board), []
    whole = job.workspace.entries
    monkeypatch.setattr(job.workspace, "entries", lambda ids: asked.append(ids) or whole(ids))
    job.records.change("x", [board], [replace(board, remark="seen")])
    job.records.entries(board)
    del asked[:]
    finish = job.finish
    job.records.change("x", [finish], [replace(finish, note="another")])
    assert job.records.entries(board) == before and not asked
    logged = Logged(kind=EntryKind.REMARK, text="x")
    job.records.add("x", Entry(board_id=board.id, at="2026-01-01T00:00:00", logged=logged))
    assert len(job.records.entries(board)) == len(before) + 1


def test_what_was_wanted_of_a_finish_that_is_left_is_not_read(later, monkeypatch):
    job, runner = later
    read = []
    monkeypatch.setattr(readings, "analysis_of", lambda *given: read.append(given))
    monkeypatch.setattr(type(job.workspace), "reading", lambda *given, **more: None)
    for _, photo in job.records.boards():
        job.readings.want_board(photo)
    finish = job.finish
    open_finish(job, "Terrace")
    job.records.remove("x", finish)
    runner.do_all()
    assert not read


def test_more_boards_than_are_shown_at_once_are_compared_once_each(later):
    made, runner = later
    board, photo = made.records.boards()[0]
    more = []
    for n in range(150):
        another = replace(board, id=new_id(), number=300 + n)
        more += [another, replace(photo, id=new_id(), board_id=another.id, position=200 + n)]
    made.records.add("x", *more)

    def all_compared():
        for _, one in made.records.boards():
            made.comparisons.of(one)
        runner.do_all()
        return made.kept.computed["comparison"]

    for _ in range(4):
        there = all_compared()
    assert all(made.comparisons.of(one) is not None for _, one in made.records.boards())
    # Something else changes: none of them falls out while the others are asked for.
    made.records.set_settings(photo, replace(photo.settings, mm_per_px=3.0), "x")
    for _ in range(3):
        last = all_compared()
    assert last <= there + 2
