"""An annotated picture says the same as SVG and as PNG."""

from __future__ import annotations

import base64
import io
import re
import xml.etree.ElementTree as ElementTree

import numpy as np
from PIL import Image

from jartide.sheet.annotated import AnnotatedLayer, annotate, annotated_png, annotated_svg

SVG = "{http://www.w3.org/2000/svg}"


def drawing(mm_per_px=0.5):
    code = np.full((200, 300, 3), 120, np.uint8)
    mask = np.zeros((200, 300), bool)
    mask[40:120, 200:280] = True
    code[mask] = (20, 90, 60)
    layers = (
        AnnotatedLayer(name="Ground & body", srgb="#787878", note="84 % seen", mask=~mask),
        AnnotatedLayer(name="Patch", srgb="#145a3c", note="16 % seen", mask=mask),
    )
    return annotate(code, mm_per_px, layers, "Bar <front>", ["Lie at 90°"]), code


def test_svg_holds_the_picture_and_what_is_said():
    picture, code = drawing()
    root = ElementTree.fromstring(annotated_svg(picture))
    words = [text.text for text in root.iter(f"{SVG}text")]
    assert "1  Ground & body" in words and "2  Patch" in words and "Lie at 90°" in words
    assert "50 mm" in words  # the round length that fits 40 % of 150 mm
    image = next(root.iter(f"{SVG}image"))
    data = base64.b64decode(image.get("href").partition(",")[2])
    assert np.array_equal(np.asarray(Image.open(io.BytesIO(data))), code)
    outline = next(g for g in root.iter(f"{SVG}g") if g.get("id") == "layer-2")
    points = [
        tuple(map(float, p)) for p in re.findall(r"([\d.]+),([\d.]+)", outline[0].get("points"))
    ]
    assert min(x for x, _ in points) == 200 and max(y for _, y in points) == 119


def test_the_rule_is_as_long_as_it_says():
    root = ElementTree.fromstring(annotated_svg(drawing(0.5)[0]))
    bars = [r for r in root.iter(f"{SVG}rect") if r.get("height") == "8"]
    assert float(bars[0].get("width")) * 0.5 == 50.0


def test_png_shows_picture_key_and_number():
    picture, code = drawing()
    image = np.asarray(Image.open(io.BytesIO(annotated_png(picture))))
    assert image.shape[:2] == (picture.height, picture.width)
    assert tuple(image[5, 5]) == tuple(code[5, 5])
    assert (image[40:120, 200:280] > 200).all(axis=-1).any()  # the disc on the patch
    assert (image[:, 300:] == (0x14, 0x5A, 0x3C)).all(axis=-1).sum() > 1000  # its swatch


def test_without_a_scale_there_is_no_rule():
    root = ElementTree.fromstring(annotated_svg(drawing(None)[0]))
    assert not any((t.text or "").endswith(" mm") for t in root.iter(f"{SVG}text"))
