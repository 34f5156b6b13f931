"""A patina that grows while the solution is wet: photos of it over time, with the true cover.

The reaction feeds on itself, runs out of bare metal, and slows as the solution dries: an
equation stepped in time, drawn as the bloom of a verdigris.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jartide.studio.truth import Surface
from jartide.studio.verdigris import Verdigris, draw_verdigris

_STEP_MIN = 0.25
_LEAST_SHARE, _MOST_SHARE = 0.004, 0.93


@dataclass(frozen=True, slots=True, kw_only=True)
class Reaction:
    """One reaction.

    Attributes
    ----------
    rate_per_min : how fast bloom begets bloom, wet
    seeds : share that blooms by itself, which starts it
    most : share it would cover if kept wet for ever
    dries_min : in so many minutes the solution's strength falls to a third
    wetted_min : when it was wetted again
    """

    rate_per_min: float = 0.08
    seeds: float = 0.03
    most: float = 0.8
    dries_min: float = 60.0
    wetted_min: tuple[float, ...] = ()

    def covers(self, minutes: Sequence[float]) -> np.ndarray:
        """Return the true cover, (N,) 0..1, at these times, rising."""
        end = max(minutes, default=0.0)
        times = np.arange(0.0, end + _STEP_MIN, _STEP_MIN)
        cover = np.zeros(times.size)
        for n in range(1, times.size):
            since = min(times[n] - w for w in (0.0, *self.wetted_min) if w <= times[n])
            wet = np.exp(-since / self.dries_min)
            grow = self.rate_per_min * wet * (cover[n - 1] + self.seeds)
            cover[n] = cover[n - 1] + _STEP_MIN * grow * (1 - cover[n - 1] / self.most)
        return np.interp(minutes, times, cover)

    def minutes_to(self, cover: float, longest: float = 600.0) -> float | None:
        """Return when a cover is reached; None when it is not within `longest` minutes."""
        times = np.arange(0.0, longest, _STEP_MIN)
        reached = np.flatnonzero(self.covers(times.tolist()) >= cover)
        return float(times[reached[0]]) if reached.size else None


def draw_patina(
    reaction: Reaction,
    minutes: float,
    size_mm: tuple[float, float],
    mm_per_px: float,
    seed: int,
    look: Verdigris | None = None,
) -> Surface:
    """Draw the surface at one moment; the same seed grows at the same spots."""
    look = look or Verdigris()
    share = float(np.clip(reaction.covers([minutes])[0], _LEAST_SHARE, _MOST_SHARE))
    at = replace(
        look,
        bloom_share=share,
        fringe_share=min(share * 1.12 + 0.01, 0.97),
        chalk_share=max(0.25 * share - 0.02, 0.001),
    )
    return draw_verdigris(size_mm, mm_per_px, seed, at)
