"""One quantity of target and board: its difference, the chance in it, what shows it.

docs/measures.md holds the formulas.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jartide.boards.other_measures import HAND_QUANTITIES, QUANTITIES, Scale
from jartide.boards.result import Value
from jartide.reading.trust.measured import Measured
from jartide.wording import Message

Z90 = 1.645
# One just visible difference, by quantity. Ratios are natural logarithms of about
# 15 % for sizes and numbers, which painters tell apart side by side.
_JND_LOG = {
    "lines.width_mm": 0.14,
    "lines.length_mm_per_cm2": 0.18,
    "lines.softness_mm": 0.28,
    "correlation_mm": 0.20,
}
_JND_ABSOLUTE = {"lines.contrast_L": 3.0, "directionality": 0.10}
_JND_DEGREES = {
    "lines.direction_deg": 6.0,
    "direction_deg": 6.0,
    "lines.direction_spread_deg": 5.0,
    "direction_spread_deg": 5.0,
}
JND_DE00 = 1.0
for _other in (*QUANTITIES, *HAND_QUANTITIES):
    {Scale.RATIO: _JND_LOG, Scale.PLAIN: _JND_ABSOLUTE, Scale.DEGREES: _JND_DEGREES}[_other.scale][
        _other.path
    ] = _other.jnd


# Patches of one finish stray farther from each other than one patch tells of itself, since
# it can't see what is larger than it is. So many times wider than stated were the differences
# of these between pieces drawn by the same parameters; all others were as stated.
_STRAYS = {
    "lines.width_variation": 1.7,
    "lines.spacing_evenness": 1.9,
    "lines.length_mm_per_cm2": 1.3,
    "lines.direction_spread_deg": 1.3,
    "direction_spread_deg": 1.4,
    "correlation_mm": 1.2,
    "patches.area_mm2": 1.5,
    "patches.count_per_dm2": 1.4,
    "patches.softness_mm": 1.3,
    "patches.runs_down": 1.4,
    "patches.clustering": 1.3,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Raw:
    """A difference before significance and rank."""

    quantity: str
    name: Message
    target: Value
    board: Value
    ratio: float | None
    delta: float | None
    interval: tuple[float, float] | None
    difference_jnd: float  # signed, up close
    noise_jnd: float
    size_mm: float | None
    strength_L: float | None = None
    dimensions: int = 1
    can_be_significant: bool = True


def measured_row(
    quantity: str, name: Message, a: Measured, b: Measured, size: float | None
) -> Raw | None:
    """Return one quantity's difference; None where either side is unknown."""
    if a.value is None or b.value is None:
        return None
    deviation = deviation_of(a, b)
    ratio = delta = interval = None
    if quantity in _JND_DEGREES:
        turned = b.value - a.value
        if quantity.endswith("direction_deg"):
            turned = (turned + 90) % 180 - 90
        delta = turned
        interval = (turned - Z90 * deviation, turned + Z90 * deviation)
        difference, noise = (v / _JND_DEGREES[quantity] for v in (turned, deviation))
    elif quantity in _JND_ABSOLUTE:
        delta = b.value - a.value
        ratio = b.value / a.value if a.value > 0 else None
        interval = ratio_interval(a.value, b.value, deviation)
        difference, noise = (v / _JND_ABSOLUTE[quantity] for v in (delta, deviation))
    else:
        delta = b.value - a.value
        ratio = b.value / a.value if a.value > 0 else None
        interval = ratio_interval(a.value, b.value, deviation)
        # Sizes are compared by ratio; the floor keeps a line that is missing finite.
        floor = 0.05 * max(a.value, b.value, 1e-6)
        low, high = max(a.value, floor), max(b.value, floor)
        unit = _JND_LOG[quantity]
        difference = float(np.log(high / low)) / unit
        noise = float(np.hypot(half_of(a) / low, half_of(b) / high)) / Z90 / unit
    return Raw(
        quantity=quantity,
        name=name,
        target=a.value,
        board=b.value,
        ratio=ratio,
        delta=delta,
        interval=interval,
        difference_jnd=float(difference),
        noise_jnd=float(noise),
        size_mm=size,
    )


# Of many fine lines the mean width is known to a hair, but how broad a bristle or a pore is drawn
# wanders by more from one place to another, just visible differences.
_WANDERS_JND = {"lines.width_mm": 0.40}


def on_another_spot(row: Raw) -> Raw:
    """Return a row with the chance that another patch brings beyond what each patch tells."""
    factor = _STRAYS.get(row.quantity, 1.0)
    wanders = _WANDERS_JND.get(row.quantity, 0.0)
    if factor == 1.0 and not wanders:
        return row
    return replace(row, noise_jnd=float(np.hypot(factor * row.noise_jnd, wanders)))


def half_of(value: Measured) -> float:
    """Half of the 90 % interval, measurement and sampling together."""
    halves = [(high - low) / 2 for low, high in filter(None, (value.measurement, value.sampling))]
    # An interval cut off at zero is one-sided: take the longer side.
    if value.sampling is not None and value.value is not None:
        # It holds another patch, so it has both patches' straying in it: one of two is mine.
        other = max(halves[-1], value.sampling[1] - value.value)
        own = halves[0] if value.measurement is not None else 0.0
        halves[-1] = float(np.sqrt(max(other**2 - own**2, 0.0) / 2))
    return float(np.sqrt(sum(half**2 for half in halves)))


def deviation_of(a: Measured, b: Measured) -> float:
    """The standard deviation of the difference of two values by chance."""
    return float(np.hypot(half_of(a), half_of(b))) / Z90


def ratio_interval(a: float, b: float, deviation: float) -> tuple[float, float] | None:
    """The 90 % interval of b over a; None when there is nothing to divide by."""
    if a <= 0:
        return None
    half = Z90 * deviation / a
    return (max(b / a - half, 0.0), b / a + half)
