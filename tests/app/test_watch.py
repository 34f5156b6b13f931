"""The watched folder: what still grows is waited for, many at once stall nothing, it may go."""

from __future__ import annotations

import io
import shutil
import time
from itertools import pairwise

import pytest
from PIL import Image

from jartide.app import watch as watched
from jartide.app.watch import FolderWatch
from jartide.photo.endings import ends_whole


def picture(kind, size=(64, 48)):
    out = io.BytesIO()
    Image.new("RGB", size, "#884422").save(out, kind)
    return out.getvalue()


@pytest.fixture
def watch(qtbot, tmp_path):
    """A watch whose looks are made by hand, what it brought, and the folder."""
    folder = tmp_path / "phone"
    folder.mkdir()
    one = FolderWatch()
    one.watch(folder)
    one._timer.stop()
    brought = []
    one.arrived.connect(lambda path: brought.append(path.rsplit("/", 1)[1]))
    return one, brought, folder


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "BMP", "WEBP"])
def test_a_file_that_still_grows_is_waited_for(watch, kind):
    one, brought, folder = watch
    data = picture(kind)
    path = folder / f"a.{kind.lower()}"
    path.write_bytes(data[: len(data) // 2])
    # It rests for a while half way: a slow phone, a slow card.
    for _ in range(5):
        one.look()
    assert ends_whole(path) is False and brought == []
    path.write_bytes(data)
    one.look()
    assert brought == []
    one.look()
    assert brought == [path.name]
    one.look()
    assert brought == [path.name]


def test_what_does_not_show_it_has_rested_first(watch, monkeypatch):
    one, brought, folder = watch
    clock = [0.0]
    monkeypatch.setattr(watched.time, "monotonic", lambda: clock[0])
    (folder / "a.tif").write_bytes(picture("TIFF"))
    (folder / "b.jpg").write_bytes(picture("JPEG")[:200])
    for second in (0.0, 1.0, 2.5, 20.0, 31.0):
        clock[0] = second
        one.look()
        if second < 2.5:
            assert brought == []
    # The one that never gets whole is brought in at last: it will be said what is wrong with it.
    assert brought == ["a.tif", "b.jpg"]


def test_a_thousand_at_once_stall_nothing(watch):
    one, brought, folder = watch
    data = picture("JPEG")
    for number in range(1000):
        (folder / f"{number:04}.jpg").write_bytes(data)
    one.arrived.connect(lambda _: time.sleep(0.002))
    looks = 0
    while len(brought) < 1000 and looks < 1000:
        before = len(brought)
        one.look()
        looks += 1
        # Each takes two thousandths of a second here: a look brings in few of them.
        assert len(brought) - before <= 10
    assert sorted(brought) == [f"{number:04}.jpg" for number in range(1000)]


def test_a_few_are_brought_in_at_one_look_and_unfinished_ones_keep_none_back(watch):
    one, brought, folder = watch
    for n in range(30):
        (folder / f"half {n:02}.jpg").write_bytes(picture("JPEG")[:200])
    for n in range(5):
        (folder / f"whole {n}.jpg").write_bytes(picture("JPEG"))
    one.look()
    counts = []
    for _ in range(8):
        one.look()
        counts.append(len(brought))
    assert counts[-1] == 5 and brought == [f"whole {n}.jpg" for n in range(5)]
    assert all(b - a <= watched._AT_A_LOOK for a, b in pairwise([0, *counts]))


def test_a_folder_that_goes_and_comes_back_is_watched_on(watch):
    one, brought, folder = watch
    told = []
    one.lost.connect(lambda name: told.append(("lost", name)))
    one.back.connect(lambda name: told.append(("back", name)))
    (folder / "a.jpg").write_bytes(picture("JPEG"))
    one.look(), one.look()
    shutil.rmtree(folder)
    one.look(), one.look()
    assert told == [("lost", "phone")] and one.folder == folder
    folder.mkdir()
    (folder / "a.jpg").write_bytes(picture("JPEG"))
    (folder / "b.jpg").write_bytes(picture("JPEG"))
    one.look(), one.look()
    assert told == [("lost", "phone"), ("back", "phone")]
    assert brought == ["a.jpg", "b.jpg"]
