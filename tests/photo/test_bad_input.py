"""Every bad file: one sentence that says what, where and what to do; nothing is lost."""

from __future__ import annotations

import io
import os
import struct
import zlib

import numpy as np
import pytest
from PIL import Image

from jartide.errors import PhotoError, WorkspaceError
from jartide.photo.load import decode_photo, load_photo
from jartide.store.files import PhotoFiles
from jartide.store.records import Finish, Job, Photo
from jartide.store.workspace import Workspace, now


def saved(image, kind, **options):
    out = io.BytesIO()
    image.save(out, kind, **options)
    return out.getvalue()


def plain(mode="RGB", size=(64, 48)):
    return Image.new(mode, size, 90)


def claimed_png(width, height):
    """A PNG that says it is huge, with nothing in it."""

    def chunk(kind, data):
        body = kind + data
        return struct.pack(">I", len(data)) + body + struct.pack(">I", zlib.crc32(body))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", b"") + chunk(b"IEND", b"")


JPEG = saved(plain(), "JPEG", quality=95)


@pytest.mark.parametrize(
    ("data", "name", "words"),
    [
        (JPEG[: len(JPEG) // 2], "cut.jpg", "cut short"),
        (b"", "nothing.jpg", "is empty"),
        (b"just words", "letter.jpg", "not a picture"),
        (claimed_png(20_000, 15_000), "wall.png", "300 megapixels"),
        (b"II*\0" + b"\xff" * 400, "broken.dng", "broken"),
    ],
)
def test_what_can_not_be_opened_is_said_in_one_sentence(data, name, words):
    with pytest.raises(PhotoError) as caught:
        decode_photo(data, name)
    sentence = str(caught.value)
    assert words in sentence and name in sentence
    assert sentence.endswith(".") and sentence.count(". ") == 0


def animated():
    frames = [Image.new("RGB", (40, 30), shade) for shade in ("#305040", "#ffffff", "#000000")]
    return saved(frames[0], "GIF", save_all=True, append_images=frames[1:], duration=100)


def deep_grey():
    return saved(Image.fromarray(np.full((30, 40), 30_000, np.uint16)), "PNG")


@pytest.mark.parametrize(
    ("data", "name"),
    [
        (saved(plain("CMYK"), "JPEG"), "press.jpg"),
        (deep_grey(), "grey.png"),
        (saved(plain().convert("P"), "PNG"), "palette.png"),
        (animated(), "moving.gif"),
        (JPEG[:2] + b"\xff\xe1\x00\x20Exif\x00\x00" + b"\x99" * 24 + JPEG[2:], "exif.jpg"),
    ],
)
def test_odd_but_whole_pictures_open_as_colour(data, name):
    photo = decode_photo(data, name)
    assert photo.code.ndim == 3 and photo.code.shape[2] == 3
    assert photo.code.dtype == (np.uint16 if name == "grey.png" else np.uint8)
    assert photo.focal_35mm is None


def test_the_first_picture_of_a_moving_one_is_taken():
    assert decode_photo(animated(), "moving.gif").code[5, 5] == pytest.approx((48, 80, 64), abs=6)


def raw_file(tmp_path):
    """A small camera raw file, DNG, with one colour on a plain sensor mosaic."""
    import tifffile

    mosaic = np.zeros((64, 96), np.uint16)
    mosaic[0::2, 0::2], mosaic[1::2, 1::2] = 9000, 6000  # red, blue
    mosaic[0::2, 1::2] = mosaic[1::2, 0::2] = 12000
    path = tmp_path / "slab.dng"

    def rationals(values):
        return [part for value in values for part in (round(value * 10000), 10000)]

    tags = [
        (50706, 1, 4, b"\x01\x04\x00\x00", True),  # DNGVersion
        (50708, 2, 0, "Made-up camera", True),
        (33421, 3, 2, (2, 2), True),  # CFARepeatPatternDim
        (33422, 1, 4, b"\x00\x01\x01\x02", True),  # CFAPattern
        (50721, 10, 9, rationals([1, 0, 0, 0, 1, 0, 0, 0, 1]), True),  # ColorMatrix1
        (50728, 5, 3, rationals([0.75, 1, 0.5]), True),  # AsShotNeutral
        (50717, 4, 1, 16383, True),  # WhiteLevel
        (50778, 3, 1, 21, True),
    ]
    tifffile.imwrite(path, mosaic, photometric=32803, extratags=tags, metadata=None)
    return path


def test_camera_raw_is_developed_to_sixteen_bits(tmp_path):
    photo = load_photo(raw_file(tmp_path))
    assert photo.code.dtype == np.uint16
    assert photo.size == (96, 64)
    middle = photo.code[24:40, 40:56].reshape(-1, 3).mean(axis=0)
    # The camera's own white balance makes this sensor colour a grey.
    assert middle == pytest.approx(np.full(3, middle.mean()), rel=0.2)


def test_a_folder_and_a_vanished_file(tmp_path):
    with pytest.raises(PhotoError, match="is a folder"):
        load_photo(tmp_path)
    gone = tmp_path / "gone.jpg"
    gone.write_bytes(JPEG)
    gone.unlink()
    with pytest.raises(PhotoError, match="can't be found"):
        load_photo(gone)


def test_a_full_disk_loses_nothing(tmp_path, monkeypatch):
    workspace = Workspace.open(tmp_path / "w")
    job = Job(name="Hotel Vessary", created_at=now())
    finish = Finish(job_id=job.id, name="Bar front")
    workspace.put(job, finish)
    kept = workspace.files.add(JPEG, "slab.jpg")

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(WorkspaceError, match="No space left") as caught:
        workspace.files.add(deep_grey(), "other.png")
    assert str(caught.value).endswith(".")
    monkeypatch.undo()
    # The first photo is whole, of the second nothing is left behind, and work goes on.
    assert workspace.files.path(kept).read_bytes() == JPEG
    left = [p for p in (tmp_path / "w" / "photos").rglob("*") if p.is_file()]
    assert len(left) == 1
    workspace.put(Photo(finish_id=finish.id, sha256=kept, file_name="slab.jpg", added_at=now()))
    assert len(workspace.photos(finish.id)) == 1
    workspace.close()


def test_a_photo_that_vanished_from_the_workspace_is_named(tmp_path):
    files = PhotoFiles(tmp_path, lambda: None)
    sha256 = files.add(JPEG, "slab.jpg")
    files.path(sha256).unlink()
    assert files.path(sha256) is None
