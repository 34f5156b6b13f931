"""What the painter has said about one photo: corners, scale, neutral, region.

Coordinates are pixels of the upright original, (0, 0) at the corner of its top
left pixel.
"""

from __future__ import annotations

from dataclasses import dataclass

Point = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rect:
    """An upright rectangle in the original, pixels."""

    x: float
    y: float
    w: float
    h: float


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownLength:
    """Two points of the original and the true length between them on the surface."""

    start: Point
    end: Point
    length_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Neutral:
    """A patch of grey or white.

    `lightness` is its L*; None when only its greyness is known, so that the
    tint of the light is taken out but the exposure is left.
    """

    rect: Rect
    lightness: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PhotoSettings:
    """Everything needed to prepare one photo, beside the untouched file.

    Attributes
    ----------
    corners : four points or None
        Corners of a known rectangle, clockwise from its top left.
    size_mm : (width, height) or None
        Of that rectangle; without it the photo is squared but not scaled by it.
    known_length : KnownLength or None
        Sets the scale where the rectangle's size is unknown or there is none.
    mm_per_px : float or None
        Scale of the original, typed in; only for a photo without corners.
    neutral : Neutral or None
    region : Rect or None
        The part to read; everything when None.
    """

    corners: tuple[Point, Point, Point, Point] | None = None
    size_mm: tuple[float, float] | None = None
    known_length: KnownLength | None = None
    mm_per_px: float | None = None
    neutral: Neutral | None = None
    region: Rect | None = None
