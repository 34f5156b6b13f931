"""The bench card: front and back, in type that is read at arm's length with a brush in hand."""

from __future__ import annotations

import io
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.styles import ParagraphStyle
from reportlab.platypus import (
    BaseDocTemplate,
    Frame,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)

from jartide.photo.card.files import pdf_fonts
from jartide.sheet.content import SheetContent
from jartide.sheet.flowables import StagePhoto
from jartide.sheet.job_sheet import SIZES_MM, Paper
from jartide.wording import tr

_MM = 72 / 25.4
# From the largest type down, until all of it stands on one leaf, points.
_SIZES = (22.0, 20.0, 18.0, 16.5, 15.0, 13.5, 12.0, 11.0, 10.0, 9.0, 8.0)
_SIDES = 2
# In smaller type than this no sentence is read at arm's length, points.
_READABLE = 12.0


def bench_card_pdf(content: SheetContent, paper: Paper = Paper.A4) -> bytes:
    """Return mixes and steps on one leaf, front and back, in the largest type that fits.

    Every step says how and why, its ratio and amount, when it is ready, what takes it back, and
    how long until the next.
    """
    on_both = found = b""
    least = _READABLE if any(step.told for step in content.steps) else 0.0
    for size in _SIZES:
        found, pages = _set(content, paper, size)
        if not on_both and pages <= _SIDES:
            on_both = found
        if pages == 1:
            # Sentences that would be small on one side take both; names alone are glanced at.
            return found if size >= least else on_both
    return on_both or found


def _set(content: SheetContent, paper: Paper, size: float) -> tuple[bytes, int]:
    regular, bold = pdf_fonts()
    ink = HexColor("#151515")
    head = ParagraphStyle("head", fontName=bold, fontSize=1.3 * size, leading=1.6 * size)
    line = ParagraphStyle("line", fontName=bold, fontSize=size, leading=1.22 * size, textColor=ink)
    note = ParagraphStyle("note", fontName=regular, fontSize=0.8 * size, leading=size)
    right = ParagraphStyle("right", parent=line, alignment=2)
    small = ParagraphStyle("small", parent=note, fontSize=8, leading=10, alignment=2)
    margin = 12 * _MM
    width, height = (side * _MM for side in SIZES_MM[paper])
    out = io.BytesIO()
    document = BaseDocTemplate(
        out, pagesize=(width, height), title=content.title, creator="Jar Tide", invariant=1
    )
    frame = Frame(margin, margin, width - 2 * margin, height - 2 * margin, 0, 0, 0, 0)
    document.addPageTemplates(PageTemplate("page", [frame]))

    def cell(name: str, *words: str) -> list[Any]:
        return [
            Paragraph(escape(name), line), *(Paragraph(escape(one), note) for one in words if one)
        ]  # fmt: skip

    room = width - 2 * margin
    first, last = 2.2 * size, 0.3 * room
    rows: list[list[Any]] = []
    swatches = []
    for layer in reversed(content.layers):
        swatches.append(("BACKGROUND", (0, len(rows)), (0, len(rows)), HexColor(layer.srgb)))
        told = " ".join(layer.told)
        amount = Paragraph(escape(layer.amount), right)
        rows.append(["", cell(layer.name, layer.recipe, told), amount])
    mixes = len(rows)
    for number, step in enumerate((s for s in content.steps if s.dries or s.note), 1):
        counted = Paragraph(str(number), line)
        beside: list[Any] = [Paragraph(escape(w), right) for w in (step.amount, step.dries) if w]
        if step.photo is not None:
            beside += [Spacer(1, 3), StagePhoto(step.photo, last - 2, small)]
        words = cell(step.name, step.note, " ".join(step.told), " ".join(step.signs))
        rows.append([counted, words, beside or ""])
    if not rows:
        rows = [["", cell(tr("sheet.no_mix"), ""), ""]]
    table = Table(rows, colWidths=[first, room - first - last, last])
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LINEBELOW", (1, 0), (-1, -1), 0.6, HexColor("#b0b0b0")),
                ("LINEBELOW", (0, mixes - 1), (-1, mixes - 1), 1.6, ink),
                ("TOPPADDING", (0, 0), (-1, -1), 0.14 * size),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 0.2 * size),
                ("LEFTPADDING", (1, 0), (-1, -1), 0.5 * size),
                ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                *swatches,
            ]
        )
    )
    document.build([Paragraph(escape(content.title), head), table])
    return out.getvalue(), document.page
