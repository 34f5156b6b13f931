"""A workspace is looked over, and put right without anything being thrown away."""

from __future__ import annotations

import contextlib
import json
import sqlite3

import pytest

from jartide.cli import main
from jartide.errors import WorkspaceError
from jartide.store.checking import check_workspace
from jartide.store.records import Board, Finish, Job, Photo
from jartide.store.workspace import Workspace, now
from jartide.wording import say


@pytest.fixture
def folder(tmp_path):
    """A workspace with a job, a board and a photo."""
    workspace = Workspace.open(tmp_path / "w")
    job = Job(id="job", name="Hotel Vessary", created_at=now())
    finish = Finish(id="finish", job_id="job", name="Bar front")
    board = Board(id="board", finish_id="finish", number=1, made_at=now())
    photo = Photo(
        id="photo", finish_id="finish", sha256=workspace.files.add(b"\xff\xd8\xffbar", "bar.jpg"),
        file_name="bar.jpg", added_at=now(),
    )  # fmt: skip
    workspace.put(job, finish, board, photo)
    workspace.close()
    return tmp_path / "w"


def change(folder, statement, *values):
    with contextlib.closing(sqlite3.connect(folder / "workspace.sqlite")) as connection:
        connection.execute(statement, values)
        connection.commit()


def original(folder):
    (path,) = (folder / "photos").rglob("*.jpg")
    return path


def test_one_that_is_well_has_nothing_to_tell(folder, capsys):
    before = {p: p.read_bytes() for p in folder.rglob("*.jpg")}
    assert check_workspace(folder) == () == check_workspace(folder, repair=True)
    assert main(["check", str(folder)]) == 0
    assert capsys.readouterr().out.startswith("All is well")
    assert {p: p.read_bytes() for p in folder.rglob("*.jpg")} == before


def unreadable(folder):
    change(folder, "UPDATE boards SET body = '{\"kind\": 7}'")


def belongs_to_nothing(folder):
    change(folder, "UPDATE boards SET finish_id = 'gone'")


def rotten(folder):
    original(folder).write_bytes(b"rotten")


def gone(folder):
    original(folder).unlink()


def half_written(folder):
    (folder / "photos/.incoming").mkdir(exist_ok=True)
    (folder / "photos/.incoming/tmp1").write_bytes(b"half")


def no_reading(folder):
    change(
        folder,
        "INSERT INTO readings (sha256, settings_revision, family, algorithm, seed, made_at, "
        "reading) VALUES ('a', 'b', 'c', 'd', 0, 'e', '{')",
    )


@pytest.mark.parametrize(
    ("harm", "kinds", "left"),
    [
        (unreadable, ["record"], []),
        (belongs_to_nothing, ["reference"], []),
        (rotten, ["photo_damaged", "photo_lost"], ["photo_lost"]),
        (gone, ["photo_lost"], ["photo_lost"]),
        (half_written, ["left_over"], []),
        (no_reading, ["reading"], []),
    ],
)
def test_what_is_wrong_is_told_and_put_right(folder, harm, kinds, left, capsys):
    harm(folder)
    if harm is not half_written:
        # Looking changes nothing.
        assert [f.kind for f in check_workspace(folder)] == kinds
    found = check_workspace(folder, repair=True)
    assert [f.kind for f in found] == kinds
    assert all(say(f.words).endswith(".") for f in found)
    assert [f.kind for f in found if not f.repaired] == left
    assert [f.kind for f in check_workspace(folder)] == left
    assert main(["check", str(folder), "--json"]) == bool(left)
    told = json.loads(capsys.readouterr().out)
    assert told["schema"] == "jar-tide/check/1" and len(told["found"]) == len(left)
    workspace = Workspace.open(folder)
    assert [job.name for job in workspace.jobs()] == ["Hotel Vessary"]
    workspace.close()


def test_what_is_damaged_is_kept_aside_and_the_true_photo_comes_again(folder):
    rotten(folder)
    check_workspace(folder, repair=True)
    (aside,) = (folder / "damaged").iterdir()
    assert aside.read_bytes() == b"rotten"
    workspace = Workspace.open(folder)
    workspace.files.add(b"\xff\xd8\xffbar", "again.jpg")
    workspace.close()
    assert check_workspace(folder) == ()


def test_nothing_is_put_right_under_an_open_window(folder):
    belongs_to_nothing(folder)
    workspace = Workspace.open(folder)
    with pytest.raises(WorkspaceError, match="open in another window"):
        check_workspace(folder, repair=True)
    assert [f.kind for f in check_workspace(folder)] == ["reference"]
    workspace.close()


def test_a_damaged_database_or_none_is_one_sentence(folder, tmp_path, capsys):
    assert main(["check", str(tmp_path)]) == 2
    assert "no workspace" in capsys.readouterr().err
    path = folder / "workspace.sqlite"
    data = bytearray(path.read_bytes())
    data[4096 * 3 : 4096 * 6] = b"\xff" * 4096 * 3
    path.write_bytes(data)
    found = check_workspace(folder, repair=True)
    assert [f.kind for f in found] == ["database"]
    assert "backup" in say(found[0].words)
