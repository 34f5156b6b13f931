"""Where a workspace lies: hard names, folders that go, a first start that is ended by force."""

from __future__ import annotations

import os
import shutil
from functools import partial
from pathlib import Path

import pytest

from campaigns.moments import ended_before
from jartide.errors import WorkspaceError
from jartide.store.files import suffix_of
from jartide.store.records import Job
from jartide.store.workspace import Workspace, now

HARD = [
    "what?", "50 %", "#3", "a&b=c", "file:x", "ü ß 木目", "two\nlines", "'quoted\"", "-rf",
    "%2e%2e", "a;b?mode=memory", os.fsdecode(b"latin \xe9"),
]  # fmt: skip


@pytest.mark.parametrize("name", HARD, ids=ascii)
def test_a_folder_of_any_name_holds_its_own_database(tmp_path, name):
    folder = tmp_path / name
    workspace = Workspace.open(folder)
    workspace.put(job := Job(name="Hotel Vessary", created_at=now()))
    workspace.files.add(b"\xff\xd8\xff", "a.jpg")
    workspace.close()
    assert [path.name for path in tmp_path.iterdir()] == [name]
    assert (folder / "workspace.sqlite").stat().st_size > 0
    again = Workspace.open(folder)
    assert again.jobs() == [job]
    again.close()


def test_a_relative_folder_stays_where_it_was(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    workspace = Workspace.open(Path("file:w"))
    monkeypatch.chdir("/")
    workspace.put(Job(name="Here", created_at=now()))
    assert workspace.is_there()
    workspace.close()
    assert (tmp_path / "file:w" / "workspace.sqlite").exists()


@pytest.mark.parametrize("name", ["x" * 300, "/".join(["y" * 200] * 30), "nul\0"])
def test_a_folder_that_can_not_be_is_one_sentence(tmp_path, name):
    with pytest.raises(WorkspaceError, match="can't be written"):
        Workspace.open(tmp_path / name)


def _moved(folder):
    folder.rename(folder.with_name("elsewhere"))


def _another_in_its_place(folder):
    _moved(folder)
    Workspace.open(folder).close()


@pytest.mark.parametrize("gone", [_moved, shutil.rmtree, _another_in_its_place])
def test_nothing_is_written_once_the_folder_is_gone(tmp_path, gone):
    workspace = Workspace.open(tmp_path / "w")
    workspace.put(job := Job(name="Kept", created_at=now()))
    assert workspace.is_there()
    gone(tmp_path / "w")
    assert not workspace.is_there()
    before = sorted(path for path in tmp_path.rglob("*"))
    for write in (
        lambda: workspace.put(job),
        lambda: workspace.set_preference("a", 1),
        lambda: workspace.files.add(b"\xff\xd8\xff", "a.jpg"),
    ):
        with pytest.raises(WorkspaceError, match="not there any more"):
            write()
    assert sorted(path for path in tmp_path.rglob("*")) == before
    workspace.close()


def test_it_goes_on_once_the_folder_is_back(tmp_path):
    workspace = Workspace.open(tmp_path / "w")
    _moved(tmp_path / "w")
    (tmp_path / "elsewhere").rename(tmp_path / "w")
    workspace.put(job := Job(name="Kept", created_at=now()))
    workspace.close()
    again = Workspace.open(tmp_path / "w")
    assert again.jobs() == [job]
    again.close()


def test_a_first_start_ended_at_any_moment_leaves_a_folder_that_opens(tmp_path):
    for moment in range(200):
        folder = tmp_path / str(moment)
        ended = ended_before(moment, partial(Workspace.open, folder))
        workspace = Workspace.open(folder)
        workspace.put(job := Job(name="First", created_at=now()))
        assert workspace.jobs() == [job]
        workspace.close()
        if not ended:
            break
    assert 10 < moment < 199


def test_a_second_window_changes_no_photo_either(tmp_path):
    first, second = Workspace.open(tmp_path / "w"), Workspace.open(tmp_path / "w")
    with pytest.raises(WorkspaceError, match="another window"):
        second.files.add(b"\xff\xd8\xff", "a.jpg")
    assert not (tmp_path / "w/photos").exists()
    first.close()
    second.close()


def test_a_damaged_original_is_replaced_when_the_photo_comes_again(tmp_path):
    workspace = Workspace.open(tmp_path / "w")
    sha256 = workspace.files.add(b"\xff\xd8\xffbar", "bar.jpg")
    workspace.files.path(sha256).write_bytes(b"\xff\xd8\xffba")
    assert workspace.files.add(b"\xff\xd8\xffbar", "bar.jpg") == sha256
    assert workspace.files.path(sha256).read_bytes() == b"\xff\xd8\xffbar"
    workspace.close()


def test_what_was_being_written_is_cleared_at_the_next_start(tmp_path):
    Workspace.open(tmp_path / "w").close()
    (tmp_path / "w/photos/.incoming").mkdir(parents=True)
    (tmp_path / "w/photos/.incoming/tmp123").write_bytes(b"half")
    Workspace.open(tmp_path / "w").close()
    assert list((tmp_path / "w/photos/.incoming").iterdir()) == []


@pytest.mark.parametrize(
    ("data", "name", "suffix"),
    [
        (b"\xff\xd8\xff\xe0", "x.jpg_large", ".jpg"),
        (b"\x89PNG\r\n\x1a\n", "scan.png (1)", ".png"),
        (b"II*\x00", "stone.dng", ".dng"),
        (b"II*\x00", "stone.tiff~", ".tif"),
        (b"RIFF....WEBPVP8 ", "a", ".webp"),
        (b"....ftypheic", "a.HEIC", ".heic"),
        (b"....ftypavif", "a.b", ".avif"),
        (b"BM..", "a.bmp", ".bmp"),
        (b"?", "photo.jpég", ".jpg"),
        (b"?", "photo.", ""),
        (b"?", "photo", ""),
    ],
)
def test_an_original_bears_a_plain_suffix(data, name, suffix):
    assert suffix_of(data, name) == suffix
