"""A board that is photographed again and again is still read."""

from __future__ import annotations

from dataclasses import replace

from jartide.boards.together import MOST_PHOTOS
from jartide.store.records import new_id


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
