"""The layers of a photo as pictures, by the command line and as files."""

import io
import json

import numpy as np
import pytest
from PIL import Image

from jartide.cli import main
from jartide.store.layers_out import layer_files


@pytest.fixture(scope="module")
def photo(tmp_path_factory, marble_jpeg):
    path = tmp_path_factory.mktemp("photo") / "slab.jpg"
    path.write_bytes(marble_jpeg)
    return path


def grey(path):
    with Image.open(path) as image:
        assert image.mode == "L"
        return np.asarray(image) / 255


def test_layers_are_written_in_paint_order_and_add_up(capsys, photo, tmp_path):
    folder = tmp_path / "layers"
    folder.mkdir()
    (folder / "layer-09.png").write_bytes(b"of an earlier reading")
    command = ["read", photo, "--mm-per-px", 0.25, "--family", "marble", "--json"]
    assert main([str(part) for part in [*command, "--layers-to", folder]]) == 0
    layers = json.loads(capsys.readouterr().out)["layers"]
    names = sorted(path.name for path in folder.iterdir())
    assert names == [*(f"layer-{n:02d}.png" for n in range(len(layers))), "picture.png"]
    covers = [grey(folder / name) for name in names[:-1]]
    assert np.sum(covers, axis=0).mean() == pytest.approx(1, abs=0.01)
    for layer, cover in zip(layers, covers, strict=True):
        assert cover.mean() == pytest.approx(layer["coverage"], abs=0.02)
    with Image.open(folder / "picture.png") as picture:
        assert picture.mode == "RGB" and picture.size == covers[0].shape[::-1]


@pytest.mark.parametrize("more", [["other.jpg"], ["--batch", "list.jsonl"]])
def test_layers_of_several_photos_are_refused(capsys, photo, tmp_path, more):
    arguments = ["read", str(photo), *more, "--layers-to", str(tmp_path / "layers")]
    assert main(arguments) == 2
    said = capsys.readouterr()
    assert "one photo" in said.err and said.out == ""
    assert not (tmp_path / "layers").exists()


def test_a_folder_that_cannot_be_made_is_told_in_one_sentence(capsys, photo, tmp_path):
    (tmp_path / "file").write_text("in the way", encoding="utf-8")
    arguments = ["read", str(photo), "--mm-per-px", "0.25", "--layers-to", str(tmp_path / "file")]
    assert main(arguments) == 2
    assert "can't be written" in capsys.readouterr().err


def test_what_is_left_out_is_seen_as_no_layer(marble):
    from jartide.photo.picture import Picture
    from jartide.reading.read import read_picture

    mask = np.ones(marble.rgb_linear.shape[:2], bool)
    mask[:100] = False
    picture = Picture(
        rgb_linear=marble.rgb_linear, mm_per_px=0.25, mask=mask, photo_size=mask.shape[::-1]
    )
    _, layers = read_picture(picture, "marble")
    files = layer_files(picture, layers)
    covers = [
        np.asarray(Image.open(io.BytesIO(content)))
        for name, content in files.items()
        if name.startswith("layer")
    ]
    total = np.sum([cover.astype(int) for cover in covers], axis=0)
    assert not total[:100].any()
    assert (np.abs(total[100:] - 255) <= len(covers)).all()
