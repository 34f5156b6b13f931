"""A squared picture with what was read of it: layers numbered where they lie, a key, a rule.

One drawing, written as SVG (vector over the picture) or as PNG.
"""

from __future__ import annotations

import base64
import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from importlib.resources import files

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFont

_KEY = 420
_MARGIN = 28
_SIZE = 22
_SMALL = 18
_DISC = 17
# Outlines smaller than this many pixels, or beyond this many of a layer, only clutter.
_LEAST_OUTLINE_PX = 30.0
_MOST_OUTLINES = 300
_MOST_PX = 1600
_INK, _SHEET, _EDGE = "#151515", "#e8e8e8", "#767676"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class AnnotatedLayer:
    """A layer of the key: `mask` (H, W) bool is where it is seen, None where nobody knows."""

    name: str
    srgb: str
    note: str
    mask: np.ndarray | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Text:
    x: float
    y: float  # of the base line
    words: str
    size: int = _SIZE
    shade: str = _INK
    middle: bool = False
    bold: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class _Box:
    x: float
    y: float
    w: float
    h: float
    fill: str
    edge: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class _Disc:
    x: float
    y: float
    r: float
    fill: str
    edge: str


@dataclass(frozen=True, slots=True, kw_only=True)
class _Outline:
    points: tuple[tuple[float, float], ...]
    shade: str
    layer: int


_Mark = _Text | _Box | _Disc | _Outline


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class AnnotatedPicture:
    """A drawing: the picture, (H, W, 3) uint8, and the marks over and beside it."""

    title: str
    width: int
    height: int
    code: np.ndarray
    marks: tuple[_Mark, ...]


def annotate(
    code: np.ndarray,
    mm_per_px: float | None,
    layers: Sequence[AnnotatedLayer],
    title: str,
    lines: Sequence[str],
) -> AnnotatedPicture:
    """Lay the drawing out.

    Parameters
    ----------
    code : (H, W, 3) uint8, sRGB
    mm_per_px : its scale; None leaves the rule out
    layers : in paint order, ground first
    lines : what else is said under the key
    """
    scale = min(1.0, _MOST_PX / max(code.shape[:2]))
    if scale < 1:
        code = cv2.resize(code, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        mm_per_px = None if mm_per_px is None else mm_per_px / scale
    high, wide = code.shape[:2]
    below = 64 if mm_per_px is not None else 0
    rows = 70 + 62 * len(layers) + 20 + 28 * len(lines)
    width, height = wide + _KEY, max(high + below, rows + _MARGIN)
    marks: list[_Mark] = [_Box(x=wide, y=0, w=_KEY, h=height, fill=_SHEET)]
    if height > high:
        marks.append(_Box(x=0, y=high, w=wide, h=height - high, fill=_SHEET))
    discs: list[_Mark] = []
    x, y = wide + _MARGIN, 70.0
    marks.append(_Text(x=x, y=42, words=title, size=26, bold=True))
    for number, layer in enumerate(layers, 1):
        marks.append(_Box(x=x, y=y, w=44, h=44, fill=layer.srgb, edge=_EDGE))
        marks.append(_Text(x=x + 60, y=y + 19, words=f"{number}  {layer.name}", bold=True))
        marks.append(_Text(x=x + 60, y=y + 42, words=layer.note, size=_SMALL))
        y += 62
        if layer.mask is not None and layer.mask.any():
            mask = cv2.resize(
                layer.mask.astype(np.uint8), (wide, high), interpolation=cv2.INTER_NEAREST
            )
            if number > 1:
                marks += _outlines(mask, number)
            at = _thickest(mask)
            discs.append(_Disc(x=at[0], y=at[1], r=_DISC, fill="#f7f7f7", edge=_INK))
            discs.append(
                _Text(x=at[0], y=at[1] + 7, words=str(number), size=20, middle=True, bold=True)
            )
    for line in lines:
        y += 28
        marks.append(_Text(x=x, y=y, words=line, size=_SMALL))
    if mm_per_px is not None:
        marks += _rule(high, wide, mm_per_px)
    return AnnotatedPicture(
        title=title, width=width, height=int(height), code=code, marks=(*marks, *discs)
    )


def _outlines(mask: np.ndarray, layer: int) -> list[_Mark]:
    found, _ = cv2.findContours(mask, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    large = sorted((c for c in found if len(c) > _LEAST_OUTLINE_PX), key=len, reverse=True)
    return [
        _Outline(
            points=tuple((float(px), float(py)) for px, py in cv2.approxPolyDP(c, 1.0, True)[:, 0]),
            shade="#ffffff",
            layer=layer,
        )
        for c in large[:_MOST_OUTLINES]
    ]


def _thickest(mask: np.ndarray) -> tuple[float, float]:
    """The middle of the widest part of a layer, where its number is plain to see."""
    room = cv2.distanceTransform(np.pad(mask, 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    row, column = np.unravel_index(int(room.argmax()), room.shape)
    high, wide = mask.shape
    return (
        float(np.clip(column, _DISC + 2, wide - _DISC - 2)),
        float(np.clip(row, _DISC + 2, high - _DISC - 2)),
    )


def _rule(high: int, wide: int, mm_per_px: float) -> list[_Mark]:
    """A rule under the picture, a round number of millimetres long."""
    most = wide * 0.4 * mm_per_px
    size = 10 ** np.floor(np.log10(most))
    length = max(step * size for step in (1.0, 2.0, 5.0) if step * size <= most)
    long = length / mm_per_px
    marks: list[_Mark] = [_Box(x=_MARGIN, y=high + 20, w=long, h=8, fill=_INK)]
    for end in (0.0, long - 2):
        marks.append(_Box(x=_MARGIN + end, y=high + 12, w=2, h=24, fill=_INK))
    marks.append(_Text(x=_MARGIN + long + 14, y=high + 31, words=f"{length:g} mm"))
    return marks


# ---- writing


def annotated_svg(picture: AnnotatedPicture) -> str:
    """Return the drawing as SVG, the picture inside it as PNG; outlines are groups by layer."""
    data = base64.b64encode(_png(picture.code)).decode("ascii")
    high, wide = picture.code.shape[:2]
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{picture.width}" '
        f'height="{picture.height}" viewBox="0 0 {picture.width} {picture.height}">',
        f"<title>{escape(picture.title)}</title>",
        f'<image width="{wide}" height="{high}" href="data:image/png;base64,{data}"/>',
    ]
    layer = 0
    for mark in picture.marks:
        own = mark.layer if isinstance(mark, _Outline) else 0
        if own != layer:
            if layer:
                out.append("</g>")
            if own:
                out.append(f'<g id="layer-{own}">')
            layer = own
        out.append(_svg(mark))
    if layer:
        out.append("</g>")
    return "\n".join([*out, "</svg>", ""])


def _svg(mark: _Mark) -> str:
    if isinstance(mark, _Box):
        edge = f' stroke="{mark.edge}"' if mark.edge else ""
        return (
            f'<rect x="{mark.x:g}" y="{mark.y:g}" width="{mark.w:.2f}" height="{mark.h:g}" '
            f'fill="{mark.fill}"{edge}/>'
        )
    if isinstance(mark, _Disc):
        return (
            f'<circle cx="{mark.x:g}" cy="{mark.y:g}" r="{mark.r:g}" fill="{mark.fill}" '
            f'stroke="{mark.edge}" stroke-width="1.5"/>'
        )
    if isinstance(mark, _Outline):
        points = " ".join(f"{x:g},{y:g}" for x, y in mark.points)
        return (
            f'<polygon points="{points}" fill="none" stroke="{mark.shade}" '
            'stroke-width="1" stroke-opacity="0.7"/>'
        )
    anchor = ' text-anchor="middle"' if mark.middle else ""
    weight = ' font-weight="600"' if mark.bold else ""
    return (
        f'<text x="{mark.x:g}" y="{mark.y:g}" font-family="Jar Tide Sans, sans-serif" '
        f'font-size="{mark.size}"{weight}{anchor} fill="{mark.shade}">{escape(mark.words)}</text>'
    )


def annotated_png(picture: AnnotatedPicture) -> bytes:
    """Return the drawing as PNG."""
    folder = files("jartide").joinpath("data/fonts")
    faces: dict[tuple[int, bool], ImageFont.FreeTypeFont] = {}

    def face(size: int, bold: bool) -> ImageFont.FreeTypeFont:
        if (size, bold) not in faces:
            name = "JarTideSans_600SemiBold.ttf" if bold else "JarTideSans_400Regular.ttf"
            data = io.BytesIO(folder.joinpath(name).read_bytes())
            faces[size, bold] = ImageFont.truetype(data, size)
        return faces[size, bold]

    image = Image.new("RGB", (picture.width, picture.height), _SHEET)
    image.paste(Image.fromarray(picture.code), (0, 0))
    draw = ImageDraw.Draw(image, "RGBA")
    for mark in picture.marks:
        if isinstance(mark, _Box):
            corners = (mark.x, mark.y, mark.x + mark.w - 1, mark.y + mark.h - 1)
            draw.rectangle(corners, fill=mark.fill, outline=mark.edge or None)
        elif isinstance(mark, _Disc):
            corners = (mark.x - mark.r, mark.y - mark.r, mark.x + mark.r, mark.y + mark.r)
            draw.ellipse(corners, fill=mark.fill, outline=mark.edge, width=2)
        elif isinstance(mark, _Outline):
            draw.line([*mark.points, mark.points[0]], fill=(255, 255, 255, 180), width=1)
        else:
            anchor = "ms" if mark.middle else "ls"
            draw.text(
                (mark.x, mark.y), mark.words, mark.shade, face(mark.size, mark.bold), anchor=anchor
            )
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def _png(code: np.ndarray) -> bytes:
    out = io.BytesIO()
    Image.fromarray(code).save(out, "PNG")
    return out.getvalue()
