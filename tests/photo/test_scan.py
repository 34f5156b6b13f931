"""A flatbed scan: its dots per inch and its profile are true, and nothing else is to be set."""

from __future__ import annotations

import io
import json

import cv2
import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms

from jartide.cli import main
from jartide.errors import PrepareError
from jartide.photo.correct import Grade
from jartide.photo.layout import SquaredBy
from jartide.photo.load import decode_photo
from jartide.photo.prepare import card_for, prepare
from jartide.photo.settings import KnownLength, PhotoSettings

SRGB = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
SCAN = PhotoSettings(scan=True)


def code(width: int = 300, height: int = 200) -> np.ndarray:
    rng = np.random.default_rng(5)
    speckled = rng.integers(0, 256, (height, width, 3)).astype(np.float32)
    smooth = cv2.GaussianBlur(speckled, (0, 0), 4.0)
    return np.clip((smooth - 127) * 6 + 130, 0, 255).astype(np.uint8)


def scan(dpi=(300, 300), profile=SRGB, kind: str = "PNG", orientation: int = 1):
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x0112] = orientation
    more = {} if dpi is None else {"dpi": dpi}
    Image.fromarray(code()).save(out, kind, icc_profile=profile, exif=exif, **more)
    return decode_photo(out.getvalue(), f"scan.{kind.lower()}")


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "TIFF"])
def test_dots_per_inch_give_the_scale(kind):
    picture = prepare(scan(kind=kind), SCAN)
    assert picture.mm_per_px == pytest.approx(25.4 / 300, rel=1e-3)
    assert picture.balance_known and picture.exposure_known
    assert picture.correction.grade is Grade.SCAN
    assert picture.light is None and picture.scale_error == 0
    said = {code for code, _ in picture.warnings}
    assert not said & {"light_unsure", "uneven_light", "border", "piece_unsure", "scan_profile"}


def test_a_scan_that_was_turned_turns_its_dots_too():
    photo = scan(dpi=(300, 600), orientation=6, kind="JPEG")
    assert photo.size == (200, 300)
    assert photo.dpi == pytest.approx((600, 300))
    picture = prepare(photo, SCAN)
    height, width = picture.shape
    # 200 px at 600 dpi by 300 px at 300 dpi, in square pixels.
    assert height / width == pytest.approx(3.0, rel=0.02)
    assert width * picture.mm_per_px == pytest.approx(200 / 600 * 25.4, rel=0.02)


def test_a_deep_scan_keeps_its_dots_and_its_profile():
    out = io.BytesIO()
    deep = code().astype(np.uint16) * 257
    tifffile.imwrite(
        out, deep, photometric="rgb", resolution=(1200, 1200), resolutionunit=2, iccprofile=SRGB
    )
    photo = decode_photo(out.getvalue(), "deep.tif")
    assert photo.code.dtype == np.uint16
    assert photo.dpi == pytest.approx((1200, 1200))
    assert photo.profiled


def test_without_a_profile_its_colours_are_only_compared_with_each_other():
    picture = prepare(scan(profile=None), SCAN)
    assert not picture.balance_known
    assert "scan_profile" in {code for code, _ in picture.warnings}


def test_without_dots_or_with_another_scale_it_is_refused_in_one_sentence():
    with pytest.raises(PrepareError, match="dots per inch"):
        prepare(scan(dpi=None), SCAN)
    length = KnownLength(start=(1, 1), end=(99, 1), length_mm=20)
    for settings in (
        PhotoSettings(scan=True, mm_per_px=0.1),
        PhotoSettings(scan=True, known_length=length),
    ):
        with pytest.raises(PrepareError, match="own dots per inch"):
            prepare(scan(), settings)


def test_a_camera_files_dots_never_count():
    photo = scan()
    assert prepare(photo, PhotoSettings()).mm_per_px is None
    assert card_for(photo, SCAN) is None


def test_what_a_scan_shows_is_neither_evened_nor_squared(tmp_path, capsys):
    light = np.linspace(90, 200, 300)[None, :, None] * np.ones((200, 1, 3))
    path = tmp_path / "scan.png"
    Image.fromarray(light.astype(np.uint8)).save(path, dpi=(150, 150), icc_profile=SRGB)
    assert main(["prepare", str(path), "--scan", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["squared"]["by"] == SquaredBy.SCAN
    assert told["light"]["evened_by"] is None
    assert told["flat"]["mm_per_px"] == pytest.approx(25.4 / 150, rel=1e-3)
    assert told["piece"] is None


@pytest.mark.parametrize("command", ["read", "prepare", "plan"])
def test_the_command_line_refuses_a_scan_with_another_scale(tmp_path, capsys, command):
    path = tmp_path / "scan.png"
    Image.fromarray(code()).save(path, dpi=(150, 150))
    piece = ["--piece", "1000x800"] if command == "plan" else []
    assert main([command, str(path), "--scan", "--mm-per-px", "0.2", "--json", *piece]) == 2
    assert "own dots per inch" in capsys.readouterr().err
    bare = tmp_path / "bare.png"
    Image.fromarray(code()).save(bare)
    assert main([command, str(bare), "--scan", "--json", *piece]) == 2
    assert "states no dots per inch" in capsys.readouterr().err


def test_two_scans_are_compared_at_their_own_scales(tmp_path, capsys):
    paths = []
    for name, dpi in (("a", 150), ("b", 300)):
        paths.append(str(tmp_path / f"{name}.png"))
        Image.fromarray(code()).save(paths[-1], dpi=(dpi, dpi), icc_profile=SRGB)
    assert main(["compare", *paths, "--scan", "--json"]) == 0
    both = json.loads(capsys.readouterr().out)
    assert main(["compare", *paths, "--target-scan", "--board-scan", "--json"]) == 0
    assert json.loads(capsys.readouterr().out) == both
