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

    from jartide.photo.card.find import CardSighting
    from jartide.photo.leave_out import Suggestion
    from jartide.photo.load import Photo as LoadedPhoto
    from jartide.photo.prepare import Prepared
    from jartide.photo.settings import PhotoSettings
    from jartide.reading.decisions import LayerChoices
    from jartide.reading.layers import LayerMap
    from jartide.reading.read import Basis
    from jartide.reading.result import Reading
    from jartide.reading.zones import Zone

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

    from jartide.reading.layers import glance_chosen

    layers = glance_chosen(basis.evidence, choices)
    pattern = replace(before.pattern, lines_by_layer=())
    reading = replace(before, layers=layers.layers, pattern=pattern, zones=())
    return Analysis(reading=reading, flat=flat, layers=layers)


# Pictures on the boards' panes are shown no larger: what an eye makes of them is computed so.
_PANE_PX = 560


def seen_from(code: np.ndarray, mm_per_px: float, viewing_m: float) -> tuple[np.ndarray, float]:
    """Return a flat picture as an eye at a distance resolves it, reduced, and its mm per px."""
    import cv2

    from jartide.boards.eye import as_seen
    from jartide.colour.spaces import decoding_table

    height, width = code.shape[:2]
    factor = min(1.0, _PANE_PX / max(height, width))
    size = max(1, round(width * factor)), max(1, round(height * factor))
    small = cv2.resize(code, size, interpolation=cv2.INTER_AREA) if factor < 1 else code
    scale = mm_per_px * width / size[0]
    rgb = decoding_table(256)[small]
    return _encoded(as_seen(rgb, scale, viewing_m)), scale


def _encoded(rgb_linear: np.ndarray) -> np.ndarray:
    """Linear light to uint8 sRGB, by table: a screen needs no more."""
    import numpy as np

    from jartide.colour.spaces import encode_srgb

    table = np.rint(encode_srgb(np.arange(4096) / 4095) * 255).astype(np.uint8)
    return table[(np.clip(rgb_linear, 0, 1) * 4095).astype(np.uint16)]
