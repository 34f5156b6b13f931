"""Limed oak: growth rings seen on a board's face, pores filled with pale lime."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.lines_truth import axial_mean
from jartide.studio.noise import fractal, pixel_grid, smoothstep
from jartide.studio.pattern_truth import GrainTruth, bands_crossed
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Oak:
    """What can be chosen of an oak. Rings are counted across the board."""

    ground: tuple[float, float, float] = (66.0, 6.0, 21.0)
    late: tuple[float, float, float] = (55.5, 8.5, 24.0)
    lime: tuple[float, float, float] = (84.0, 1.2, 9.0)
    ring_mm: float = 7.5
    late_share: float = 0.30
    lean_deg: float = 88.0
    pore_cover: float = 0.16
    figure: float = 1.0
    knot: tuple[float, float, float] = (31.0, 10.0, 17.0)
    knots: int = 0


def draw_oak(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Oak | None = None
) -> Surface:
    """Draw an oak board of (width, height) mm. Truth of the lay: the drawn rings' tangents."""
    look = look or Oak()
    r_ring, r_pore, r_grain = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    x, y = pixel_grid(shape, mm_per_px)
    lean = np.radians(look.lean_deg)
    # `across` grows across the grain, `along` up the board.
    across = x * np.sin(lean) + y * np.cos(lean)
    along = x * np.cos(lean) - y * np.sin(lean)
    wave = fractal(
        shape,
        mm_per_px,
        r_ring,
        largest_mm=150,
        smallest_mm=12,
        slope=3.2,
        direction_deg=look.lean_deg,
        stretch=5,
    )
    # A slow bulge makes the rings part and close again, as where a branch lay deeper.
    middle = size_mm[0] * r_ring.uniform(0.3, 0.7)
    up = -size_mm[1] * r_ring.uniform(0.3, 0.7)
    bulge = np.exp(-(((across - middle) / 60) ** 2) - ((along - up) / 120) ** 2)
    depth = across + look.figure * (
        5.0 * wave
        + 15 * bulge * np.sign(across - middle + 1e-3) * np.tanh(np.abs(across - middle) / 18)
    )
    knots = _knot_places(size_mm, look.knots, np.random.default_rng([seed, 3]))
    for cx, cy, radius in knots:
        # The rings give way on either side of a knot and close again beyond it.
        du = across - (cx * np.sin(lean) + cy * np.cos(lean))
        dv = along - (cx * np.cos(lean) - cy * np.sin(lean))
        near = np.exp(-((dv / (2.2 * radius)) ** 2) - (du / (3 * radius)) ** 2)
        depth = depth - 0.9 * radius * near * np.tanh(du / (0.6 * radius))
    edges = np.cumsum(
        r_ring.gamma(3.5, look.ring_mm / 3.5, int(3 * size_mm[0] / look.ring_mm) + 60)
    )
    edges = edges - size_mm[0]
    index = np.clip(np.searchsorted(edges, depth), 1, len(edges) - 1)
    phase = (depth - edges[index - 1]) / (edges[index] - edges[index - 1])

    fibre = fractal(
        shape,
        mm_per_px,
        r_grain,
        largest_mm=3,
        smallest_mm=0.35,
        slope=1.3,
        direction_deg=look.lean_deg,
        stretch=30,
    )
    tone = fractal(shape, mm_per_px, r_grain, largest_mm=90, slope=2.2)
    bands = fractal(
        shape,
        mm_per_px,
        r_grain,
        largest_mm=14,
        smallest_mm=1.0,
        slope=2.0,
        direction_deg=look.lean_deg,
        stretch=40,
    )
    shading = np.exp(0.038 * fibre + 0.035 * tone + 0.030 * bands)
    easel = Easel(shape)
    easel.lay("ground", "ground", look.ground, shading=shading)

    ramp = np.clip((phase - (1 - look.late_share)) / look.late_share, 0, 1)
    wander = 0.16 * fibre
    late = smoothstep(ramp + wander, 0.05, 0.35) * smoothstep(1 - phase + 0.02 * fibre, 0.0, 0.06)
    easel.lay("late wood", "grain", look.late, late, shading)

    pores = _pores(shape, mm_per_px, look, r_pore, phase)
    easel.lay("lime", "grain", look.lime, pores, shading)

    shape_of = np.zeros(shape, np.float32)
    for cx, cy, radius in knots:
        wobble = 1 + 0.05 * fractal(shape, mm_per_px, r_grain, largest_mm=8, slope=2.2)
        du = (x - cx) * np.sin(lean) + (y - cy) * np.cos(lean)
        dv = (x - cx) * np.cos(lean) - (y - cy) * np.sin(lean)
        away = np.hypot(du, dv / 1.25) * wobble
        ring = 0.12 * np.cos(2 * np.pi * away / 1.6)
        shape_of = np.maximum(shape_of, smoothstep(radius - away + 6 * ring, -0.5, 0.5))
    if knots:
        easel.lay("knots", "patch", look.knot, shape_of, shading)

    down, right = np.gradient(depth)
    tangent = np.degrees(np.arctan2(right, down))
    weight = np.hypot(down, right)
    direction, _ = axial_mean(tangent[::4, ::4], weight[::4, ::4])
    grain = GrainTruth(spacing_mm=bands_crossed(index, direction, mm_per_px), knots=len(knots))
    return easel.surface("wood", mm_per_px, direction, grain=grain)


def _knot_places(
    size_mm: tuple[float, float], number: int, rng: np.random.Generator
) -> list[tuple[float, float, float]]:
    """Return x, y and radius in mm of knots that stand clear of each other and of the border."""
    found: list[tuple[float, float, float]] = []
    for _ in range(1000):
        if len(found) >= number:
            break
        radius = float(rng.uniform(4.0, 9.0))
        x, y = (float(rng.uniform(2.5 * radius, side - 2.5 * radius)) for side in size_mm)
        if all(np.hypot(x - a, y - b) > 4 * (radius + r) for a, b, r in found):
            found.append((x, y, radius))
    return found


def _pores(
    shape: tuple[int, int],
    mm_per_px: float,
    look: Oak,
    rng: np.random.Generator,
    phase: np.ndarray,
) -> np.ndarray:
    """Pale dashes along the grain, crowded where a ring begins."""
    dashes = fractal(
        shape,
        mm_per_px,
        rng,
        largest_mm=1.8,
        smallest_mm=0.6,
        slope=0.9,
        direction_deg=look.lean_deg,
        stretch=11,
    )
    early = np.exp(-((phase / 0.22) ** 2)) * 1.15
    dashes = dashes + early
    level = float(np.quantile(dashes[::3, ::3], 1 - look.pore_cover))
    return smoothstep(dashes, level - 0.14, level + 0.14)
