"""Jar labels on a sheet: the usual grids of self-adhesive labels, or plain paper to be cut."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.pdfgen.canvas import Canvas

from jartide.errors import PaintError
from jartide.sheet.jar_label import Label, draw_label

_MM = 72 / 25.4


@dataclass(frozen=True, slots=True, kw_only=True)
class Grid:
    """Where labels lie on a page, millimetres from its top left.

    `cut` draws marks for the scissors; on self-adhesive sheets there are none.
    """

    id: str
    page_mm: tuple[float, float]
    columns: int
    rows: int
    label_mm: tuple[float, float]
    left_mm: float
    top_mm: float
    pitch_mm: tuple[float, float]
    cut: bool = False


GRIDS = {
    grid.id: grid
    for grid in (
        Grid(
            id="plain", page_mm=(210.0, 297.0), columns=2, rows=4, label_mm=(90.0, 60.0),
            left_mm=15.0, top_mm=28.5, pitch_mm=(90.0, 60.0), cut=True,
        ),
        Grid(
            id="a4_2x4", page_mm=(210.0, 297.0), columns=2, rows=4, label_mm=(99.1, 67.7),
            left_mm=4.65, top_mm=13.1, pitch_mm=(101.6, 67.7),
        ),
        Grid(
            id="a4_2x7", page_mm=(210.0, 297.0), columns=2, rows=7, label_mm=(99.1, 38.1),
            left_mm=4.65, top_mm=15.15, pitch_mm=(101.6, 38.1),
        ),
        Grid(
            id="letter_2x5", page_mm=(215.9, 279.4), columns=2, rows=5, label_mm=(101.6, 50.8),
            left_mm=4.1, top_mm=12.7, pitch_mm=(106.1, 50.8),
        ),
    )
}  # fmt: skip


def label_sheet_pdf(labels: Sequence[Label], grid: Grid, first: int = 1) -> bytes:
    """Return the labels as PDF, row by row; `first` is the first label not yet used up, from 1.

    Raises
    ------
    PaintError : when there is no label, or `first` lies beyond the page.
    """
    a_page = grid.columns * grid.rows
    if not labels:
        raise PaintError("error.labels.none")
    if not 1 <= first <= a_page:
        raise PaintError("error.labels.first", most=a_page)
    out = io.BytesIO()
    width, height = (side * _MM for side in grid.page_mm)
    page = Canvas(out, pagesize=(width, height), invariant=1)
    page.setTitle(labels[0].job or labels[0].title)
    for number, label in enumerate(labels, first - 1):
        place = number % a_page
        if place == 0 and number:
            page.showPage()
        column, row = place % grid.columns, place // grid.columns
        x = (grid.left_mm + column * grid.pitch_mm[0]) * _MM
        top = (grid.top_mm + row * grid.pitch_mm[1]) * _MM
        w, h = (side * _MM for side in grid.label_mm)
        draw_label(page, label, x, height - top - h, w, h)
        if grid.cut:
            _marks(page, x, height - top - h, w, h)
    page.save()
    return out.getvalue()


def _marks(page, x: float, y: float, w: float, h: float) -> None:
    """Short lines at the corners, where the scissors go."""
    page.setLineWidth(0.4)
    for at_x in (x, x + w):
        for at_y in (y, y + h):
            page.line(at_x - 4, at_y, at_x + 4, at_y)
            page.line(at_x, at_y - 4, at_x, at_y + 4)
