"""A board leaning on a bench before a wall, beside a grey chip, as a phone sees it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import lab_to_linear
from jartide.photo.settings import Rect
from jartide.photo.square import UNIT_SQUARE, homography, transform
from jartide.studio.noise import fractal, smoothstep
from jartide.studio.site import Site, lay_over
from jartide.studio.truth import Surface

CHIP_L = 62.0


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """How the phone is held. Tilts in degrees, size in pixels.

    `fill` is the share of the picture's height the board takes.
    """

    size_px: tuple[int, int] = (1600, 1200)
    tilt_deg: float = 12.0
    turn_deg: float = -9.0
    roll_deg: float = 1.5
    fill: float = 0.86
    centre: tuple[float, float] = (0.46, 0.49)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Scene:
    """The scene in the picture plane: linear light, the board's corners, the grey chip.

    `over`, (H, W) bool, is where hands and tape lie; None without a site.
    """

    rgb_linear: np.ndarray
    corners: tuple[tuple[float, float], ...]
    chip: Rect
    over: np.ndarray | None = None


def set_scene(surface: Surface, view: View, seed: int, site: Site | None = None) -> Scene:
    """Stand a surface in the room and look at it; a `site` has tools about and hands on it."""
    rng = np.random.default_rng(seed)
    rgb = _room(view, rng)
    if site is not None:
        _stand_about(rgb, rng)
    rows, columns = surface.rgb_linear.shape[:2]
    quad = _project(columns / rows, view)
    board = homography(UNIT_SQUARE * (columns, rows), quad)

    # Supersampled, so that edges and fine veins fall on the sensor as light, not as samples.
    shrink = np.sqrt(rows * columns / abs(_area(quad)))
    art = surface.rgb_linear
    if shrink > 1.2:
        small = (round(columns / shrink), round(rows / shrink))
        art = cv2.resize(art, small, interpolation=cv2.INTER_AREA)
        board = board @ np.diag([columns / small[0], rows / small[1], 1.0])
    half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
    place = np.linalg.inv(half) @ board @ half
    laid = cv2.warpPerspective(
        art, place, view.size_px, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    cover = _polygon(quad, view.size_px)
    rgb *= 1 - 0.55 * _shadow(quad, view.size_px)[..., None]
    # The board has thickness: a pale sawn edge under it, and one on the side away from the light.
    edge = _polygon(quad + (5, 7), view.size_px)
    rgb += (lab_to_linear([46, 4, 12]).astype(np.float32) - rgb) * edge[..., None]
    rgb += (np.maximum(laid, 0) - rgb) * cover[..., None]
    over = None if site is None else lay_over(rgb, quad, site, rng)
    chip = _chip(rgb, quad, view)
    return Scene(
        rgb_linear=rgb, corners=tuple((float(x), float(y)) for x, y in quad), chip=chip, over=over
    )


def _project(aspect: float, view: View) -> np.ndarray:
    """The board's corners in the picture, clockwise from its top left, (4, 2) px."""
    plane = np.array([[-aspect, -1], [aspect, -1], [aspect, 1], [-aspect, 1]]) / 2
    points = np.column_stack([plane, np.zeros(4)])
    tilt, turn, roll = np.radians([view.tilt_deg, view.turn_deg, view.roll_deg])
    about_x = np.array(
        [[1, 0, 0], [0, np.cos(tilt), -np.sin(tilt)], [0, np.sin(tilt), np.cos(tilt)]]
    )
    about_y = np.array(
        [[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]]
    )
    about_z = np.array(
        [[np.cos(roll), -np.sin(roll), 0], [np.sin(roll), np.cos(roll), 0], [0, 0, 1]]
    )
    points = points @ (about_z @ about_y @ about_x).T
    distance = 2.6  # board heights: about a metre from a 400 mm board
    seen = points[:, :2] / (points[:, 2:] + distance) * distance
    scale = view.size_px[1] * view.fill / np.ptp(seen[:, 1])
    return seen * scale + np.array(view.centre) * view.size_px


def _area(quad: np.ndarray) -> float:
    x, y = quad[:, 0], quad[:, 1]
    return 0.5 * float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))


def _polygon(quad: np.ndarray, size_px: tuple[int, int]) -> np.ndarray:
    """Smooth-edged mask of a quadrilateral, (H, W) float32."""
    mask = np.zeros((size_px[1], size_px[0]), np.uint8)
    fixed = np.rint(quad * 256 - 128).astype(np.int32)
    cv2.fillConvexPoly(mask, fixed, 255, lineType=cv2.LINE_AA, shift=8)
    return mask.astype(np.float32) / 255


def _shadow(quad: np.ndarray, size_px: tuple[int, int]) -> np.ndarray:
    near = cv2.GaussianBlur(_polygon(quad + (14, 16), size_px), (0, 0), 9)
    far = cv2.GaussianBlur(_polygon(quad + (38, 30), size_px), (0, 0), 34)
    return 0.6 * near + 0.4 * far


def _room(view: View, rng: np.random.Generator) -> np.ndarray:
    """A plastered wall over a wooden bench, softly lit from the upper left."""
    width, height = view.size_px
    shape = (height, width)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    plaster = fractal(shape, 0.5, rng, largest_mm=90, slope=2.2)
    grain = fractal(shape, 0.5, rng, largest_mm=4, smallest_mm=0.7, slope=1.2)
    wall = lab_to_linear([68, 1.2, 6.5]).astype(np.float32) * np.exp(
        0.035 * plaster + 0.016 * grain
    )[..., None].astype(np.float32)
    wood = fractal(
        shape, 0.5, rng, largest_mm=26, smallest_mm=0.7, slope=1.8, direction_deg=0, stretch=16
    )
    bench = lab_to_linear([40, 7, 15]).astype(np.float32) * np.exp(0.10 * wood)[..., None].astype(
        np.float32
    )
    # The board stands on the bench, a hand's breadth in front of the wall.
    horizon = height * 0.87
    below = smoothstep(y, horizon - 1.5, horizon + 1.5)[..., None]
    room = wall + (bench - wall) * below
    shade = 1 - 0.22 * (x / width) - 0.16 * (y / height)
    crease = 1 - 0.35 * np.exp(-(((y - horizon) / 14) ** 2))
    return (room * (shade * crease)[..., None]).astype(np.float32)


# Tins, a block and a folded cloth on the bench: left and right edge, top and foot (shares of the
# picture) and colour.
_TOOLS = (
    ((0.015, 0.60, 0.085, 0.915), (58.0, -2.0, -6.0)),
    ((0.095, 0.70, 0.150, 0.905), (78.0, 1.0, 6.0)),
    ((0.875, 0.67, 0.955, 0.910), (46.0, 22.0, 16.0)),
    ((0.820, 0.83, 0.905, 0.945), (72.0, 3.0, 14.0)),
)


def _stand_about(rgb: np.ndarray, rng: np.random.Generator) -> None:
    """Stand a painter's things on the bench before the wall, in place."""
    height, width = rgb.shape[:2]
    for (left, top, right, foot), lab in _TOOLS:
        x0, x1 = round(left * width), round(right * width)
        y0, y1 = round(top * height), round(foot * height)
        shade = np.zeros((height, width), np.float32)
        cv2.rectangle(shade, (x0 + 10, y1 - 18), (x1 + 34, y1 + 8), 1.0, -1)
        rgb *= 1 - 0.4 * cv2.GaussianBlur(shade, (0, 0), 9)[..., None]
        # Round in plan: lit from the left, dark towards the right.
        across = np.linspace(-1, 1, x1 - x0, dtype=np.float32)
        light = (0.35 + 0.65 * np.sqrt(np.maximum(1 - across**2, 0))) * (1 - 0.28 * across)
        tone = lab_to_linear(np.array(lab) + rng.normal(0, 2, 3)).astype(np.float32)
        rgb[y0:y1, x0:x1] = tone * light[None, :, None]
        rim = lab_to_linear([70, 0, 1]).astype(np.float32) * light[None, :, None]
        rgb[y0 : y0 + 9, x0:x1] = rim
        rgb[y1 - 7 : y1, x0:x1] = 0.8 * rim


def _chip(rgb: np.ndarray, quad: np.ndarray, view: View) -> Rect:
    """Tape a grey chip to the wall right of the board; return where to pick it."""
    side = 0.085 * view.size_px[1]
    left = min(quad[:, 0].max() + 0.045 * view.size_px[0], view.size_px[0] - side - 12)
    top = quad[1, 1] + 0.30 * view.size_px[1]
    x, y, n = round(left), round(top), round(side)
    rgb[y + 4 : y + n + 6, x + 3 : x + n + 5] *= 0.72
    rgb[y : y + n, x : x + n] = lab_to_linear([CHIP_L, 0, 0])
    rgb[y - 6 : y + 8, x + n // 4 : x + 3 * n // 4] = lab_to_linear([80, 0, 22])
    inner = round(0.22 * n)
    return Rect(x=x + inner, y=y + inner + 4, w=n - 2 * inner, h=n - 2 * inner - 4)


def squared_truth(scene: Scene, surface: Surface, points_mm: np.ndarray) -> np.ndarray:
    """Carry points on the surface, (N, 2) mm, into the photo."""
    rows, columns = surface.rgb_linear.shape[:2]
    size = np.array([columns, rows]) * surface.mm_per_px
    return transform(homography(UNIT_SQUARE * size, np.array(scene.corners)), points_mm)
