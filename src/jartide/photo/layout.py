"""Which part of which surface a photo shows, by what the painter set and the card tells."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.errors import PrepareError
from jartide.photo.card.find import CardSighting
from jartide.photo.column import column_map
from jartide.photo.flatten import Extent, PlaneMap, SurfaceMap, seen_extent
from jartide.photo.leave_out import shape_points
from jartide.photo.lens import focal_guess
from jartide.photo.load import Photo
from jartide.photo.settings import PhotoSettings
from jartide.photo.square import UNIT_SQUARE, aspect_ratio, check_corners, homography
from jartide.photo.vanishing import plane_from_lines
from jartide.wording import Message

# A tilted plane is read down to a third of its finest resolution.
_STEEPEST = 3.0
# A card turned by less than this was meant to lie square, radians.
_SQUARE_ENOUGH = 0.21
_MM_PER_INCH, _SAME_DPI = 25.4, 1e-4


class SquaredBy(StrEnum):
    """What told how the surface lies."""

    NOTHING = "nothing"
    CORNERS = "corners"
    LINES = "lines"
    COLUMN = "column"
    CARD = "card"
    SCAN = "scan"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Layout:
    """How the surface lies in the photo.

    Attributes
    ----------
    surface : map between photo and surface; None for a photo read as it was taken
    extent : the part to show, in the surface's unit; None with no `surface`
    mm_per_unit : millimetres per unit (per pixel with no `surface`); None without scale
    squared_by : what it was told by
    from_card : (3, 3) rotation from the card's mm to the surface's; None without a card
    """

    surface: SurfaceMap | None
    extent: Extent | None
    mm_per_unit: float | None
    squared_by: SquaredBy
    from_card: np.ndarray | None = None

    def on_card(self, points: np.ndarray) -> np.ndarray:
        """Carry points of the surface, (N, 2) mm, back to the card's own mm."""
        assert self.from_card is not None
        return points @ self.from_card[:2, :2]


def has_scale(settings: PhotoSettings, card: bool = False) -> bool:
    """Tell whether these settings, or a card in the photo, give a scale."""
    if settings.scan:
        return True
    if settings.known_length is not None or (card and not settings.card.ignore):
        return True
    if settings.column is not None:
        return settings.column.diameter_mm is not None or settings.column.height_mm is not None
    if settings.corners is not None:
        return settings.size_mm is not None
    return settings.mm_per_px is not None


def wants_card(settings: PhotoSettings) -> bool:
    """Tell whether a card in the photo would set the geometry: nothing else did."""
    by_hand = settings.corners is not None and settings.size_mm is not None
    return not (
        settings.scan
        or settings.card.ignore
        or by_hand
        or settings.mm_per_px is not None
        or settings.column is not None
        or settings.lines is not None
    )


def layout_of(photo: Photo, settings: PhotoSettings, card: CardSighting | None) -> Layout:
    """Return how the surface lies in a photo.

    Raises
    ------
    PrepareError : one sentence, when the settings don't make sense.
    """
    check_numbers(settings)
    if settings.carved and settings.region is None:
        raise PrepareError("error.carved.region")
    if settings.scan:
        return _by_scan(photo, settings)
    guess = focal_guess(photo.size, photo.focal_35mm)
    if settings.column is not None:
        column, known = column_map(settings.column, guess.focal_px, photo.size)
        scale = 1.0 if known else _length_scale(column, settings)
        return Layout(
            surface=column,
            extent=column.extent(),
            mm_per_unit=scale,
            squared_by=SquaredBy.COLUMN,
        )
    if settings.corners is not None and (settings.size_mm is not None or card is None):
        return _by_corners(photo, settings)
    if card is not None and wants_card(settings):
        return _by_card(photo, settings, card)
    if settings.lines is not None:
        matrix = plane_from_lines(settings.lines, photo.size, guess.focal_px, guess.known)
        plane = PlaneMap(matrix=matrix)
        return Layout(
            surface=plane,
            extent=_extent(plane, photo, settings),
            mm_per_unit=_length_scale(plane, settings),
            squared_by=SquaredBy.LINES,
        )
    scale = settings.mm_per_px
    if settings.known_length is not None:
        scale = _length_scale(PlaneMap(matrix=np.eye(3)), settings)
    return Layout(surface=None, extent=None, mm_per_unit=scale, squared_by=SquaredBy.NOTHING)


def _by_scan(photo: Photo, settings: PhotoSettings) -> Layout:
    """A scan as it lies on the glass, by the dots per inch that its file states."""
    given = (settings.mm_per_px, settings.corners, settings.lines, settings.column)
    if any(value is not None for value in (*given, settings.known_length)):
        raise PrepareError("error.scan.scale_twice")
    if photo.dpi is None:
        raise PrepareError("error.scan.no_dpi", name=photo.name)
    along, down = (_MM_PER_INCH / dpi for dpi in photo.dpi)
    if abs(along / down - 1) < _SAME_DPI:
        return Layout(surface=None, extent=None, mm_per_unit=along, squared_by=SquaredBy.SCAN)
    plane = PlaneMap(matrix=np.diag([along, down, 1.0]))
    return Layout(
        surface=plane,
        extent=_extent(plane, photo, settings),
        mm_per_unit=1.0,
        squared_by=SquaredBy.SCAN,
    )


def _by_corners(photo: Photo, settings: PhotoSettings) -> Layout:
    assert settings.corners is not None
    quad = check_corners(settings.corners, photo.size)
    if settings.size_mm is not None:
        width, height = settings.size_mm
        plane = PlaneMap(matrix=homography(quad, UNIT_SQUARE * (width, height)))
        scale: float | None = 1.0
    else:
        width, height = aspect_ratio(quad, photo.size), 1.0
        plane = PlaneMap(matrix=homography(quad, UNIT_SQUARE * (width, height)))
        scale = _length_scale(plane, settings)
    return Layout(
        surface=plane,
        extent=Extent(left=0.0, top=0.0, width=width, height=height),
        mm_per_unit=scale,
        squared_by=SquaredBy.CORNERS,
    )


def _by_card(photo: Photo, settings: PhotoSettings, card: CardSighting) -> Layout:
    # A card above the face: the face lies below the card's plane, away from the camera.
    height = settings.card.height_mm
    lying = PlaneMap(matrix=np.linalg.inv(card.pose.homography(height)), lens=card.pose.lens)
    turn = _upright_turn(lying, photo, settings)
    plane = PlaneMap(matrix=turn @ lying.matrix, lens=lying.lens)
    return Layout(
        surface=plane,
        extent=_extent(plane, photo, settings),
        # A length the painter marked goes before the card's print.
        mm_per_unit=_length_scale(plane, settings) or 1.0,
        squared_by=SquaredBy.CARD,
        from_card=turn,
    )


def _upright_turn(plane: PlaneMap, photo: Photo, settings: PhotoSettings) -> np.ndarray:
    """The rotation, (3, 3), that sets the surface upright however the card lies on it.

    Upright is the board whose corners are known; else the card where it lies about
    square in the photo; else the photo.
    """
    if settings.corners is not None:
        first, second = plane.to_surface(np.array(settings.corners[:2], float))
        angle = float(np.arctan2(*(second - first)[::-1]))
    else:
        middle, side = np.array(photo.size) / 2, 0.02 * photo.size[0]
        start, end = plane.to_surface(np.array([middle - (side, 0), middle + (side, 0)]))
        angle = float(np.arctan2(*(end - start)[::-1]))
        square = round(angle / (np.pi / 2)) * np.pi / 2
        if abs(angle - square) < _SQUARE_ENOUGH:
            angle = square
    c, s = np.cos(angle), np.sin(angle)
    return np.array([[c, s, 0], [-s, c, 0], [0, 0, 1.0]])


def _extent(plane: PlaneMap, photo: Photo, settings: PhotoSettings) -> Extent:
    """The plane's part inside the corners or the region, or all that is seen well."""
    seen = seen_extent(plane, photo.size, _STEEPEST)
    if seen is None:
        raise PrepareError("error.plane.steep")
    outline = None
    if settings.corners is not None:
        outline = check_corners(settings.corners, photo.size)
    elif settings.region is not None:
        outline = shape_points(settings.region)
    if outline is None:
        return seen
    on = plane.to_surface(outline)
    ring = seen.corners()
    low = np.maximum(on.min(axis=0), ring[0])
    high = np.minimum(on.max(axis=0), ring[2])
    if np.any(high - low <= 0):
        raise PrepareError("error.region.outside")
    return Extent(
        left=float(low[0]),
        top=float(low[1]),
        width=float(high[0] - low[0]),
        height=float(high[1] - low[1]),
    )


def _length_scale(surface: SurfaceMap, settings: PhotoSettings) -> float | None:
    """Millimetres per unit of the surface by the known length, if there is one."""
    known = settings.known_length
    if known is None:
        return None
    if np.hypot(*np.subtract(known.start, known.end)) < 8:
        raise PrepareError("error.scale.close")
    start, end = surface.to_surface(np.array([known.start, known.end]))
    length = float(np.hypot(*(end - start)))
    if not math.isfinite(length) or length <= 0:
        raise PrepareError("error.scale.off")
    return known.length_mm / length


_LEAST_SIDE_MM, _MOST_RATIO = 1.0, 100.0
# A microscope's scale, and a street's: no photo of a finish lies beyond.
_LEAST_MM_PER_PX, _MOST_MM_PER_PX = 0.001, 100.0


def check_scale(mm_per_px: float) -> float:
    """Return a scale; refuse one that no photo of a finish has.

    Raises
    ------
    PrepareError : when it lies outside a micrometre to ten centimetres a pixel.
    """
    if not _LEAST_MM_PER_PX <= mm_per_px <= _MOST_MM_PER_PX:
        raise PrepareError(
            "error.scale.range", given=f"{mm_per_px:.3g}", least=_LEAST_MM_PER_PX,
            most=round(_MOST_MM_PER_PX),
        )  # fmt: skip
    return mm_per_px


def check_numbers(settings: PhotoSettings) -> None:
    """Refuse sizes, lengths and scales that are none."""
    lengths = [
        ("word.board_size", v) for v in (settings.size_mm if settings.size_mm is not None else ())
    ]
    if settings.known_length is not None:
        lengths.append(("word.known_length", settings.known_length.length_mm))
    if settings.mm_per_px is not None:
        lengths.append(("word.scale", settings.mm_per_px))
    for what, value in lengths:
        if not (math.isfinite(value) and 0 < value < 1e5):
            raise PrepareError("error.scale.number", what=Message(what))
    if settings.mm_per_px is not None:
        check_scale(settings.mm_per_px)
    if settings.size_mm is not None:
        short, long = sorted(settings.size_mm)
        if short < _LEAST_SIDE_MM or long > _MOST_RATIO * short:
            raise PrepareError(
                "error.scale.size", given=f"{settings.size_mm[0]:g} × {settings.size_mm[1]:g}"
            )
    if not abs(settings.card.height_mm) <= 200:
        raise PrepareError("error.card.height")
