"""A workspace goes into one file and comes back; a damaged backup changes nothing."""

from __future__ import annotations

import contextlib
import random
import sqlite3
import zipfile

import pytest

from jartide.errors import WorkspaceError
from jartide.store.backup import restore_backup, write_backup
from jartide.store.records import Finish, Job, Photo
from jartide.store.workspace import Workspace, now


def filled(folder, name="Hotel Vessary"):
    """A workspace with a job and a photo; its folder."""
    workspace = Workspace.open(folder)
    job = Job(name=name, created_at=now())
    finish = Finish(job_id=job.id, name="Bar front")
    photo = Photo(
        finish_id=finish.id, sha256=workspace.files.add(name.encode() * 500, "a.jpg"),
        file_name="a.jpg", added_at=now(),
    )  # fmt: skip
    workspace.put(job, finish, photo)
    workspace.set_preference("bench", "night")
    (folder / "tables").mkdir()
    (folder / "tables" / "techniques.toml").write_text("# mine\n", encoding="utf-8")
    return workspace


def content(folder):
    workspace = Workspace.open(folder)
    jobs = workspace.jobs()
    finishes = workspace.all_finishes()
    photos = [p for own in finishes.values() for f in own for p in workspace.photos(f.id)]
    found = (jobs, finishes, photos, [workspace.photo_bytes(p) for p in photos])
    bench = workspace.preference("bench")
    workspace.close()
    return (*found, bench, (folder / "tables" / "techniques.toml").read_text(encoding="utf-8"))


@pytest.fixture
def backup(tmp_path):
    """A backup, and what it holds."""
    workspace = filled(tmp_path / "old")
    write_backup(workspace, tmp_path / "all.zip")  # while it is open
    workspace.close()
    return tmp_path / "all.zip", content(tmp_path / "old")


def test_all_of_it_comes_back_in_a_fresh_place(backup, tmp_path):
    path, held = backup
    steps = []
    assert restore_backup(path, tmp_path / "new", steps.append) is None
    assert content(tmp_path / "new") == held
    assert steps[-1] == pytest.approx(1.0)


def test_what_was_there_is_kept_beside(backup, tmp_path):
    path, held = backup
    here = tmp_path / "here"
    filled(here, "Other").close()
    before = content(here)
    aside = restore_backup(path, here)
    assert content(here) == held
    assert aside is not None and content(aside) == before


def repacked(path, target, change):
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(target, "w") as new:
        for name in old.namelist():
            for new_name, data in change(name, old.read(name)):
                new.writestr(new_name, data)
    return target


def with_trigger(data, place):
    file = place / "t.sqlite"
    file.write_bytes(data)
    with contextlib.closing(sqlite3.connect(file)) as connection:
        connection.execute("CREATE TRIGGER t AFTER INSERT ON jobs BEGIN DELETE FROM jobs; END")
        connection.commit()
    return file.read_bytes()


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        ("climb", "error.bundle.path"),
        ("no database", "error.bundle.missing"),
        ("no photo", "error.bundle.missing"),
        ("other photo", "error.bundle.photo"),
        ("other schema", "error.backup.about"),
        ("trigger", "error.backup.database"),
        ("cut", "error.backup.database"),
    ],
)
def test_a_wrong_backup_is_refused_and_nothing_changed(backup, tmp_path, kind, said):
    path, _ = backup

    def change(name, data):
        if name.startswith("photos/"):
            if kind == "no photo":
                return []
            data = b"other" if kind == "other photo" else data
        if name == "workspace.sqlite":
            if kind == "no database":
                return []
            data = with_trigger(data, tmp_path) if kind == "trigger" else data
            data = data[: len(data) // 2] if kind == "cut" else data
        if name == "backup.json":
            extra = [("../out.txt", b"x")] if kind == "climb" else []
            data = b'{"schema": "other"}' if kind == "other schema" else data
            return [(name, data), *extra]
        return [(name, data)]

    here = tmp_path / "here"
    filled(here, "Other").close()
    before = content(here)
    with pytest.raises(WorkspaceError) as error:
        restore_backup(repacked(path, tmp_path / "wrong.zip", change), here)
    assert error.value.message.id == said
    assert str(error.value).endswith(".")
    assert content(here) == before
    assert not (tmp_path / "out.txt").exists()
    assert [p for p in here.iterdir() if p.name.startswith((".restore", "before"))] == []


def test_damaged_bytes_never_crash(backup, tmp_path):
    path, _ = backup
    data = path.read_bytes()
    chance = random.Random(5)
    here = tmp_path / "here"
    refused = []
    for _ in range(120):
        wrong = bytearray(data)
        for _ in range(chance.randint(1, 6)):
            wrong[chance.randrange(len(wrong))] = chance.randrange(256)
        (tmp_path / "wrong.zip").write_bytes(wrong[: chance.randint(10, len(wrong))])
        try:
            restore_backup(tmp_path / "wrong.zip", here)
        except WorkspaceError as error:
            refused.append(str(error))
    assert len(refused) > 80
    assert not any("\n" in words for words in refused)
    assert {p.name for p in tmp_path.iterdir()} <= {"old", "here", "wrong.zip", "all.zip"}
