"""One quantity of target and board: its difference, the chance in it, what shows it.

docs/measures.md holds the formulas.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jartide.boards.result import Value
from jartide.measures.key import Key
from jartide.measures.measure import Scale
from jartide.reading.trust.measured import Measured
from jartide.wording import Message

Z90 = 1.645
JND_DE00 = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Raw:
    """A difference before significance and rank.

    `common` is the factor that explains it together with other rows; `pooled` what that factor and
    the row say together: a difference and its chance, just visible differences up close.
    """

    quantity: Key
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
    common: Key | None = None
    pooled: tuple[float, float] | None = None


def measured_row(
    quantity: Key, name: Message, a: Measured, b: Measured, size: float | None
) -> Raw | None:
    """Return one quantity's difference; None where either side is unknown, or both have none.

    Raises
    ------
    ValueError : when the measure is not judged by its values alone.
    """
    if a.value is None or b.value is None:
        return None
    measure = quantity.measure
    if measure.judged is None or measure.judged.jnd is None:
        raise ValueError(f"{quantity} is not judged by its values")
    unit, deviation = measure.judged.jnd, deviation_of(a, b)
    delta = b.value - a.value
    ratio = b.value / a.value if a.value > 0 else None
    interval = ratio_interval(a.value, b.value, deviation)
    if measure.judged.scale is Scale.DEGREES:
        ratio = None
        if measure.axial:
            delta = (delta + 90) % 180 - 90
        interval = (delta - Z90 * deviation, delta + Z90 * deviation)
        difference, noise = (v / unit for v in (delta, deviation))
    elif measure.judged.scale is Scale.PLAIN:
        difference, noise = (v / unit for v in (delta, deviation))
    else:
        # Sizes are compared by ratio; the floor keeps what is missing, or as good as, finite.
        if max(a.value, b.value) <= 0:
            return None
        floor = max(0.05 * max(a.value, b.value), min(half_of(a), half_of(b)) / Z90)
        low, high = max(a.value, floor), max(b.value, floor)
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


def on_another_spot(row: Raw) -> Raw:
    """Return a row with the chance that another patch brings beyond what each patch tells."""
    judged = row.quantity.measure.judged
    if judged is None or (judged.strays == 1.0 and not judged.wanders_jnd):
        return row
    noise = max(judged.strays * row.noise_jnd, judged.wanders_jnd)
    return replace(row, noise_jnd=noise)


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
