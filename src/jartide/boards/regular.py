"""Whether a board is too regular: what nature varies, a hand tends to repeat."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jartide.reading.pattern.records import Pattern, Spread
from jartide.reading.result import Reading
from jartide.reading.trust.measured import Measured
from jartide.reading.trust.paths import value_at
from jartide.wording import Message

# Measures by which regularity shows, with the sign of what is more regular.
_SPREADS = {
    "lines.width_variation": -1,
    "lines.contrast_spread_L": -1,
    "lines.spacing_evenness": 1,
    "lines.direction_spread_deg": -1,
    "direction_spread_deg": -1,
    "patches.clustering": 1,
    "clouds.clustering": 1,
    "grain.straightness": 1,
    "weave.evenness": 1,
    "repeat.strength": 1,
}
# Distributions whose widest is compared with their narrowest: sizes should differ.
_SIZES = ("patches.area_mm2", "clouds.area_mm2", "cells.size_mm", "specks.diameter_mm")
# Less than this of a change nobody sees, even where it is sure.
_LEAST_SHARE = 0.15
# Over a dozen measures are asked: each must exceed its 90 % interval by so much.
_SURE = 1.3


@dataclass(frozen=True, slots=True, kw_only=True)
class Regular:
    """One way in which a board is more regular than its target.

    Attributes
    ----------
    path : of the measure
    target, board : its values; of sizes the ratio of the 90th to the 10th percentile
    sure : by how much the change exceeds what chance would make, 1 and more
    words : what is too even, and what to do about it
    """

    path: str
    target: float
    board: float
    sure: float
    words: Message


def too_regular(target: Reading, board: Reading) -> tuple[Regular, ...]:
    """Return how a board is surely more regular than its target, the surest first.

    A measure counts where the change exceeds both a seventh of the target's value and 1.3 times
    the 90 % interval that two other patches of the same finishes would differ by.
    """
    found = []
    for path, sign in _SPREADS.items():
        a, b = value_at(target.pattern, path), value_at(board.pattern, path)
        told = None if a is None or b is None else _plain(a, b, sign)
        if told is not None:
            found.append(_regular(path, *told))
    for path in _SIZES:
        told = _ratio(_spread_at(target.pattern, path), _spread_at(board.pattern, path))
        if told is not None:
            found.append(_regular(path, *told))
    return tuple(sorted(found, key=lambda one: -one.sure))


def _regular(path: str, target: float, board: float, sure: float) -> Regular:
    return Regular(
        path=path, target=target, board=board, sure=sure, words=Message(f"regular.{path}")
    )


def _plain(a: Measured, b: Measured, sign: int) -> tuple[float, float, float] | None:
    if a.value is None or b.value is None:
        return None
    more = sign * (b.value - a.value)
    noise = math.hypot(_half(a), _half(b))
    if more <= max(_LEAST_SHARE * abs(a.value), _SURE * noise, 1e-9):
        return None
    return a.value, b.value, more / max(noise, 1e-9)


def _ratio(a: Spread | None, b: Spread | None) -> tuple[float, float, float] | None:
    """Of two distributions: the ratio of large to small, and how surely the board's is less."""
    wide, narrow = _log_ratio(a), _log_ratio(b)
    if wide is None or narrow is None:
        return None
    less = wide[0] - narrow[0]
    noise = math.hypot(wide[1], narrow[1])
    if less <= max(-math.log(1 - _LEAST_SHARE), _SURE * noise):
        return None
    return math.exp(wide[0]), math.exp(narrow[0]), less / max(noise, 1e-9)


def _log_ratio(spread: Spread | None) -> tuple[float, float] | None:
    """The logarithm of the 90th over the 10th percentile, and its 90 % half width."""
    if spread is None:
        return None
    low, high = spread.p10, spread.p90
    if not low.value or not high.value or min(low.value, high.value) <= 0:
        return None
    half = math.hypot(_half(low) / low.value, _half(high) / high.value)
    return math.log(high.value / low.value), half


def _half(value: Measured) -> float:
    if value.sampling is None:
        return math.inf
    return (value.sampling[1] - value.sampling[0]) / 2


def _spread_at(pattern: Pattern, path: str) -> Spread | None:
    block, name = path.split(".")
    record = getattr(pattern, block)
    found = None if record is None else getattr(record, name)
    return found if isinstance(found, Spread) else None
