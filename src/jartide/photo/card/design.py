"""The design of the photo card, in millimetres, x to the right and y down.

Everything is a multiple of the code's cell. Long bars with two sharp edges run
between the codes: they, not the codes, carry most of the accuracy, since an
edge is located along its whole length. A row of greys, a row of printed
colours and a row of empty spaces for the painter's own paints lie between.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import cv2
import numpy as np

from jartide.colour.spaces import encode_srgb, lab_to_linear
from jartide.photo.card.codes import dictionary

# A code is 4 x 4 cells within a border of one cell.
CODE_CELLS = 6
_BITS = 4
# What plain white paper and a printer's black are before anyone has read them.
# Office and photo papers lie between L* 93 and 97.
PAPER_LAB = (95.5, 0.0, -0.8)

Lab = tuple[float, float, float]


class CardSize(StrEnum):
    """The sizes a card comes in. The strip is an L that frames two sides of a board."""

    A5 = "A5"
    A6 = "A6"
    WALLET = "credit-card"
    STRIP = "L-strip"


class PatchKind(StrEnum):
    """What a patch on the card is."""

    PAPER = "paper"
    GREY = "grey"
    COLOUR = "colour"
    SPACE = "space"


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """An upright rectangle on the card, mm."""

    x: float
    y: float
    w: float
    h: float

    def inner(self, share: float) -> Box:
        """Return the box with `share` of each side's length taken off at both ends."""
        return Box(
            x=self.x + share * self.w,
            y=self.y + share * self.h,
            w=(1 - 2 * share) * self.w,
            h=(1 - 2 * share) * self.h,
        )

    def corners(self) -> np.ndarray:
        """Return the corners, (4, 2), clockwise from the top left."""
        x, y, w, h = self.x, self.y, self.w, self.h
        return np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]])


@dataclass(frozen=True, slots=True, kw_only=True)
class Code:
    """A code on the card: its number and the box of its black square."""

    number: int
    box: Box


@dataclass(frozen=True, slots=True, kw_only=True)
class Patch:
    """A patch of one colour; `srgb` is what the files ask the printer for, None for bare paper."""

    id: str
    kind: PatchKind
    box: Box
    srgb: tuple[int, int, int] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Ruler:
    """Ticks every millimetre from (x, y) along x (or y, when `upright`) for `length_mm`."""

    x: float
    y: float
    length_mm: int
    upright: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """One design. `outline` is where it is cut, clockwise; `text` where words may stand."""

    size: CardSize
    cell_mm: float
    outline: tuple[tuple[float, float], ...]
    codes: tuple[Code, ...]
    bars: tuple[Box, ...]
    patches: tuple[Patch, ...]
    ruler: Ruler
    text: Box

    @property
    def width_mm(self) -> float:
        """Largest extent to the right."""
        return max(x for x, _ in self.outline)

    @property
    def height_mm(self) -> float:
        """Largest extent down."""
        return max(y for _, y in self.outline)

    def solids(self) -> tuple[Box, ...]:
        """Return all black shapes with straight edges: the codes' squares and the bars."""
        return (*(code.box for code in self.codes), *self.bars)


# What the files ask for: greys evenly apart in lightness, from a printer's
# darkest to just under paper, and inks among the painter's earths, greens and stones.
_GREYS_L = (18, 34, 50, 65, 80)
_COLOURS_LAB: tuple[Lab, ...] = (
    (40, 34, 26),  # red oxide
    (62, 12, 46),  # ochre
    (36, 10, 14),  # umber
    (42, -26, 12),  # deep green
    (60, -26, -4),  # verdigris
    (44, -2, -30),  # slate blue
    (26, -12, 3),  # black green
    (76, 6, 26),  # limed oak
    (80, -13, 3),  # celadon
    (28, 20, 10),  # oxblood
    (68, 22, 28),  # terracotta
    (64, -4, -12),  # pale slate
)


def _srgb(lab: Lab) -> tuple[int, int, int]:
    code = np.rint(encode_srgb(lab_to_linear(lab)) * 255).astype(int)
    return int(code[0]), int(code[1]), int(code[2])


@lru_cache(maxsize=8)
def card_of(size: CardSize) -> Card:
    """Return the design of one size."""
    if size is CardSize.STRIP:
        return _strip()
    width, height, cell, first = {
        CardSize.A5: (210.0, 148.0, 4.2, 0),
        CardSize.A6: (148.0, 105.0, 3.0, 4),
        CardSize.WALLET: (85.6, 54.0, 1.8, 8),
    }[size]
    side, margin = CODE_CELLS * cell, 5 / 3 * cell
    right, low = width - margin - side, height - margin - side
    spots = [(margin, margin), (right, margin), (right, low), (margin, low)]
    codes = tuple(
        Code(number=first + n, box=Box(x=x, y=y, w=side, h=side)) for n, (x, y) in enumerate(spots)
    )
    # One cell of white keeps the bars off the codes, as the codes' reader needs.
    near, clear = margin + side + cell, 2 * (margin + side + cell)
    bars = (
        Box(x=near, y=margin, w=width - clear, h=cell),
        Box(x=near, y=height - margin - cell, w=width - clear, h=cell),
        Box(x=margin, y=near, w=cell, h=height - clear),
        Box(x=width - margin - cell, y=near, w=cell, h=height - clear),
    )
    inside = Box(
        x=margin + 2.2 * cell,
        y=near,
        w=width - 2 * margin - 4.4 * cell,
        h=height - clear,
    )
    ruler_length = int((width - clear) // 10 * 10)
    text = Box(x=near, y=margin + 1.6 * cell, w=width - clear, h=side - 1.2 * cell)
    return Card(
        size=size,
        cell_mm=cell,
        outline=((0, 0), (width, 0), (width, height), (0, height)),
        codes=codes,
        bars=bars,
        patches=_rows(inside, cell) + _papers(codes, cell, width, height),
        ruler=Ruler(x=(width - ruler_length) / 2, y=height - margin - cell, length_mm=ruler_length),
        text=text,
    )


def _rows(inside: Box, cell: float) -> tuple[Patch, ...]:
    """Greys with paper at their light end, printed colours, and spaces for own paints."""
    gap = 0.7 * cell
    high = (inside.h - 3 * gap) / 4
    pitch = (inside.w + gap) / 6
    found = []
    colours = _colours()
    for row, names in enumerate((_grey_row(), colours[:6], colours[6:], _space_row())):
        for column, (name, kind, srgb) in enumerate(names):
            box = Box(
                x=inside.x + column * pitch,
                y=inside.y + row * (high + gap),
                w=pitch - gap,
                h=high,
            )
            found.append(Patch(id=name, kind=kind, box=box, srgb=srgb))
    return tuple(found)


_Named = tuple[str, PatchKind, tuple[int, int, int] | None]


def _grey_row() -> list[_Named]:
    black: _Named = ("grey-1", PatchKind.GREY, (0, 0, 0))
    greys: list[_Named] = [
        (f"grey-{n + 2}", PatchKind.GREY, _srgb((level, 0, 0)))
        for n, level in enumerate(_GREYS_L[1:])
    ]
    return [black, *greys, ("paper", PatchKind.PAPER, None)]


def _colours() -> list[_Named]:
    return [(f"colour-{n + 1}", PatchKind.COLOUR, _srgb(lab)) for n, lab in enumerate(_COLOURS_LAB)]


def _space_row() -> list[_Named]:
    return [(f"space-{n + 1}", PatchKind.SPACE, None) for n in range(6)]


def _papers(codes: tuple[Code, ...], cell: float, width: float, height: float) -> tuple[Patch, ...]:
    """Bare paper beside each code, towards the middle: they tell how the light falls off."""
    found = []
    for n, code in enumerate(codes):
        b = code.box
        x = b.x + b.w + 0.6 * cell if b.x < width / 2 else b.x - 2.8 * cell
        y = b.y + 1.6 * cell if b.y < height / 2 else b.y + b.h - 3.8 * cell
        box = Box(x=x, y=y, w=2.2 * cell, h=2.2 * cell)
        found.append(Patch(id=f"paper-{n + 1}", kind=PatchKind.PAPER, box=box, srgb=None))
    return tuple(found)


def _strip() -> Card:
    """An L whose arms lie along the top and the left of a board."""
    long, short, wide, cell = 200.0, 150.0, 30.0, 3.0
    side, margin = CODE_CELLS * cell, 4.0
    spots = [(margin, margin), (long - margin - side, margin), (91.0, margin)]
    spots.append((margin, short - margin - side))
    codes = tuple(
        Code(number=12 + n, box=Box(x=x, y=y, w=side, h=side)) for n, (x, y) in enumerate(spots)
    )
    inner = wide - margin - cell
    bars = (
        Box(x=25, y=margin, w=63, h=cell),
        Box(x=112, y=margin, w=63, h=cell),
        Box(x=34, y=inner, w=54, h=cell),
        Box(x=112, y=inner, w=63, h=cell),
        Box(x=margin, y=25, w=cell, h=100),
        Box(x=inner, y=34, w=cell, h=91),
    )
    patches: list[Patch] = []
    for n, (name, kind, srgb) in enumerate(_grey_row()):
        box = Box(x=115 + 10 * n, y=9.5, w=9, h=10)
        patches.append(Patch(id=name, kind=kind, box=box, srgb=srgb))
    for n, (name, kind, srgb) in enumerate(_colours()):
        box = Box(x=29 + 10 * (n % 6), y=8.0 + 4.7 * (n // 6), w=9, h=4.2)
        patches.append(Patch(id=name, kind=kind, box=box, srgb=srgb))
    for n, (name, kind, srgb) in enumerate(_space_row()):
        box = Box(x=9.5, y=42 + 14 * n, w=11, h=12)
        patches.append(Patch(id=name, kind=kind, box=box, srgb=srgb))
    papers = (
        (23.2, 9, 4.4, 7),
        (93, 24, 14, 4),
        (180, 24, 14, 4),
        (9.5, 27, 11, 11),
        (24, 130, 4.4, 14),
    )
    for n, (x, y, w, h) in enumerate(papers):
        box = Box(x=x, y=y, w=w, h=h)
        patches.append(Patch(id=f"paper-{n + 1}", kind=PatchKind.PAPER, box=box, srgb=None))
    outline = ((0, 0), (long, 0), (long, wide), (wide, wide), (wide, short), (0, short))
    return Card(
        size=CardSize.STRIP,
        cell_mm=cell,
        outline=outline,
        codes=codes,
        bars=bars,
        patches=tuple(patches),
        ruler=Ruler(x=inner + cell, y=34, length_mm=90, upright=True),
        text=Box(x=30, y=17.5, w=57, h=5),
    )


def code_cells(number: int) -> np.ndarray:
    """Return the cells of a code, (6, 6) bool, True where black, border included."""
    picture = cv2.aruco.generateImageMarker(dictionary(), number, CODE_CELLS, borderBits=1)
    return np.asarray(picture) < 128


def card_of_code(number: int) -> Card | None:
    """Return the card that carries a code, or None."""
    for size in CardSize:
        card = card_of(size)
        if any(code.number == number for code in card.codes):
            return card
    return None
