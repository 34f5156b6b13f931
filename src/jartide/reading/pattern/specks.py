"""Specks: round spots of under 1 cm2, how many and how large."""

from __future__ import annotations

import numpy as np

from jartide.reading.pattern.pieces import pieces_of
from jartide.reading.pattern.records import Specks, Spread
from jartide.reading.trust.measured import Measured, jackknife_half_width, unknown
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import density_half_width, tile_of

_MOST_MM2 = 100.0
# Longer than this over their width they are no specks.
_LONGEST = 2.6
# Smaller than this across, pixels, they are not counted.
_LEAST_ACROSS_PX = 2.2
LEAST_SPECKS = 8


def measure_specks(
    masks: list[np.ndarray], valid: np.ndarray, mm_per_px: float | None
) -> Specks | None:
    """Return the measures of specks, one mask (H, W) a layer of them; None when there are none."""
    if not masks or not any((m & valid).any() for m in masks):
        return None
    if mm_per_px is None:
        return _without("reason.no_scale")
    least = np.pi / 4 * _LEAST_ACROSS_PX**2
    found = [pieces_of(mask & valid, valid, least) for mask in masks]
    area = np.concatenate([p.area_px for p in found]) * mm_per_px**2
    ratio = np.concatenate([p.long_axis / p.short_axis for p in found])
    row, column = (np.concatenate([getattr(p, n) for p in found]) for n in ("row", "column"))
    use = np.concatenate([p.counted for p in found]) & (area < _MOST_MM2) & (ratio < _LONGEST)
    if use.sum() < LEAST_SPECKS:
        return _without("reason.few_specks")
    tiles = tile_of(row[use], column[use], valid)
    per_dm2 = 1e4 / (valid.sum() * mm_per_px**2)
    half = density_half_width(row[use], column[use], valid) * valid.sum()
    across = 2 * np.sqrt(area[use] / np.pi)

    def of(statistic) -> Measured:
        half = jackknife_half_width(tiles, lambda keep: float(statistic(across[keep])))
        return judged("specks.diameter_mm", float(statistic(across)), half)

    return Specks(
        count_per_dm2=judged("specks.count_per_dm2", use.sum() * per_dm2, half * per_dm2),
        diameter_mm=Spread(
            p10=of(lambda d: np.percentile(d, 10)),
            median=of(np.median),
            p90=of(lambda d: np.percentile(d, 90)),
            geometric_mean=of(lambda d: np.exp(np.log(d).mean())),
        ),
    )


def _without(reason: str) -> Specks:
    none = unknown(reason)
    return Specks(
        count_per_dm2=none,
        diameter_mm=Spread(p10=none, median=none, p90=none, geometric_mean=none),
    )
