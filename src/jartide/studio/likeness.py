"""Surfaces of the demo, drawn to be taken for the real thing: no tone is flat, no edge alike.

Tones pass into each other in fields of many scales, warped by others; veins are where a field
changes sign; bloom gathers, runs and powders off. Nothing here is measured against a truth: the
surfaces of the other modules are for that.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import lab_to_linear
from jartide.studio.noise import fractal, pixel_grid, smoothstep
from jartide.studio.relief import shade

Lab = tuple[float, float, float]
# OpenCV takes x and y from two arrays; values beyond a field's edge go on as in a mirror.
_MIRROR = cv2.BORDER_REFLECT_101


@dataclass(frozen=True, slots=True, kw_only=True)
class _Sheet:
    """A piece to draw on: its pixels, their size and its dice."""

    shape: tuple[int, int]
    mm: float
    rng: np.random.Generator

    def field(self, largest_mm: float, smallest_mm: float = 0.6, **shape: float) -> np.ndarray:
        """A field (H, W) of mean 0 and deviation 1."""
        return fractal(
            self.shape, self.mm, self.rng, largest_mm=largest_mm, smallest_mm=smallest_mm, **shape
        )

    def warped(self, field: np.ndarray, right_mm: np.ndarray, down_mm: np.ndarray) -> np.ndarray:
        """A field drawn out of place by so many millimetres at each pixel."""
        y, x = np.mgrid[0 : self.shape[0], 0 : self.shape[1]].astype(np.float32)
        x, y = x + right_mm.astype(np.float32) / self.mm, y + down_mm.astype(np.float32) / self.mm
        return cv2.remap(field, x, y, cv2.INTER_LINEAR, borderMode=_MIRROR)


def _sheet(size_mm: tuple[float, float], mm_per_px: float, seed: int, kind: int) -> _Sheet:
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    return _Sheet(shape=shape, mm=mm_per_px, rng=np.random.default_rng([seed, kind, 407]))


def _paint(lab: Lab) -> np.ndarray:
    return lab_to_linear(np.array(lab, float)).astype(np.float32)


def _lay(light: np.ndarray, lab: Lab, cover: np.ndarray) -> None:
    """Lay a coat as thick as `cover`, (H, W) 0..1, over linear light, in place."""
    light += (_paint(lab) - light) * np.clip(cover, 0, 1)[..., None].astype(np.float32)


def _share(field: np.ndarray, share: float, soft: float) -> np.ndarray:
    """Cover of the highest `share` of a field, with a passage so many deviations wide."""
    level = float(np.quantile(field[::3, ::3], 1 - share))
    return smoothstep(field, level - soft / 2, level + soft / 2)


# ---- deep green marble


@dataclass(frozen=True, slots=True, kw_only=True)
class MarbleLook:
    """How the green marble looks: colours, how much cloud, how bold the veins, which way they run.

    `bold` scales the veins' width, `strong` how much of their light shows, 0..1.
    """

    ground: Lab = (12.5, -6.0, 1.5)
    cloud: Lab = (27.0, -13.0, 4.0)
    drift: Lab = (41.0, -14.0, 6.0)
    vein: Lab = (79.0, -6.0, 6.0)
    cloud_share: float = 0.46
    drift_share: float = 0.15
    bold: float = 1.0
    strong: float = 0.95
    veins: int = 3
    direction_deg: float = 58.0


def draw_green_marble(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: MarbleLook | None = None
) -> np.ndarray:
    """Return deep green marble, (H, W, 3) float32 linear light."""
    look = look or MarbleLook()
    sheet = _sheet(size_mm, mm_per_px, seed, 1)
    way = {"direction_deg": look.direction_deg, "stretch": 2.2}
    bend = [sheet.field(70, 6, slope=2.6) * 11 for _ in range(2)]
    light = np.ones((*sheet.shape, 3), np.float32) * _paint(look.ground)
    body = sheet.warped(sheet.field(60, 0.8, slope=1.9, **way), *bend)
    body = body + 0.55 * sheet.field(9, 0.5, slope=1.6)
    _lay(light, look.cloud, 0.92 * _share(body, look.cloud_share, 1.3))
    lights = sheet.warped(sheet.field(34, 0.6, slope=1.8, **way), *bend) + 0.45 * body
    _lay(light, look.drift, 0.85 * _share(lights, look.drift_share, 1.0))
    # Bruised patches, broken up fine: what makes green marble look crushed.
    crushed = sheet.field(4.5, 0.4, slope=1.2) + 0.7 * lights
    _lay(light, (50.0, -13.0, 7.0), 0.5 * _share(crushed, 0.06, 0.7))
    # Black seams between the lumps.
    seams = np.abs(sheet.warped(sheet.field(38, 1.5, slope=2.3, **way), *bend))
    _lay(light, (5.0, -2.0, 0.5), 0.75 * (1 - smoothstep(seams, 0.015, 0.10)))
    for number in range(look.veins):
        _veins(sheet, light, look, number, bend)
    light *= np.exp(0.05 * sheet.field(1.0, 0.3, slope=0.8))[..., None]
    return np.clip(light, 0, 0.95)


def _veins(
    sheet: _Sheet, light: np.ndarray, look: MarbleLook, number: int, bend: list[np.ndarray]
) -> None:
    """One family of veins: where a warped field changes sign, as wide as another field says."""
    angle = look.direction_deg + (0, 24, -32)[number % 3] + sheet.rng.normal(0, 4)
    scale = (150.0, 75.0, 34.0)[number % 3]
    field = sheet.field(scale, 2.2, slope=2.9, direction_deg=angle, stretch=(4.5, 3.2, 2.4)[number])
    field = sheet.warped(field, 0.7 * bend[1], 0.7 * bend[0])
    field = field + 0.02 * sheet.field(5, 0.6, slope=1.6)
    down, right = np.gradient(cv2.GaussianBlur(field, (0, 0), 1.5), sheet.mm)
    distance = np.abs(field) / np.maximum(np.hypot(down, right), 2e-3)  # mm
    # Veins swell, thin out and stop.
    swell = sheet.field(45, 3, slope=2.4)
    width = look.bold * (2.1, 0.9, 0.35)[number] * np.exp(0.6 * swell - 0.2)
    there = smoothstep(
        sheet.field(95, 8, slope=2.6), *((-1.5, -0.3), (-0.9, 0.3), (-0.4, 0.7))[number]
    )
    core = np.exp(-((distance / np.maximum(0.62 * width, 0.12)) ** 2)) * there
    grain = 0.8 + 0.2 * smoothstep(sheet.field(3, 0.4, slope=1.2), -1.5, 1.0)
    halo = np.exp(-distance / (1.5 * width + 0.5)) * there
    _lay(light, look.drift, 0.34 * look.strong * halo)
    strength = look.strong * (0.97, 0.72, 0.55)[number]
    _lay(light, look.vein, strength * core * grain)


# ---- verdigris on bronze


@dataclass(frozen=True, slots=True, kw_only=True)
class PatinaLook:
    """How verdigris has grown: share of the green, of its pale crust, how far it has run."""

    metal: Lab = (29.0, 7.0, 15.0)
    green: Lab = (54.0, -19.0, -1.0)
    crust: Lab = (74.0, -17.0, 1.0)
    green_share: float = 0.42
    crust_share: float = 0.2
    runs: float = 1.0


def draw_patina(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: PatinaLook | None = None
) -> np.ndarray:
    """Return bronze under verdigris, (H, W, 3) float32 linear light."""
    look = look or PatinaLook()
    sheet = _sheet(size_mm, mm_per_px, seed, 2)
    light = np.ones((*sheet.shape, 3), np.float32) * _paint(look.metal)
    cast = sheet.field(55, 1.5, slope=2.0)
    _lay(light, (34.0, 9.0, 20.0), 0.6 * _share(cast, 0.42, 2.0))
    _lay(light, (21.0, 6.0, 10.0), 0.5 * _share(-cast + 0.6 * sheet.field(14, 0.7), 0.2, 1.6))
    rub = sheet.field(26, 0.35, slope=1.2, direction_deg=86, stretch=26)
    light *= np.exp(0.10 * rub)[..., None]
    # Where water stood: blots of every size, frayed by finer and finer ones.
    bend = [sheet.field(30, 3, slope=2.4) * 7 for _ in range(2)]
    blot = sheet.warped(sheet.field(62, 1.2, slope=2.1), *bend) + 0.5 * sheet.field(11, 0.5)
    ran = _run_down(sheet, np.maximum(blot - 0.4, 0), 55 * look.runs)
    grown = blot + 0.5 * look.runs * ran / max(float(ran.std()), 1e-6)
    fine = sheet.field(2.2, 0.35, slope=1.0)
    stain = _share(grown + 0.25 * fine, min(look.green_share + 0.16, 0.95), 1.5)
    _lay(light, (35.0, -5.0, 6.0), 0.45 * stain)
    green = _share(grown + 0.45 * fine, look.green_share, 1.15)
    _lay(light, look.green, 0.93 * green)
    deep = _share(sheet.field(20, 0.8, slope=1.9), 0.34, 1.4) * green
    _lay(light, (42.0, -21.0, -4.0), 0.6 * deep)
    crust = _share(grown + 0.55 * sheet.field(16, 0.5, slope=1.7), look.crust_share, 0.8) * green
    _lay(light, look.crust, 0.9 * crust * (0.72 + 0.28 * smoothstep(fine, -1, 1)))
    powder = _share(sheet.field(1.6, 0.35, slope=0.6) + 0.5 * grown, 0.035, 0.5)
    _lay(light, (83.0, -11.0, 3.0), 0.7 * powder * green)
    pits = _share(sheet.field(1.8, 0.4, slope=0.9), 0.02, 0.4) * (1 - crust)
    _lay(light, (13.0, 3.0, 5.0), 0.75 * pits)
    bumps = 0.10 * sheet.field(3.5, 0.5, slope=1.7) + 0.16 * crust + 0.07 * green
    lit = shade(bumps, mm_per_px, 0.9)
    light *= (lit / lit.mean())[..., None]
    return np.clip(light, 0, 0.95)


def _run_down(sheet: _Sheet, source: np.ndarray, reach_mm: float) -> np.ndarray:
    """What a source, (H, W), lets run down: thinner the farther, in streaks of their own widths."""
    streaks = sheet.field(11, 1.0, slope=2.0, direction_deg=90, stretch=14)
    seen = source * np.exp(1.2 * streaks) * (1 + 0.4 * sheet.field(3, 0.5, slope=1.4))
    out = np.zeros_like(seen)
    keep = float(np.exp(-sheet.mm / max(reach_mm, 1e-3)))
    row = np.zeros(seen.shape[1], np.float32)
    for y in range(seen.shape[0]):
        row = np.maximum(row * keep, seen[y])
        out[y] = row
    # Nothing runs dead straight.
    sway = 1.6 * sheet.field(40, 3, slope=2.6)
    soft = cv2.GaussianBlur(out, (0, 0), 0.5 / sheet.mm)
    return sheet.warped(soft, sway, np.zeros_like(sway))


# ---- limed oak


@dataclass(frozen=True, slots=True, kw_only=True)
class LimedOakLook:
    """How limed oak looks: its woods, its lime, and how much lime is left in pores and on top."""

    early: Lab = (63.0, 5.0, 19.0)
    late: Lab = (50.0, 8.0, 22.0)
    lime: Lab = (89.0, 0.5, 7.0)
    pores: float = 0.17
    film: float = 0.22
    ring_mm: float = 6.5


def draw_limed_oak(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: LimedOakLook | None = None
) -> np.ndarray:
    """Return an oak panel with lime in its pores, (H, W, 3) float32 linear light."""
    look = look or LimedOakLook()
    sheet = _sheet(size_mm, mm_per_px, seed, 3)
    x, y = pixel_grid(sheet.shape, mm_per_px)
    middle = size_mm[0] * sheet.rng.uniform(0.38, 0.6)
    crown = size_mm[1] * sheet.rng.uniform(0.15, 0.5)
    sway = 9 * sheet.field(190, 20, slope=2.8, direction_deg=90, stretch=4)
    ripple = 0.9 * sheet.field(24, 2, slope=2.2, direction_deg=90, stretch=9)
    away = x - middle + sway + ripple
    # A board sawn beside the heart: rings as hyperbolas, close at the sides, arched in the middle.
    depth = 26.0 + 0.16 * np.maximum(y - crown + 5 * sheet.field(60, 6), -60)
    radius = np.hypot(away, depth)
    spread = 1 + 0.22 * np.sin(radius / 17.0) + 0.10 * np.sin(radius / 7.3 + 1.0)
    phase = radius / (look.ring_mm * spread.mean()) + 0.30 * np.sin(radius / 17.0)
    ring = (phase - np.floor(phase)).astype(np.float32)
    early = np.exp(-ring / 0.24) + 0.35 * np.exp(-(1 - ring) / 0.05)
    light = np.ones((*sheet.shape, 3), np.float32) * _paint(look.late)
    tone = sheet.field(90, 8, slope=2.3, direction_deg=90, stretch=5)
    _lay(light, look.early, np.clip(0.55 + 0.16 * tone - 0.5 * (early - 0.3), 0, 1))
    fibre = sheet.field(30, 0.3, slope=1.0, direction_deg=90, stretch=42)
    light *= np.exp(0.055 * fibre)[..., None]
    _lay(light, (38.0, 8.0, 20.0), 0.62 * np.clip(early - 0.2, 0, 1))
    # Rays: short pale flecks across the rings.
    rays = sheet.field(9, 0.5, slope=1.2, direction_deg=90, stretch=11)
    _lay(light, (70.0, 4.0, 17.0), 0.5 * _share(rays + 0.4 * tone, 0.05, 0.6))
    pores = sheet.field(16, 0.35, slope=0.7, direction_deg=90, stretch=34)
    where = pores + 1.5 * np.clip(early, 0, 1)
    open_pores = _share(where, look.pores + 0.05, 0.7)
    _lay(light, (33.0, 7.0, 16.0), 0.45 * open_pores)
    kept = smoothstep(sheet.field(26, 1.0, slope=1.8), -1.4, 0.6)
    limed = _share(where + 0.25 * sheet.field(3, 0.3), look.pores, 0.55)
    _lay(light, look.lime, 0.86 * limed * (0.45 + 0.55 * kept))
    # A thin film that was wiped off along the grain.
    film = sheet.field(60, 1.0, slope=1.7, direction_deg=90, stretch=12)
    _lay(light, look.lime, look.film * smoothstep(film, -1.8, 1.8))
    light *= np.exp(0.02 * sheet.field(1.0, 0.3, slope=0.7))[..., None]
    lit = shade(-0.035 * open_pores.astype(np.float32), mm_per_px, 1.0)
    light *= (lit / lit.mean())[..., None]
    return np.clip(light, 0, 0.95)


# ---- weathered concrete


@dataclass(frozen=True, slots=True, kw_only=True)
class ConcreteLook:
    """How weathered concrete looks: body, bleached and damp tones, and what weather has left."""

    body: Lab = (60.0, 0.6, 6.0)
    bleached: Lab = (72.0, 0.4, 7.0)
    damp: Lab = (45.0, 1.0, 6.5)
    bleached_share: float = 0.34
    damp_share: float = 0.2
    streaks: float = 1.0
    pinholes: float = 1.0


def draw_weathered_concrete(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: ConcreteLook | None = None
) -> np.ndarray:
    """Return weathered cast concrete, (H, W, 3) float32 linear light."""
    look = look or ConcreteLook()
    sheet = _sheet(size_mm, mm_per_px, seed, 4)
    light = np.ones((*sheet.shape, 3), np.float32) * _paint(look.body)
    bend = [sheet.field(60, 5, slope=2.5) * 9 for _ in range(2)]
    broad = sheet.warped(sheet.field(120, 1.5, slope=2.1), *bend)
    _lay(
        light, look.bleached, 0.9 * _share(broad + 0.3 * sheet.field(12), look.bleached_share, 2.0)
    )
    wet = sheet.warped(sheet.field(85, 1.2, slope=2.0), *bend)
    ran = _run_down(sheet, np.maximum(wet - 0.9, 0), 90 * look.streaks)
    wet = wet + 0.8 * look.streaks * ran / max(float(ran.std()), 1e-6)
    _lay(light, look.damp, 0.95 * _share(wet + 0.25 * sheet.field(5), look.damp_share, 1.2))
    # Lime that has sweated out, rust from a tie, and the green of a north side: a little of each.
    _lay(
        light,
        (80.0, 0.0, 5.0),
        0.55 * _share(sheet.field(18, 0.5, slope=1.7) - 0.4 * wet, 0.04, 0.9),
    )
    _lay(light, (47.0, 8.0, 20.0), 0.30 * _share(sheet.field(40, 1) + 0.7 * wet, 0.035, 1.0))
    _lay(light, (44.0, -3.0, 11.0), 0.35 * _share(sheet.field(30, 0.8) + 0.8 * wet, 0.05, 1.0))
    sand = sheet.field(1.4, 0.3, slope=0.5)
    light *= np.exp(0.075 * sand + 0.045 * sheet.field(4, 0.5, slope=1.2))[..., None]
    dark_grains = _share(sheet.field(1.5, 0.4, slope=0.4), 0.012, 0.35)
    _lay(light, (33.0, 1.0, 5.0), 0.6 * dark_grains)
    holes = _pinholes(sheet, look.pinholes)
    _lay(light, (27.0, 1.0, 5.0), 0.9 * holes)
    crack = _hairline(sheet, bend)
    _lay(light, (24.0, 1.0, 5.0), 0.8 * crack)
    height = 0.09 * sand + 0.22 * sheet.field(9, 0.8, slope=1.9) - 0.9 * holes - 0.5 * crack
    lit = shade(height, mm_per_px, 0.55)
    light *= (lit / lit.mean())[..., None]
    return np.clip(light, 0, 0.95)


def _pinholes(sheet: _Sheet, number: float) -> np.ndarray:
    """Air holes, bunched, of many sizes: cover, (H, W) 0..1."""
    mask = np.zeros(sheet.shape, np.float32)
    bunched = sheet.field(70, 6, slope=2.2)
    area_dm2 = mask.size * sheet.mm**2 / 1e4
    for _ in range(round(26 * number * area_dm2)):
        row, column = (int(sheet.rng.integers(n)) for n in sheet.shape)
        if sheet.rng.random() > 1 / (1 + np.exp(-1.8 * bunched[row, column])):
            continue
        size = float(np.exp(sheet.rng.normal(np.log(0.75), 0.55))) / sheet.mm
        axes = (max(1, round(size)), max(1, round(size * sheet.rng.uniform(0.6, 1.0))))
        turn = float(sheet.rng.uniform(0, 180))
        cv2.ellipse(mask, (column, row), axes, turn, 0, 360, 1.0, -1, cv2.LINE_AA)
    return cv2.GaussianBlur(mask, (0, 0), 0.8)


def _hairline(sheet: _Sheet, bend: list[np.ndarray]) -> np.ndarray:
    """A crack or two as fine as a hair: cover, (H, W) 0..1."""
    way = float(sheet.rng.uniform(0, 180))
    field = sheet.field(420, 3, slope=3.0, direction_deg=way, stretch=3.0)
    field = sheet.warped(field, 0.5 * bend[0], 0.5 * bend[1])
    field = field + 0.012 * sheet.field(4, 0.5, slope=1.4)
    down, right = np.gradient(cv2.GaussianBlur(field, (0, 0), 1.2), sheet.mm)
    distance = np.abs(field) / np.maximum(np.hypot(down, right), 1e-3)
    there = smoothstep(sheet.field(160, 15, slope=2.6), 0.3, 0.9)
    return np.exp(-((distance / 0.22) ** 2)) * there
