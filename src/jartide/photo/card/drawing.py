"""The card as plain shapes in millimetres, before any file format."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.photo.card.design import Card, CardSize, Patch, PatchKind, code_cells
from jartide.wording import tr

Colour = tuple[int, int, int]
BLACK: Colour = (0, 0, 0)
WHITE: Colour = (255, 255, 255)
_HAIR: Colour = (150, 150, 150)


@dataclass(frozen=True, slots=True, kw_only=True)
class Fill:
    """A filled rectangle, mm."""

    x: float
    y: float
    w: float
    h: float
    colour: Colour = BLACK


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A stroke through points, mm; closed when its ends meet."""

    points: tuple[tuple[float, float], ...]
    width: float = 0.2
    colour: Colour = BLACK


@dataclass(frozen=True, slots=True, kw_only=True)
class Words:
    """A line of text: (x, y) is the start, middle or end of its base line, `size` in mm."""

    x: float
    y: float
    text: str
    size: float
    anchor: str = "start"
    bold: bool = False


Part = Fill | Line | Words


def card_parts(card: Card) -> list[Part]:
    """Return everything printed on a card, in drawing order."""
    parts: list[Part] = []
    for code in card.codes:
        parts += _code(code.number, code.box.x, code.box.y, card.cell_mm)
    parts += [Fill(x=b.x, y=b.y, w=b.w, h=b.h) for b in card.bars]
    for patch in card.patches:
        parts += _patch(patch, card.cell_mm)
    parts += _ruler(card)
    parts += _text(card)
    parts.append(Line(points=(*card.outline, card.outline[0]), width=0.1, colour=_HAIR))
    return parts


def _code(number: int, x: float, y: float, cell: float) -> list[Part]:
    """A code: its black square, and the white cells on it, joined along rows and downwards."""
    cells = code_cells(number)
    side = len(cells) * cell
    parts: list[Part] = [Fill(x=x, y=y, w=side, h=side)]
    for row, white in enumerate(~cells):
        edges = np.flatnonzero(np.diff(np.concatenate([[0], white.astype(np.int8), [0]])))
        for start, end in edges.reshape(-1, 2):
            # A hair of overlap where white goes on below, so that no seam is printed.
            below = not cells[row + 1, start:end].any()
            parts.append(
                Fill(
                    x=x + start * cell,
                    y=y + row * cell,
                    w=(end - start) * cell,
                    h=cell + (0.05 if below else 0.0),
                    colour=WHITE,
                )
            )
    return parts


def _patch(patch: Patch, cell: float) -> list[Part]:
    b = patch.box
    if patch.srgb is not None:
        return [Fill(x=b.x, y=b.y, w=b.w, h=b.h, colour=patch.srgb)]
    if patch.kind is PatchKind.SPACE:
        ring = tuple((float(x), float(y)) for x, y in b.corners())
        return [Line(points=(*ring, ring[0]), width=0.15, colour=_HAIR)]
    return []


def _ruler(card: Card) -> list[Part]:
    """Millimetre ticks beside their bar, towards the middle of the card, with centimetres."""
    r = card.ruler
    unit = 0.42 * card.cell_mm
    # Clear of the bar: its edge is measured.
    gap = 0.6 * card.cell_mm
    parts: list[Part] = []
    for mm in range(r.length_mm + 1):
        reach = unit * (2.3 if mm % 10 == 0 else 1.6 if mm % 5 == 0 else 1.0)
        if r.upright:
            ends = ((r.x + 0.6 * gap, r.y + mm), (r.x + 0.6 * gap + reach * 0.6, r.y + mm))
        else:
            ends = ((r.x + mm, r.y - gap), (r.x + mm, r.y - gap - reach))
        parts.append(Line(points=ends, width=0.22 if mm % 10 == 0 else 0.12))
        if mm % 10 == 0 and not r.upright:
            size = 0.8 * card.cell_mm
            y = r.y - gap - 2.7 * unit
            parts.append(Words(x=r.x + mm, y=y, text=str(mm), size=size, anchor="middle"))
            if mm == 0:
                parts.append(Words(x=r.x + 5, y=y, text="mm", size=size, anchor="middle"))
    return parts


def _text(card: Card) -> list[Part]:
    """The name and how to use the card; how to check its size stands there too."""
    t, cell = card.text, card.cell_mm
    length = card.ruler.length_mm
    if card.size is CardSize.STRIP:
        lines = [tr("card.strip.name"), tr("card.check_short", length=length)]
        return [
            Words(x=t.x, y=t.y + 1.9 + 2.5 * n, text=line, size=1.9, bold=n == 0)
            for n, line in enumerate(lines)
        ]
    size = 0.78 * cell
    title = Words(
        x=t.x + t.w / 2,
        y=t.y + 1.1 * size,
        text=tr("card.name", size=tr(f"card.size.{card.size.name.lower()}")),
        size=1.15 * size,
        anchor="middle",
        bold=True,
    )
    keys = ("card.use", "card.check", "card.scaled")
    return [
        title,
        *(
            Words(
                x=t.x + t.w / 2,
                y=t.y + (2.6 + 1.3 * n) * size,
                text=tr(key, length=length),
                size=0.86 * size,
                anchor="middle",
            )
            for n, key in enumerate(keys)
        ),
    ]
