"""Ratios as painters speak of them: parts, percent, drops to a volume, scoops to a volume."""

from __future__ import annotations

import math
from collections.abc import Sequence

from jartide.errors import PlanError
from jartide.figures import largest_remainder

# A drop of thinned colour from a pipette, millilitres: rule of thumb, 20 to the millilitre.
DROP_ML = 0.05


def percents(parts: Sequence[float]) -> tuple[float, ...]:
    """Return the share of each part, percent.

    Raises
    ------
    PlanError : when a part is below zero or all are zero.
    """
    _check(parts)
    whole = math.fsum(parts)
    return tuple(100 * part / whole for part in parts)


def whole_parts(shares: Sequence[float], most: int = 12, within: float = 0.5) -> tuple[int, ...]:
    """Return the smallest whole parts that come within so many percent points of shares.

    Where no ratio of up to `most` parts comes so near, the nearest one is returned.

    Raises
    ------
    PlanError : as for `percents`.
    """
    wanted = percents(shares)
    best: tuple[float, tuple[int, ...]] | None = None
    for total in range(1, most * len(wanted) + 1):
        parts = [max(round(total * share / 100), 1 if share > 0 else 0) for share in wanted]
        if max(parts) > most:
            continue
        off = max(abs(a - b) for a, b in zip(percents(parts), wanted, strict=True))
        if best is None or off < best[0] - 1e-9:
            best = (off, tuple(parts))
        if off <= within:
            break
    assert best is not None
    return best[1]


def amounts_ml(parts: Sequence[float], total_ml: float) -> tuple[float, ...]:
    """Return how much of each goes into a total."""
    return tuple(total_ml * share / 100 for share in percents(parts))


def shared_out(parts: Sequence[float], total: int) -> tuple[int, ...]:
    """Return whole numbers in the ratio of parts that add up to a total, by largest remainder.

    Raises
    ------
    PlanError : as for `percents`.
    """
    return largest_remainder([total * share / 100 for share in percents(parts)], total)


def by_weight(parts: Sequence[float], densities: Sequence[float]) -> tuple[float, ...]:
    """Return the weights, grams to the same total as the parts, of a ratio by volume.

    Parameters
    ----------
    densities : grams to the millilitre of each part
    """
    if len(parts) != len(densities) or any(density <= 0 for density in densities):
        raise PlanError("error.plan.ratio")
    _check(parts)
    return tuple(part * density for part, density in zip(parts, densities, strict=True))


def diluted(steps: Sequence[tuple[float, float]]) -> float:
    """Return parts of thinner to one of paint after thinning it step by step.

    Each step takes so many parts of what the last one made and so many of thinner: 1 : 1 three
    times is 1 : 7.
    """
    paint = 1.0
    for of_last, thinner in steps:
        if of_last <= 0 or thinner < 0:
            raise PlanError("error.plan.ratio")
        paint *= of_last / (of_last + thinner)
    return 1.0 / paint - 1.0


def from_levels(before: Sequence[float], after: Sequence[float]) -> tuple[int, ...]:
    """Return the ratio that was mixed by eye, from how high each jar stood before and after.

    Levels are of equal jars, in any one unit.

    Raises
    ------
    PlanError : when a jar stands higher afterwards, or nothing was taken.
    """
    if len(before) != len(after):
        raise PlanError("error.plan.ratio")
    return whole_parts([b - a for b, a in zip(before, after, strict=True)])


def drops(ml: float, drop_ml: float = DROP_ML) -> int:
    """Return how many drops a small volume is."""
    if ml < 0 or drop_ml <= 0:
        raise PlanError("error.plan.ratio")
    return round(ml / drop_ml)


def scoops(scoop_ml: float, per_litre: float, total_ml: float) -> float:
    """Return how many level scoops of powder go into a volume.

    Parameters
    ----------
    scoop_ml : what one level scoop holds
    per_litre : millilitres of powder to one litre
    """
    if scoop_ml <= 0 or per_litre < 0 or total_ml < 0:
        raise PlanError("error.plan.ratio")
    return per_litre * total_ml / 1000 / scoop_ml


def _check(parts: Sequence[float]) -> None:
    if not parts or any(part < 0 or not math.isfinite(part) for part in parts) or not any(parts):
        raise PlanError("error.plan.ratio")
