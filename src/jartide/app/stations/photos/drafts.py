"""Marks that lie on the photo before anything is set: they count once they have been moved."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.app.elements.photo_marks import Point
from jartide.app.stations.photos.opened import Opened
from jartide.photo.piece.find_piece import Corners
from jartide.photo.settings import KnownLength, PhotoSettings

# What stands for a length nobody has typed yet, mm.
UNTYPED = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LengthDraft:
    """A known length half given: where its two ends lie, and how long it is, mm.

    `moved` says that the painter has laid the ends on something; `UNTYPED` stands for no length.
    """

    start: Point
    end: Point
    length_mm: float = UNTYPED
    moved: bool = False

    def known(self) -> KnownLength | None:
        """Return the length once both its ends and its millimetres were given."""
        if not self.moved or self.length_mm == UNTYPED:
            return None
        return KnownLength(start=self.start, end=self.end, length_mm=self.length_mm)


def length_draft(size: tuple[int, int]) -> LengthDraft:
    """Return two ends in the middle of a photo of a size, px."""
    w, h = size
    y = round(0.5 * h, 1)
    return LengthDraft(start=(round(0.42 * w, 1), y), end=(round(0.58 * w, 1), y))


def wants_corners(opened: Opened) -> bool:
    """Whether the corners of the surface can be laid on the photo at once."""
    s = opened.settings
    said = s.corners or s.lines or s.column or s.region
    card = opened.flat is not None and opened.flat.prepared.card is not None
    return not (said or s.carved or s.scan or s.whole_plane or (card and not s.card.ignore))


def wants_length(opened: Opened) -> bool:
    """Whether the two ends of a known length can be laid on the photo at once."""
    s, flat = opened.settings, opened.flat
    given = s.scan or s.known_length is not None or s.size_mm is not None
    return not given and flat is not None and flat.mm_per_px is None


def with_drafts(opened: Opened, step: str | None, length: LengthDraft | None) -> PhotoSettings:
    """Return the settings as the marks of an opened step show them: those it starts from too."""
    s = opened.settings
    if step == "shape" and wants_corners(opened):
        return replace(s, corners=corners_draft(opened))
    if step == "scale" and wants_length(opened):
        draft = length or length_draft(opened.size)
        known = KnownLength(start=draft.start, end=draft.end, length_mm=draft.length_mm)
        return replace(s, known_length=known)
    return s


def corners_draft(opened: Opened) -> Corners:
    """Return where the four corners start: on the piece that was found, or well inside."""
    w, h = opened.size
    piece = None if opened.flat is None else opened.flat.prepared.sought.piece
    if piece is not None:
        # Corners that lie outside the photo are drawn to its border, where they can be moved.
        a, b, c, d = (
            (min(max(x, 0.0), float(w)), min(max(y, 0.0), float(h))) for x, y in piece.corners
        )
        return a, b, c, d

    def at(x: float, y: float) -> Point:
        return round(x * w, 1), round(y * h, 1)

    return at(0.15, 0.15), at(0.85, 0.15), at(0.85, 0.85), at(0.15, 0.85)
