"""Deep green marble: near-black ground, ragged clouds, pale drifts, veins that fork and break."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from jartide.studio.lines_truth import lines_truth
from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.strokes import Hand, draw_strokes
from jartide.studio.truth import Easel, Surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Marble:
    """What can be chosen of a marble. Labs are the paints, shares their laid cover."""

    ground: tuple[float, float, float] = (13.0, -7.0, 1.5)
    cloud: tuple[float, float, float] = (23.5, -13.0, 3.0)
    cloud_share: float = 0.42
    drift: tuple[float, float, float] = (36.0, -15.0, 4.5)
    drift_share: float = 0.16
    hair: tuple[float, float, float] = (55.0, -14.0, 6.0)
    vein: tuple[float, float, float] = (76.0, -8.0, 6.0)
    cloud_mm: float = 26.0
    veins: Hand = field(
        default_factory=lambda: Hand(
            per_dm2=0.42,
            width_mm=2.5,
            length_mm=210,
            wander_deg=15,
            softness_mm=0.7,
            forks=1.3,
            ragged_mm=0.9,
        )
    )
    hairs: Hand = field(
        default_factory=lambda: Hand(
            per_dm2=1.7,
            width_mm=1.25,
            length_mm=120,
            spread_deg=20,
            wander_deg=18,
            softness_mm=0.4,
            forks=1.0,
            ragged_mm=0.7,
        )
    )

    def wider(self, factor: float) -> Marble:
        """Return the same marble with all its lines drawn wider, nothing else changed."""
        return replace(
            self,
            veins=replace(self.veins, width_mm=self.veins.width_mm * factor),
            hairs=replace(self.hairs, width_mm=self.hairs.width_mm * factor),
        )


def draw_marble(
    size_mm: tuple[float, float], mm_per_px: float, seed: int, look: Marble | None = None
) -> Surface:
    """Draw a marble of (width, height) mm. The same seed puts everything at the same spot."""
    look = look or Marble()
    # One generator per part: changing one part leaves the others where they were.
    r_cloud, r_drift, r_vein, r_hair, r_grain = (
        np.random.default_rng([seed, part]) for part in range(5)
    )
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    lay = look.veins.direction_deg
    grain = fractal(shape, mm_per_px, r_grain, largest_mm=5, smallest_mm=0.4, slope=1.6)
    depth = fractal(shape, mm_per_px, r_grain, largest_mm=60, slope=2.4)
    shading = np.exp(0.060 * grain + 0.060 * depth)

    easel = Easel(shape)
    easel.lay("ground", "ground", look.ground, shading=shading)
    ragged = fractal(shape, mm_per_px, r_cloud, largest_mm=4, smallest_mm=0.6, slope=1.7)

    cloud = fractal(
        shape,
        mm_per_px,
        r_cloud,
        largest_mm=look.cloud_mm,
        slope=2.3,
        direction_deg=lay,
        stretch=1.5,
    )
    easel.lay("cloud", "cloud", look.cloud, _patches(cloud, ragged, look.cloud_share), shading)
    drift = fractal(
        shape,
        mm_per_px,
        r_drift,
        largest_mm=look.cloud_mm * 0.7,
        slope=2.1,
        direction_deg=lay,
        stretch=2.2,
    )
    # Drifts gather where clouds are, as they do in the stone.
    drift = drift + 0.45 * cloud
    easel.lay("drift", "cloud", look.drift, _patches(drift, -ragged, look.drift_share), shading)

    hairs = draw_strokes(size_mm, look.hairs, r_hair)
    easel.lay("hair veins", "vein", look.hair, hairs.cover(shape, mm_per_px), shading)
    veins = draw_strokes(size_mm, look.veins, r_vein)
    easel.lay("veins", "vein", look.vein, veins.cover(shape, mm_per_px), shading)

    truth = lines_truth([hairs, veins], size_mm, easel.rgb, mm_per_px)
    lay_deg = None if truth is None else truth.direction_deg
    return easel.surface("marble", mm_per_px, lay_deg, lines=truth)


def _patches(field: np.ndarray, ragged: np.ndarray, share: float) -> np.ndarray:
    """Soft-edged, ragged areas that cover about `share`."""
    rough = field + 0.34 * ragged
    level = level_for_share(rough, share)
    # Some edges are crisp, others melt: where the raggedness is low they are softer.
    melt = 0.08 + 0.30 * smoothstep(-ragged, 0.2, 1.6)
    return smoothstep((rough - level) / melt, -1, 1)
