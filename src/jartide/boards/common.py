"""Factors that move many rows together: they are told once, and more surely than any one row.

A change of scale moves widths, spacings, sizes and numbers together. Each row gives its own
estimate of the factor; they are joined by generalised least squares (Aitken 1935), what one patch
strays by being shared between them in part. Where they contradict each other (chi squared, 5 %),
or one row's difference alone explains all as well, there is no common factor: then one thing was
changed, and is told by itself.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from scipy.stats import chi2

from jartide.boards.row import Z90, Raw
from jartide.measures.key import Key
from jartide.measures.measure import Measure, Scale
from jartide.reading.result import Reading, Role
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
# Ragged edges are longer the finer they are seen, and a photo is as fine as it is: at a change of
# scale their length goes by this power (0.4 to 0.9 on photos of drawn pieces), known so roughly.
EDGES = "edges_mm_per_cm2"
_POWERS = {EDGES: -0.65}
_ROUGH = {EDGES: 0.2}
# How soft an edge is comes from the hand and the lens as well.
_NOT_BY_SCALE = ("softness_mm", "halo_mm")


def with_common(
    rows: Sequence[Raw],
    covers: Mapping[str, float] | None = None,
) -> tuple[Raw, ...]:
    """Return the rows, those that a factor explains marked, and the factor's own row first.

    `covers` : by block of the pattern, the natural logarithm of how many times as much the board
    shows of what the block counts; and of edges, by how much more of them its covers bring
    """
    covers = covers or {}
    members = [n for n, row in enumerate(rows) if _scales(row)]
    if len(members) < _LEAST_ROWS:
        return tuple(rows)
    power = np.array([_power(rows[n]) for n in members], float)
    unit = np.array([_unit(rows[n].quantity.measure) for n in members])
    # What a number went up by because there is more of the layer is no size.
    covered = np.array([covers.get(_counts(rows[n]), 0.0) for n in members])
    numbers = np.array([_is_number(rows[n]) or _is_edges(rows[n]) for n in members])
    own = np.array([rows[n].difference_jnd for n in members]) * unit
    own = np.where(numbers, own - covered, own) / power
    spread = np.array([max(rows[n].noise_jnd, 1e-3) for n in members]) * unit / np.abs(power)
    rough = np.array([_ROUGH.get(str(rows[n].quantity), 0.0) for n in members])
    spread = np.hypot(spread, rough * own)
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


def covers_of(target: Reading, board: Reading) -> dict[str, float]:
    """Return, by block, the logarithm of how many times as much of it the board shows."""
    found = {}
    for block in ("patches", "clouds"):
        a, b = getattr(target.pattern, block), getattr(board.pattern, block)
        if a is not None and b is not None and a.coverage.value and b.coverage.value:
            found[block] = float(np.log(b.coverage.value / a.coverage.value))
    # Of layers that lie at random, the edges go with the cover times what it leaves bare.
    a_mixed, b_mixed = (
        sum((x.coverage.value or 0.0) * (1 - (x.coverage.value or 0.0)) for x in r.layers)
        for r in (target, board)
    )
    if a_mixed and b_mixed:
        found[EDGES] = float(np.log(b_mixed / a_mixed))
    a_specks, b_specks = (
        sum(x.coverage.value or 0.0 for x in r.layers if x.role is Role.SPECK)
        for r in (target, board)
    )
    if a_specks and b_specks:
        found["specks"] = float(np.log(b_specks / a_specks))
    return found


def _power(row: Raw) -> float:
    return _POWERS.get(str(row.quantity), float(row.quantity.measure.length_power))


def _counts(row: Raw) -> str:
    """What a number's row counts: the name of its block, or edges."""
    return EDGES if _is_edges(row) else row.quantity.measure.block


def _is_edges(row: Raw) -> bool:
    return row.quantity == EDGES


def _is_number(row: Raw) -> bool:
    return row.quantity.measure.path.endswith(".count_per_dm2")


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
