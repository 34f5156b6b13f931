"""Every kind of file opens to the same picture; every bad one gives one sentence."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image, ImageCms

from jartide.errors import PhotoError
from jartide.photo.declared import MAX_MEGAPIXELS
from jartide.photo.load import decode_photo, load_photo


def pattern(height=40, width=60):
    """A picture that no turn maps onto itself."""
    y, x = np.mgrid[0:height, 0:width]
    return np.dstack([x * 4, y * 6, (x + y) * 2]).astype(np.uint8)


def saved(array, kind, **options):
    out = io.BytesIO()
    Image.fromarray(array).save(out, kind, **options)
    return out.getvalue()


@pytest.mark.parametrize(
    ("kind", "options", "tolerance"),
    [
        ("PNG", {}, 0),
        ("TIFF", {}, 0),
        ("BMP", {}, 0),
        ("WEBP", {"lossless": True}, 0),
        ("JPEG", {"quality": 98, "subsampling": 0}, 6),
        ("HEIF", {"quality": 100}, 12),
    ],
)
def test_opens_every_format(kind, options, tolerance):
    from pillow_heif import register_heif_opener

    register_heif_opener()
    photo = decode_photo(saved(pattern(), kind, **options), "a")
    assert photo.size == (60, 40)
    assert np.abs(photo.code.astype(int) - pattern()).max() <= tolerance


@pytest.mark.parametrize("orientation", range(1, 9))
def test_exif_orientation_turns_the_picture_as_viewers_do(orientation):
    from PIL import ImageOps

    image = Image.fromarray(pattern())
    exif = image.getexif()
    exif[0x0112] = orientation
    out = io.BytesIO()
    image.save(out, "PNG", exif=exif)
    expected = np.asarray(ImageOps.exif_transpose(Image.open(io.BytesIO(out.getvalue()))))
    assert np.array_equal(decode_photo(out.getvalue(), "a").code, expected)


def test_unknown_orientation_leaves_the_picture():
    image = Image.fromarray(pattern())
    exif = image.getexif()
    exif[0x0112] = 77
    out = io.BytesIO()
    image.save(out, "PNG", exif=exif)
    assert np.array_equal(decode_photo(out.getvalue(), "a").code, pattern())


@pytest.mark.parametrize("suffix", ["png", "tif"])
def test_sixteen_bits_stay_sixteen(suffix):
    deep = (np.arange(40 * 60 * 3).reshape(40, 60, 3) * 9 % 65536).astype(np.uint16)
    if suffix == "png":
        import cv2

        data = cv2.imencode(".png", deep[..., ::-1])[1].tobytes()
    else:
        import tifffile

        out = io.BytesIO()
        tifffile.imwrite(out, deep, photometric="rgb")
        data = out.getvalue()
    photo = decode_photo(data, "a")
    assert photo.code.dtype == np.uint16
    assert np.array_equal(photo.code, deep)
    assert photo.linear().max() <= 1


def swapped_profile():
    """An RGB profile that is not sRGB: made from it, under another name and gamma."""
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    # Turning the red and blue colorant tags round makes a profile with swapped channels.
    return (
        profile.replace(b"rXYZ", b"tXYZ", 1)
        .replace(b"bXYZ", b"rXYZ", 1)
        .replace(b"tXYZ", b"bXYZ", 1)
        .replace("sRGB".encode("utf-16-be"), "xyzw".encode("utf-16-be"))
    )


def test_embedded_profile_is_applied():
    red = np.zeros((8, 8, 3), np.uint8)
    red[..., 0] = 255
    photo = decode_photo(saved(red, "PNG", icc_profile=swapped_profile()), "a")
    r, _, b = photo.code[0, 0]
    assert b > 200
    assert r < 60


def test_sixteen_bit_profile_agrees_with_eight_bit():
    grey = np.linspace(0, 255, 64).astype(np.uint8)
    eight = np.stack([np.tile(grey, (16, 1)), np.full((16, 64), 90), np.full((16, 64), 40)], -1)
    eight = eight.astype(np.uint8)
    import tifffile

    out = io.BytesIO()
    profile = swapped_profile()
    tifffile.imwrite(
        out,
        eight.astype(np.uint16) * 257,
        photometric="rgb",
        extratags=[(34675, 7, len(profile), profile, True)],
    )
    deep = decode_photo(out.getvalue(), "a").code / 257
    shallow = decode_photo(saved(eight, "PNG", icc_profile=profile), "a").code
    assert np.abs(deep - shallow).mean() < 2.5


def test_a_broken_profile_is_no_reason_to_refuse():
    photo = decode_photo(saved(pattern(), "PNG", icc_profile=b"rubbish" * 30), "a")
    assert np.array_equal(photo.code, pattern())


@pytest.mark.parametrize("mode", ["L", "P", "RGBA", "LA", "1", "CMYK"])
def test_other_modes_open_as_colour(mode):
    kind = "TIFF" if mode == "CMYK" else "PNG"
    out = io.BytesIO()
    Image.fromarray(pattern()).convert(mode).save(out, kind)
    assert decode_photo(out.getvalue(), "a").code.shape == (40, 60, 3)


NOISE = np.random.default_rng(1).integers(0, 255, (200, 200, 3)).astype(np.uint8)


def huge_png():
    header = struct.pack(">IIBBBBB", 20_000, 15_000, 8, 2, 0, 0, 0)
    chunk = b"IHDR" + header
    body = struct.pack(">I", 13) + chunk + struct.pack(">I", zlib.crc32(chunk))
    return b"\x89PNG\r\n\x1a\n" + body + struct.pack(">I", 100) + b"IDAT" + b"\0" * 104


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b"not a picture at all", "not a picture Jar Tide knows"),
        (b"\xff\xd8\xff\xe0 cut", "broken or cut short"),
        (huge_png(), f"more than the {MAX_MEGAPIXELS}"),
        (saved(pattern(400, 400), "JPEG")[:2000], "broken or cut short"),
        (saved(NOISE, "PNG")[:6000], "broken or cut short"),
        (b"II*\0" + b"\x08\0\0\0" + b"\xff" * 30, "broken or cut short"),
    ],
)
def test_bad_file_gives_one_sentence(data, words):
    with pytest.raises(PhotoError) as caught:
        decode_photo(data, "holiday.jpg")
    sentence = str(caught.value)
    assert words in sentence
    assert "holiday.jpg" in sentence
    assert sentence.endswith(".")
    assert "\n" not in sentence


def test_missing_file_and_folder(tmp_path):
    with pytest.raises(PhotoError, match="can't be found"):
        load_photo(tmp_path / "gone.jpg")
    with pytest.raises(PhotoError, match="is a folder"):
        load_photo(tmp_path)
