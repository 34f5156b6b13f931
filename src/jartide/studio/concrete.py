"""Weathered, trowelled concrete: soft bloom and damp over a warm grey, pinholes, sand grain."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, level_for_share, pixel_grid, smoothstep
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Concrete:
    """What can be chosen of a concrete."""

    ground: tuple[float, float, float] = (60.0, 0.6, 5.0)
    bloom: tuple[float, float, float] = (66.8, 0.3, 6.5)
    bloom_share: float = 0.24
    damp: tuple[float, float, float] = (52.8, 1.0, 4.5)
    damp_share: float = 0.17
    hole: tuple[float, float, float] = (26.0, 1.0, 3.5)
    holes_per_dm2: float = 9.0
    mottle_mm: float = 34.0
    direction_deg: float = 14.0
    stretch: float = 2.0


def draw_concrete(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Concrete | None = None
) -> Surface:
    """Draw a concrete of (width, height) mm; its lay is the way the trowel went."""
    look = look or Concrete()
    r_bloom, r_damp, r_hole, r_grain = (np.random.default_rng([seed, part]) for part in range(4))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    lay = {"direction_deg": look.direction_deg, "stretch": look.stretch}
    sand = fractal(shape, mm_per_px, r_grain, largest_mm=1.2, smallest_mm=0.35, slope=1.0)
    soft = fractal(shape, mm_per_px, r_grain, largest_mm=50, slope=2.2, **lay)
    arcs = fractal(
        shape,
        mm_per_px,
        r_grain,
        largest_mm=6,
        smallest_mm=0.7,
        slope=2.0,
        direction_deg=look.direction_deg,
        stretch=22,
    )
    relief = sand + 0.8 * fractal(shape, mm_per_px, r_grain, largest_mm=9, slope=2.4)
    # Light from the upper left grazes the relief.
    slope = np.gradient(relief, axis=0) + np.gradient(relief, axis=1)
    shading = np.exp(0.025 * sand + 0.045 * soft + 0.028 * arcs + 0.022 * slope / slope.std())

    easel = Easel(shape)
    easel.lay("ground", "ground", look.ground, shading=shading)
    ragged = fractal(shape, mm_per_px, r_damp, largest_mm=7, slope=1.8, **lay)
    # Edges are frayed by the sand: from a step away the tones melt into each other.
    speckle = fractal(shape, mm_per_px, r_damp, largest_mm=2.5, smallest_mm=0.5, slope=1.2)
    fray = 0.28 * ragged + 0.30 * speckle
    damp = fractal(shape, mm_per_px, r_damp, largest_mm=look.mottle_mm, slope=2.6, **lay)
    easel.lay("damp", "cloud", look.damp, _soft(damp + fray, look.damp_share), shading)
    bloom = fractal(shape, mm_per_px, r_bloom, largest_mm=look.mottle_mm * 1.2, slope=2.6, **lay)
    bloom = bloom - 0.5 * damp - fray
    easel.lay("bloom", "cloud", look.bloom, _soft(bloom, look.bloom_share), shading)
    holes, rim = _pinholes(shape, mm_per_px, look.holes_per_dm2, r_hole)
    easel.rgb *= 1 + 0.16 * rim[..., None]
    easel.lay("pinholes", "speck", look.hole, holes, shading)
    return easel.surface("concrete", mm_per_px, look.direction_deg)


def _soft(field: np.ndarray, share: float) -> np.ndarray:
    level = level_for_share(field, share)
    return smoothstep(field, level - 0.36, level + 0.36)


def _pinholes(
    shape: tuple[int, int], mm_per_px: float, per_dm2: float, rng: np.random.Generator
) -> tuple[np.ndarray, np.ndarray]:
    """Cover of round holes and, beside each, the lit lower right rim (H, W)."""
    width, height = shape[1] * mm_per_px, shape[0] * mm_per_px
    x, y = pixel_grid(shape, mm_per_px)
    holes, rim = np.zeros(shape, np.float32), np.zeros(shape, np.float32)
    for _ in range(rng.poisson(per_dm2 * width * height / 1e4)):
        cx, cy = rng.uniform(0, width), rng.uniform(0, height)
        radius = float(np.clip(rng.lognormal(np.log(0.95), 0.45), 0.5, 3.2))
        squash, turn = rng.uniform(0.75, 1.0), rng.uniform(0, np.pi)
        reach = 2 * radius + 3 * mm_per_px
        rows = slice(max(0, int((cy - reach) / mm_per_px)), int((cy + reach) / mm_per_px) + 1)
        cols = slice(max(0, int((cx - reach) / mm_per_px)), int((cx + reach) / mm_per_px) + 1)
        dx, dy = x[rows, cols] - cx, y[rows, cols] - cy
        u = dx * np.cos(turn) + dy * np.sin(turn)
        v = (dy * np.cos(turn) - dx * np.sin(turn)) / squash
        away = np.hypot(u, v)
        holes[rows, cols] = np.maximum(holes[rows, cols], smoothstep(radius - away, -0.15, 0.15))
        lit = np.hypot(u - 0.35 * radius, v - 0.35 * radius)
        rim[rows, cols] = np.maximum(
            rim[rows, cols], smoothstep(1.25 * radius - lit, -0.25 * radius, 0.25 * radius)
        )
    return holes, rim
