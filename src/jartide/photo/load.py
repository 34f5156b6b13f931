"""Open a photo file: upright, in linear light, whatever the camera wrote.

8-bit files go through Pillow, which knows EXIF and colour profiles. 16-bit
PNG and TIFF go through OpenCV and tifffile, since Pillow makes them 8-bit.
Camera raw goes through rawpy and stays 16-bit.
"""

from __future__ import annotations

import hashlib
import io
import os
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from PIL import Image, ImageCms, UnidentifiedImageError
from scipy.interpolate import RegularGridInterpolator

from jartide.colour.spaces import decoding_table
from jartide.errors import PhotoError
from jartide.photo.apart import decoded_apart
from jartide.photo.declared import MAX_MEGAPIXELS, check, declared_of, is_tiff, register_heif
from jartide.photo.kinds import RAW_SUFFIXES

# Refused before reading: no camera file of 200 megapixels is larger.
MAX_BYTES = 2_000_000_000
# What is larger is decoded in a process of its own.
_APART_MEGAPIXELS = 50
_ORIENTATION = 0x0112
_STRIP_ROWS = 1024
_SCAN_TAGS = ("XResolution", "YResolution", "ResolutionUnit", "InterColorProfile", "Orientation")
# Files state 1 and 0 where they know nothing.
_LEAST_DPI, _MOST_DPI = 20.0, 20_000.0
# EXIF orientation 1..8 as (transpose, flip rows, flip columns).
_UPRIGHT = {
    1: (False, False, False),
    2: (False, False, True),
    3: (False, True, True),
    4: (False, True, False),
    5: (True, False, False),
    6: (True, False, True),
    7: (True, True, True),
    8: (True, True, False),
}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Photo:
    """A photo as taken, upright.

    Attributes
    ----------
    code : (H, W, 3) uint8 or uint16
        sRGB-encoded values; `linear` gives light.
    sha256 : str
        Of the file's bytes.
    taken : str or None
        EXIF time as written, which has no zone.
    focal_35mm : float or None
        EXIF's focal length for a 36 x 24 mm frame.
    dpi : (float, float) or None
        Pixels per inch along and down that the file states: true of a scan, not of a camera.
    profiled : bool
        Whether the file says which colours its values stand for.
    """

    code: np.ndarray
    name: str
    sha256: str
    taken: str | None
    focal_35mm: float | None = None
    dpi: tuple[float, float] | None = None
    profiled: bool = False

    @property
    def size(self) -> tuple[int, int]:
        """(width, height) in pixels."""
        return self.code.shape[1], self.code.shape[0]

    def linear(self, code: np.ndarray | None = None) -> np.ndarray:
        """Return linear light, (H, W, 3) float32, of the photo or of a part of its `code`."""
        code = self.code if code is None else code
        if code.dtype == np.uint16:
            return decoding_table(65536)[code]
        return cv2.LUT(code, decoding_table(256))  # three times as fast as indexing


def load_photo(path: str | Path) -> Photo:
    """Open a photo file.

    Raises
    ------
    PhotoError : one sentence, when the file is missing, empty, broken, huge or no picture.
    """
    path = Path(path)
    try:
        if path.is_dir():
            raise PhotoError("error.photo.folder", name=path.name)
        if path.stat().st_size > MAX_BYTES:
            raise PhotoError("error.photo.bytes", name=path.name)
        data = path.read_bytes()
    except FileNotFoundError:
        raise PhotoError("error.photo.missing", name=path.name) from None
    except OSError as error:
        raise PhotoError(
            "error.photo.unreadable", name=path.name, why=error.strerror or type(error).__name__
        ) from error
    return decode_photo(data, path.name)


def decode_photo(data: bytes, name: str) -> Photo:
    """Decode the bytes of a photo file; `name` is only for messages. Raises as `load_photo`."""
    if not data:
        raise PhotoError("error.photo.empty", name=name)
    try:
        declared = declared_of(data)
        is_raw = Path(name).suffix.lower() in RAW_SUFFIXES
        if declared is not None and not is_raw:
            check(declared, name)
        # Of camera raw the thumbnail is declared: the file tells how large the picture is.
        megapixels = len(data) / 1e6 if is_raw or declared is None else declared.megapixels
        if megapixels > _APART_MEGAPIXELS:
            code, notes = decoded_apart(_decode_any, data, name)
        else:
            code, notes = _decode_any(data, name)
    except PhotoError:
        raise
    except MemoryError:
        raise PhotoError("error.photo.memory", name=name) from None
    except Exception as error:  # decoders raise many kinds on broken bytes
        raise PhotoError("error.photo.broken", name=name) from error
    return Photo(
        code=code,
        name=name,
        sha256=hashlib.sha256(data).hexdigest(),
        taken=notes.taken,
        focal_35mm=notes.focal_35mm,
        dpi=notes.dpi,
        profiled=notes.profiled,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Notes:
    """What a file says of itself beside its picture."""

    taken: str | None = None
    focal_35mm: float | None = None
    dpi: tuple[float, float] | None = None
    profiled: bool = False


def _dpi(given: object, *, turned: bool = False) -> tuple[float, float] | None:
    """Pixels per inch along and down, as a file states them; None for none or nonsense."""
    try:
        along, down = (float(v) for v in given)  # type: ignore[attr-defined]
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    if not (_LEAST_DPI <= along <= _MOST_DPI and _LEAST_DPI <= down <= _MOST_DPI):
        return None
    return (down, along) if turned else (along, down)


def _notes(exif) -> _Notes:
    """What EXIF says; cameras write all kinds of nonsense there, which counts as nothing said."""
    try:
        detail = exif.get_ifd(0x8769)
    except Exception:  # a broken block raises many kinds
        detail = {}
    taken = detail.get(0x9003) or exif.get(0x0132)
    focal = None
    try:
        focal = float(detail.get(0xA405) or 0) or None
        if focal is None and detail.get(0x920A) and detail.get(0xA20E):
            # Real focal length and sensor pixels per inch or centimetre.
            unit_mm = {2: 25.4, 3: 10.0}[detail.get(0xA210, 2)]
            pixels = np.hypot(float(detail.get(0xA002) or 0), float(detail.get(0xA003) or 0))
            diagonal_mm = pixels / float(detail[0xA20E]) * unit_mm
            focal = float(detail[0x920A]) * 43.267 / diagonal_mm
    except (TypeError, ValueError, KeyError, ZeroDivisionError):
        focal = None
    if focal is not None and not 5 < focal < 1500:
        focal = None
    text = taken if isinstance(taken, str) else None
    return _Notes(taken=(text.strip("\0 ") or None) if text else None, focal_35mm=focal)


def _decode_raw(data: bytes) -> tuple[np.ndarray, _Notes]:
    """Develop camera raw plainly: the camera's white balance, no brightening, 16-bit sRGB."""
    import rawpy  # heavy, and few photos are camera raw

    with rawpy.imread(io.BytesIO(data)) as raw:
        size = raw.sizes
        if size.width * size.height > MAX_MEGAPIXELS * 1_000_000:
            raise ValueError("too large")
        code = raw.postprocess(
            output_bps=16,
            use_camera_wb=True,
            no_auto_bright=True,
            gamma=(2.4, 12.92),
            output_color=rawpy.ColorSpace.sRGB,
        )
    notes = _Notes()
    if data[:4] in (b"II*\0", b"MM\0*"):
        exif = Image.Exif()
        try:
            exif.load(b"Exif\0\0" + data)
            notes = _notes(exif)
        except Exception:  # the picture is worth more than its notes
            notes = _Notes()
    return np.ascontiguousarray(code), notes


def _decode_any(data: bytes, name: str) -> tuple[np.ndarray, _Notes]:
    if Path(name).suffix.lower() in RAW_SUFFIXES:
        return _decode_raw(data)
    return _decode(data, name)


def _decode(data: bytes, name: str) -> tuple[np.ndarray, _Notes]:
    register_heif()
    Image.MAX_IMAGE_PIXELS = None  # what was declared was looked at, with a sentence of ours
    try:
        image = Image.open(io.BytesIO(data))
    except UnidentifiedImageError:
        # Pillow reads no 16-bit RGB TIFF; tifffile does.
        if is_tiff(data):
            return _decode_deep_tiff(data)
        raise PhotoError("error.photo.unknown", name=name) from None
    try:
        exif = image.getexif()
        orientation = int(exif.get(_ORIENTATION, 1))
    except Exception:  # broken EXIF raises many kinds; the picture is whole without it
        exif, orientation = Image.Exif(), 1
    profile = image.info.get("icc_profile")
    notes = replace(
        _notes(exif),
        dpi=_dpi(image.info.get("dpi"), turned=_UPRIGHT.get(orientation, _UPRIGHT[1])[0]),
        profiled=bool(profile) or "srgb" in image.info or _says_srgb(exif),
    )
    if _is_deep(data, image):
        code = _decode_deep(data, orientation if image.format == "PNG" else 1, profile)
        if image.format != "PNG":
            code = _upright(code, orientation)
        return code, notes
    image.load()
    code = _to_srgb_8bit(image, profile)
    if image.format != "HEIF":  # the HEIF reader turns the picture itself
        code = _upright(code, orientation)
    return code, notes


def _says_srgb(exif) -> bool:
    """Whether EXIF names sRGB as the file's colours."""
    try:
        return exif.get_ifd(0x8769).get(0xA001) == 1
    except Exception:  # a broken block raises many kinds
        return False


def _decode_deep_tiff(data: bytes) -> tuple[np.ndarray, _Notes]:
    """Decode a TIFF that Pillow can't read, with what scanners write into it."""
    import tifffile  # heavy, and only deep TIFF needs it

    with tifffile.TiffFile(io.BytesIO(data)) as file:
        page = file.pages[0]
        values: dict[str, Any] = {}
        if isinstance(page, tifffile.TiffPage):
            values = {name: page.tags[name].value for name in _SCAN_TAGS if name in page.tags}
    profile = values.get("InterColorProfile")
    per_inch = {2: 1.0, 3: 2.54}.get(int(values.get("ResolutionUnit", 2)), 0.0)
    stated = []
    for name in ("XResolution", "YResolution"):
        over, under = values.get(name, (0, 1))
        stated.append(per_inch * over / max(under, 1))
    orientation = int(values.get("Orientation", 1))
    turned = _UPRIGHT.get(orientation, _UPRIGHT[1])[0]
    code = _upright(_decode_deep(data, 1, profile), orientation)
    return code, _Notes(dpi=_dpi(stated, turned=turned), profiled=bool(profile))


def _is_deep(data: bytes, image) -> bool:
    """Whether the file holds 16 bits per channel."""
    if image.format == "PNG":
        return data[24] == 16
    if image.format == "TIFF":
        return max(image.tag_v2.get(258, (8,))) == 16
    return False


def _decode_deep(data: bytes, orientation: int, profile: bytes | None) -> np.ndarray:
    """Decode a 16-bit file to (H, W, 3) uint16, upright."""
    if is_tiff(data):
        import tifffile  # heavy, and only deep TIFF needs it

        # The first page alone: what lies behind it may be anything.
        array = tifffile.imread(io.BytesIO(data), key=0, maxworkers=os.cpu_count())
        if array.ndim == 3 and array.shape[0] in (3, 4) and array.shape[2] not in (3, 4):
            array = np.moveaxis(array, 0, -1)
    else:
        flags = cv2.IMREAD_UNCHANGED | cv2.IMREAD_ANYDEPTH
        decoded = cv2.imdecode(np.frombuffer(data, np.uint8), flags)
        if decoded is None:
            raise ValueError("not a picture")
        array = decoded
        if array.ndim == 3:
            array = array[..., [2, 1, 0, 3][: array.shape[2]]]
    if array.ndim not in (2, 3) or array.dtype not in (np.uint8, np.uint16):
        raise ValueError("not a 16-bit colour or grey picture")
    if array.dtype == np.uint8:
        array = array.astype(np.uint16) * 257
    if array.ndim == 2:
        array = np.repeat(array[..., None], 3, axis=2)
    if array.shape[2] == 4:
        array = _over_white(array)
    array = np.ascontiguousarray(array[..., :3])
    if profile:
        array = _to_srgb_16bit(array, profile)
    return _upright(array, orientation)


def _over_white(code: np.ndarray) -> np.ndarray:
    """Lay a picture with an alpha channel over white, as a viewer would show it."""
    top = float(np.iinfo(code.dtype).max)
    alpha = code[..., 3:].astype(np.float32) / top
    laid = code[..., :3] * alpha + top * (1 - alpha)
    return np.rint(laid).astype(code.dtype)


def _to_srgb_8bit(image, profile: bytes | None) -> np.ndarray:
    """Return (H, W, 3) uint8 in sRGB from any 8-bit Pillow image."""
    if image.mode in ("P", "PA", "LA") or "transparency" in image.info:
        image = image.convert("RGBA")
    if profile and image.mode in ("RGB", "RGBA", "CMYK", "L"):
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            if "sRGB" not in ImageCms.getProfileDescription(source):
                if image.mode == "RGBA":
                    alpha = image.getchannel("A")
                    image = _profiled(image.convert("RGB"), source)
                    image.putalpha(alpha)
                else:
                    image = _profiled(image, source)
        except (ImageCms.PyCMSError, OSError, ValueError):
            pass  # a broken profile is worth less than none: read the values as sRGB
    if image.mode == "RGBA":
        return _over_white(np.asarray(image))
    return _array_of(image if image.mode == "RGB" else image.convert("RGB"))


def _array_of(image) -> np.ndarray:
    """The levels of an RGB image, in strips: Pillow makes two more copies of what it hands over."""
    width, height = image.size
    code = np.empty((height, width, 3), np.uint8)
    for top in range(0, height, _STRIP_ROWS):
        bottom = min(top + _STRIP_ROWS, height)
        code[top:bottom] = np.asarray(image.crop((0, top, width, bottom)))
    return code


def _profiled(image, source):
    """Carry a Pillow image from its own profile to sRGB."""
    converted = ImageCms.profileToProfile(
        image, source, ImageCms.createProfile("sRGB"), outputMode="RGB"
    )
    assert converted is not None  # only in-place conversion returns None
    return converted


def _to_srgb_16bit(code: np.ndarray, profile: bytes) -> np.ndarray:
    """Carry 16-bit values from their profile to sRGB.

    Pillow's colour engine takes 8 bits only. The profile is therefore sampled
    on a 33-point cube, whose entries are good to half an 8-bit level, and
    interpolated linearly, so that no steps appear between levels.
    """
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        if "sRGB" in ImageCms.getProfileDescription(source):
            return code
        levels = np.rint(np.linspace(0, 255, 33)).astype(np.uint8)
        cube = np.stack(np.meshgrid(levels, levels, levels, indexing="ij"), axis=-1)
        flat = Image.fromarray(cube.reshape(-1, 33, 3))
        table = np.asarray(_profiled(flat, source)).reshape(33, 33, 33, 3).astype(np.float32)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return code
    look_up = RegularGridInterpolator((levels / 255.0,) * 3, table)
    out = np.empty_like(code)
    for top in range(0, code.shape[0], 256):  # in strips: the interpolator works in float64
        strip = code[top : top + 256]
        out[top : top + 256] = np.rint(look_up(strip / 65535.0) * 257)
    return out


def _upright(code: np.ndarray, orientation: int) -> np.ndarray:
    """Turn a picture as its EXIF orientation says; an unknown one leaves it."""
    transpose, flip_rows, flip_columns = _UPRIGHT.get(orientation, _UPRIGHT[1])
    if transpose:
        code = code.transpose(1, 0, 2)
    if flip_rows:
        code = code[::-1]
    if flip_columns:
        code = code[:, ::-1]
    return np.ascontiguousarray(code)
