"""Jobs are found by words, place, date, colour and paint, in a list of thousands."""

from __future__ import annotations

import json
from datetime import date

import pytest
from sqlalchemy import insert

from jartide.store import tables
from jartide.store.duplicate import duplicate
from jartide.store.jar_records import JarPart, Mix, Tin
from jartide.store.logbook import NEAR_DE00, Wanted, find, read_logbook, with_colours
from jartide.store.records import (
    Approval,
    Board,
    Entry,
    Finish,
    Job,
    Photo,
    PhotoUse,
    Plan,
    Surface,
)
from jartide.store.workspace import Workspace, now

GREEN, RUST = (38.0, -22.0, 9.0), (41.0, 30.0, 38.0)


def photo_of(finish, n, use=PhotoUse.TARGET, at="2025-03-04T09:00:00+00:00"):
    return Photo(
        finish_id=finish.id, use=use, sha256=f"{n:064x}", file_name=f"{n}.jpg", added_at=at
    )


def reading_row(n, *labs):
    """A kept reading with these layers, as far as the logbook looks at it."""
    layers = [{"lab": lab, "shown_lab": lab, "reader_lab": None} for lab in labs]
    return {
        "sha256": f"{n:064x}", "settings_revision": "a", "family": "auto", "algorithm": "x",
        "seed": 0, "made_at": now(), "reading": json.dumps({"layers": layers}),
    }  # fmt: skip


@pytest.fixture
def workspace(tmp_path):
    """Two jobs in use and one put away."""
    opened = Workspace.open(tmp_path)
    white, rust = Tin(name="Chalk white"), Tin(name="Rust paste")
    hall = Job(name="Town hall", place="Lower Vale", created_at="2024-11-02T08:00:00+00:00")
    spa = Job(name="Bath house", client="M. Orlo", created_at="2025-06-01T08:00:00+00:00")
    old = Job(
        name="Town pump", created_at="2019-01-01T08:00:00+00:00",
        archived_at="2020-01-01T08:00:00+00:00",
    )  # fmt: skip
    door = Finish(job_id=hall.id, name="Door", family="verdigris")
    wall = Finish(job_id=spa.id, name="Wall", note="north side", family="rust")
    pump = Finish(job_id=old.id, name="Spout", family="rust")
    opened.put(
        white, rust, hall, spa, old, door, wall, pump,
        photo_of(door, 1), photo_of(wall, 2, at="2025-07-09T09:00:00+00:00"),
        Mix(finish_id=door.id, parts=(JarPart(tin_id=white.id, parts=2.0),)),
        Mix(finish_id=wall.id, parts=(JarPart(tin_id=rust.id, parts=1.0),)),
        Board(finish_id=wall.id, number=1, remark="too orange", made_at="2025-07-08T09:00:00"),
    )  # fmt: skip
    with opened._writing() as connection:
        rows = [reading_row(1, GREEN, (80.0, 0.0, 2.0)), reading_row(2, RUST)]
        connection.execute(insert(tables.readings), rows)
    yield opened
    opened.close()


def names(workspace, **wanted):
    return [
        hit.job.job.name
        for hit in find(with_colours(workspace, read_logbook(workspace)), Wanted(**wanted))
    ]


def test_every_word_must_fit_somewhere(workspace):
    assert names(workspace, words="town") == ["Town hall"]
    assert names(workspace, words="VALE door") == ["Town hall"]
    assert names(workspace, words="verdigris") == ["Town hall"]
    assert names(workspace, words="orlo north") == ["Bath house"]
    assert names(workspace, words="too orange") == ["Bath house"]
    assert names(workspace, words="vale north") == []


def test_the_latest_comes_first_and_what_was_put_away_only_when_asked(workspace):
    assert names(workspace) == ["Bath house", "Town hall"]
    assert names(workspace, archived=True) == ["Bath house", "Town hall", "Town pump"]


def test_days_between_which_it_was_worked_on(workspace):
    assert names(workspace, since=date(2025, 5, 1)) == ["Bath house"]
    assert names(workspace, until=date(2025, 5, 1)) == ["Town hall"]
    assert names(workspace, since=date(2025, 7, 9), until=date(2025, 7, 9)) == ["Bath house"]
    assert names(workspace, words="2024-11") == ["Town hall"]


def test_a_colour_near_a_layer(workspace):
    hits = find(with_colours(workspace, read_logbook(workspace)), Wanted(near=(39.0, -21.0, 9.0)))
    assert [hit.job.job.name for hit in hits] == ["Town hall"]
    assert 0 < hits[0].de00 < NEAR_DE00
    assert names(workspace, near=RUST) == ["Bath house"]
    assert names(workspace, near=(10.0, 0.0, 0.0)) == []


def test_which_jobs_used_a_paint(workspace):
    _, rust = workspace.tins()
    assert names(workspace, paint=rust.id) == ["Bath house"]


def test_a_job_as_the_start_of_another(workspace):
    from jartide.boards.log import EntryKind, Logged

    job = next(j for j in workspace.jobs() if j.name == "Bath house")
    (finish,) = workspace.finishes(job.id)
    (board,) = workspace.boards(finish.id)
    (mix,) = workspace.mixes(finish.id)
    from dataclasses import replace

    workspace.put(
        replace(finish, approval=Approval(board_id=board.id, who="M.", at=now())),
        replace(mix, mixed_ml=200.0, left_ml=80.0, mixed_at=now()),
        Surface(finish_id=finish.id, name="Wall", width_mm=3000, height_mm=2000),
        Plan(finish_id=finish.id, acknowledged=("x",)),
        Entry(board_id=board.id, at=now(), logged=Logged(kind=EntryKind.REMARK, text="a")),
    )
    workspace.put(*duplicate(workspace, job, "Bath house, again"))
    again = next(j for j in workspace.jobs() if j.name == "Bath house, again")
    assert again.id != job.id
    (new,) = workspace.finishes(again.id)
    assert new.id != finish.id and new.note == finish.note and new.approval is None
    assert workspace.boards(new.id) == []
    (jar,) = workspace.mixes(new.id)
    assert jar.parts == mix.parts and jar.mixed_ml == 0 and jar.left_ml is None
    assert [s.width_mm for s in workspace.surfaces(new.id)] == [3000]
    assert [p.sha256 for p in workspace.photos(new.id)] == [f"{2:064x}"]
    (plan,) = workspace.plans([new.id])
    assert plan.acknowledged == ()
    # The old one is as it was.
    assert len(workspace.boards(finish.id)) == 1
