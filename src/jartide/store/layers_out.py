"""The layers of a reading as pictures: how much of each pixel is seen as each of them."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import numpy as np
from PIL import Image

from jartide.photo.picture import Picture
from jartide.reading.layers.layer_map import LayerMap
from jartide.store.pictures import dpi_of, picture_png


def layer_files(picture: Picture, layers: LayerMap) -> dict[str, bytes]:
    """Return the files by name: `picture.png`, and `layer-00.png` and on in paint order.

    picture.png is the squared picture that was read, 8 bit sRGB. Each layer is 8 bit grey, 255
    where all of a pixel is seen as it, 0 where nothing is or the picture was not read.
    """
    files = {"picture.png": picture_png(picture)}
    for number in range(len(layers.layers)):
        files[f"layer-{number:02d}.png"] = cover_png(picture, layers, number)
    return files


def layers_zip(picture: Picture, layers: LayerMap) -> bytes:
    """Return the same files in one .zip."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:  # PNG is packed already
        for name, content in layer_files(picture, layers).items():
            archive.writestr(zipfile.ZipInfo(name), content)
    return out.getvalue()


def cover_png(picture: Picture, layers: LayerMap, number: int) -> bytes:
    """Return how much of each pixel is seen as one layer, as 8 bit grey PNG."""
    cover = np.where(layers.valid, layers.covers.of(number), 0)
    out = io.BytesIO()
    Image.fromarray(np.rint(cover * 255).astype(np.uint8)).save(out, "PNG", **dpi_of(picture))
    return out.getvalue()


def write_layers(folder: Path, picture: Picture, layers: LayerMap) -> list[Path]:
    """Write the files into a folder, made where it is missing, and return their places.

    Layers of an earlier reading with more of them are taken away, so that none is left that
    belongs to another picture.

    Raises
    ------
    OSError : where the folder can't be written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    files = layer_files(picture, layers)
    for old in folder.glob("layer-[0-9][0-9].png"):
        if old.name not in files:
            old.unlink()
    for name, content in files.items():
        (folder / name).write_bytes(content)
    return [folder / name for name in files]
