"""Layers at their own size on pages to cut or trace: a stencil, a mask, a pouncing pattern."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import Any

import cv2
import numpy as np
from reportlab.pdfgen.canvas import Canvas

from jartide.errors import SheetError
from jartide.photo.card.files import pdf_fonts
from jartide.sheet.job_sheet import SIZES_MM, Paper
from jartide.wording import tr

_MM = 72 / 25.4
_MARGIN_MM = 12.0
# Pages share this much with their neighbours, to lay them over each other by the crosses.
_OVERLAP_MM = 10.0
_MOST_PAGES = 300
# Areas smaller than this can't be cut, and outlines are drawn this exactly.
_LEAST_MM2 = 4.0
_EXACT_MM = 0.25


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TracedLayer:
    """One layer to trace: its name, and how much of each pixel is seen as it, (H, W) 0..1."""

    name: str
    cover: np.ndarray


def layer_tiles_pdf(
    layers: Sequence[TracedLayer], mm_per_px: float, title: str, paper: Paper = Paper.A4
) -> bytes:
    """Return the outlines of each layer, 1 : 1, on as many pages as it takes.

    An outline runs where half of a pixel is the layer. Pages overlap by 10 mm and carry crosses
    every 50 mm that fall on each other; each says its layer, row and column.

    Raises
    ------
    SheetError : one sentence, where this would take more than 300 pages or nothing can be cut.
    """
    page_mm = SIZES_MM[paper]
    room = [side - 2 * _MARGIN_MM for side in page_mm]
    step = [side - _OVERLAP_MM for side in room]
    drawn = [(layer, _outlines(layer.cover, mm_per_px)) for layer in layers]
    drawn = [(layer, outlines) for layer, outlines in drawn if outlines]
    if not drawn:
        raise SheetError("error.sheet.nothing_to_cut")
    size = [side * mm_per_px for side in drawn[0][0].cover.shape[::-1]]
    columns, rows = (
        max(1, ceil((whole - _OVERLAP_MM) / each)) for whole, each in zip(size, step, strict=True)
    )
    pages = columns * rows * len(drawn)
    if pages > _MOST_PAGES:
        raise SheetError("error.sheet.too_many_pages", pages=pages, most=_MOST_PAGES)
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=tuple(side * _MM for side in page_mm), invariant=1)
    canvas.setTitle(title)
    for layer, outlines in drawn:
        for row in range(rows):
            for column in range(columns):
                left, top = column * step[0], row * step[1]
                _page(canvas, page_mm, room, size, outlines, (left, top))
                words = tr(
                    "sheet.tile", name=layer.name, row=row + 1, column=column + 1, title=title
                )
                canvas.setFont(pdf_fonts()[0], 9)
                canvas.drawString(_MARGIN_MM * _MM, 5 * _MM, words)
                canvas.showPage()
    canvas.save()
    return out.getvalue()


def _outlines(cover: np.ndarray, mm_per_px: float) -> list[np.ndarray]:
    """Closed outlines, (N, 2) millimetres each, x to the right and y down."""
    # Crumbs under the size that can be cut go, and the rest is smoothed as a knife would.
    soft = cv2.GaussianBlur(cover.astype(np.float32), (0, 0), max(0.4 / mm_per_px, 0.7))
    mask = np.pad((soft >= 0.5).astype(np.uint8), 1)
    found, _ = cv2.findContours(mask, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    kept = []
    for outline in found:
        if cv2.contourArea(outline) * mm_per_px**2 < _LEAST_MM2:
            continue
        near = cv2.approxPolyDP(outline, _EXACT_MM / mm_per_px, True)[:, 0]
        if len(near) >= 3:
            kept.append((near - 0.5) * mm_per_px)
    return kept


def _page(
    canvas: Any,
    page_mm: tuple[float, float],
    room: list[float],
    size: list[float],
    outlines: list[np.ndarray],
    corner: tuple[float, float],
) -> None:
    """Draw what of the outlines falls on one page whose window begins at `corner`, mm."""
    canvas.saveState()
    frame = canvas.beginPath()
    low = page_mm[1] - _MARGIN_MM - room[1]
    frame.rect(_MARGIN_MM * _MM, low * _MM, room[0] * _MM, room[1] * _MM)
    canvas.clipPath(frame, stroke=0, fill=0)
    # Millimetres of the surface, y down, from here on.
    canvas.translate((_MARGIN_MM - corner[0]) * _MM, (page_mm[1] - _MARGIN_MM + corner[1]) * _MM)
    canvas.scale(_MM, -_MM)
    canvas.setLineWidth(0.25)
    ends = (corner[0] + room[0], corner[1] + room[1])
    for outline in outlines:
        if (outline.max(axis=0) < corner).any() or (outline.min(axis=0) > ends).any():
            continue
        path = canvas.beginPath()
        path.moveTo(*map(float, outline[0]))
        for x, y in outline[1:]:
            path.lineTo(float(x), float(y))
        path.close()
        canvas.drawPath(path)
    canvas.setLineWidth(0.1)
    for x in np.arange(0, size[0] + 1, 50.0):
        for y in np.arange(0, size[1] + 1, 50.0):
            canvas.line(x - 3, y, x + 3, y)
            canvas.line(x, y - 3, x, y + 3)
    canvas.setLineWidth(0.4)
    canvas.rect(0, 0, size[0], size[1], stroke=1, fill=0)
    canvas.restoreState()
