"""The card as a file: PDF (reportlab) for printing, SVG, and PNG (drawn from the PDF)."""

from __future__ import annotations

import io
from functools import lru_cache
from importlib.resources import files
from xml.etree import ElementTree

import pypdfium2
from PIL import Image
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from jartide.errors import CardError
from jartide.photo.card.design import Card, CardSize, card_of
from jartide.photo.card.drawing import Colour, Fill, Line, Part, Words, card_parts
from jartide.wording import tr

_MM = 72 / 25.4
# Fits on A4 and on Letter paper alike.
_PAGE_MM = (210.0, 279.0)
_TOP_MM = 10.0
FORMATS = (".pdf", ".svg", ".png")


def card_file(size: CardSize, kind: str, dpi: int = 300) -> bytes:
    """Return the file of a card; `kind` is ".pdf", ".svg" or ".png".

    The PDF is a sheet to print, with the card at its true size and how to
    check it; SVG and PNG are the card alone.

    Raises
    ------
    CardError : for another kind, or a resolution no printer has.
    """
    card = card_of(size)
    if kind == ".pdf":
        return _pdf_sheet(card)
    if kind == ".svg":
        return _svg(card)
    if kind == ".png":
        if not 72 <= dpi <= 1200:
            raise CardError("error.card.dpi", dpi=dpi)
        return _png(card, dpi)
    raise CardError("error.card.kind", kind=kind, known=", ".join(FORMATS))


@lru_cache(maxsize=1)
def pdf_fonts() -> tuple[str, str]:
    """Register the typeface with reportlab, so that the PDF carries it."""
    folder = files("jartide").joinpath("data/fonts")
    for name, weight in (("JarTideSans", "400Regular"), ("JarTideSans-Bold", "700Bold")):
        data = folder.joinpath(f"JarTideSans_{weight}.ttf").read_bytes()
        pdfmetrics.registerFont(TTFont(name, io.BytesIO(data)))
    return "JarTideSans", "JarTideSans-Bold"


def _pdf(parts: list[Part], page_mm: tuple[float, float], offset: tuple[float, float]) -> bytes:
    regular, bold = pdf_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(page_mm[0] * _MM, page_mm[1] * _MM), invariant=1)
    canvas.setTitle(tr("card.title"))
    # From points upward to millimetres downward; text would stand on its head, so it is
    # placed in points.
    x0, y0 = offset

    def at(x: float, y: float) -> tuple[float, float]:
        return (x + x0) * _MM, (page_mm[1] - y - y0) * _MM

    for part in parts:
        if isinstance(part, Fill):
            canvas.setFillColorRGB(*(v / 255 for v in part.colour))
            x, y = at(part.x, part.y + part.h)
            canvas.rect(x, y, part.w * _MM, part.h * _MM, stroke=0, fill=1)
        elif isinstance(part, Line):
            canvas.setStrokeColorRGB(*(v / 255 for v in part.colour))
            canvas.setLineWidth(part.width * _MM)
            path = canvas.beginPath()
            path.moveTo(*at(*part.points[0]))
            for point in part.points[1:]:
                path.lineTo(*at(*point))
            canvas.drawPath(path)
        else:
            canvas.setFillColorRGB(0, 0, 0)
            canvas.setFont(bold if part.bold else regular, part.size * _MM)
            draw = {
                "start": canvas.drawString,
                "middle": canvas.drawCentredString,
                "end": canvas.drawRightString,
            }[part.anchor]
            draw(*at(part.x, part.y), part.text)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _pdf_sheet(card: Card) -> bytes:
    """The card on a sheet, with what to do under it."""
    x0 = (_PAGE_MM[0] - card.width_mm) / 2
    y = card.height_mm + 14.0
    left = 15.0 - x0
    words: list[Part] = []
    length = card.ruler.length_mm
    for n in range(1, 6):
        words.append(Words(x=left, y=y, text=f"{n}", size=4, bold=True))
        words.append(Words(x=left + 7, y=y, text=tr(f"card.sheet_{n}", length=length), size=4))
        y += 8.0
    return _pdf([*card_parts(card), *words], _PAGE_MM, (x0, _TOP_MM))


def _png(card: Card, dpi: int) -> bytes:
    page = _pdf(card_parts(card), (card.width_mm, card.height_mm), (0.0, 0.0))
    # The renderer moves edges to whole pixels: draw finer and average, so that they stay.
    finer = 4 if card.width_mm * card.height_mm * (dpi / 25.4) ** 2 < 6e6 else 2
    document = pypdfium2.PdfDocument(page)
    try:
        drawn = document[0].render(scale=finer * dpi / 72).to_pil().convert("RGB")
    finally:
        document.close()
    size = (round(card.width_mm * dpi / 25.4), round(card.height_mm * dpi / 25.4))
    picture = drawn.crop((0, 0, size[0] * finer, size[1] * finer)).resize(
        size, Image.Resampling.BOX
    )
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dpi, dpi))
    return out.getvalue()


def _svg(card: Card) -> bytes:
    width, height = card.width_mm, card.height_mm
    root = ElementTree.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "width": f"{width:g}mm",
            "height": f"{height:g}mm",
            "viewBox": f"0 0 {width:g} {height:g}",
        },
    )
    ElementTree.SubElement(root, "title").text = tr("card.title")
    for part in card_parts(card):
        if isinstance(part, Fill):
            box = {k: f"{v:.4g}" for k, v in zip("xy", (part.x, part.y), strict=True)}
            box |= {"width": f"{part.w:.5g}", "height": f"{part.h:.5g}"}
            ElementTree.SubElement(root, "rect", {**box, "fill": _hex(part.colour)})
        elif isinstance(part, Line):
            points = " ".join(f"{x:.5g},{y:.5g}" for x, y in part.points)
            look = {"stroke": _hex(part.colour), "stroke-width": f"{part.width:g}", "fill": "none"}
            ElementTree.SubElement(root, "polyline", {"points": points, **look})
        else:
            place = {"x": f"{part.x:.5g}", "y": f"{part.y:.5g}", "text-anchor": part.anchor}
            weight = {"font-weight": "700"} if part.bold else {}
            face = {"font-family": "'Jar Tide Sans', sans-serif", "font-size": f"{part.size:.4g}"}
            ElementTree.SubElement(root, "text", {**place, **face, **weight}).text = part.text
    return ElementTree.tostring(root, encoding="utf-8", xml_declaration=True)


def _hex(colour: Colour) -> str:
    return "#{:02x}{:02x}{:02x}".format(*colour)
