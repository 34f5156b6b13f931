"""A phone's photo of a board with the photo card on it, in a room, with all truth kept.

The camera is traced the other way round from how photos are squared: from each
sensor point through the lens to the board's plane.
"""

from __future__ import annotations

import io
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from PIL import Image

from jartide.colour.spaces import decode_srgb, encode_srgb, lab_to_linear, linear_to_lab
from jartide.photo.card.design import CardSize, card_of
from jartide.photo.card.files import card_file
from jartide.studio.noise import fractal
from jartide.studio.site import Site, cast_shadow, draw_backdrop, lay_over
from jartide.studio.spectral_camera import SpectralCamera
from jartide.studio.truth import Surface

_FRAME_DIAGONAL_MM = 43.267
_BLOCK = 8
# OpenCV takes x and y from one array when the second is none; its stubs do not know.
_NO_MAP: Any = None


@dataclass(frozen=True, slots=True, kw_only=True)
class PrintedCard:
    """One print of the card: its size, how the printer scaled and coloured it.

    `paper_lab` and the ink numbers are what nobody knows before a reader measures them.
    """

    size: CardSize = CardSize.A6
    scale: float = 1.0
    paper_lab: tuple[float, float, float] = (95.0, 0.2, -1.0)
    black: float = 0.035
    dot_gain: float = 1.06
    cast: tuple[float, float, float] = (1.0, 1.0, 1.0)

    def ink(self, srgb_linear: np.ndarray) -> np.ndarray:
        """Return linear reflectance colours, (..., 3), of what the file asks for."""
        paper = lab_to_linear(self.paper_lab)
        wanted = srgb_linear**self.dot_gain * np.where(
            srgb_linear > 0.98, 1.0, np.asarray(self.cast)
        )
        return paper * (self.black + (1 - self.black) * wanted)

    def patch_lab(self, srgb: tuple[int, int, int] | None) -> tuple[float, float, float]:
        """Return the true colour of a patch."""
        asked = np.ones(3) if srgb is None else decode_srgb(np.array(srgb) / 255)
        lab = linear_to_lab(self.ink(asked))
        return float(lab[0]), float(lab[1]), float(lab[2])


@dataclass(frozen=True, slots=True, kw_only=True)
class Shot:
    """How the photo is taken.

    Attributes
    ----------
    size_px : (width, height) of the photo
    focal_35mm : what EXIF says; the true focal length is `focal_factor` times that
    write_focal : whether EXIF says it
    k1 : true radial distortion at tangent 1
    tilt_deg, towards_deg, roll_deg : how the camera leans, which way, and is turned
    card_share : width of the card over that of the photo
    card_at_mm, card_turn_deg : the card's origin on the board and its turn; None without a card
    card_lift_mm : how far the card's face lies above the board
    aim_mm : the point of the board in the middle of the photo
    falloff : share of light lost from the brightest to the dimmest side of the photo
    blur_px, noise, quality, exposure : of sensor and file
    site : the clutter around the board; None for a plain wall
    """

    size_px: tuple[int, int] = (4000, 3000)
    focal_35mm: float = 26.0
    focal_factor: float = 1.0
    write_focal: bool = True
    k1: float = 0.0
    tilt_deg: float = 15.0
    towards_deg: float = 60.0
    roll_deg: float = 2.0
    card_share: float = 0.3
    card_at_mm: tuple[float, float] | None = (20.0, 20.0)
    card_turn_deg: float = 0.0
    card_lift_mm: float = 0.0
    aim_mm: tuple[float, float] = (120.0, 120.0)
    falloff: float = 0.1
    falloff_deg: float = -30.0
    blur_px: float = 0.7
    noise: float = 2.0
    quality: int = 90
    exposure: float = 0.8
    print: PrintedCard = field(default_factory=PrintedCard)
    site: Site | None = None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Snapshot:
    """The photo's file and where its board truly is.

    `board_px` are the board's corners in the photo, clockwise from the top
    left, (4, 2); `card_px` the card's outline, None without a card; `over` where hands, tape
    and shadows lie, (H, W) bool, None without a site.
    """

    jpeg: bytes
    board_px: np.ndarray
    card_px: np.ndarray | None
    px_per_mm: float
    over: np.ndarray | None = None


class _Tracer:
    """The camera's geometry, from the board's plane to the photo and back."""

    def __init__(self, shot: Shot, base_mm: float) -> None:
        width, height = shot.size_px
        diagonal = float(np.hypot(width, height))
        self.focal = shot.focal_35mm / _FRAME_DIAGONAL_MM * diagonal * shot.focal_factor
        self.k1 = shot.k1
        self.middle = np.array([width, height]) / 2
        tilt, towards, roll = np.radians([shot.tilt_deg, shot.towards_deg, shot.roll_deg])
        # The camera looks down on the board (z away from it), then leans about an axis in it.
        axis = np.array([np.sin(towards), np.cos(towards), 0.0])
        k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
        lean = np.eye(3) + np.sin(tilt) * k + (1 - np.cos(tilt)) * k @ k
        spin = np.array(
            [[np.cos(roll), -np.sin(roll), 0], [np.sin(roll), np.cos(roll), 0], [0, 0, 1.0]]
        )
        self.turn = spin @ lean
        # So far away that `base_mm` at the aim takes its share of the photo, seen square on.
        self.distance = base_mm / (shot.card_share * width) * self.focal
        self.aim = np.array([*shot.aim_mm, 0.0])

    def to_photo(self, points_mm: np.ndarray) -> np.ndarray:
        """Return where points (N, 3), z up from the board towards the camera, are seen."""
        flipped = (points_mm - self.aim) * np.array([1, 1, -1.0])
        solid = flipped @ self.turn.T + np.array([0, 0, self.distance])
        ray = solid[:, :2] / solid[:, 2:]
        r2 = np.sum(ray**2, axis=1, keepdims=True)
        return ray * (1 + self.k1 * r2 - 0.2 * self.k1 * r2**2) * self.focal + self.middle

    def to_plane(self, px: np.ndarray, z_mm: float) -> np.ndarray:
        """Return where the rays of photo points (..., 2) meet the plane `z_mm` above the board."""
        seen = (px - self.middle) / self.focal
        ray = seen
        for _ in range(8):
            r2 = np.sum(ray**2, axis=-1, keepdims=True)
            ray = seen / (1 + self.k1 * r2 - 0.2 * self.k1 * r2**2)
        direction = np.concatenate([ray, np.ones((*ray.shape[:-1], 1))], axis=-1) @ self.turn
        eye = -np.array([0, 0, self.distance]) @ self.turn
        reach = (-z_mm - eye[2]) / direction[..., 2]
        return (eye[:2] + reach[..., None] * direction[..., :2]) + self.aim[:2]


def take_snapshot(
    surface: Surface,
    shot: Shot,
    seed: int,
    camera: SpectralCamera | None = None,
) -> Snapshot:
    """Photograph a surface as a board, with the card on it, in a plain room."""
    rng = np.random.default_rng(seed)
    rows, columns = surface.rgb_linear.shape[:2]
    board_mm = np.array([columns, rows]) * surface.mm_per_px
    card = card_of(shot.print.size)
    tracer = _Tracer(shot, card.width_mm * shot.print.scale)
    px_per_mm = tracer.focal / tracer.distance
    ring = np.array([[0, 0, 0], [board_mm[0], 0, 0], [*board_mm, 0], [0, board_mm[1], 0.0]])
    board_px = tracer.to_photo(ring)

    light = _place(shot, board_px, camera, rng)
    texture, per_mm = _shrunk(surface, 2.2 * px_per_mm)
    if camera is not None:
        texture = camera.light(texture, "paint")
    _lay(light, tracer, texture, per_mm, np.zeros(2), np.eye(2), board_px, 0.0)
    card_px = None
    if shot.card_at_mm is not None:
        card_px = _lay_card(light, tracer, shot, px_per_mm, camera)
    over = None if shot.site is None else lay_over(light, board_px, shot.site, rng)
    angle = np.radians(shot.falloff_deg)
    width, height = shot.size_px
    x = (np.arange(width, dtype=np.float32) + 0.5) / width - 0.5
    y = (np.arange(height, dtype=np.float32) + 0.5) / height - 0.5
    along = x[None, :] * np.float32(np.cos(angle)) - y[:, None] * np.float32(np.sin(angle))
    along = (along - along.min()) / np.ptp(along)
    fall = 1 - shot.falloff * (0.75 * along + 0.25 * along**2)
    light *= (shot.exposure * fall)[..., None]
    if shot.blur_px > 0:
        light = cv2.GaussianBlur(light, (0, 0), shot.blur_px)
    deviation = shot.noise * 0.0033 * np.sqrt(np.maximum(light, 0.003) / 0.214)
    light += deviation * rng.standard_normal(light.shape, dtype=np.float32)
    # By table: a curve of a million pixels takes as long as all the rest.
    levels = np.linspace(0, 1.6, 8192)
    encoded = levels if camera is None else camera.develop(levels)
    if camera is None:
        encoded = encode_srgb(levels)
    table = np.rint(np.clip(encoded, 0, 1) * 255).astype(np.uint8)
    code = table[(np.clip(light, 0, 1.5999) * (8191 / 1.6)).astype(np.uint16)]
    return Snapshot(
        jpeg=_jpeg(code, shot),
        board_px=board_px,
        card_px=card_px,
        px_per_mm=px_per_mm,
        over=over,
    )


def _place(
    shot: Shot, board_px: np.ndarray, camera: SpectralCamera | None, rng: np.random.Generator
) -> np.ndarray:
    """Where the board is to be laid, (H, W, 3) light as the camera sees it."""
    if shot.site is None:
        return _room(shot.size_px, camera, rng)
    place = draw_backdrop(shot.size_px, shot.site, rng)
    if camera is not None:
        place = camera.light(place)
    if shot.site.own_shadow:
        cast_shadow(place, board_px, rng)
    return place


def _jpeg(code: np.ndarray, shot: Shot) -> bytes:
    image = Image.fromarray(code)
    exif = Image.Exif()
    if shot.write_focal:
        exif.get_ifd(0x8769)[0xA405] = round(shot.focal_35mm)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=shot.quality, exif=exif)
    return out.getvalue()


def _room(
    size_px: tuple[int, int], camera: SpectralCamera | None, rng: np.random.Generator
) -> np.ndarray:
    """A mottled wall, out of the board's plane and of no interest, (H, W, 3)."""
    small = (max(16, size_px[1] // 8), max(16, size_px[0] // 8))
    mottle = fractal(small, 0.5, rng, largest_mm=40, slope=2.2)
    lab = np.array([rng.uniform(35, 75), rng.uniform(-3, 4), rng.uniform(0, 12)])
    wall = np.clip(lab_to_linear(lab) * np.exp(0.1 * mottle)[..., None], 0, 0.95)
    wall = wall.astype(np.float32)
    if camera is not None:
        wall = camera.light(wall)
    return cv2.resize(wall, size_px, interpolation=cv2.INTER_LINEAR)


def _shrunk(surface: Surface, per_mm: float) -> tuple[np.ndarray, float]:
    """The surface at no more than `per_mm` pixels a millimetre."""
    rows, columns = surface.rgb_linear.shape[:2]
    ratio = per_mm * surface.mm_per_px
    if ratio >= 1:
        return surface.rgb_linear, 1 / surface.mm_per_px
    size = (max(2, round(columns * ratio)), max(2, round(rows * ratio)))
    small = cv2.resize(surface.rgb_linear, size, interpolation=cv2.INTER_AREA)
    return small, size[0] / (columns * surface.mm_per_px)


@lru_cache(maxsize=4)
def _card_art(size: CardSize) -> tuple[np.ndarray, float]:
    """What the card's file asks of the printer, linear light (H, W, 3), and its pixels per mm."""
    dpi = 406
    file = card_file(size, ".png", dpi=dpi)
    code = np.asarray(Image.open(io.BytesIO(file)).convert("RGB"))
    art = decode_srgb(code / 255.0).astype(np.float32)
    art.setflags(write=False)
    return art, dpi / 25.4


def _lay_card(
    light: np.ndarray,
    tracer: _Tracer,
    shot: Shot,
    px_per_mm: float,
    camera: SpectralCamera | None,
) -> np.ndarray:
    card = card_of(shot.print.size)
    asked, fine_per_mm = _card_art(card.size)
    per_mm = float(np.clip(2.2 * px_per_mm, 3, fine_per_mm))
    size = (
        round(asked.shape[1] * per_mm / fine_per_mm),
        round(asked.shape[0] * per_mm / fine_per_mm),
    )
    small = cv2.resize(asked, size, interpolation=cv2.INTER_AREA)
    scale = np.array(size) / np.array(asked.shape[1::-1]) * fine_per_mm
    asked = small.astype(float)
    printed = shot.print.ink(asked).astype(np.float32)
    if camera is not None:
        printed = camera.light(printed, "ink")
    true_per_mm = scale / shot.print.scale
    turn = np.radians(shot.card_turn_deg)
    axes = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    assert shot.card_at_mm is not None
    origin = np.array(shot.card_at_mm)
    outline = np.array(card.outline, float) * shot.print.scale @ axes.T + origin
    ring = np.column_stack([outline, np.full(len(outline), shot.card_lift_mm)])
    outline_px = tracer.to_photo(ring)
    _lay(light, tracer, printed, true_per_mm, origin, axes, outline_px, shot.card_lift_mm)
    return outline_px


def _lay(
    light: np.ndarray,
    tracer: _Tracer,
    texture: np.ndarray,
    per_mm: float | np.ndarray,
    origin: np.ndarray,
    axes: np.ndarray,
    ring_px: np.ndarray,
    z_mm: float,
) -> None:
    """Draw a flat thing into the photo, four samples to a pixel."""
    height, width = light.shape[:2]
    low = np.clip(np.floor(ring_px.min(axis=0)) - 2, 0, (width - 1, height - 1)).astype(int)
    high = np.clip(np.ceil(ring_px.max(axis=0)) + 2, low + 1, (width, height)).astype(int)
    for top in range(low[1], high[1], 512):  # in strips, to bound the memory
        bottom = min(top + 512, high[1])
        size = (high[0] - low[0], bottom - top)
        blocks = (2 * size[0] // _BLOCK + 3, 2 * size[1] // _BLOCK + 3)
        gx = low[0] + (np.arange(blocks[0]) - 0.5) * _BLOCK / 2
        gy = top + (np.arange(blocks[1]) - 0.5) * _BLOCK / 2
        grid = np.stack(np.meshgrid(gx, gy), axis=-1)
        plane = (tracer.to_plane(grid, z_mm) - origin) @ axes * per_mm - 0.5
        fine = cv2.resize(
            plane.astype(np.float32),
            (blocks[0] * _BLOCK, blocks[1] * _BLOCK),
            interpolation=cv2.INTER_LINEAR,  # OpenCV's cubic does not keep straight lines
        )[_BLOCK : _BLOCK + 2 * size[1], _BLOCK : _BLOCK + 2 * size[0]]
        fine = np.ascontiguousarray(fine)
        drawn = cv2.remap(texture, fine, _NO_MAP, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        mask = np.zeros((size[1] * 2, size[0] * 2), np.float32)
        shape = np.rint(((ring_px - (low[0], top)) * 2 - 0.5) * 256).astype(np.int32)
        cv2.fillPoly(mask, [shape], 1.0, shift=8)
        drawn = cv2.resize(drawn * mask[..., None], size, interpolation=cv2.INTER_AREA)
        cover = cv2.resize(mask, size, interpolation=cv2.INTER_AREA)[..., None]
        part = light[top:bottom, low[0] : high[0]]
        part[...] = part * (1 - cover) + drawn
