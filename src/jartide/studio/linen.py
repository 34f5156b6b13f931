"""Linen: a ground, a drag one way and a drag across it, threads uneven as spun."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.studio.noise import fractal, pixel_grid, smoothstep
from jartide.studio.pattern_truth import WeaveTruth
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Linen:
    """What can be chosen of a linen. Shares are of the thread's own period."""

    ground: tuple[float, float, float] = (80.0, 0.0, 12.0)
    warp: tuple[float, float, float] = (66.0, 3.0, 16.0)
    weft: tuple[float, float, float] = (55.0, 4.0, 14.0)
    warp_per_cm: float = 3.6
    weft_per_cm: float = 3.0
    warp_share: float = 0.36
    weft_share: float = 0.26
    turn_deg: float = 2.0


def draw_linen(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Linen | None = None
) -> Surface:
    """Draw a linen of (width, height) mm; the warp runs up, `turn_deg` off."""
    look = look or Linen()
    r_warp, r_weft, r_grain = (np.random.default_rng([seed, part]) for part in range(3))
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    fibre = fractal(shape, mm_per_px, r_grain, largest_mm=1.2, smallest_mm=0.4, slope=1.0)
    shading = np.exp(0.022 * fibre)
    easel = Easel(shape)
    easel.lay("ground", "ground", look.ground, shading=shading)
    up = 90.0 + look.turn_deg
    warp = _threads(shape, mm_per_px, r_warp, up, look.warp_per_cm, look.warp_share)
    easel.lay("warp", "thread", look.warp, warp, shading)
    weft = _threads(shape, mm_per_px, r_weft, look.turn_deg, look.weft_per_cm, look.weft_share)
    easel.lay("weft", "thread", look.weft, weft, shading)
    truth = WeaveTruth(
        warp_per_cm=look.warp_per_cm,
        weft_per_cm=look.weft_per_cm,
        warp_direction_deg=up % 180,
        weft_direction_deg=look.turn_deg % 180,
    )
    return easel.surface("linen", mm_per_px, None, weave=truth)


def _threads(
    shape: tuple[int, int],
    mm_per_px: float,
    rng: np.random.Generator,
    along_deg: float,
    per_cm: float,
    share: float,
) -> np.ndarray:
    """Cover of parallel threads that waver, thicken and run dry."""
    x, y = pixel_grid(shape, mm_per_px)
    along = np.radians(along_deg)
    across = x * np.sin(along) + y * np.cos(along)
    period = 10 / per_cm
    lay = {"direction_deg": along_deg, "stretch": 30}
    waver = fractal(shape, mm_per_px, rng, largest_mm=8, smallest_mm=1, slope=2.2, **lay)
    phase = ((across + 0.12 * period * waver) / period + rng.random()) % 1
    # Half the thread's width in periods, wider where a slub is.
    half = share / 2 * np.exp(0.20 * fractal(shape, mm_per_px, rng, largest_mm=6, **lay))
    edge = 0.22 / period
    return smoothstep(half - np.abs(phase - 0.5), -edge, edge)
