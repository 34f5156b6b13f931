"""What the background does for the window: pure functions from files to what is shown.

Heavy modules are imported here inside the functions, in the worker thread, so
that the window is shown before they load.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np

    from jartide.boards.light import LightRisk
    from jartide.boards.log import State
    from jartide.boards.result import SeenDifference
    from jartide.boards.seen import View
    from jartide.boards.series import Frame
    from jartide.colour.words import Lab
    from jartide.photo.card.find import CardSighting
    from jartide.photo.leave_out import Suggestion
    from jartide.photo.load import Photo as LoadedPhoto
    from jartide.photo.prepare import Prepared
    from jartide.photo.settings import PhotoSettings
    from jartide.reading.decisions import LayerChoices
    from jartide.reading.layers.layer_map import LayerMap
    from jartide.reading.read import Basis
    from jartide.reading.result import Reading
    from jartide.reading.zones import Zone
    from jartide.wording import Message

Progress = Callable[[float], None]
PREVIEW_PX = 1_600_000


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Preview:
    """A photo as taken, small enough to show: (H, W, 3) uint8, and px of it per original px."""

    code: np.ndarray
    scale: float
    size: tuple[int, int]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Flat:
    """The squared, neutral surface, and how it came to be.

    code, before : (H, W, 3) uint8, after and before colour and light were corrected
    mm_per_px : of the flat picture
    prepared : what the core made, its large arrays in half precision; None when only shown
    suggestions : what could be left out
    """

    code: np.ndarray
    before: np.ndarray
    mm_per_px: float | None
    prepared: Prepared
    suggestions: tuple[Suggestion, ...]

    def flat_px(self, at: tuple[float, float]) -> tuple[float, float] | None:
        """Carry a point of the original to the flat picture, px; None where it does not lie."""
        import numpy as np

        layout, height, width = self.prepared.layout, *self.code.shape[:2]
        if layout.surface is None or layout.extent is None:
            where = self.prepared.where
            x0, y0 = where[0, 0]
            x1, y1 = where[-1, -1]
            x = (at[0] - x0) / max(x1 - x0, 1e-9) * (width - 1) + 0.5
            y = (at[1] - y0) / max(y1 - y0, 1e-9) * (height - 1) + 0.5
        else:
            on = layout.surface.to_surface(np.array([at], float))[0]
            x = (on[0] - layout.extent.left) / layout.extent.width * width
            y = (on[1] - layout.extent.top) / layout.extent.height * height
        inside = np.isfinite(x + y) and 0 <= x <= width and 0 <= y <= height
        return (float(x), float(y)) if inside else None

    def photo_px(self, share: tuple[float, float]) -> tuple[float, float]:
        """Carry a point in shares of the flat picture back to the original, px."""
        import numpy as np

        layout = self.prepared.layout
        if layout.surface is None or layout.extent is None:
            where = self.prepared.where
            (x0, y0), (x1, y1) = where[0, 0], where[-1, -1]
            return float(x0 + share[0] * (x1 - x0)), float(y0 + share[1] * (y1 - y0))
        on = np.array(
            [
                [
                    layout.extent.left + share[0] * layout.extent.width,
                    layout.extent.top + share[1] * layout.extent.height,
                ]
            ]
        )
        x, y = layout.surface.to_photo(on)[0]
        return float(x), float(y)

    def length_mm(self, start: tuple[float, float], end: tuple[float, float]) -> float | None:
        """Return how far apart two points of the original are; None without a scale, or beside."""
        a, b = self.flat_px(start), self.flat_px(end)
        if a is None or b is None or self.mm_per_px is None:
            return None
        return float(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5) * self.mm_per_px


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Analysis:
    """A reading with what it was read from: the flat picture and the layers at each pixel.

    `basis` is what its layers can be fitted again from; None when it was let go.
    """

    reading: Reading
    flat: Flat
    layers: LayerMap
    basis: Basis | None = None


def make_preview(photo: LoadedPhoto) -> Preview:
    """Return the photo reduced for the screen."""
    import cv2
    import numpy as np

    code = photo.code if photo.code.dtype == np.uint8 else (photo.code // 257).astype(np.uint8)
    height, width = code.shape[:2]
    scale = min(1.0, (PREVIEW_PX / (width * height)) ** 0.5)
    if scale < 1:
        size = (max(1, round(width * scale)), max(1, round(height * scale)))
        code = cv2.resize(code, size, interpolation=cv2.INTER_AREA)
    return Preview(code=np.ascontiguousarray(code), scale=code.shape[1] / width, size=photo.size)


def make_flat(
    photo: LoadedPhoto,
    settings: PhotoSettings,
    card: CardSighting | None,
    blank: LoadedPhoto | None,
) -> Flat:
    """Return the surface as `settings` square and correct it, for the screen."""
    from jartide.photo.prepare import prepare_in_full

    return _flat(photo, settings, prepare_in_full(photo, settings, card=card, blank=blank))


def _flat(photo: LoadedPhoto, settings: PhotoSettings, prepared: Prepared) -> Flat:
    """The flat picture for the screen; what is kept of the core's work takes half the room."""
    from dataclasses import replace

    import numpy as np

    from jartide.photo.leave_out import suggest
    from jartide.photo.settings import Polygon

    picture = prepared.picture
    region = settings.region
    corners = settings.corners or prepared.board
    if region is None and corners is not None:
        region = Polygon(points=corners)
    card = None
    if prepared.card is not None:
        ring = prepared.card.outline_px()
        grown = ring + 0.04 * (ring - ring.mean(axis=0))
        card = Polygon(points=tuple((float(x), float(y)) for x, y in grown))
    code, before = _encoded(picture.rgb_linear), _encoded(prepared.before)
    if picture.mask is not None:
        # What is not read lies under a veil.
        for shown in (code, before):
            shown[~picture.mask] = (shown[~picture.mask] // 3 + 85).astype(np.uint8)
    small = replace(picture, rgb_linear=picture.rgb_linear.astype(np.float16))
    return Flat(
        code=code,
        before=before,
        mm_per_px=picture.mm_per_px,
        prepared=replace(
            prepared, picture=small, before=np.zeros((1, 1, 3)), where=_corners(prepared.where)
        ),
        suggestions=tuple(suggest(photo, region, card)),
    )


def _corners(where: np.ndarray) -> np.ndarray:
    """The first and last pixel's places: enough for a photo read as taken."""
    return where[:: max(1, where.shape[0] - 1), :: max(1, where.shape[1] - 1)].copy()


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """How a photo is to be read: family, what is decided of its layers, zones."""

    family: str
    choices: LayerChoices | None = None
    zones: tuple[Zone, ...] = ()


def analyse(
    photo: LoadedPhoto,
    settings: PhotoSettings,
    wanted: Wanted,
    progress: Progress,
    card: CardSighting | None,
    blank: LoadedPhoto | None,
) -> Analysis:
    """Prepare and read a photo."""
    from jartide.photo.prepare import prepare_in_full
    from jartide.reading.read import find_basis

    prepared = prepare_in_full(photo, settings, card=card, blank=blank)
    progress(0.15)
    basis = find_basis(
        prepared.picture, wanted.family, progress=lambda fraction: progress(0.15 + 0.4 * fraction)
    )
    return read_again(basis, _flat(photo, settings, prepared), wanted, progress)


def read_again(basis: Basis, flat: Flat, wanted: Wanted, progress: Progress) -> Analysis:
    """Read what was prepared before, as it is decided now."""
    from jartide.reading.read import read_basis

    reading, layers = read_basis(
        basis, lambda fraction: progress(0.55 + 0.45 * fraction), wanted.choices, wanted.zones
    )
    return Analysis(reading=reading, flat=flat, layers=layers, basis=basis)


def glance(basis: Basis, flat: Flat, choices: LayerChoices, before: Reading) -> Analysis:
    """Fit the layers at once to what was just decided; the pattern is as it was before."""
    from dataclasses import replace

    from jartide.reading.layers.layer_map import glance_chosen

    layers = glance_chosen(basis.evidence, choices)
    pattern = replace(before.pattern, lines_by_layer=())
    reading = replace(before, layers=layers.layers, pattern=pattern, zones=())
    return Analysis(reading=reading, flat=flat, layers=layers)


# Pictures on the boards' panes are shown no larger: what an eye makes of them is computed so.
_PANE_PX = 560


def seen_from(rgb_linear: np.ndarray, mm_per_px: float, viewing_m: float) -> np.ndarray:
    """Return a picture for the eye, (H, W, 3) linear light, as it is resolved at a distance."""
    from jartide.boards.eye import as_seen

    return _encoded(as_seen(rgb_linear, mm_per_px, viewing_m))


def for_the_eye(
    code: np.ndarray, mm_per_px: float, *, hasty: bool = False
) -> tuple[np.ndarray, float]:
    """Return a flat picture in linear light as it is looked at, and its mm per px.

    `hasty` takes half as many pixels a side: while the distance is moved.
    """
    import cv2

    from jartide.colour.spaces import decoding_table

    height, width = code.shape[:2]
    factor = min(1.0, _PANE_PX / (2 if hasty else 1) / max(height, width))
    size = max(1, round(width * factor)), max(1, round(height * factor))
    small = cv2.resize(code, size, interpolation=cv2.INTER_AREA) if factor < 1 else code
    return decoding_table(256)[small], mm_per_px * width / size[0]


def _encoded(rgb_linear: np.ndarray) -> np.ndarray:
    """Linear light to uint8 sRGB, by table: a screen needs no more."""
    import numpy as np

    from jartide.colour.spaces import encode_srgb

    table = np.rint(encode_srgb(np.arange(4096) / 4095) * 255).astype(np.uint8)
    return table[(np.clip(rgb_linear, 0, 1) * 4095).astype(np.uint16)]


def view_of_flat(flat: Flat) -> View:
    """Return a flat picture reduced for looking at, from what the screen shows."""
    from jartide.boards.seen import view_of

    assert flat.mm_per_px is not None
    return view_of(*for_the_eye(flat.code, flat.mm_per_px))


def missed_share(approved: Flat, panel: Flat, viewing_m: float) -> float:
    """Return how much of a panel hardly shows the approved board's pattern."""
    from jartide.boards.where import where_differs

    return where_differs(view_of_flat(approved), view_of_flat(panel), viewing_m).missed_share


def watched_frame(
    flat: Flat, minutes: float, state: State | None, before: Lab, after: Lab
) -> Frame:
    """Judge one frame of a series."""
    from jartide.boards.series import frame_of
    from jartide.colour.spaces import decoding_table

    rgb = decoding_table(256)[flat.code]
    return frame_of(rgb, minutes, before, after, state)


def colour_at(code: np.ndarray, at: tuple[float, float]) -> Lab:
    """Return the colour of a picture, (H, W, 3) uint8, at a spot in shares of its size."""
    from jartide.boards.surroundings import picked_colour
    from jartide.colour.spaces import decoding_table

    return picked_colour(decoding_table(256)[code], at)


def layer_lights(
    target: Reading, board: Reading, spectra: dict[int, np.ndarray]
) -> tuple[tuple[Message, LightRisk], ...]:
    """Return how each matched layer's pair of colours fares in other lights.

    `spectra` are those of the board's own mixes where they were measured, by the layer's number.
    """
    from jartide.boards.light import light_risk
    from jartide.boards.match import match_layers

    match = match_layers(target, board)
    found = []
    for i, j in match.pairs:
        L, a, b = (float(v) for v in match.board_lab[j])
        known = None if i not in spectra else spectra[i][None]
        risk = light_risk(target.layers[i].shown_lab, (L, a, b), board_spectra=known)
        found.append((target.layers[i].name, risk))
    return tuple(found)


# A spot of the board that differs by less than this stays grey.
_SEEN_JND = 1.0


def difference_picture(target: Flat, board: Flat, viewing_m: float) -> np.ndarray:
    """Return the board's picture with all turned grey that does not differ, (H, W, 3) uint8."""
    import cv2
    import numpy as np

    from jartide.boards.where import where_differs

    found = where_differs(view_of_flat(target), view_of_flat(board), viewing_m)
    height, width = board.code.shape[:2]
    strength = np.clip((found.jnd - _SEEN_JND) / 2.0, 0, 1)
    shown = cv2.resize(strength, (width, height), interpolation=cv2.INTER_LINEAR)[..., None]
    # Grey on the side away from the board's own lightness, with a ghost of it left.
    middle = float(board.code.mean())
    grey = 200.0 if middle < 118 else 70.0
    ghost = 0.84 * grey + 0.16 * board.code.astype(np.float32)
    return np.rint(ghost + shown * (board.code - ghost)).astype(np.uint8)


def pictures_seen(
    target: Flat, board: Flat, read: Reading, own: Reading
) -> tuple[SeenDifference, ...]:
    """Return how both pictures differ as seen from every distance."""
    from jartide.boards.compare import VIEWING_M
    from jartide.boards.match import match_layers
    from jartide.boards.seen import seen_differences

    gains = match_layers(read, own).gains
    return seen_differences(view_of_flat(target), view_of_flat(board), VIEWING_M, gains)
