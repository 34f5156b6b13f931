"""A photo still being copied is not whole, whatever kind it is."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from jartide.photo.endings import ends_whole


def picture(kind: str) -> bytes:
    out = io.BytesIO()
    code = np.random.default_rng(5).integers(0, 255, (40, 60, 3), dtype=np.uint8)
    Image.fromarray(code).save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "BMP", "WEBP"])
def test_a_whole_file_is_told_from_a_cut_one(tmp_path, kind):
    path, data = tmp_path / "photo", picture(kind)
    path.write_bytes(data)
    assert ends_whole(path) is True
    for left in (len(data) // 2, len(data) - 5):
        path.write_bytes(data[:left])
        assert ends_whole(path) is False


def test_some_cameras_pad_behind_the_end(tmp_path):
    path = tmp_path / "photo.jpg"
    path.write_bytes(picture("JPEG") + bytes(30))
    assert ends_whole(path) is True


def test_where_it_does_not_show_nothing_is_said(tmp_path):
    path, bmp = tmp_path / "photo", picture("BMP")
    path.write_bytes(picture("TIFF"))
    assert ends_whole(path) is None
    # Some programs write no size into a BMP.
    path.write_bytes(bmp[:2] + bytes(4) + bmp[6:])
    assert ends_whole(path) is None
    assert ends_whole(tmp_path / "gone") is None
