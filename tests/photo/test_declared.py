"""What a file says of itself is looked at before it is decoded; what takes too long is ended."""

from __future__ import annotations

import io
import time

import numpy as np
import pytest
import tifffile
from PIL import Image

from jartide.errors import PhotoError
from jartide.photo import load
from jartide.photo.apart import decoded_apart
from jartide.photo.declared import Declared, check, declared_of
from jartide.photo.load import decode_photo
from tests.photo.test_bad_input import claimed_png


def tiff(array):
    out = io.BytesIO()
    kind = "rgb" if array.ndim == 3 else "minisblack"
    tifffile.imwrite(out, array, photometric=kind)
    return out.getvalue()


def picture(kind, mode="RGB", size=(64, 48)):
    out = io.BytesIO()
    Image.new(mode, size, 90).save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (picture("JPEG"), (64, 48, 3, 1)),
        (picture("PNG", "L"), (64, 48, 1, 1)),
        (picture("PNG", "I;16"), (64, 48, 1, 2)),
        (picture("BMP"), (64, 48, 3, 1)),
        (tiff(np.zeros((48, 64, 3), np.uint16)), (64, 48, 3, 2)),
        (tiff(np.zeros((48, 64), np.uint8)), (64, 48, 1, 1)),
        (claimed_png(20_000, 15_000), (20_000, 15_000, 3, 1)),
    ],
)
def test_size_channels_and_depth_are_read_without_decoding(data, said):
    found = declared_of(data)
    assert (found.width, found.height, found.channels, found.depth_bytes) == said
    assert found.is_levels


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (picture("PNG", size=(1, 100_000)), "1 by 100000 pixels"),
        (picture("PNG", size=(4000, 40)), "4000 by 40 pixels"),
        (picture("PNG", size=(4, 4)), "4 by 4 pixels"),
        (tiff(np.zeros((48, 64, 3), np.float32)), "can't be the levels of a picture"),
        (tiff(np.zeros((48, 64), np.float64)), "can't be the levels of a picture"),
        (tiff(np.zeros((48, 64), np.int32)), "can't be the levels of a picture"),
        (picture("TIFF", "F"), "can't be the levels of a picture"),
        (claimed_png(0, 40), "broken|not a picture|0 by 40"),
        (b"II*\0" + b"\x08\0\0\0" + b"\0" * 20, "not a picture|broken"),
    ],
)
def test_what_is_no_photo_of_a_surface_is_one_sentence(data, words):
    with pytest.raises(PhotoError, match=words) as caught:
        decode_photo(data, "wall.tif")
    assert str(caught.value).count(". ") == 0 and "wall.tif" in str(caught.value)


def test_one_channel_and_a_stack_of_pages_open():
    grey = decode_photo(tiff(np.full((48, 64), 30_000, np.uint16)), "scan.tif")
    assert grey.code.shape == (48, 64, 3) and (grey.code == 30_000).all()
    out = io.BytesIO()
    with tifffile.TiffWriter(out) as file:
        for level in (100, 200):
            file.write(np.full((48, 64, 3), level * 257, np.uint16), photometric="rgb")
    assert (decode_photo(out.getvalue(), "pages.tif").code == 100 * 257).all()


def test_what_unpacks_to_too_much_is_refused_by_what_it_says():
    check(Declared(width=14_000, height=14_000, channels=3, depth_bytes=2), "a.tif")
    with pytest.raises(PhotoError, match=r"1\.6 GB"):
        check(Declared(width=14_000, height=14_000, channels=4, depth_bytes=2), "a.tif")
    with pytest.raises(PhotoError, match="more than the 200"):
        check(Declared(width=20_000, height=11_000), "a.tif")


def _slow(data, name):
    time.sleep(60)


def _greedy(data, name):
    return np.zeros((60_000, 60_000, 3), np.uint8), None


def _broken(data, name):
    raise KeyError("tag")


def _refused(data, name):
    raise PhotoError("error.photo.empty", name=name)


@pytest.mark.parametrize(
    ("decode", "words"),
    [
        (_slow, "within 2 seconds"),
        (_greedy, "memory"),
        (_broken, "broken"),
        (_refused, "empty"),
    ],
)
def test_a_process_of_its_own_is_ended_with_one_sentence(decode, words):
    began = time.monotonic()
    with pytest.raises(PhotoError, match=words):
        decoded_apart(decode, b"x", "huge.png", most_s=2.0 if decode is _slow else 30.0)
    assert decode is not _slow or time.monotonic() - began < 20


def test_a_large_photo_comes_back_from_there_as_it_is(monkeypatch):
    rng = np.random.default_rng(5)
    data = tiff(rng.integers(0, 65535, (300, 400, 3), dtype=np.uint16))
    here = decode_photo(data, "a.tif")
    monkeypatch.setattr(load, "_APART_MEGAPIXELS", 0.05)
    apart = decode_photo(data, "a.tif")
    assert np.array_equal(apart.code, here.code) and apart.dpi == here.dpi
    with pytest.raises(PhotoError, match=r"cut short|broken"):
        decode_photo(data[: len(data) // 2], "a.tif")
