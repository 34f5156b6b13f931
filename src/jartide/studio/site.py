"""The clutter of a site around a board: wall, floor, bench, tins, hands, tape, cast shadows.

All in the photo's own plane and of light alone: what lies beside a piece, over it and dims it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import lab_to_linear
from jartide.studio.noise import fractal

# Fields are drawn at an eighth of the photo and enlarged: nothing of them is to be read.
_COARSE = 8
_SKIN = (((66, 15, 19), 0.3), ((52, 17, 22), 0.3), ((34, 12, 14), 0.25))
Lab = tuple[float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Site:
    """What surrounds a board, what lies over its edges, and what dims it.

    Attributes
    ----------
    backdrop : wall, floor, bench or shelves behind the board
    hands : how many hands hold it by its edges
    tapes : how many strips of tape hold it, across its edges
    shadow : whether somebody's shadow falls across it
    own_shadow : whether the board throws one itself
    """

    backdrop: str = "wall"
    hands: int = 0
    tapes: int = 0
    shadow: bool = False
    own_shadow: bool = True


BACKDROPS = ("wall", "floor", "bench", "shelves")


def draw_backdrop(size_px: tuple[int, int], site: Site, rng: np.random.Generator) -> np.ndarray:
    """Return the place without the board, (H, W, 3) float32 linear reflectance."""
    makers: dict[str, Callable[[tuple[int, int], np.random.Generator], np.ndarray]] = {
        "wall": _wall,
        "floor": _wall_and_floor,
        "bench": _bench,
        "shelves": _shelves,
    }
    return makers[site.backdrop](size_px, rng)


def cast_shadow(light: np.ndarray, ring_px: np.ndarray, rng: np.random.Generator) -> None:
    """Dim the place where the board, (4, 2) px, keeps light off it; in place."""
    height, width = light.shape[:2]
    away = rng.uniform(0.008, 0.035) * width
    angle = np.radians(rng.uniform(20, 160))
    step = away * np.array([np.cos(angle), np.sin(angle)])
    soft = rng.uniform(0.15, 0.5) * away
    light *= 1 - rng.uniform(0.35, 0.7) * _soft_shape(ring_px + step, (height, width), soft)


def lay_over(
    light: np.ndarray, ring_px: np.ndarray, site: Site, rng: np.random.Generator
) -> np.ndarray:
    """Lay hands, tape and a shadow over the board's edges; return where, (H, W) bool."""
    over = np.zeros(light.shape[:2], np.float32)
    for _ in range(site.tapes):
        over = np.maximum(over, _tape(light, ring_px, rng))
    for _ in range(site.hands):
        over = np.maximum(over, _hand(light, ring_px, rng))
    if site.shadow:
        over = np.maximum(over, _somebody(light, ring_px, rng))
    return over > 0.5


# ---- places


def _field(size_px: tuple[int, int], rng: np.random.Generator, **shape: float) -> np.ndarray:
    small = (max(16, size_px[1] // _COARSE), max(16, size_px[0] // _COARSE))
    field = fractal(small, 0.5, rng, **shape)
    return cv2.resize(field, size_px, interpolation=cv2.INTER_LINEAR)


def _paint(lab: Lab, field: np.ndarray, strength: float) -> np.ndarray:
    tone = lab_to_linear(np.array(lab)).astype(np.float32)
    return np.clip(tone * np.exp(strength * field)[..., None], 0, 0.95).astype(np.float32)


def _any_lab(rng: np.random.Generator, low: float, high: float, chroma: float) -> Lab:
    angle, size = rng.uniform(0, 2 * np.pi), chroma * rng.random()
    return float(rng.uniform(low, high)), float(size * np.cos(angle)), float(size * np.sin(angle))


def _wall(size_px: tuple[int, int], rng: np.random.Generator) -> np.ndarray:
    field = _field(size_px, rng, largest_mm=60, slope=2.2)
    return _paint(_any_lab(rng, 30, 88, 14), field, rng.uniform(0.02, 0.1))


def _wood(size_px: tuple[int, int], rng: np.random.Generator) -> np.ndarray:
    way = float(rng.choice([0.0, 90.0]))
    field = _field(size_px, rng, largest_mm=30, slope=1.8, direction_deg=way, stretch=14)
    lab = (float(rng.uniform(32, 72)), float(rng.uniform(3, 10)), float(rng.uniform(10, 24)))
    return _paint(lab, field, rng.uniform(0.04, 0.14))


def _wall_and_floor(size_px: tuple[int, int], rng: np.random.Generator) -> np.ndarray:
    place, floor = _wall(size_px, rng), _wood(size_px, rng)
    width, height = size_px
    left, right = height * (rng.uniform(0.55, 0.9) + rng.uniform(-0.03, 0.03, 2))
    foot = np.array([[0, left], [width, right], [width, height], [0, height]])
    _fill(place, foot, floor)
    board = foot.copy()
    board[2:, 1] = board[1::-1, 1]
    board[:2, 1] -= rng.uniform(0.03, 0.07) * height
    _fill(place, board, _paint((86, 0, 3), _field(size_px, rng, largest_mm=40), 0.02))
    return place


def _bench(size_px: tuple[int, int], rng: np.random.Generator) -> np.ndarray:
    place = _wall(size_px, rng)
    width, height = size_px
    inset, top = rng.uniform(-0.1, 0.07, 2) * width, rng.uniform(-0.1, 0.08) * height
    table = np.array([[inset[0], top], [width - inset[1], top], [width, height], [0, height]])
    _fill(place, table, _wood(size_px, rng))
    return place


def _shelves(size_px: tuple[int, int], rng: np.random.Generator) -> np.ndarray:
    """A wall with sheets, tins and cloths standing about."""
    place = _wall(size_px, rng)
    width, height = size_px
    for _ in range(int(rng.integers(5, 11))):
        middle = rng.random(2) * (width, height)
        half = rng.uniform(0.03, 0.14, 2) * width
        turn = np.radians(rng.normal(0, 12))
        axes = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
        ring = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half @ axes + middle
        lab = _any_lab(rng, 15, 92, 45)
        _fill(place, ring, _paint(lab, _field(size_px, rng, largest_mm=20), 0.04))
    return place


# ---- what lies over the board


def _hand(light: np.ndarray, ring_px: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """A hand that grips an edge from outside: a palm beside it, fingers reaching over."""
    height, width = light.shape[:2]
    side = int(rng.integers(4))
    start, end = ring_px[side], ring_px[(side + 1) % 4]
    along = (end - start) / np.linalg.norm(end - start)
    inward = _inward(start, along, ring_px)
    at = start + rng.uniform(0.2, 0.8) * (end - start)
    size = rng.uniform(0.035, 0.055) * width
    mask = np.zeros((height, width), np.float32)
    palm = at - 1.9 * size * inward
    wrist = at - 12 * size * inward
    for a, b, thick in ((palm, palm + 0.01, 3.4), (palm, wrist, 2.6)):
        _limb(mask, a, b, thick * size)
    for n in range(4):
        foot = at + (n - 1.5) * 0.78 * size * along - 1.2 * size * inward
        tip = at + (n - 1.5) * 0.85 * size * along + rng.uniform(0.5, 1.4) * size * inward
        _limb(mask, foot, tip, 0.68 * size)
    soft = cv2.GaussianBlur(mask, (0, 0), 1.0)
    light *= 1 - 0.35 * cv2.GaussianBlur(np.roll(soft, (6, 4), (0, 1)), (0, 0), 6.0)[..., None]
    labs = [lab for lab, _ in _SKIN]
    field = _field((width, height), rng, largest_mm=8)
    skin = _paint(labs[int(rng.integers(len(labs)))], field, 0.06)
    round_off = cv2.GaussianBlur(soft, (0, 0), 0.25 * size)
    skin *= (0.6 + 0.4 * np.clip(round_off, 0, 1))[..., None]
    light += soft[..., None] * (skin - light)
    return soft


def _limb(mask: np.ndarray, start: np.ndarray, end: np.ndarray, thick: float) -> None:
    a, b = (tuple(int(v) for v in np.rint(p)) for p in (start, end))
    cv2.line(mask, a, b, 1.0, max(2, round(thick)), cv2.LINE_AA)


def _inward(start: np.ndarray, along: np.ndarray, ring_px: np.ndarray) -> np.ndarray:
    across = np.array([-along[1], along[0]])
    return across if np.dot(ring_px.mean(axis=0) - start, across) > 0 else -across


def _tape(light: np.ndarray, ring_px: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    height, width = light.shape[:2]
    side = int(rng.integers(4))
    start, end = ring_px[side], ring_px[(side + 1) % 4]
    along = (end - start) / np.linalg.norm(end - start)
    inward = _inward(start, along, ring_px)
    at = start + rng.uniform(0.1, 0.9) * (end - start)
    half, reach = rng.uniform(0.012, 0.02) * width, rng.uniform(0.03, 0.05) * width
    ring = np.array(
        [
            at - half * along - 1.6 * reach * inward,
            at + half * along - 1.6 * reach * inward,
            at + half * along + reach * inward,
            at - half * along + reach * inward,
        ]
    )
    mask = _soft_shape(ring, (height, width), 0.8)
    lab = [(78, 2, 38), (55, 2, -32), (86, 0, 6)][int(rng.integers(3))]
    strip = _paint(lab, _field((width, height), rng, largest_mm=6), 0.03)
    light += mask * (strip - light)
    return mask[..., 0]


def _somebody(light: np.ndarray, ring_px: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Somebody's shadow, from the photo's edge across a part of the board."""
    height, width = light.shape[:2]
    middle = ring_px.mean(axis=0)
    angle = rng.uniform(0, 2 * np.pi)
    way = np.array([np.cos(angle), np.sin(angle)])
    across = np.array([-way[1], way[0]])
    reach = float(np.abs((ring_px - middle) @ way).max())
    tip, half = middle + rng.uniform(0.1, 0.4) * reach * way, rng.uniform(0.4, 0.9) * reach
    far = tip + 2 * max(width, height) * way
    ring = np.array(
        [tip - 0.8 * half * across, tip + 0.8 * half * across, far + half * across,
         far - half * across]
    )  # fmt: skip
    mask = _soft_shape(ring, (height, width), rng.uniform(0.004, 0.012) * width)
    # Shade is lit by the sky and the walls: a little bluer.
    left = np.array([0.46, 0.48, 0.52], np.float32) * rng.uniform(0.85, 1.2)
    light *= 1 - mask * (1 - left)
    return mask[..., 0]


def _soft_shape(ring: np.ndarray, shape: tuple[int, int], soft_px: float) -> np.ndarray:
    """A polygon, (N, 2) px, with a soft edge: (H, W, 1) float32, 0..1."""
    mask = np.zeros(shape, np.float32)
    cv2.fillPoly(mask, [np.rint(ring * 16).astype(np.int32)], 1.0, shift=4)
    return cv2.GaussianBlur(mask, (0, 0), max(0.3, soft_px))[..., None]


def _fill(place: np.ndarray, ring: np.ndarray, with_what: np.ndarray) -> None:
    mask = _soft_shape(ring, place.shape[:2], 0.8)
    place += mask * (with_what - place)
