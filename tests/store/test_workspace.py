"""The workspace keeps what was done, whole, and refuses what it can't read."""

from __future__ import annotations

import sqlite3
from dataclasses import replace

import pytest

from jartide.errors import WorkspaceError
from jartide.photo.settings import KnownLength, KnownPatch, PhotoSettings, Rect
from jartide.store import tables
from jartide.store.demo import fill_with_demo
from jartide.store.records import Board, Finish, Job, Photo, PhotoUse, Surface
from jartide.store.serialise import reading_from_text, reading_to_text, settings_revision
from jartide.store.workspace import Workspace, now

SETTINGS = PhotoSettings(
    corners=((1, 2), (30, 4), (31, 32), (2, 30)),
    size_mm=(400.0, 300.0),
    known_length=KnownLength(start=(1, 1), end=(9, 9), length_mm=12.5),
    neutrals=(KnownPatch(rect=Rect(x=1, y=2, w=3, h=4), lightness=62.0),),
    region=Rect(x=0, y=0, w=10, h=10),
)


@pytest.fixture
def workspace(tmp_path):
    opened = Workspace.open(tmp_path / "workspace")
    yield opened
    opened.close()


def some_records(workspace, jpeg):
    job = Job(name="Hotel Vessary", created_at=now())
    finish = Finish(job_id=job.id, name="Bar front", family="marble")
    board = Board(finish_id=finish.id, number=1, made_at=now())
    photo = Photo(
        finish_id=finish.id,
        board_id=board.id,
        use=PhotoUse.BOARD,
        sha256=workspace.files.add(jpeg, "Board 1.JPG"),
        file_name="Board 1.JPG",
        added_at=now(),
        settings=SETTINGS,
    )
    surface = Surface(finish_id=finish.id, name="Panel", width_mm=900, height_mm=1050, count=6)
    return job, finish, board, photo, surface


def test_reopening_shows_the_same_state(tmp_path, workspace, marble_jpeg, marble_reading):
    job, finish, board, photo, surface = some_records(workspace, marble_jpeg)
    workspace.put(job, finish, board, photo, surface)
    workspace.put_reading(photo, "marble", marble_reading)
    workspace.set_preference("bench", "night")
    workspace.close()
    again = Workspace.open(tmp_path / "workspace")
    assert again.jobs() == [job]
    assert again.finishes(job.id) == [finish]
    assert again.boards(finish.id) == [board]
    assert again.photos(finish.id) == [photo]
    assert again.surfaces(finish.id) == [surface]
    assert again.photo_bytes(photo) == marble_jpeg
    assert again.reading(photo, "marble") == marble_reading
    assert again.preference("bench") == "night"
    again.close()


def test_a_reading_is_kept_for_exactly_these_settings(workspace, marble_jpeg, marble_reading):
    *_, photo, _ = records = some_records(workspace, marble_jpeg)
    workspace.put(*records)
    workspace.put_reading(photo, "marble", marble_reading)
    moved = replace(photo, settings=replace(SETTINGS, size_mm=(401.0, 300.0)))
    assert workspace.reading(moved, "marble") is None
    assert workspace.reading(photo, "stone") is None
    assert settings_revision(photo.settings) != settings_revision(moved.settings)


def test_whole_numbers_and_decimals_are_the_same_settings():
    whole = PhotoSettings(corners=((0, 0), (9, 0), (9, 9), (0, 9)), size_mm=(400, 300))
    decimal = PhotoSettings(
        corners=((0.0, 0.0), (9.0, 0.0), (9.0, 9.0), (0.0, 9.0)), size_mm=(400.0, 300.0)
    )
    assert settings_revision(whole) == settings_revision(decimal)


def test_readings_are_immutable(workspace, marble_jpeg, marble_reading):
    *_, photo, _ = records = some_records(workspace, marble_jpeg)
    workspace.put(*records)
    workspace.put_reading(photo, "marble", marble_reading)
    workspace.put_reading(photo, "marble", replace(marble_reading, family="stone"))
    assert workspace.reading(photo, "marble") == marble_reading


def test_removed_records_leave_a_tombstone(tmp_path, workspace, marble_jpeg):
    job, finish, *others = some_records(workspace, marble_jpeg)
    workspace.put(job, finish, *others)
    workspace.put(replace(job, deleted_at=now()))
    assert workspace.jobs() == []
    with sqlite3.connect(tmp_path / "workspace/workspace.sqlite") as connection:
        assert connection.execute("SELECT count(*) FROM jobs").fetchone() == (1,)
    workspace.put(job)
    assert workspace.jobs() == [job]


def test_the_same_file_is_kept_once_and_untouched(tmp_path, workspace, marble_jpeg):
    first = workspace.files.add(marble_jpeg, "a.jpg")
    assert workspace.files.add(marble_jpeg, "b.jpg") == first
    kept = list((tmp_path / "workspace/photos").rglob("*.jpg"))
    assert len(kept) == 1
    assert kept[0].read_bytes() == marble_jpeg


def test_what_was_not_written_is_the_very_same_record(workspace):
    one, other = (Job(name=name, created_at=now()) for name in ("one", "other"))
    workspace.put(one, other)
    before = {job.id: job for job in workspace.jobs()}
    workspace.put(replace(one, name="changed"))
    after = {job.id: job for job in workspace.jobs()}
    assert after[other.id] is before[other.id]
    assert after[one.id].name == "changed" and before[one.id].name == "one"
    workspace.put(one)
    assert {job.id: job for job in workspace.jobs()} == before


def test_one_transaction_is_all_or_nothing(workspace):
    job = Job(name="Kept?", created_at=now())
    broken = replace(Job(name="x", created_at=now()), name=None)
    with pytest.raises(WorkspaceError, match="Nothing was changed"):
        workspace.put(job, broken)
    assert workspace.jobs() == []


def test_a_second_window_may_look_but_not_change(tmp_path, workspace):
    workspace.put(job := Job(name="Hotel Vessary", created_at=now()))
    second = Workspace.open(tmp_path / "workspace")
    assert second.read_only
    assert second.jobs() == [job]
    with pytest.raises(WorkspaceError, match="open in another window"):
        second.put(job)
    second.close()


def test_a_full_disk_leaves_nothing_half_done(tmp_path, workspace, monkeypatch):
    def full(_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(WorkspaceError, match="the disk is full"):
        workspace.files.add(b"photo", "a.jpg")
    assert not [p for p in (tmp_path / "workspace/photos").rglob("*") if p.is_file()]


def test_a_newer_workspace_is_refused(tmp_path, workspace):
    workspace.close()
    with sqlite3.connect(tmp_path / "workspace/workspace.sqlite") as connection:
        connection.execute(f"PRAGMA user_version={tables.SCHEMA_VERSION + 1}")
    with pytest.raises(WorkspaceError, match="newer Jar Tide"):
        Workspace.open(tmp_path / "workspace")


@pytest.mark.parametrize(
    ("content", "words"), [(b"rubbish" * 200, "damaged"), (None, "not Jar Tide's")]
)
def test_a_broken_or_foreign_database_is_refused(tmp_path, content, words):
    path = tmp_path / "workspace.sqlite"
    if content is None:
        with sqlite3.connect(path) as connection:
            connection.execute("CREATE TABLE other (x)")
    else:
        path.write_bytes(content)
    before = path.read_bytes()
    with pytest.raises(WorkspaceError, match=words):
        Workspace.open(tmp_path)
    assert path.read_bytes() == before


def test_a_folder_that_is_a_file_is_refused(tmp_path):
    path = tmp_path / "file"
    path.write_text("x")
    with pytest.raises(WorkspaceError, match="can't be written"):
        Workspace.open(path)


def test_a_lost_photo_is_said_so(workspace, marble_jpeg):
    *_, photo, _ = some_records(workspace, marble_jpeg)
    workspace.files.path(photo.sha256).unlink()
    with pytest.raises(WorkspaceError, match=r"Board 1\.JPG"):
        workspace.photo_bytes(photo)


def test_a_reading_goes_to_text_and_back(marble_reading):
    assert reading_from_text(reading_to_text(marble_reading)) == marble_reading


def test_the_demo_job_is_whole(workspace):
    fill_with_demo(workspace)
    (job,) = workspace.jobs()
    finishes = workspace.finishes(job.id)
    assert [f.name for f in finishes] == ["Bar front", "Lift lobby", "Library", "Terrace"]
    boards = [len(workspace.boards(f.id)) for f in finishes]
    assert boards == [3, 1, 1, 1]
    for finish in finishes:
        photos = workspace.photos(finish.id)
        assert sum(p.use is PhotoUse.TARGET for p in photos) == 1
        assert all(workspace.reading(p, finish.family) is not None for p in photos)
        assert len(workspace.surfaces(finish.id)) == 1


def test_a_shipped_demo_reading_is_what_reading_gives_now(workspace):
    """The readings that ship are no story: reading the photo again gives the same."""
    from jartide.photo.load import decode_photo
    from jartide.photo.prepare import prepare
    from jartide.reading.read import read_picture

    fill_with_demo(workspace)
    finish = workspace.finishes(workspace.jobs()[0].id)[3]
    photo = workspace.photos(finish.id)[0]
    picture = prepare(decode_photo(workspace.photo_bytes(photo), "a"), photo.settings)
    fresh, kept = read_picture(picture, finish.family)[0], workspace.reading(photo, finish.family)
    assert [x.role for x in fresh.layers] == [x.role for x in kept.layers]
    for a, b in zip(fresh.layers, kept.layers, strict=True):
        # Another processor may round a pixel across an edge.
        assert a.shown_lab == pytest.approx(b.shown_lab, abs=0.1)
        assert a.coverage.value == pytest.approx(b.coverage.value, abs=0.005)
