"""How far each measure can be trusted: its own error, and how well tiles tell other patches.

Both were set on surfaces drawn by both simulators with seeds 1 to 5, flat and photographed,
so that either interval holds about 90 % there, and are checked on seeds never looked at
(`make accuracy`).
"""

from __future__ import annotations

import numpy as np

from jartide.measures.entries import BY_PATH
from jartide.reading.trust.measured import Measured, measured


def judged(name: str, value: float, sampling_half: float, *, least: float | None = 0.0) -> Measured:
    """Return a value with both intervals as this measure has earned them.

    `name` is the measure's path under the pattern, without layer or percentile.

    Raises
    ------
    ValueError : when the measure's error is worked out from the picture itself.
    """
    measure = BY_PATH[name]
    if measure.own_error is None:
        raise ValueError(f"{name} has no error of its own")
    absolute, relative = measure.own_error
    own = float(np.hypot(absolute, relative * abs(value)))
    return measured(value, own, measure.tiles_wider * float(sampling_half), least=least)


def least_change(value: Measured) -> float | None:
    """Return the smallest change from one board to the next that can be told; None if unknown.

    Below the 90 % bound of what two boards differ by for no reason a difference says nothing.
    """
    if value.value is None or value.measurement is None or value.sampling is None:
        return None
    here, other = ((high - low) / 2 for low, high in (value.measurement, value.sampling))
    # The sampling interval already holds another patch; that one's measurement errs as well.
    change = float(np.hypot(here, other))
    return change if np.isfinite(change) else None
