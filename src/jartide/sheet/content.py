"""What stands on a job sheet, in words and colours ready to be set; no layout."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Part(StrEnum):
    """A part of the sheet the painter can leave out."""

    PICTURES = "pictures"
    CORE = "core"
    AMOUNTS = "amounts"
    STEPS = "steps"
    BOARDS = "boards"
    CARE = "care"
    FIGURES = "figures"


@dataclass(frozen=True, slots=True, kw_only=True)
class Picture:
    """A squared photo as JPEG; its real size, None where it has no scale."""

    jpeg: bytes
    width_px: int
    height_px: int
    width_mm: float | None
    height_mm: float | None
    caption: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetLayer:
    """A layer, ground first: its colour as #rrggbb, its cover, its mix, and how much of it.

    `told` is what is let down first, and how near the mix comes.
    """

    name: str
    srgb: str
    share: float
    recipe: str
    amount: str
    told: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetStep:
    """A step to be ticked off; `cautions` stand right below it.

    `told` is why and how; `signs` when it is ready for the next and what takes it back; `amount`
    what it takes; `dries` how long until the next; `photo` how that stage looked on a board.
    """

    name: str
    note: str
    dries: str
    cautions: tuple[str, ...] = ()
    told: tuple[str, ...] = ()
    signs: tuple[str, ...] = ()
    amount: str = ""
    photo: Picture | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetLine:
    """A line of a list: what, how much, and a note below."""

    left: str
    right: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetBoard:
    """A board on the tide: how close it came, 0..1, what was said of it, and what was done."""

    number: int
    closeness: float | None
    words: str
    log: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetGroup:
    """Measured figures of one kind: name, value with its trust, in words."""

    title: str
    rows: tuple[SheetLine, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetContent:
    """All that can stand on a job sheet."""

    title: str
    subtitle: str
    made: str
    pictures: tuple[Picture, ...] = ()
    layers: tuple[SheetLayer, ...] = ()
    amounts: tuple[SheetLine, ...] = ()
    shopping: tuple[SheetLine, ...] = ()
    steps: tuple[SheetStep, ...] = ()
    boards: tuple[SheetBoard, ...] = ()
    care: tuple[SheetGroup, ...] = ()
    figures: tuple[SheetGroup, ...] = ()
    definitions: tuple[SheetLine, ...] = ()
