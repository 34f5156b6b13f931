"""A workspace goes into one file and comes back; a damaged backup changes nothing."""

from __future__ import annotations

import contextlib
import json
import random
import shutil
import sqlite3
import zipfile
from functools import partial
from pathlib import Path

import pytest

from campaigns.moments import ended_before
from jartide.errors import WorkspaceError
from jartide.store.backup import Restored, restore_backup, write_backup
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
    restored = restore_backup(path, tmp_path / "new", steps.append)
    assert restored == Restored(kept_in=None, lacking=())
    assert content(tmp_path / "new") == held
    assert steps[-1] == pytest.approx(1.0)


def test_what_was_there_is_kept_beside(backup, tmp_path):
    path, held = backup
    here = tmp_path / "here"
    filled(here, "Other").close()
    before = content(here)
    aside = restore_backup(path, here).kept_in
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
        ("climb", "error.backup.path"),
        ("no database", "error.backup.missing"),
        ("other schema", "error.backup.about"),
        ("trigger", "error.backup.database"),
        ("cut", "error.backup.database"),
    ],
)
def test_a_wrong_backup_is_refused_and_nothing_changed(backup, tmp_path, kind, said):
    path, _ = backup

    def change(name, data):
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


@pytest.mark.parametrize("packed", [b"other", None])
def test_what_is_whole_comes_back_and_the_rest_is_listed(backup, tmp_path, packed):
    path, held = backup

    def change(name, data):
        if name.startswith("photos/"):
            data = packed
        return [] if data is None else [(name, data)]

    restored = restore_backup(repacked(path, tmp_path / "wrong.zip", change), tmp_path / "here")
    assert restored.lacking == ("a.jpg",)
    workspace = Workspace.open(tmp_path / "here")
    assert workspace.jobs() == held[0]
    with pytest.raises(WorkspaceError, match="missing"):
        workspace.photo_bytes(held[2][0])
    workspace.close()


def test_a_backup_says_what_the_workspace_lacks(tmp_path):
    workspace = filled(tmp_path / "old")
    (original,) = workspace.files.all()
    assert write_backup(workspace, tmp_path / "a.zip") == ()
    original.write_bytes(b"rotten")
    assert write_backup(workspace, tmp_path / "b.zip") == ("a.jpg",)
    original.unlink()
    assert write_backup(workspace, tmp_path / "c.zip") == ("a.jpg",)
    workspace.close()
    for name in ("b", "c"):
        restored = restore_backup(tmp_path / f"{name}.zip", tmp_path / name)
        assert restored.lacking == ("a.jpg",)
        with zipfile.ZipFile(tmp_path / f"{name}.zip") as file:
            assert json.loads(file.read("backup.json"))["lacking"] == ["a.jpg"]


def test_a_backup_that_does_not_read_back_is_none(tmp_path, monkeypatch):
    workspace = filled(tmp_path / "old")
    (tmp_path / "all.zip").write_bytes(b"an older one")
    own = zipfile.ZipFile.write

    def failing_disk(self, file, name, packed):
        own(self, file, name, packed)
        if name.startswith("photos/"):
            place = self.fp.tell()
            self.fp.seek(-20, 2)
            self.fp.write(b"?")
            self.fp.seek(place)

    monkeypatch.setattr(zipfile.ZipFile, "write", failing_disk)
    with pytest.raises(WorkspaceError, match="does not read back"):
        write_backup(workspace, tmp_path / "all.zip")
    workspace.close()
    assert (tmp_path / "all.zip").read_bytes() == b"an older one"
    assert {p.name for p in tmp_path.iterdir()} == {"old", "all.zip"}


@pytest.mark.parametrize("name", ["x.jpg_large", "scan.jpg (1)", "IMG.jpg~", "bild.jpég", "x"])
@pytest.mark.parametrize("kept_as", ["now", "before"])
def test_photos_of_any_name_come_back(tmp_path, name, kept_as):
    workspace = filled(tmp_path / "old")
    (finish,) = workspace.finishes(workspace.jobs()[0].id)
    sha256 = workspace.files.add(b"\xff\xd8\xffany", name)
    photo = Photo(finish_id=finish.id, sha256=sha256, file_name=name, added_at=now())
    workspace.put(photo)
    if kept_as == "before":
        # As earlier versions named them.
        own = workspace.files.path(sha256)
        own.rename(own.with_name(sha256 + Path(name).suffix.lower()[:8]))
    assert write_backup(workspace, tmp_path / "all.zip") == ()
    workspace.close()
    assert restore_backup(tmp_path / "all.zip", tmp_path / "new").lacking == ()
    again = Workspace.open(tmp_path / "new")
    assert again.photo_bytes(photo) == b"\xff\xd8\xffany"
    again.close()


def test_nobody_restores_over_an_open_workspace(backup, tmp_path):
    path, _ = backup
    first = filled(tmp_path / "here", "Other")
    second = Workspace.open(tmp_path / "here")
    assert second.read_only
    second.close()
    with pytest.raises(WorkspaceError, match="another window"):
        restore_backup(path, tmp_path / "here")
    first.put(Job(name="Still mine", created_at=now()))
    first.close()
    assert len(content(tmp_path / "here")[0]) == 2


def test_a_restore_ended_at_any_moment_is_finished_or_taken_back(backup, tmp_path):
    path, held = backup
    filled(tmp_path / "kept", "Other").close()
    before = content(tmp_path / "kept")
    for moment in range(300):
        here = tmp_path / f"here{moment}"
        shutil.copytree(tmp_path / "kept", here)
        ended = ended_before(moment, partial(restore_backup, path, here))
        found = content(here)
        assert found in (before, held)
        left = {p.name for p in here.rglob("*")}
        assert not any(n.startswith((".restore-", "restoring", ".restoring", "tmp")) for n in left)
        aside = [p for p in here.iterdir() if p.name.startswith("before-")]
        assert found == before or content(aside[0]) == before
        if not ended:
            break
    assert 20 < moment < 299 and found == held


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
