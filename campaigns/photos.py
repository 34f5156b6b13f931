"""Photos of every format with faults in their bytes: opened, or refused in one sentence."""

from __future__ import annotations

import io
from functools import partial
from pathlib import Path

import numpy as np
import tifffile
from PIL import Image

from campaigns.attempt import fault_of
from campaigns.campaign import Campaign
from campaigns.mutations import mutated
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings

_SIZE = (96, 72)


def _seeds(_: Path) -> list[tuple[str, bytes]]:
    """A small photo of every format."""
    rng = np.random.default_rng(3)
    code = rng.integers(0, 255, (_SIZE[1], _SIZE[0], 3), dtype=np.uint8)
    image = Image.fromarray(code)
    exif = Image.Exif()
    exif[0x0112] = 6
    exif.get_ifd(0x8769)[0xA405] = 28
    found = []
    for kind, name, options in (
        ("JPEG", "a.jpg", {"exif": exif, "quality": 90}),
        ("JPEG", "p.jpg", {"progressive": True}),
        ("PNG", "a.png", {}),
        ("TIFF", "a.tif", {"compression": "tiff_lzw"}),
        ("WEBP", "a.webp", {}),
        ("BMP", "a.bmp", {}),
        ("HEIF", "a.heic", {}),
    ):
        out = io.BytesIO()
        if kind == "HEIF":
            from pillow_heif import register_heif_opener

            register_heif_opener()
        image.save(out, kind, **options)
        found.append((name, out.getvalue()))
    deep = code.astype(np.uint16) * 257
    out = io.BytesIO()
    tifffile.imwrite(out, deep, photometric="rgb")
    found.append(("deep.tif", out.getvalue()))
    found.append(("raw.dng", out.getvalue()))
    out = io.BytesIO()
    Image.fromarray(deep[..., 0]).save(out, "PNG")
    found.append(("deep.png", out.getvalue()))
    return found


def _attack(seeds: list[tuple[str, bytes]], _: Path, rng: np.random.Generator) -> str | None:
    name, data = seeds[int(rng.integers(0, len(seeds)))]
    return fault_of(partial(_open, mutated(data, rng), name))


def _open(data: bytes, name: str) -> None:
    prepare(decode_photo(data, name), PhotoSettings(mm_per_px=0.5))


CAMPAIGN = Campaign(
    name="photos",
    promise="a damaged photo opens or is refused in one sentence, within 10 s and 2 GB",
    made=_seeds,
    attack=_attack,
    slice_count=100,
)
