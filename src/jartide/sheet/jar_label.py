"""A label for a jar: what is in it, in which parts, for which job, and when it was mixed."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas

from jartide.photo.card.files import pdf_fonts

SIZE_MM = (90.0, 60.0)
_MM = 72 / 25.4


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """What a label says; `srgb` is the mix's colour as #rrggbb."""

    title: str
    job: str
    parts: tuple[tuple[str, str], ...]
    lines: tuple[str, ...]
    srgb: str | None


def label_pdf(label: Label) -> bytes:
    """Return the label as a one-page PDF of `SIZE_MM`; more than six paints are cut."""
    out = io.BytesIO()
    width, height = (side * _MM for side in SIZE_MM)
    page = Canvas(out, pagesize=(width, height))
    page.setTitle(label.title)
    draw_label(page, label, 0, 0, width, height)
    page.showPage()
    page.save()
    return out.getvalue()


def draw_label(page: Any, label: Label, x: float, y: float, width: float, height: float) -> None:
    """Draw a label into a rectangle of a page, points; a lower one gets smaller type."""
    regular, bold = pdf_fonts()
    page.saveState()
    page.translate(x, y)
    scale = min(height / (SIZE_MM[1] * _MM), width / (SIZE_MM[0] * _MM), 1.1)
    page.scale(scale, scale)
    width, height = width / scale, height / scale
    swatch = 18 * _MM
    if label.srgb is not None:
        page.setFillColor(HexColor(label.srgb))
        page.rect(
            width - swatch - 4 * _MM, height - swatch - 4 * _MM, swatch, swatch, stroke=0, fill=1
        )
    page.setFillColor(HexColor("#151515"))
    page.setFont(bold, 15)
    room = width - swatch - 12 * _MM
    page.drawString(4 * _MM, height - 9 * _MM, _fitting(page, label.title, bold, 15, room))
    page.setFont(regular, 9.5)
    page.drawString(4 * _MM, height - 14 * _MM, _fitting(page, label.job, regular, 9.5, room))
    at = height - 21 * _MM
    for count, name in label.parts[:6]:
        page.setFont(bold, 11)
        page.drawString(4 * _MM, at, count)
        page.setFont(regular, 11)
        page.drawString(14 * _MM, at, _fitting(page, name, regular, 11, width - 40 * _MM))
        at -= 4.9 * _MM
    page.setFont(regular, 9)
    at = 4 * _MM + 4 * _MM * (len(label.lines) - 1)
    for line in label.lines:
        page.drawString(4 * _MM, at, _fitting(page, line, regular, 9, width - 8 * _MM))
        at -= 4 * _MM
    page.restoreState()


def _fitting(page, text: str, face: str, size: float, room: float) -> str:
    while text and page.stringWidth(text, face, size) > room:
        text = text[:-1]
    return text
