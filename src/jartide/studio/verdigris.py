"""Verdigris on bronze: dark metal, deep green fringes, pale bloom that runs down."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdigris:
    """What can be chosen of a verdigris."""

    metal: tuple[float, float, float] = (27.0, 8.0, 14.0)
    fringe: tuple[float, float, float] = (39.0, -12.0, 3.0)
    bloom: tuple[float, float, float] = (57.0, -18.0, -1.0)
    chalk: tuple[float, float, float] = (74.0, -12.0, 1.0)
    fringe_share: float = 0.62
    bloom_share: float = 0.40
    chalk_share: float = 0.13
    patch_mm: float = 30.0
    runs: float = 2.8


def draw_verdigris(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Verdigris | None = None
) -> Surface:
    """Draw a verdigris of (width, height) mm; its lay is straight down, as water runs."""
    look = look or Verdigris()
    r_metal, r_bloom, r_chalk = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    run = {"direction_deg": 90.0, "stretch": look.runs}
    brushed = fractal(
        shape,
        mm_per_px,
        r_metal,
        largest_mm=5,
        smallest_mm=0.5,
        slope=1.6,
        direction_deg=90.0,
        stretch=14,
    )
    cloudy = fractal(shape, mm_per_px, r_metal, largest_mm=70, slope=2.4)
    glint = fractal(shape, mm_per_px, r_metal, largest_mm=1.0, smallest_mm=0.35, slope=0.8)

    easel = Easel(shape)
    metal = np.exp(0.085 * brushed + 0.080 * cloudy + 0.035 * glint)
    easel.lay("bronze", "ground", look.metal, shading=metal)

    coarse = fractal(shape, mm_per_px, r_bloom, largest_mm=look.patch_mm, slope=2.1, **run)
    streaks = fractal(
        shape,
        mm_per_px,
        r_bloom,
        largest_mm=14,
        smallest_mm=0.8,
        slope=2.0,
        direction_deg=90.0,
        stretch=9,
    )
    fine = fractal(shape, mm_per_px, r_bloom, largest_mm=4, smallest_mm=0.5, slope=1.5)
    speckle = fractal(shape, mm_per_px, r_bloom, largest_mm=1.8, smallest_mm=0.45, slope=1.0)
    grown = coarse + 0.40 * streaks + 0.22 * fine + 0.13 * speckle
    # Bloom is a powder: it lies thick and thin, and is never one flat tone.
    drifts = fractal(shape, mm_per_px, r_chalk, largest_mm=18, smallest_mm=1.0, slope=2.2, **run)
    powder = np.exp(0.075 * drifts + 0.040 * fine + 0.040 * glint)
    fringe = level_for_share(grown, look.fringe_share)
    easel.lay(
        "fringe", "patch", look.fringe, smoothstep(grown, fringe - 0.09, fringe + 0.09), powder
    )
    bloom = level_for_share(grown, look.bloom_share)
    easel.lay("bloom", "patch", look.bloom, smoothstep(grown, bloom - 0.15, bloom + 0.15), powder)
    crust = fractal(shape, mm_per_px, r_chalk, largest_mm=12, slope=1.7, **run) + 0.75 * grown
    chalk = level_for_share(crust, look.chalk_share)
    easel.lay("chalk", "patch", look.chalk, smoothstep(crust, chalk - 0.15, chalk + 0.15), powder)
    return easel.surface("verdigris", mm_per_px, 90.0)
