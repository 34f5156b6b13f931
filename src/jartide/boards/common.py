"""Factors that move many rows together: they are told once, and more surely than any one row.

A change of scale moves widths, spacings, sizes and numbers together. Each row gives its own
estimate of the factor; they are joined by generalised least squares (Aitken 1935), what one patch
strays by being shared between them in part. Where they contradict each other (chi squared, 5 %),
or one row's difference alone explains all as well, there is no common factor: then one thing was
changed, and is told by itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from scipy.stats import chi2

from jartide.boards.row import Z90, Raw
from jartide.measures.key import Key
from jartide.measures.measure import Measure, Scale
from jartide.wording import Message

SCALE = Key("common.scale")
# A ratio of all sizes that is just visible side by side, natural logarithm: that of widths.
_JND_SCALE = 0.14
# How much of their chance the rows have in common, correlation.
_SHARED = 0.3
_CONTRADICTS = 0.05
_LEAST_ROWS = 2
# By how much one size usually leaves what the others have in common, just visible differences, one
# standard deviation: a hand changes its tool before one thing alone.
_ALONE_JND = 1.5
# How soft an edge is comes from the hand and the lens as well.
_NOT_BY_SCALE = ("softness_mm", "halo_mm")


def with_common(rows: Sequence[Raw]) -> tuple[Raw, ...]:
    """Return the rows, those that a factor explains marked, and the factor's own row first."""
    members = [n for n, row in enumerate(rows) if _scales(row)]
    blocks = {rows[n].quantity.measure.block for n in members}
    if len(members) < _LEAST_ROWS or not blocks:
        return tuple(rows)
    power = np.array([rows[n].quantity.measure.length_power for n in members], float)
    unit = np.array([_unit(rows[n].quantity.measure) for n in members])
    own = np.array([rows[n].difference_jnd for n in members]) * unit / power
    spread = np.array([max(rows[n].noise_jnd, 1e-3) for n in members]) * unit / np.abs(power)
    shared = _SHARED * np.outer(spread, spread)
    np.fill_diagonal(shared, spread**2)
    weight = np.linalg.inv(shared)
    total = float(weight.sum())
    factor = float(weight.sum(axis=0) @ own) / total
    off = own - factor
    left = float(off @ weight @ off)
    if chi2.sf(left, len(members) - 1) < _CONTRADICTS:
        return tuple(rows)
    told_apart = left > _left_by_one(own, weight)
    deviation = total**-0.5
    low, high = np.exp(factor - Z90 * deviation), np.exp(factor + Z90 * deviation)
    sizes = [rows[n].size_mm for n in members]
    common = Raw(
        quantity=SCALE,
        name=Message("quantity.common.scale"),
        target=1.0,
        board=float(np.exp(factor)),
        ratio=float(np.exp(factor)),
        delta=float(np.exp(factor)) - 1,
        interval=(float(low), float(high)),
        difference_jnd=factor / _JND_SCALE,
        noise_jnd=deviation / _JND_SCALE,
        # It is seen as long as the largest of what it moves.
        size_mm=None if None in sizes else max(size for size in sizes if size is not None),
    )
    marked = list(rows)
    for n, own_power, own_unit in zip(members, power, unit, strict=True):
        told = (own_power / own_unit * factor, abs(own_power) / own_unit * deviation)
        marked[n] = replace(
            rows[n], common=None if told_apart else SCALE, pooled=_pooled(rows[n], told)
        )
    return tuple(marked) if told_apart else (common, *marked)


def _left_by_one(own: np.ndarray, weight: np.ndarray) -> float:
    """What is left unexplained, chi squared, when the one best row alone is taken to differ."""
    pull = weight @ own
    return float(own @ pull - np.max(pull**2 / np.diag(weight)))


def _pooled(row: Raw, told: tuple[float, float]) -> tuple[float, float]:
    """A row's difference and chance with what the factor says of it (empirical Bayes)."""
    expected, chance = told
    before, own = chance**2 + _ALONE_JND**2, max(row.noise_jnd, 1e-3) ** 2
    weight = before / (before + own)
    return (
        expected + weight * (row.difference_jnd - expected),
        float(np.sqrt(before * own / (before + own))),
    )


def _scales(row: Raw) -> bool:
    measure = row.quantity.measure
    if not measure.length_power or measure.judged is None or measure.judged.jnd is None:
        return False
    if measure.judged.scale is not Scale.RATIO or measure.path.endswith(_NOT_BY_SCALE):
        return False
    return row.can_be_significant and bool(np.isfinite(row.noise_jnd)) and bool(row.ratio)


def _unit(measure: Measure) -> float:
    """The natural logarithm of a ratio that is one just visible difference."""
    assert measure.judged is not None and measure.judged.jnd is not None
    return measure.judged.jnd
