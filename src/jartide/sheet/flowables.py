"""Drawings of a sheet: pictures at one scale, the core, the tide, a box to tick. All vector."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor, black
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.platypus import Flowable, Paragraph

from jartide.figures import plain_figure
from jartide.photo.card.files import pdf_fonts
from jartide.sheet.content import Picture, SheetBoard, SheetLayer
from jartide.wording import tr

MM = 72 / 25.4
_INK, _INK2, _LINE, _WATER, _SHADE = "#151515", "#3a3a3a", "#b0b0b0", "#a6a6a6", "#dcdcdc"
# Where the zones of the tide end, share of the strip, and their message ids.
_ZONES = (
    (0.36, "zone.different"),
    (0.63, "zone.two_metres"),
    (0.85, "zone.arm"),
    (1.0, "zone.close"),
)
_SCALES = (1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50)


class _Drawn(Flowable):
    """A drawing of a known size in points."""

    def __init__(self, width: float, height: float) -> None:
        super().__init__()
        self.width, self.height = width, height

    def wrap(self, available_width: float, available_height: float) -> tuple[float, float]:
        return self.width, self.height

    def text(self, x: float, y: float, words: str, size: float, bold: bool = False) -> None:
        face = pdf_fonts()[1 if bold else 0]
        self.canv.setFillColor(HexColor(_INK if bold else _INK2))
        self.canv.setFont(face, size)
        self.canv.drawString(x, y, words)


def scale_for(pictures: Sequence[Picture], room_mm: float, most_mm: float) -> float | None:
    """Return how many times smaller than life all pictures are printed; None without a scale.

    The same for all, from the usual scales; each gets `room_mm` of width and `most_mm` of height.
    """
    sizes = [(p.width_mm, p.height_mm) for p in pictures if p.width_mm and p.height_mm]
    if len(sizes) < len(pictures) or not sizes:
        return None
    needed = max(max(w / room_mm, h / most_mm) for w, h in sizes)
    return next((float(s) for s in _SCALES if s >= needed), float(math.ceil(needed / 10) * 10))


class Pictures(_Drawn):
    """Target and board side by side at one stated scale, a rule at the foot of each."""

    def __init__(self, pictures: Sequence[Picture], width: float) -> None:
        self.pictures = list(pictures)
        gap = 6 * MM
        self.room = (width - gap * (len(self.pictures) - 1)) / max(len(self.pictures), 1)
        self.scale = scale_for(pictures, self.room / MM, 0.95 * self.room / MM)
        self.gap = gap
        tall = max(self._size(picture)[1] for picture in self.pictures)
        super().__init__(width, tall + 26)

    def _size(self, picture: Picture) -> tuple[float, float]:
        if self.scale is not None and picture.width_mm and picture.height_mm:
            return picture.width_mm / self.scale * MM, picture.height_mm / self.scale * MM
        ratio = picture.height_px / picture.width_px
        return self.room, min(self.room * ratio, 0.95 * self.room)

    def draw(self) -> None:
        x = 0.0
        for picture in self.pictures:
            w, h = self._size(picture)
            top = self.height - h
            image = ImageReader(io.BytesIO(picture.jpeg))
            self.canv.drawImage(image, x, top, w, h)
            self.text(x, top - 21, picture.caption, 9, bold=True)
            if self.scale is not None:
                self._rule(x, top, w)
            x += self.room + self.gap
        if self.scale is not None:
            words = tr("sheet.scale", scale=plain_figure(self.scale))
            face = pdf_fonts()[0]
            self.canv.setFont(face, 9)
            self.canv.setFillColor(HexColor(_INK2))
            self.canv.drawRightString(self.width, 0, words)

    def _rule(self, x: float, y: float, w: float) -> None:
        """Ticks every 10 mm of the surface, longer every 50 mm."""
        assert self.scale is not None
        self.canv.setStrokeColor(black)
        self.canv.setLineWidth(0.6)
        self.canv.line(x, y - 2, x + w, y - 2)
        step = 10 if self.scale <= 4 else 50
        for number in range(int(w * self.scale / MM / step) + 1):
            at = x + number * step / self.scale * MM
            long = number % 5 == 0
            self.canv.line(at, y - 2, at, y - (8 if long else 5))


# A stage's photo is no taller than so many points.
_TALLEST = 90.0


class StagePhoto(Flowable):
    """A small photo of a stage with its caption, at the right of its step."""

    def __init__(self, picture: Picture, width: float, style: ParagraphStyle) -> None:
        super().__init__()
        self.picture = picture
        self.words = Paragraph(escape(picture.caption), style)
        self.width = width
        self.tall = min(width * picture.height_px / picture.width_px, _TALLEST)
        self.foot = self.words.wrap(width, 1000)[1]
        self.height = self.tall + self.foot + 2

    def wrap(self, *_: float) -> tuple[float, float]:
        return self.width, self.height

    def draw(self) -> None:
        wide = self.tall * self.picture.width_px / self.picture.height_px
        image = ImageReader(io.BytesIO(self.picture.jpeg))
        self.canv.drawImage(image, self.width - wide, self.foot + 2, wide, self.tall)
        self.words.drawOn(self.canv, 0, 0)


# Width of the strata, height of a layer with its mix, and type of what is told below, points.
_STRATA, _ROW, _TOLD = 34.0, 30.0, 8.5


class Core(_Drawn):
    """The layers as strata, ground at the bottom, each with its mix beside it."""

    def __init__(self, layers: Sequence[SheetLayer], width: float) -> None:
        self.layers = list(layers)
        # Beside the strata and the chip.
        room = width - _STRATA - 16 - 28 - 4
        face = pdf_fonts()[0]
        self.told = [simpleSplit(" ".join(ly.told), face, _TOLD, room) for ly in self.layers]
        self.rows = [_ROW + 11.0 * len(lines) for lines in self.told]
        super().__init__(width, sum(self.rows) + 4)

    def draw(self) -> None:
        column = _STRATA
        shares = [max(layer.share, 0.04) for layer in self.layers]
        whole = sum(shares)
        y = 0.0
        for layer, share in zip(self.layers, shares, strict=True):
            tall = (self.height - 4) * share / whole
            self.canv.setFillColor(HexColor(layer.srgb))
            self.canv.rect(0, y, column, tall, stroke=0, fill=1)
            y += tall
        self.canv.setStrokeColor(HexColor(_LINE))
        self.canv.rect(0, 0, column, y, stroke=1, fill=0)
        left = column + 16
        below = 0.0
        for number, layer in enumerate(self.layers):
            foot, below = below, below + self.rows[number]
            low = below - _ROW
            self.canv.setFillColor(HexColor(layer.srgb))
            self.canv.rect(left, low + 5, 20, 20, stroke=0, fill=1)
            self.canv.setStrokeColor(HexColor(_LINE))
            self.canv.rect(left, low + 5, 20, 20, stroke=1, fill=0)
            words = left + 28
            right = self.width
            bold = pdf_fonts()[1]
            self.text(words, low + 16, _fitted(layer.name, bold, 11, right - words - 80), 11, True)
            recipe = _fitted(layer.recipe, pdf_fonts()[0], 9, right - words - 4)
            self.text(words, low + 4.5, recipe, 9)
            self.canv.setFont(bold, 11)
            self.canv.setFillColor(HexColor(_INK))
            self.canv.drawRightString(right, low + 16, layer.amount)
            for line, told in enumerate(self.told[number]):
                self.text(words, low - 6 - 11 * line, told, _TOLD)
            if number:
                self.canv.setLineWidth(0.5)
                self.canv.line(left, foot, right, foot)


class Tide(_Drawn):
    """The strip of water with a disc for each board; the target is its right end."""

    def __init__(self, boards: Sequence[SheetBoard], width: float, zones: Sequence[str]) -> None:
        self.boards = [board for board in boards if board.closeness is not None]
        self.zones = list(zones)
        super().__init__(width, 58)

    def draw(self) -> None:
        w, low, tall = self.width, 18.0, 16.0
        start = 0.0
        for number, (end, _) in enumerate(_ZONES):
            shade = _SHADE if number % 2 else "#eeeeee"
            self.canv.setFillColor(HexColor(shade))
            self.canv.rect(start * w, low, (end - start) * w, tall, stroke=0, fill=1)
            self.text(start * w, 5, self.zones[number], 8)
            start = end
        if self.boards:
            last = self.boards[-1].closeness or 0.0
            self.canv.setFillColor(HexColor(_WATER))
            self.canv.rect(0, low, last * w, tall, stroke=0, fill=1)
        self.canv.setFillColor(HexColor(_INK))
        self.canv.rect(w - 2, low - 2, 2, tall + 4, stroke=0, fill=1)
        face = pdf_fonts()[1]
        before = -1e9
        for board in sorted(self.boards, key=lambda b: b.closeness or 0.0):
            x = max((board.closeness or 0.0) * w, 8.0)
            disc = max(x, before + 17)
            before = disc
            latest = board is self.boards[-1]
            self.canv.setStrokeColor(HexColor(_INK))
            self.canv.setLineWidth(2 if latest else 1)
            self.canv.line(x, low, x, low + tall)
            self.canv.setFillColor(HexColor(_INK if latest else "#ffffff"))
            self.canv.circle(disc, low + tall + 11, 8, stroke=1, fill=1)
            self.canv.setFillColor(HexColor("#ffffff" if latest else _INK))
            self.canv.setFont(face, 9)
            self.canv.drawCentredString(disc, low + tall + 8, str(board.number))


class TickBox(_Drawn):
    """A box to tick with a pencil."""

    def __init__(self) -> None:
        super().__init__(11, 11)

    def draw(self) -> None:
        self.canv.setStrokeColor(HexColor(_INK))
        self.canv.setLineWidth(0.9)
        self.canv.rect(0.5, 0, 10, 10, stroke=1, fill=0)


def _fitted(words: str, face: str, size: float, room: float) -> str:
    """Words cut at a word, with a dash, where they are wider than their room."""
    if stringWidth(words, face, size) <= room:
        return words
    kept = words.split()
    while len(kept) > 1 and stringWidth(" ".join(kept) + " –", face, size) > room:
        kept.pop()
    return " ".join(kept) + " –"


ZONE_IDS = tuple(name for _, name in _ZONES)
