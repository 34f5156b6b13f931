"""The job sheet as PDF: what goes to the site, is ticked off there, and tells a touch-up how."""

from __future__ import annotations

import io
from collections.abc import Collection, Sequence
from enum import StrEnum
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.styles import ParagraphStyle
from reportlab.platypus import (
    BaseDocTemplate,
    CondPageBreak,
    Frame,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)

from jartide.photo.card.files import pdf_fonts
from jartide.sheet.content import Part, SheetContent, SheetLine
from jartide.sheet.flowables import ZONE_IDS, Core, Pictures, StagePhoto, TickBox, Tide
from jartide.wording import tr

_MM = 72 / 25.4
# What a heading needs below it, points.
_LEAST = 90.0


class Paper(StrEnum):
    """What it is printed on."""

    A4 = "A4"
    A5 = "A5"
    LETTER = "Letter"


SIZES_MM = {
    Paper.A4: (210.0, 297.0),
    Paper.A5: (148.0, 210.0),
    Paper.LETTER: (215.9, 279.4),
}


def job_sheet_pdf(
    content: SheetContent, paper: Paper = Paper.A4, parts: Collection[Part] = tuple(Part)
) -> bytes:
    """Return the sheet with the chosen parts; fonts are embedded, drawings are vectors."""
    out = io.BytesIO()
    width, height = (side * _MM for side in SIZES_MM[paper])
    margin = (16 if paper is not Paper.A5 else 11) * _MM
    document = BaseDocTemplate(
        out,
        pagesize=(width, height),
        title=content.title,
        subject=content.subtitle,
        creator="Jar Tide",
        invariant=1,
    )
    story = _story(content, width - 2 * margin, set(parts))

    def foot(canvas: Any, page: Any) -> None:
        face = pdf_fonts()[0]
        canvas.saveState()
        canvas.setFont(face, 8)
        canvas.drawString(margin, margin - 2, tr("sheet.reminder"))
        words = tr("sheet.page", made=content.made, number=canvas.getPageNumber())
        canvas.drawRightString(width - margin, margin - 2, words)
        canvas.restoreState()

    low = margin + 12
    frame = Frame(margin, low, width - 2 * margin, height - margin - low, 0, 0, 0, 0, id="page")
    document.addPageTemplates(PageTemplate("page", [frame], onPage=foot))
    document.build(story)
    return out.getvalue()


def _styles() -> dict[str, Any]:
    regular, bold = pdf_fonts()
    ink, ink2 = HexColor("#151515"), HexColor("#3a3a3a")
    return {
        "title": ParagraphStyle("title", fontName=bold, fontSize=20, leading=25, textColor=ink),
        "subtitle": ParagraphStyle(
            "subtitle", fontName=regular, fontSize=11, leading=15, textColor=ink2, spaceAfter=8
        ),
        "head": ParagraphStyle(
            "head", fontName=bold, fontSize=14, leading=18, textColor=ink, spaceBefore=12,
            spaceAfter=4,
        ),
        "line": ParagraphStyle("line", fontName=bold, fontSize=10.5, leading=13, textColor=ink),
        "body": ParagraphStyle(
            "body", fontName=regular, fontSize=9.5, leading=12.5, textColor=ink2
        ),
        "small": ParagraphStyle(
            "small", fontName=regular, fontSize=8, leading=10, textColor=ink2, alignment=2
        ),
        "right": ParagraphStyle(
            "right", fontName=bold, fontSize=10.5, leading=13, textColor=ink, alignment=2
        ),
    }  # fmt: skip


def _story(content: SheetContent, width: float, parts: set[Part]) -> list[Any]:
    style = _styles()

    def head(name: str) -> list[Any]:
        # A heading never stands alone at the foot of a page; what follows may be parted.
        return [CondPageBreak(_LEAST), Paragraph(tr(f"sheet.{name}"), style["head"])]

    story: list[Any] = [
        Paragraph(escape(content.title), style["title"]),
        Paragraph(escape(content.subtitle), style["subtitle"]),
    ]
    if Part.PICTURES in parts and content.pictures:
        story += [Pictures(content.pictures, width), Spacer(1, 6)]
    if Part.CORE in parts and content.layers:
        story += [*head("core"), Core(content.layers, width)]
    if Part.STEPS in parts and content.steps:
        story += [*head("steps"), _steps(content, width, style)]
    if Part.AMOUNTS in parts and (content.amounts or content.shopping):
        story += [*head("amounts"), _lines(content.amounts, width, style)]
        if content.shopping:
            story += [*head("shopping"), _lines(content.shopping, width, style, tick=True)]
    if Part.BOARDS in parts and content.boards:
        zones = [tr(zone) for zone in ZONE_IDS]
        story += [*head("boards"), Tide(content.boards, width, zones)]
        rows = tuple(
            SheetLine(
                left=tr("board.numbered", number=board.number),
                note=" ".join(filter(None, (board.words, board.log))),
            )
            for board in content.boards
        )
        story.append(_lines(rows, width, style))
    if Part.CARE in parts and content.care:
        story += head("care")
        for group in content.care:
            if group.title:
                story.append(Paragraph(escape(group.title), style["line"]))
            story += [Paragraph(f"• {escape(row.left)}", style["body"]) for row in group.rows]
    if Part.FIGURES in parts and content.figures:
        story += [PageBreak(), *head("figures")]
        for group in content.figures:
            story.append(Paragraph(escape(group.title), style["line"]))
            story.append(_lines(group.rows, width, style, small=True))
        if content.definitions:
            story += head("definitions")
            story.append(_lines(content.definitions, width, style, small=True))
    return story


def _table(rows: list[list[Any]], widths: list[float]) -> Any:
    table = Table(rows, colWidths=widths)
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, HexColor("#b0b0b0")),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 2),
                ("TOPPADDING", (0, 0), (-1, -1), 3),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
            ]
        )
    )
    return table


def _steps(content: SheetContent, width: float, style: dict[str, Any]) -> Any:
    rows = []
    right = min(120.0, 0.3 * width)
    for step in content.steps:
        cell = [Paragraph(escape(step.name), style["line"])]
        if step.note:
            cell.append(Paragraph(escape(step.note), style["body"]))
        for words in (step.told, step.signs):
            if words:
                cell.append(Paragraph(escape(" ".join(words)), style["body"]))
        cell += [
            Paragraph(f"{tr('sheet.care_word')} {escape(words)}", style["body"])
            for words in step.cautions
        ]
        beside: list[Any] = [
            Paragraph(escape(w), style["right"]) for w in (step.amount, step.dries) if w
        ]
        if step.photo is not None:
            beside += [Spacer(1, 4), StagePhoto(step.photo, right - 4, style["small"])]
        rows.append([TickBox(), cell, beside or ""])
    return _table(rows, [20, width - 20 - right, right])


def _lines(
    lines: Sequence[SheetLine],
    width: float,
    style: dict[str, Any],
    *,
    tick: bool = False,
    small: bool = False,
) -> Any:
    rows: list[list[Any]] = []
    # Where nothing stands at the right, the words have the whole width.
    share = 0.01 if not any(line.right for line in lines) else 0.22 if small else 0.34
    right = share * width
    for line in lines:
        cell = [Paragraph(escape(line.left), style["body" if small else "line"])]
        if line.note:
            cell.append(Paragraph(escape(line.note), style["body"]))
        row: list[Any] = [cell, Paragraph(escape(line.right), style["right"])]
        rows.append([TickBox(), *row] if tick else row)
    widths = [width - right, right]
    return _table(rows, [20, width - 20 - right, right] if tick else widths)
